#include "app/timeline/time_strip.h"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/parts/channel_mark.h"
#include "app/parts/key_mark.h"
#include "app/stages/kit/shortened_choice.h"
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
      clip_(new ShortenedChoice),
      pace_(new QComboBox),
      rate_(new QLabel),
      played_(new QLabel) {
    pace_->setObjectName(QStringLiteral("playPace"));
    pace_->setToolTip(tr("How fast it plays"));
    pace_->setFocusPolicy(Qt::TabFocus);
    pace_->setAccessibleName(tr("Pace"));
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
    clip_->setFocusPolicy(Qt::TabFocus);
    clip_->setAccessibleName(tr("Clip"));
    clip_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    clip_->setMaximumWidth(170);
    to_start_->setObjectName(QStringLiteral("toStart"));
    to_start_->setAccessibleName(tr("To the first frame"));
    play_->setAccessibleName(tr("Play or pause"));
    to_end_->setAccessibleName(tr("To the last frame"));
    frame_->setAccessibleName(tr("Frame"));
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
    listClips();
    rate_->setText(
        tr("%1%2–%3 · %4 fps%5")
            .arg(clips.size() > 1 ? QString() : QString::fromStdString(clip.name) + QStringLiteral(" · "))
            .arg(clip.first_frame)
            .arg(clip.last_frame)
            .arg(frame_rate_of(session_.document(), clip))
            .arg(clip.loop ? tr(" · loop") : QString()));
}

/// Only when they are others: it is asked at every frame.
void TimeStrip::listClips() {
    const auto& clips = session_.shownDocument().clips;
    int row = 0;
    const auto is_listed = [&](const Clip& clip) {
        const int at = row++;
        return clip_->itemText(at) == QString::fromStdString(clip.name) &&
               clip_->itemData(at).toULongLong() == clip.id.value;
    };
    QSignalBlocker quiet(clip_);
    if (clip_->count() != static_cast<int>(clips.size()) ||
        !std::all_of(clips.begin(), clips.end(), is_listed)) {
        clip_->clear();
        for (const Clip& clip : clips)
            clip_->addItem(QString::fromStdString(clip.name), QVariant::fromValue<qulonglong>(clip.id.value));
    }
    const int shown = clip_->findData(QVariant::fromValue<qulonglong>(session_.clip().id.value));
    if (shown != clip_->currentIndex()) clip_->setCurrentIndex(shown);
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
