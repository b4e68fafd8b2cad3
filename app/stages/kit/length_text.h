#pragma once

#include <QString>

#include "core/model/document.h"

namespace pivrak {

/// A length as the project tells it.
inline QString length(double metres, const Document& document) {
    return QString::fromStdString(format_length(metres, document));
}

/// The same in millimetres, for what must fit.
inline QString millimetres(double metres, int decimals = 2) {
    return QString::fromStdString(format_length(metres, LengthUnit::Millimetre, decimals));
}

}  // namespace pivrak
