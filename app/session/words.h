#pragma once

#include <QString>

#include "core/base/words.h"

namespace pivrak {

/// A count with its noun, for labels: `1 part`, `23 parts`.
inline QString countWords(std::size_t count, std::string_view one, std::string_view many = {}) {
    return QString::fromStdString(counted(count, one, many));
}

}  // namespace pivrak
