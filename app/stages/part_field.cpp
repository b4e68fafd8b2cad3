#include "app/stages/part_field.h"

#include <algorithm>

namespace pivrak {

PartField::PartField(Session& session, const char* object_name, const QString& empty_text, bool many)
    : session_(session), empty_text_(empty_text), many_(many) {
    setObjectName(QLatin1String(object_name));
    setToolTip(many ? tr("Pick parts in the view, then click here to take them")
                    : tr("Pick a part in the view, then click here to take it"));
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    refresh();
    connect(this, &QPushButton::clicked, this, [this] {
        const auto& picked = session_.selection();
        setParts(many_ || picked.empty() ? picked : std::vector{picked.back()});
        emit taken();
    });
}

std::vector<PartId> PartField::parts() const {
    std::vector<PartId> there = parts_;
    std::erase_if(there, [&](PartId part) { return !session_.document().parts.contains(part); });
    return there;
}

PartId PartField::part() const {
    const auto there = parts();
    return there.empty() ? PartId{} : there.front();
}

void PartField::setParts(std::vector<PartId> parts) {
    parts_ = std::move(parts);
    refresh();
}

void PartField::refresh() {
    const auto there = parts();
    if (there.empty()) return setText(empty_text_);
    QString text = QString::fromStdString(session_.document().parts.find(there.front())->name);
    if (there.size() > 1) text = tr("%1 and %2 more").arg(text).arg(there.size() - 1);
    setText(text);
}

QString nameOf(const Document& document, PartId part) {
    const Part* found = document.parts.find(part);
    return found ? QString::fromStdString(found->name) : QString();
}

nlohmann::json part_ids(const std::vector<PartId>& parts) {
    nlohmann::json ids = nlohmann::json::array();
    for (const PartId part : parts) ids.push_back(part.value);
    return ids;
}

}  // namespace pivrak
