#pragma once

#include <QString>

#include "core/model/units.h"

namespace pivrak {

/// A length as cards show it.
inline QString length(double metres) {
    return QString::fromStdString(format_length(metres));
}

/// The same in millimetres, for what must fit.
inline QString millimetres(double metres, int decimals = 2) {
    return QString::fromStdString(format_length(metres, LengthUnit::Millimetre, decimals));
}

}  // namespace pivrak
