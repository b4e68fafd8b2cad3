#include "app/stages/keys/clip_card.h"

#include <algorithm>

#include "app/view/control_marks.h"
#include "core/io/project/project_json.h"

namespace pivrak {

using nlohmann::json;

namespace {

void showIn(QLineEdit* edit, const QString& text) {
    if (!edit->hasFocus() || !edit->isModified()) edit->setText(text);
}

QIcon chip(const Look& look, std::optional<ControlColor> color) {
    QPixmap pixmap(14, 14);
    pixmap.fill(Qt::transparent);
    if (color) {
        QPainter painter(&pixmap);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(controlColor(*color, look.theme()));
        painter.drawRoundedRect(QRectF(2, 2, 10, 10), 3, 3);
    }
    return QIcon(pixmap);
}

}  // namespace

ClipCard::ClipCard(Session& session, Look& look)
    : Card(tr("Clips")),
      session_(session),
      look_(look),
      clips_(new QListWidget),
      name_(makeText("clipName")),
      first_(makeNumber("clipFirst")),
      last_(makeNumber("clipLast")),
      rate_(makeNumber("frameRate")),
      loop_(makeCheck(tr("loop"), "clipLoop")),
      own_rate_(makeCheck(tr("rate of this clip alone"), "clipOwnRate")),
      keeps_seconds_(makeCheck(tr("keys keep their seconds"), "rateKeepsSeconds")),
      color_(makeChoice("clipColor", {{tr("no colour"), "none"},
                                      {tr("petrol"), "petrol"},
                                      {tr("steel"), "steel"},
                                      {tr("leaf"), "leaf"},
                                      {tr("saffron"), "saffron"},
                                      {tr("rust"), "rust"},
                                      {tr("ink"), "ink"},
                                      {tr("plum"), "plum"}})),
      new_(makeButton(tr("New"), "newClip")),
      copy_(makeButton(tr("Copy"), "copyClip")),
      remove_(makeButton(tr("Remove"), "removeClip")),
      up_(makeButton(tr("Up"), "clipUp")),
      down_(makeButton(tr("Down"), "clipDown")) {
    clips_->setObjectName(QStringLiteral("clipList"));
    clips_->setMaximumHeight(110);
    addWidget(clips_);
    addButtons({up_, down_, remove_});
    addRow(tr("Name"), name_);
    addRow(tr("First frame"), first_);
    addRow(tr("Last frame"), last_);
    addRow(tr("Frames a second"), rate_);
    addWidget(own_rate_);
    addWidget(keeps_seconds_);
    addWidget(loop_);
    addRow(tr("Colour"), color_);
    addButtons({new_, copy_});
    keeps_seconds_->setToolTip(tr("When the rate changes, all stands at the second where it stood"));
    clips_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    clips_->setTextElideMode(Qt::ElideRight);
    connect(clips_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item) session_.setClip(ClipId{item->data(Qt::UserRole).toULongLong()});
    });
    for (QLineEdit* edit : {name_, first_, last_})
        connect(edit, &QLineEdit::returnPressed, this, &ClipCard::apply);
    connect(loop_, &QCheckBox::clicked, this, &ClipCard::apply);
    connect(rate_, &QLineEdit::returnPressed, this, &ClipCard::applyRate);
    connect(color_, &QComboBox::activated, this, [this] {
        session_.run({{"op", "clip.set"}, {"clip", session_.clip().name}, {"color", chosen(color_)}});
    });
    connect(new_, &QPushButton::clicked, this, [this] { add(false); });
    connect(copy_, &QPushButton::clicked, this, [this] { add(true); });
    connect(remove_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "clip.remove"}, {"clip", session_.clip().name}});
    });
    connect(up_, &QPushButton::clicked, this, [this] { move(-1); });
    connect(down_, &QPushButton::clicked, this, [this] { move(1); });
}

void ClipCard::apply() {
    session_.run({{"op", "clip.set"},
                  {"clip", session_.clip().name},
                  {"name", name_->text().toStdString()},
                  {"first_frame", first_->text().toStdString()},
                  {"last_frame", last_->text().toStdString()},
                  {"loop", loop_->isChecked()}});
    refresh();
}

void ClipCard::applyRate() {
    json step =
        own_rate_->isChecked()
            ? json{{"op", "clip.set"}, {"clip", session_.clip().name}, {"rate", rate_->text().toStdString()}}
            : json{{"op", "project.set"}, {"frame_rate", rate_->text().toStdString()}};
    if (keeps_seconds_->isChecked()) step["keep"] = "seconds";
    if (session_.run(step)) rate_->setModified(false);
    refresh();
}

void ClipCard::add(bool keys) {
    const auto is_taken = [&](const std::string& name) {
        return std::ranges::any_of(session_.document().clips,
                                   [&](const Clip& one) { return one.name == name; });
    };
    std::string name = name_->text().trimmed().toStdString();
    for (int number = 2; name.empty() || is_taken(name); ++number)
        name = session_.clip().name + " " + std::to_string(number);
    if (!session_.run({{"op", "clip.add"}, {"clip", session_.clip().name}, {"name", name}, {"keys", keys}}))
        return;
    for (const Clip& one : session_.document().clips)
        if (one.name == name) session_.setClip(one.id);
    name_->setModified(false);
    refresh();
}

void ClipCard::move(int by) {
    const auto order = clips_in_order(session_.document());
    const auto here = std::ranges::find(order, session_.clip().id, [](const Clip* clip) { return clip->id; });
    const auto at = here - order.begin();
    // Behind the next one is before the one after that.
    const auto before = at + (by < 0 ? -1 : 2);
    if (before < 0 || at + by >= static_cast<std::ptrdiff_t>(order.size())) return;
    const std::string name = before < static_cast<std::ptrdiff_t>(order.size())
                                 ? order[static_cast<std::size_t>(before)]->name
                                 : "";
    session_.run({{"op", "clip.set"}, {"clip", session_.clip().name}, {"before", name}});
}

void ClipCard::list() {
    QSignalBlocker quiet(clips_);
    const auto order = clips_in_order(session_.document());
    while (clips_->count() > static_cast<int>(order.size())) delete clips_->takeItem(clips_->count() - 1);
    while (clips_->count() < static_cast<int>(order.size())) clips_->addItem(QString());
    for (int row = 0; row < clips_->count(); ++row) {
        const Clip& clip = *order[static_cast<std::size_t>(row)];
        QListWidgetItem* item = clips_->item(row);
        item->setText(tr("%1 · %2–%3 · %4 fps%5")
                          .arg(QString::fromStdString(clip.name))
                          .arg(clip.first_frame)
                          .arg(clip.last_frame)
                          .arg(frame_rate_of(session_.document(), clip))
                          .arg(clip.loop ? tr(" · loop") : QString()));
        item->setIcon(chip(look_, clip.color));
        item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(clip.id.value));
        if (clip.id == session_.clip().id) clips_->setCurrentRow(row);
    }
}

void ClipCard::refresh() {
    list();
    const Clip& clip = session_.clip();
    showIn(name_, QString::fromStdString(clip.name));
    showIn(first_, QString::number(clip.first_frame));
    showIn(last_, QString::number(clip.last_frame));
    showIn(rate_, QString::number(frame_rate_of(session_.document(), clip), 'g', 12));
    if (!rate_->isModified()) own_rate_->setChecked(clip.rate.has_value());
    loop_->setChecked(clip.loop);
    color_->setCurrentIndex(std::max(
        0,
        color_->findData(clip.color ? QString::fromUtf8(word(*clip.color).data()) : QStringLiteral("none"))));
    const bool several = session_.document().clips.size() > 1;
    for (QPushButton* button : {remove_, up_, down_}) button->setEnabled(several);
}

ClipExtrasCard::ClipExtrasCard(Session& session)
    : Card(tr("Markers and added clips")),
      session_(session),
      marker_(makeText("markerName")),
      share_(makeNumber("layerShare")),
      layer_(makeChoice("layerClip", {})),
      mark_(makeButton(tr("Mark this frame"), "setMarker")),
      unmark_(makeButton(tr("Take mark off"), "dropMarker")),
      add_(makeButton(tr("Add clip here"), "addLayer")),
      remove_(makeButton(tr("Leave it out"), "dropLayer")) {
    markers_ = addReadout("markerFacts");
    addRow(tr("Mark as"), marker_);
    addButtons({mark_, unmark_});
    layers_ = addReadout("layerFacts");
    addRow(tr("Other clip"), layer_);
    addRow(tr("How much"), share_);
    addButtons({add_, remove_});
    share_->setText(QStringLiteral("1"));
    marker_->setPlaceholderText(tr("its name"));
    layer_->setToolTip(
        tr("What its channels do beyond where they stand without keys is added: a shake over a drive"));
    connect(marker_, &QLineEdit::returnPressed, this, &ClipExtrasCard::mark);
    connect(mark_, &QPushButton::clicked, this, &ClipExtrasCard::mark);
    connect(unmark_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "marker.set"}, {"clip", session_.clip().name}, {"frame", session_.frame()}});
    });
    connect(add_, &QPushButton::clicked, this, [this] {
        const auto share = parse_quantity(share_->text().toStdString(), Dimension::None);
        if (!share) return emit session_.told(QString::fromStdString(share.error().message), true);
        addLayer(*share);
    });
    connect(remove_, &QPushButton::clicked, this, [this] { addLayer(0); });
}

void ClipExtrasCard::mark() {
    if (session_.run({{"op", "marker.set"},
                      {"clip", session_.clip().name},
                      {"frame", session_.frame()},
                      {"name", marker_->text().trimmed().toStdString()}}))
        marker_->clear();
}

void ClipExtrasCard::addLayer(double share) {
    json step{{"op", "layer.set"},
              {"clip", session_.clip().name},
              {"add", layer_->currentText().toStdString()},
              {"share", share}};
    if (share != 0) step["from_frame"] = session_.frame();
    session_.run(step);
}

void ClipExtrasCard::refresh() {
    const Clip& clip = session_.clip();
    QStringList marks, layers, others, shown;
    for (const Marker& marker : clip.markers)
        marks << tr("%1 at %2").arg(QString::fromStdString(marker.name)).arg(marker.frame);
    markers_->setText(marks.isEmpty() ? tr("No frame has a name yet.") : marks.join(QStringLiteral(", ")));
    for (const ClipLayer& layer : clip.layers)
        if (const Clip* other = session_.document().clips.find(layer.clip))
            layers << tr("%1 times %2 from frame %3")
                          .arg(layer.share)
                          .arg(QString::fromStdString(other->name))
                          .arg(layer.from_frame);
    layers_->setText(layers.isEmpty() ? tr("No other clip is added.")
                                      : tr("Added: %1").arg(layers.join(QStringLiteral(", "))));
    for (const Clip* other : clips_in_order(session_.document()))
        if (other->id != clip.id) others << QString::fromStdString(other->name);
    for (int i = 0; i < layer_->count(); ++i) shown << layer_->itemText(i);
    if (shown != others) {
        layer_->clear();
        layer_->addItems(others);
    }
    const bool marked = std::ranges::any_of(
        clip.markers, [&](const Marker& marker) { return marker.frame == session_.frame(); });
    unmark_->setEnabled(marked);
    add_->setEnabled(!others.isEmpty());
    remove_->setEnabled(!clip.layers.empty());
}

}  // namespace pivrak
