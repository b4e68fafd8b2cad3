#pragma once

#include <string>

#include "demo/drive_station.h"

namespace pivrak::demo {

/// An OBJ text of the components melted into lumps by their colour, in millimetres, Y up and Z to the front,
/// with normals, and the MTL text it names.
struct ObjTexts {
    std::string obj, mtl;
};
ObjTexts obj_texts(const std::vector<Component>& components, const std::string& mtl_name);

}  // namespace pivrak::demo
