#include "app/stages/tree/joint_card.h"

#include <cmath>

#include "app/session/shown_value.h"
#include "core/io/project/project_json.h"

namespace pivrak {

JointCard::JointCard(Session& session, QWidget* parent)
    : Card(tr("Joint"), parent),
      session_(session),
      kind_(makeChoice("jointKind", {{tr("fixed"), "fixed"},
                                     {tr("hinge"), "hinge"},
                                     {tr("slide"), "slide"},
                                     {tr("cylinder"), "cylinder"},
                                     {tr("ball"), "ball"},
                                     {tr("free"), "free"}})),
      axis_(makeChoice("jointAxis", {{tr("own X"), "x"}, {tr("own Y"), "y"}, {tr("own Z"), "z"}})),
      channel_(makeChoice("jointChannel", {})),
      value_(makeNumber("channelValue")),
      min_(makeNumber("limitMin")),
      max_(makeNumber("limitMax")),
      take_min_(makeButton(tr("lowest"), "takeMin")),
      take_max_(makeButton(tr("highest"), "takeMax")),
      free_(makeButton(tr("No limits"), "noLimits")),
      rest_(makeButton(tr("Back to rest"), "toRest")),
      locked_(makeCheck(tr("locked: it does not move"), "channelLocked")),
      sizes_(makeCheck(tr("Grows and shrinks with all it carries"), "partSizes")) {
    addRow(tr("Kind"), kind_);
    addRow(tr("Axis"), axis_);
    addWidget(sizes_);
    addRow(tr("Channel"), channel_);
    addRow(tr("Value"), value_);
    addRow(tr("Lowest"), min_);
    addRow(tr("Highest"), max_);
    auto* take = new QWidget;
    auto* row = new QHBoxLayout(take);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(take_min_, 1);
    row->addWidget(take_max_, 1);
    addRow(tr("Set from here"), take);
    addButtons({free_, rest_});
    addWidget(locked_);
    min_->setPlaceholderText(tr("none"));
    max_->setPlaceholderText(tr("none"));
    rest_->setToolTip(tr("Every channel of the picked parts to zero"));
    connect(rest_, &QPushButton::clicked, &session_, &Session::toRest);
    sizes_->setToolTip(tr("A size that is keyed and typed as any channel; 1 is as large as at rest"));
    connect(sizes_, &QCheckBox::clicked, this, [this](bool on) {
        if (!session_.run({{"op", "joint.size"}, {"parts", session_.selectedIds()}, {"on", on}})) refresh();
    });
    connect(locked_, &QCheckBox::clicked, this, [this](bool on) { apply({{"locked", on}}); });
    connect(kind_, &QComboBox::activated, this, [this] { apply({{"kind", chosen(kind_)}}); });
    connect(axis_, &QComboBox::activated, this, [this] { apply({{"axis", chosen(axis_)}}); });
    connect(channel_, &QComboBox::activated, this, &JointCard::refresh);
    connect(value_, &QLineEdit::returnPressed, this, [this] {
        if (value_->isModified())
            session_.setChannel({session_.primary(), channel()}, value_->text().toStdString());
    });
    connect(&session_, &Session::poseChanged, this, [this] {
        if (isVisible()) showValue();
    });
    connect(min_, &QLineEdit::returnPressed, this, &JointCard::applyLimits);
    connect(max_, &QLineEdit::returnPressed, this, &JointCard::applyLimits);
    connect(take_min_, &QPushButton::clicked, this, [this] { takePresentAs("min"); });
    connect(take_max_, &QPushButton::clicked, this, [this] { takePresentAs("max"); });
    connect(free_, &QPushButton::clicked, this, [this] { apply({{"unlimited", true}}); });
}

void JointCard::apply(nlohmann::json change) {
    change["op"] = "joint.set";
    change["parts"] = session_.selectedIds();
    // A new kind of joint has channels of its own.
    if (!change.contains("kind")) change["channel"] = word(channel());
    if (!session_.run(change)) refresh();
}

/// An end that is left empty is open; one that nobody typed at stays as it is, of each part.
void JointCard::applyLimits() {
    nlohmann::json ends;
    for (const auto& [name, edit] : {std::pair("min", min_), std::pair("max", max_)})
        if (edit->isModified())
            ends[name] = edit->text().trimmed().isEmpty() ? std::string("none") : edit->text().toStdString();
    if (!ends.empty()) apply(std::move(ends));
}

void JointCard::takePresentAs(const char* end) {
    apply({{end, wholeValue(channel(), session_.valueOf({session_.primary(), channel()}))}});
}

ChannelKind JointCard::channel() const {
    return channel_kind_from(chosen(channel_)).value_or(ChannelKind::Turn);
}

QString JointCard::shown(double value) const {
    return shownValue(session_.document(), channel(), value);
}

void JointCard::showValue() {
    const Part* part = session_.document().parts.find(session_.primary());
    if (!value_->hasFocus())
        value_->setText(part && part->joint.has(channel()) ? shown(session_.valueOf({part->id, channel()}))
                                                           : QString());
}

void JointCard::showChannels(const Joint& joint) {
    const QString present = channel_->currentData().toString();
    channel_->clear();
    const auto add = [this](ChannelKind kind) {
        channel_->addItem(QString::fromUtf8(channel_word(kind).data()), QString::fromUtf8(word(kind).data()));
    };
    for (const ChannelKind kind : channels_of(joint.kind)) add(kind);
    if (joint.size) add(ChannelKind::Size);
    channel_->setCurrentIndex(std::max(0, channel_->findData(present)));
}

void JointCard::refresh() {
    const Part* part = session_.document().parts.find(session_.primary());
    setEnabled(part != nullptr && !session_.previewed());
    const bool turns_or_shifts = part && part->joint.kind != JointKind::Fixed,
               moves = turns_or_shifts || (part && part->joint.size);
    sizes_->setChecked(part && part->joint.size);
    if (part) showChannels(part->joint);
    for (QWidget* widget :
         std::initializer_list<QWidget*>{channel_, value_, min_, max_, take_min_, take_max_, free_, locked_})
        widget->setEnabled(moves);
    axis_->setEnabled(turns_or_shifts && part->joint.kind != JointKind::Ball &&
                      part->joint.kind != JointKind::Free);
    showValue();
    locked_->setChecked(moves && part->joint.channel(channel()).locked);
    if (!part) return;
    kind_->setCurrentIndex(kind_->findData(QString::fromUtf8(word(part->joint.kind).data())));
    axis_->setCurrentIndex(part->joint.axis);
    const auto& limits = part->joint.channel(channel()).limits;
    const auto shownEnd = [&](double end) { return std::isfinite(end) ? shown(end) : QString(); };
    min_->setText(moves && limits ? shownEnd(limits->min) : QString());
    max_->setText(moves && limits ? shownEnd(limits->max) : QString());
}

}  // namespace pivrak
