#include "app/session/shown_value.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace pivrak {

QString shownValue(const Document& document, ChannelKind kind, double value) {
    const LengthUnit unit = document.settings.length_unit;
    return QString::fromStdString(dimension_of(kind) == Dimension::Length
                                      ? format_length(value, unit, unit == LengthUnit::Metre ? 4 : 2)
                                      : format_channel(kind, value, unit));
}

QString toldValue(const Document& document, ChannelKind kind, double value) {
    return QString::fromStdString(format_channel(kind, value, document));
}

double unitSize(const Document& document, ChannelKind kind) {
    switch (dimension_of(kind)) {
        case Dimension::Angle:
            return rad_per_deg;
        case Dimension::Length:
            return metres_per(document.settings.length_unit);
        default:
            return 1;
    }
}

QString scaleValue(const Document& document, ChannelKind kind, double value, double step) {
    const double size = unitSize(document, kind);
    const int decimals = std::clamp(static_cast<int>(std::ceil(-std::log10(step / size) - 1e-9)), 0, 9);
    switch (dimension_of(kind)) {
        case Dimension::Angle:
            return QString::fromStdString(format_angle(value, decimals));
        case Dimension::Length:
            return QString::fromStdString(format_length(value, document.settings.length_unit, decimals));
        default:
            return QString::fromStdString(format_channel(kind, value, document));
    }
}

std::string wholeValue(ChannelKind kind, double value) {
    switch (dimension_of(kind)) {
        case Dimension::Angle:
            return fmt::format("{:.12g} rad", value);
        case Dimension::Length:
            return fmt::format("{:.12g} m", value);
        default:
            return fmt::format("{:.12g}", value);
    }
}

}  // namespace pivrak
