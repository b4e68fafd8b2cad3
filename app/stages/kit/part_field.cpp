#include "app/stages/kit/part_field.h"

#include <algorithm>

namespace pivrak {
namespace {

constexpr int field_margin_px = 12;

}  // namespace

PartField::PartField(Session& session, const char* object_name, const QString& empty_text, bool many)
    : session_(session), empty_text_(empty_text), many_(many) {
    setObjectName(QLatin1String(object_name));
    setToolTip(many ? tr("Pick parts in the view, then click here to take them")
                    : tr("Pick a part in the view, then click here to take it"));
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    refresh();
    // Ids of one project are others' in the next.
    connect(&session, &Session::started, this, [this] { setParts({}); });
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
    const QString more = there.size() > 1 ? tr(" and %1 more").arg(there.size() - 1) : QString();
    // The name gives way, so that both ends of the words are seen.
    const int room = width() - 2 * field_margin_px - fontMetrics().horizontalAdvance(more);
    setText((isVisible() ? fontMetrics().elidedText(text, Qt::ElideRight, std::max(room, 0)) : text) + more);
}

void PartField::resizeEvent(QResizeEvent* event) {
    QPushButton::resizeEvent(event);
    refresh();
}

void PartField::showEvent(QShowEvent* event) {
    QPushButton::showEvent(event);
    refresh();
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
