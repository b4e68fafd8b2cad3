#include "app/timeline/time_strip.h"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>
#include <cmath>

#include "app/parts/channel_mark.h"
#include "app/parts/key_mark.h"
#include "app/timeline/lane_metrics.h"
#include "core/model/element_channels.h"
#include "core/rig/driven_by.h"

namespace pivrak {
namespace {

enum class Transport { ToStart, Play, Pause, ToEnd };

QIcon transportIcon(Transport kind, const QColor& color) {
    QPixmap pixmap(32, 32);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(color);
    switch (kind) {
        case Transport::Play:
            painter.drawPolygon(QPolygonF{{5, 3}, {13, 8}, {5, 13}});
            break;
        case Transport::Pause:
            painter.drawRect(QRectF(4, 3.5, 3, 9));
            painter.drawRect(QRectF(9, 3.5, 3, 9));
            break;
        case Transport::ToStart:
            painter.drawRect(QRectF(3, 3.5, 2, 9));
            painter.drawPolygon(QPolygonF{{13, 3.5}, {6, 8}, {13, 12.5}});
            break;
        case Transport::ToEnd:
            painter.drawRect(QRectF(11, 3.5, 2, 9));
            painter.drawPolygon(QPolygonF{{3, 3.5}, {10, 8}, {3, 12.5}});
            break;
    }
    return QIcon(pixmap);
}

}  // namespace

TimeLanes::TimeLanes(Session& session, Look& look, QWidget* parent)
    : QWidget(parent), session_(session), look_(look) {
    setObjectName(QStringLiteral("timeLanes"));
    setFocusPolicy(Qt::ClickFocus);
    connect(&session.keyPicks(), &KeyPicks::changed, this, qOverload<>(&QWidget::update));
    setMinimumHeight(lane_px::ruler_height + lane_px::lane_height);
    for (auto signal : {&Session::documentChanged, &Session::selectionChanged, &Session::poseChanged,
                        &Session::previewChanged})
        connect(&session_, signal, this, qOverload<>(&QWidget::update));
    for (auto signal : {&Session::documentChanged, &Session::previewChanged})
        connect(&session_, signal, this, [this] { runs_.clear(); });
    connect(&look_, &Look::changed, this, qOverload<>(&QWidget::update));
}

Ruler TimeLanes::ruler() const {
    const Clip& clip = session_.clip();
    return {clip.first_frame, clip.last_frame, static_cast<double>(lane_px::label_width),
            static_cast<double>(width() - lane_px::right_margin)};
}

/// Channels of the selection, or when it has none all that have keys. Of a part with many channels only those
/// with keys.
std::vector<ChannelRef> TimeLanes::lanes() const {
    std::vector<ChannelRef> lanes;
    const Document& document = session_.shownDocument();
    for (const PartId id : session_.selection())
        if (const Part* part = document.parts.find(id))
            for (const ChannelKind kind : channels_of(part->joint.kind)) {
                const Track* track = session_.clip().track({id, kind});
                if (part->joint.kind == JointKind::Hinge || (track && !track->keys.empty()))
                    lanes.push_back({id, kind});
            }
    for (const Track& track : session_.clip().tracks)
        if (!is_of_part(track.channel.kind) && session_.isSelected(home_of(document, track.channel.owner)))
            lanes.push_back(track.channel);
    if (lanes.empty())
        for (const Track& track : session_.clip().tracks) lanes.push_back(track.channel);
    return lanes;
}

void TimeLanes::paintEvent(QPaintEvent*) {
    const Theme& theme = look_.theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme.card);
    const auto channels = lanes();
    const int room = (height() - lane_px::ruler_height) / lane_px::lane_height;
    for (int row = 0; row < std::max(room, 1); ++row)
        if (row % 2 == 0)
            painter.fillRect(0, lane_px::ruler_height + row * lane_px::lane_height, width(),
                             lane_px::lane_height, theme.paper);
    for (std::size_t i = 0; i < channels.size() && static_cast<int>(i) < room; ++i)
        paintLane(painter, static_cast<int>(i), channels[i]);
    if (channels.empty()) {
        painter.setPen(theme.softInk);
        painter.setFont(Look::uiFont(11));
        painter.drawText(QRect(12, lane_px::ruler_height, width(), lane_px::lane_height), Qt::AlignVCenter,
                         tr("No keys yet: make a part a hinge, turn it, press K"));
    }
    if (doing_ == Doing::Box) {
        painter.setPen(QPen(theme.petrol, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(pressed_, last_).normalized());
    }
    paintRuler(painter);
    const double x = ruler().x_at(session_.frame());
    painter.setPen(QPen(theme.saffron, 2));
    painter.drawLine(QPointF(x, 6), QPointF(x, height()));
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme.saffron);
    painter.drawPolygon(QPolygonF{{x - 6, 0}, {x + 6, 0}, {x + 6, 5}, {x, 12}, {x - 6, 5}});
}

void TimeLanes::paintRuler(QPainter& painter) const {
    const Theme& theme = look_.theme();
    const Ruler r = ruler();
    painter.setPen(QPen(theme.softInk, 1));
    painter.drawLine(QPointF(r.left_px, lane_px::ruler_height - 6),
                     QPointF(r.right_px, lane_px::ruler_height - 6));
    painter.setFont(Look::uiFont(11));
    const double step = r.label_step(46);
    for (double f = std::ceil(r.first_frame / step) * step; f <= r.last_frame + 1e-9; f += step) {
        const double x = r.x_at(f);
        painter.setPen(theme.softInk);
        painter.drawLine(QPointF(x, lane_px::ruler_height - 11), QPointF(x, lane_px::ruler_height - 2));
        if (std::abs(x - r.x_at(session_.frame())) > 9)
            painter.drawText(QRectF(x - 30, 2, 60, 15), Qt::AlignCenter, QString::number(f));
    }
}

void TimeLanes::paintLane(QPainter& painter, int row, ChannelRef channel) {
    const Theme& theme = look_.theme();
    const double top = lane_px::ruler_height + row * lane_px::lane_height,
                 middle = top + lane_px::lane_height / 2.0;
    painter.setFont(Look::uiFont(12));
    painter.setPen(theme.ink);
    const QString name = QString::fromStdString(channel_name(session_.shownDocument(), channel));
    painter.drawText(QRectF(14, top, lane_px::label_width - 50, lane_px::lane_height), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(name, Qt::ElideMiddle, lane_px::label_width - 54));
    paintMark(painter, QPointF(lane_px::label_width - 30, middle), channelMark(session_, channel), theme);
    if (session_.drivers().name(channel))
        paintDriven(painter, channel, middle);
    else if (const Track* track = session_.clip().track(channel))
        paintKeys(painter, *track, middle);
}

void TimeLanes::paintKeys(QPainter& painter, const Track& track, double y) const {
    const Theme& theme = look_.theme();
    const Ruler r = ruler();
    if (track.keys.size() > 1) {
        QColor band = theme.petrolLight;
        band.setAlphaF(0.45f);
        painter.setPen(QPen(band, 3));
        painter.drawLine(QPointF(r.x_at(track.keys.front().frame), y),
                         QPointF(r.x_at(track.keys.back().frame), y));
    }
    for (const Key& key : track.keys) {
        const bool picked = session_.keyPicks().has(track.channel, key.frame);
        painter.setPen(picked ? QPen(theme.raspberry, 1.6) : QPen(theme.card, 1));
        painter.setBrush(picked || key.frame == session_.frame() ? theme.saffron : theme.petrolLight);
        paintKeyMark(painter, {r.x_at(key.frame + (picked ? moved_ : 0)), y}, key.interpolation, 5);
    }
}

constexpr int run_samples = 96;

const std::vector<double>& TimeLanes::runOf(ChannelRef channel) {
    const auto [known, added] = runs_.try_emplace(channel);
    std::vector<double>& values = known->second;
    const auto slot = session_.evaluator().channel_slot(channel);
    if (!added || !slot) return values;
    const Ruler r = ruler();
    Pose pose = session_.evaluator().make_pose();
    for (int i = 0; i <= run_samples; ++i) {
        session_.evaluator().evaluate(r.first_frame + (r.last_frame - r.first_frame) * i / run_samples, pose);
        values.push_back(pose.channels[*slot]);
    }
    return values;
}

/// The run of a driven channel over the clip, scaled to its lane.
void TimeLanes::paintDriven(QPainter& painter, ChannelRef channel, double y) {
    const std::vector<double>& values = runOf(channel);
    if (values.empty()) return;
    const Ruler r = ruler();
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    const double span = std::max(*high - *low, 1e-9);
    QPolygonF line;
    for (int i = 0; i <= run_samples; ++i)
        line << QPointF(r.left_px + (r.right_px - r.left_px) * i / run_samples,
                        y + 8 - 16 * (values[static_cast<std::size_t>(i)] - *low) / span);
    painter.setPen(QPen(look_.theme().steel, 1.6));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(line);
}

void TimeLanes::scrub(double x) {
    const Clip& clip = session_.clip();
    session_.setFrame(std::clamp(std::round(ruler().frame_at(x)), clip.first_frame, clip.last_frame));
}

TimeStrip::TimeStrip(Session& session, Look& look, Player& player, QWidget* parent)
    : QWidget(parent),
      session_(session),
      player_(player),
      lanes_(new TimeLanes(session, look)),
      to_start_(new QToolButton),
      play_(new QToolButton),
      to_end_(new QToolButton),
      frame_(new QLineEdit),
      set_key_(new QPushButton(tr("Key"))),
      auto_key_(new QPushButton(tr("Key every move"))),
      clip_(new QComboBox),
      pace_(new QComboBox),
      rate_(new QLabel),
      played_(new QLabel) {
    pace_->setObjectName(QStringLiteral("playPace"));
    pace_->setToolTip(tr("How fast it plays"));
    pace_->setFocusPolicy(Qt::NoFocus);
    for (const auto& [words, pace, every] : {std::tuple(tr("real time"), 1.0, false),
                                             {tr("half as fast"), 0.5, false},
                                             {tr("a quarter"), 0.25, false},
                                             {tr("backwards"), -1.0, false},
                                             {tr("every frame"), 1.0, true}})
        pace_->addItem(words, QVariantList{pace, every});
    played_->setObjectName(QStringLiteral("playTold"));
    played_->setProperty("role", "soft");
    connect(pace_, &QComboBox::currentIndexChanged, this, [this] {
        const QVariantList chosen = pace_->currentData().toList();
        player_.setPace(chosen[0].toDouble(), chosen[1].toBool());
    });
    connect(&player_, &Player::played, this, [this](int, int left_out) {
        played_->setText(left_out > 0 ? tr("%n frames left out", nullptr, left_out) : QString());
    });
    clip_->setObjectName(QStringLiteral("clipChoice"));
    clip_->setToolTip(tr("The clip that is shown and keyed"));
    clip_->setFocusPolicy(Qt::NoFocus);
    to_start_->setObjectName(QStringLiteral("toStart"));
    to_start_->setToolTip(tr("To the first frame (Ctrl+Left)"));
    play_->setObjectName(QStringLiteral("play"));
    play_->setToolTip(tr("Play or pause (Space)"));
    to_end_->setObjectName(QStringLiteral("toEnd"));
    to_end_->setToolTip(tr("To the last frame (Ctrl+Right)"));
    frame_->setObjectName(QStringLiteral("frameEntry"));
    frame_->setProperty("number", true);
    frame_->setFixedWidth(72);
    frame_->setAlignment(Qt::AlignRight);
    set_key_->setObjectName(QStringLiteral("setKey"));
    set_key_->setToolTip(tr("Key the picked hinges at this frame (K)"));
    auto_key_->setObjectName(QStringLiteral("autoKey"));
    auto_key_->setCheckable(true);
    auto_key_->setToolTip(tr("Every turn made by hand becomes a key (J)"));
    rate_->setProperty("role", "soft");

    auto* frame_label = new QLabel(tr("frame"));
    frame_label->setProperty("role", "soft");
    auto* row = new QHBoxLayout;
    row->setContentsMargins(12, 5, 12, 3);
    row->setSpacing(5);
    for (QWidget* widget :
         std::initializer_list<QWidget*>{to_start_, play_, to_end_, frame_label, frame_, set_key_})
        row->addWidget(widget);
    row->addSpacing(6);
    row->addWidget(pace_);
    row->addWidget(played_);
    row->addStretch(1);
    for (QWidget* widget : std::initializer_list<QWidget*>{auto_key_, clip_, rate_}) row->addWidget(widget);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(row);
    layout->addWidget(lanes_, 1);

    connect(to_start_, &QToolButton::clicked, this,
            [this] { session_.setFrame(session_.clip().first_frame); });
    connect(to_end_, &QToolButton::clicked, this, [this] { session_.setFrame(session_.clip().last_frame); });
    connect(play_, &QToolButton::clicked, &player_, &Player::toggle);
    connect(frame_, &QLineEdit::returnPressed, this, &TimeStrip::typedFrame);
    connect(set_key_, &QPushButton::clicked, this, &TimeStrip::setKeyAsked);
    connect(auto_key_, &QPushButton::clicked, &session_, &Session::setAutoKey);
    connect(&session_, &Session::autoKeyChanged, this, [this] { auto_key_->setChecked(session_.autoKey()); });
    connect(clip_, &QComboBox::activated, this,
            [this] { session_.setClip(ClipId{clip_->currentData().toULongLong()}); });
    const auto icons = [this, &look] {
        const QColor ink = look.theme().ink;
        to_start_->setIcon(transportIcon(Transport::ToStart, ink));
        to_end_->setIcon(transportIcon(Transport::ToEnd, ink));
        play_->setIcon(transportIcon(player_.isPlaying() ? Transport::Pause : Transport::Play,
                                     look.theme().petrolLight));
    };
    connect(&look, &Look::changed, this, icons);
    connect(&player_, &Player::playingChanged, this, icons);
    icons();
    connect(&session_, &Session::poseChanged, this, &TimeStrip::refresh);
    connect(&session_, &Session::documentChanged, this, &TimeStrip::refresh);
    refresh();
}

void TimeStrip::refresh() {
    if (!frame_->hasFocus() || player_.isPlaying()) frame_->setText(QString::number(session_.frame()));
    const Clip& clip = session_.clip();
    const auto& clips = session_.shownDocument().clips;
    clip_->setVisible(clips.size() > 1);
    if (clips.size() > 1) {
        QSignalBlocker quiet(clip_);
        clip_->clear();
        for (const Clip& one : clips)
            clip_->addItem(QString::fromStdString(one.name), QVariant::fromValue<qulonglong>(one.id.value));
        clip_->setCurrentIndex(clip_->findData(QVariant::fromValue<qulonglong>(clip.id.value)));
    }
    rate_->setText(
        tr("%1%2–%3 · %4 fps%5")
            .arg(clips.size() > 1 ? QString() : QString::fromStdString(clip.name) + QStringLiteral(" · "))
            .arg(clip.first_frame)
            .arg(clip.last_frame)
            .arg(frame_rate_of(session_.document(), clip))
            .arg(clip.loop ? tr(" · loop") : QString()));
}

void TimeStrip::typedFrame() {
    const auto value = parse_quantity(frame_->text().toStdString(), Dimension::None);
    if (value)
        session_.setFrame(*value);
    else
        emit session_.told(QString::fromStdString(value.error().message), true);
    frame_->clearFocus();
    frame_->setText(QString::number(session_.frame()));
}

}  // namespace pivrak
