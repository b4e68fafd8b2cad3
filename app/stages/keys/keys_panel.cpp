#include "app/stages/keys/keys_panel.h"

#include <QHeaderView>
#include <algorithm>

#include "app/session/shown_value.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/operations/channel_access.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// As the list of channels holds it: `turn`, or `slack 12` of element 12.
QString keyOf(ChannelRef channel) {
    const QString kind = QString::fromUtf8(word(channel.kind).data());
    return is_of_part(channel.kind) ? kind : QStringLiteral("%1 %2").arg(kind).arg(channel.owner.value);
}

}  // namespace

QString setKeyObstacle(const Session& session) {
    if (session.selection().empty()) return KeysPanel::tr("pick the parts to key first");
    for (const PartId id : session.selection()) {
        const Part* part = session.document().parts.find(id);
        const auto channels = part ? part->channels() : std::vector<ChannelKind>{};
        const bool any = std::any_of(channels.begin(), channels.end(), [&](ChannelKind kind) {
            return session.mayMove({id, kind}).ok();
        });
        if (any) continue;
        const auto why = session.mayMove({id, channels.empty() ? ChannelKind::Turn : channels.front()});
        return why ? QString() : QString::fromStdString(why.error().message);
    }
    return {};
}

void setKeyHere(Session& session, const std::string& interpolation, const std::string& channel) {
    json step{{"op", "key.set"},
              {"parts", session.selectedIds()},
              {"channel", channel},
              {"clip", session.clip().name},
              {"frame", session.frame()}};
    if (!interpolation.empty()) step["interpolation"] = interpolation;
    session.run(step);
}

KeysPanel::KeysPanel(Session& session, Look& look, QWidget* parent)
    : StagePanel(session, Stage::Keys, parent),
      channel_(makeChoice("keyChannel", {})),
      value_(makeNumber("keyValue")),
      interpolation_(makeChoice("keyInterpolation", {{tr("bent"), "smooth"},
                                                     {tr("straight"), "linear"},
                                                     {tr("stays"), "stepped"},
                                                     {tr("level"), "flat"},
                                                     {tr("by its own tangents"), "own"}})),
      set_(makeButton(tr("Key  K"), "panelSetKey", true)),
      remove_(makeButton(tr("Remove key"), "removeKey")),
      keys_(new QTableWidget(0, 3)),
      clips_(new ClipCard(session, look)),
      extras_(new ClipExtrasCard(session)),
      see_(new SeeCard(session, look)) {
    auto* key = new Card(tr("Key at this frame"));
    key->addRow(tr("Channel"), channel_);
    key->addRow(tr("Value"), value_);
    key->addRow(tr("Interpolation"), interpolation_);
    state_ = key->addReadout("keyState");
    key->addButtons({set_, remove_});
    driver_ = makeButton(tr("Pick what drives it"), "pickDriver");
    driver_->setToolTip(tr("What drives it can be keyed instead"));
    key->addButtons({driver_});
    connect(driver_, &QPushButton::clicked, this, [this] {
        if (const auto driver = driverOf(channel())) this->session().select({driver->part()});
    });
    addCard(key);
    keys_->setObjectName(QStringLiteral("keyTable"));
    keys_->setHorizontalHeaderLabels({tr("frame"), tr("value"), tr("interpolation")});
    keys_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    keys_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    keys_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    keys_->verticalHeader()->hide();
    keys_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    keys_->setSelectionBehavior(QAbstractItemView::SelectRows);
    keys_->setShowGrid(false);
    keys_->setMinimumHeight(120);
    addCard(new KeyEditCard(session));
    auto* list = new Card(tr("Keys"));
    list->addWidget(keys_);
    addCard(list);
    addCard(new MovesCard(session));
    addCard(see_);
    addCard(clips_);
    addCard(extras_);

    connect(channel_, &QComboBox::activated, this, [this] { refresh(); });
    connect(value_, &QLineEdit::returnPressed, this, &KeysPanel::setKey);
    connect(set_, &QPushButton::clicked, this, &KeysPanel::setKey);
    connect(remove_, &QPushButton::clicked, this, [this] { this->session().run(stepHere("key.remove")); });
    connect(keys_, &QTableWidget::cellClicked, this, [this](int row) {
        this->session().setFrame(keys_->item(row, 0)->data(Qt::UserRole).toDouble());
    });
    connect(&session, &Session::poseChanged, this, [this] {
        if (isVisible()) refresh();
    });
}

/// On the chosen channel, of all parts picked, at the present frame.
nlohmann::json KeysPanel::stepHere(const char* operation) const {
    nlohmann::json step = channel_step(operation, channel());
    if (is_of_part(channel().kind)) step["parts"] = selectedIds();
    step["clip"] = session().clip().name;
    step["frame"] = session().frame();
    return step;
}

/// A typed value is keyed as typed; an untouched field keys the channel as it stands.
void KeysPanel::setKey() {
    nlohmann::json step = stepHere("key.set");
    // A key with tangents of its own keeps these.
    if (const auto runs = interpolation_->currentData().toString().toStdString(); runs != "own")
        step["interpolation"] = runs;
    if (value_->isModified()) step["value"] = value_->text().toStdString();
    if (session().run(step)) value_->setModified(false);
    refresh();
}

ChannelRef KeysPanel::channel() const {
    const QStringList chosen = channel_->currentData().toString().split(QLatin1Char(' '));
    const auto kind = channel_kind_from(chosen.front().toStdString()).value_or(ChannelKind::Turn);
    if (chosen.size() > 1) return {CouplingId{chosen[1].toULongLong()}, kind};
    return {session().primary(), kind};
}

/// The channels of the part picked last; the place along a path comes first, those of elements at home on the
/// part come last.
void KeysPanel::showChannels() {
    std::vector<ChannelRef> channels = channels_at(document(), session().primary());
    const auto along = std::find_if(channels.begin(), channels.end(), [](const ChannelRef& channel) {
        return channel.kind == ChannelKind::Along;
    });
    if (along != channels.end()) std::rotate(channels.begin(), along, along + 1);
    QStringList keys, names, shown;
    for (const ChannelRef channel : channels) {
        keys << keyOf(channel);
        names << (is_of_part(channel.kind) ? QString::fromUtf8(channel_word(channel.kind).data())
                                           : QString::fromStdString(channel_name(document(), channel)));
    }
    for (int i = 0; i < channel_->count(); ++i) shown << channel_->itemData(i).toString();
    if (shown == keys) return;
    const QVariant present = channel_->currentData();
    channel_->clear();
    for (int i = 0; i < keys.size(); ++i) channel_->addItem(names[i], keys[i]);
    channel_->setCurrentIndex(std::max(0, channel_->findData(present)));
}

void KeysPanel::refresh() {
    showChannels();
    const ChannelRef channel = this->channel();
    const auto may = session().mayMove(channel);
    const QString why = session().selection().empty() || !has_owner(document(), channel.owner)
                            ? setKeyObstacle(session())
                        : may ? QString()
                              : QString::fromStdString(may.error().message);
    channel_->setEnabled(channel_->count() > 0);
    for (QWidget* widget : std::initializer_list<QWidget*>{value_, interpolation_, set_})
        widget->setEnabled(why.isEmpty());
    const Track* track = session().clip().track(channel);
    const Key* here = track ? track->key_at(session().frame()) : nullptr;
    remove_->setEnabled(here != nullptr);
    const auto driver = driverOf(channel);
    driver_->setVisible(driver && is_of_part(driver->kind));
    state_->setText(!why.isEmpty() ? why
                    : here         ? tr("keyed at frame %1").arg(session().frame())
                                   : tr("no key at frame %1").arg(session().frame()));
    if (!value_->hasFocus() || !value_->isModified())
        value_->setText(why.isEmpty()
                            ? shownValue(session().document(), channel.kind, session().valueOf(channel))
                            : QString());
    if (here)
        interpolation_->setCurrentIndex(
            interpolation_->findData(QString::fromUtf8(word(here->interpolation).data())));
    listKeys();
    clips_->refresh();
    extras_->refresh();
    see_->refresh();
}

/// The channel to key instead of one that is driven: what turns its train, or what its coupling takes.
std::optional<ChannelRef> KeysPanel::driverOf(ChannelRef channel) const {
    const Drivers& drivers = session().drivers();
    if (!drivers.name(channel)) return std::nullopt;
    if (const auto handle = drivers.handle(channel)) return handle->input;
    const Coupling* coupling = drivers.coupling(channel);
    return coupling ? coupling->driver() : std::nullopt;
}

void KeysPanel::listKeys() {
    const Track* track = session().clip().track(channel());
    keys_->setRowCount(track ? static_cast<int>(track->keys.size()) : 0);
    for (int row = 0; row < keys_->rowCount(); ++row) {
        const Key& key = track->keys[static_cast<std::size_t>(row)];
        auto* frame = new QTableWidgetItem(QString::number(key.frame));
        frame->setData(Qt::UserRole, key.frame);
        keys_->setItem(row, 0, frame);
        keys_->setItem(row, 1,
                       new QTableWidgetItem(shownValue(session().document(), channel().kind, key.value)));
        keys_->setItem(row, 2,
                       new QTableWidgetItem(interpolation_->itemText(
                           interpolation_->findData(QString::fromUtf8(word(key.interpolation).data())))));
    }
}

}  // namespace pivrak
