#pragma once

#include <QList>
#include <QString>
#include <utility>

namespace pivrak {

/// The channels that parts may have, as words and values of a choice; first of all the joint's own.
QList<std::pair<QString, QString>> channelChoices();

}  // namespace pivrak
