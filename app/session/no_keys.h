#pragma once

#include <QString>

namespace pivrak {

class Session;

/// Why no keys are shown of the clip in hand.
QString noKeysWords(const Session& session);

}  // namespace pivrak
