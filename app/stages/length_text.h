#pragma once

#include <QString>

#include "core/model/units.h"

namespace pivrak {

/// A length as cards show it.
inline QString length(double metres) {
    return QString::fromStdString(format_length(metres));
}

}  // namespace pivrak
