#include "app/session/shown_value.h"

#include <fmt/format.h>

namespace pivrak {

QString shownValue(const Document& document, ChannelKind kind, double value) {
    const LengthUnit unit = document.settings.length_unit;
    return QString::fromStdString(dimension_of(kind) == Dimension::Length
                                      ? format_length(value, unit, unit == LengthUnit::Metre ? 4 : 2)
                                      : format_channel(kind, value));
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
