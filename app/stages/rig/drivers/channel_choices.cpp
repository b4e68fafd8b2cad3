#include "app/stages/rig/drivers/channel_choices.h"

#include <QObject>

namespace pivrak {

QList<std::pair<QString, QString>> channelChoices() {
    return {{QObject::tr("the joint's own"), ""}, {QObject::tr("turn"), "turn"},
            {QObject::tr("shift"), "shift"},      {QObject::tr("shift X"), "shift_x"},
            {QObject::tr("shift Y"), "shift_y"},  {QObject::tr("shift Z"), "shift_z"},
            {QObject::tr("turn X"), "turn_x"},    {QObject::tr("turn Y"), "turn_y"},
            {QObject::tr("turn Z"), "turn_z"},    {QObject::tr("along its path"), "along"},
            {QObject::tr("travel"), "travel"},    {QObject::tr("size"), "size"}};
}

}  // namespace pivrak
