#include "app/shell/file_filters.h"

#include <QObject>
#include <QStringList>

#include "core/io/delivery/delivery_formats.h"
#include "core/io/import/import_formats.h"

namespace pivrak {
namespace {

QString formatText(std::string_view words) {
    return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size()));
}

}  // namespace

QString modelFilter() {
    QStringList endings;
    for (const ModelFormat& format : model_formats())
        endings << QStringLiteral("*") + formatText(format.ending);
    return QObject::tr("Models (%1)").arg(endings.join(QLatin1Char(' ')));
}

QString deliveryFilter() {
    QStringList filters;
    for (const DeliveryFormat& format : delivery_formats())
        filters << QStringLiteral("%1 (*%2)").arg(formatText(format.title), formatText(format.ending));
    return filters.join(QStringLiteral(";;"));
}

QString deliveryEnding() {
    return formatText(delivery_formats().front().ending);
}

}  // namespace pivrak
