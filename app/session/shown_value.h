#pragma once

#include <QString>

#include "core/model/document.h"

namespace pivrak {

/// A channel's value as gauges, cards, tables and curves all show it, in the project's unit: angles to
/// hundredths of a degree, lengths to a tenth of a millimetre or finer.
QString shownValue(const Document& document, ChannelKind kind, double value);
/// The same in a sentence, where small lengths are to be read: as the project tells them.
QString toldValue(const Document& document, ChannelKind kind, double value);
/// What counts as one on its scale: a degree, the project's unit, or 1 of what has none.
double unitSize(const Document& document, ChannelKind kind);
/// A round value of a scale whose marks are so far apart, to the digits that tell them apart.
QString scaleValue(const Document& document, ChannelKind kind, double value, double step);
/// A value to twelve digits, for what is handed to a step: nothing is lost by it.
std::string wholeValue(ChannelKind kind, double value);

}  // namespace pivrak
