#include "app/stages/joint_card.h"

#include "core/io/project_json.h"

namespace pivrak {

JointCard::JointCard(Session& session, QWidget* parent)
    : Card(tr("Joint"), parent),
      session_(session),
      kind_(makeChoice("jointKind", {{tr("fixed"), "fixed"}, {tr("hinge"), "hinge"}})),
      axis_(makeChoice("jointAxis", {{tr("own X"), "x"}, {tr("own Y"), "y"}, {tr("own Z"), "z"}})),
      min_(makeNumber("limitMin")),
      max_(makeNumber("limitMax")),
      take_min_(makeButton(tr("lowest"), "takeMin")),
      take_max_(makeButton(tr("highest"), "takeMax")),
      free_(makeButton(tr("No limits"), "noLimits")) {
    addRow(tr("Kind"), kind_);
    addRow(tr("Turns about"), axis_);
    addRow(tr("Lowest"), min_);
    addRow(tr("Highest"), max_);
    auto* take = new QWidget;
    auto* row = new QHBoxLayout(take);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(take_min_, 1);
    row->addWidget(take_max_, 1);
    addRow(tr("Take present"), take);
    addButtons({free_});
    min_->setPlaceholderText(tr("none"));
    max_->setPlaceholderText(tr("none"));
    connect(kind_, &QComboBox::activated, this, [this] { apply({}); });
    connect(axis_, &QComboBox::activated, this, [this] {
        apply({{"axis", axis_->currentData().toString().toStdString()}});
    });
    connect(min_, &QLineEdit::returnPressed, this, &JointCard::applyLimits);
    connect(max_, &QLineEdit::returnPressed, this, &JointCard::applyLimits);
    connect(take_min_, &QPushButton::clicked, this, [this] { takePresentAs(min_); });
    connect(take_max_, &QPushButton::clicked, this, [this] { takePresentAs(max_); });
    connect(free_, &QPushButton::clicked, this, [this] { apply({{"unlimited", true}}); });
}

void JointCard::apply(nlohmann::json change) {
    change["op"] = "joint.set";
    change["parts"] = session_.selectedIds();
    change["kind"] = kind_->currentData().toString().toStdString();
    if (!session_.run(change)) refresh();
}

/// Both limits are needed; with one typed the person is still on the way to the other.
void JointCard::applyLimits() {
    if (min_->text().isEmpty()) return min_->setFocus();
    if (max_->text().isEmpty()) return max_->setFocus();
    apply({{"min", min_->text().toStdString()}, {"max", max_->text().toStdString()}});
}

void JointCard::takePresentAs(QLineEdit* limit) {
    limit->setText(QString::fromStdString(format_angle(session_.turnOf(session_.primary()), 4)));
    applyLimits();
}

void JointCard::refresh() {
    const Part* part = session_.document().parts.find(session_.primary());
    setEnabled(part != nullptr && !session_.previewed());
    const bool hinge = part && part->joint.kind == JointKind::Hinge;
    for (QWidget* widget : std::initializer_list<QWidget*>{axis_, min_, max_, take_min_, take_max_, free_})
        widget->setEnabled(hinge);
    if (!part) return;
    kind_->setCurrentIndex(hinge ? 1 : 0);
    axis_->setCurrentIndex(part->joint.axis);
    const auto& limits = part->joint.turn.limits;
    min_->setText(limits ? QString::fromStdString(format_angle(limits->min)) : QString());
    max_->setText(limits ? QString::fromStdString(format_angle(limits->max)) : QString());
}

}  // namespace pivrak
