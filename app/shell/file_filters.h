#pragma once

#include <QString>

namespace pivrak {

/// What a file dialog offers: models that can be read, deliveries that can be written.
QString modelFilter();
QString deliveryFilter();
/// The ending of a delivery as it is proposed.
QString deliveryEnding();

}  // namespace pivrak
