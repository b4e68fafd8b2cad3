#pragma once

#include <QString>

#include "core/model/document.h"

namespace pivrak {

/// A channel's value as gauges, cards, tables and curves all show it, in the project's unit: angles to
/// hundredths of a degree, lengths to a tenth of a millimetre or finer.
QString shownValue(const Document& document, ChannelKind kind, double value);
/// The same to twelve digits, for what is handed to a step: nothing is lost by it.
std::string wholeValue(ChannelKind kind, double value);

}  // namespace pivrak
