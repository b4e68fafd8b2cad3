#include "app/curves/curve_sheet.h"

#include <algorithm>
#include <cmath>

#include "app/curves/curve_metrics.h"
#include "core/model/element_channels.h"

namespace pivrak {

namespace {

/// More curves than these are no picture.
constexpr std::size_t most_curves = 1000;

}  // namespace

CurveSheet::CurveSheet(Session& session, Look& look) : session_(session), look_(look) {
    setObjectName(QStringLiteral("curveSheet"));
    setMinimumHeight(120);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Curves"));
    setMouseTracking(true);
    connect(&session, &Session::poseChanged, this, qOverload<>(&QWidget::update));
    connect(&look, &Look::changed, this, &CurveSheet::paintAnew);
    connect(&session.keyPicks(), &KeyPicks::changed, this, &CurveSheet::paintAnew);
}

void CurveSheet::paintAnew() {
    still_ = {};
    update();
}

void CurveSheet::refresh() {
    if (hasInHand()) return;
    clip_ = session_.clip();
    channels_.clear();
    shown_.clear();
    before_.clear();
    const bool all = session_.selection().empty();
    for (const Track& track : clip_.tracks) {
        if (track.keys.empty() || channels_.size() >= most_curves) continue;
        if (!all && !session_.isSelected(home_of(session_.shownDocument(), track.channel.owner))) continue;
        channels_.push_back(track.channel);
        shown_.emplace(track.channel, CompiledTrack(track));
    }
    KeyPicks::Frames picked = session_.keyPicks().frames();
    std::erase_if(picked, [&](const auto& one) { return !shown_.contains(one.first); });
    session_.keyPicks().set(std::move(picked));
    rescale();
    if (fitted_) fit();
    paintAnew();
}

const CompiledTrack* CurveSheet::compiled(ChannelRef channel) const {
    const auto found = shown_.find(channel);
    return found == shown_.end() ? nullptr : &found->second;
}

const Track* CurveSheet::track(ChannelRef channel) const {
    const CompiledTrack* its = compiled(channel);
    return its ? &its->track : nullptr;
}

const CompiledTrack& CurveSheet::asItWas(ChannelRef channel) const {
    const auto was = before_.find(channel);
    return was == before_.end() ? shown_.at(channel) : was->second;
}

/// What a hand makes of a track; how it was is kept.
void CurveSheet::shape(const Track& track) {
    auto& shown = shown_.at(track.channel);
    before_.try_emplace(track.channel, shown);
    shown = CompiledTrack(track);
}

bool CurveSheet::isInHand(ChannelRef channel) const {
    return (doing_ == Doing::Keys && session_.keyPicks().frames().contains(channel)) ||
           (doing_ == Doing::Handle && gripped_->channel == channel);
}

CurveSheet::Scale CurveSheet::scaleOf(const CompiledTrack& its) {
    Scale scale{1e300, -1e300};
    const Track& track = its.track;
    const double from = track.keys.front().frame, to = track.keys.back().frame;
    for (int i = 0; i <= 64; ++i) {
        const double value = its.at(from + (to - from) * i / 64);
        scale.low = std::min(scale.low, value);
        scale.high = std::max(scale.high, value);
    }
    for (const Key& key : track.keys) {
        scale.low = std::min(scale.low, key.value);
        scale.high = std::max(scale.high, key.value);
    }
    return scale;
}

void CurveSheet::rescale() {
    scales_.clear();
    std::map<Dimension, Scale> common;
    for (const ChannelRef channel : channels_) {
        const Scale its = scaleOf(shown_.at(channel));
        scales_[channel] = its;
        const auto [at, is_new] = common.try_emplace(dimension_of(channel.kind), its);
        at->second = {std::min(at->second.low, its.low), std::max(at->second.high, its.high)};
    }
    for (auto& [channel, scale] : scales_) {
        if (one_scale_) scale = common.at(dimension_of(channel.kind));
        // What stays where it is lies in the middle.
        const double room =
            std::max(0.08 * (scale.high - scale.low), scale.high - scale.low < 1e-9 ? 0.5 : 0);
        scale.low -= room;
        scale.high += room;
    }
}

void CurveSheet::setDriven(std::vector<DrivenCurve> driven) {
    driven_ = std::move(driven);
    paintAnew();
}

void CurveSheet::fit() {
    fitted_ = true;
    first_ = clip_.first_frame;
    last_ = clip_.last_frame;
    for (const ChannelRef channel : channels_) {
        first_ = std::min(first_, track(channel)->keys.front().frame);
        last_ = std::max(last_, track(channel)->keys.back().frame);
    }
    paintAnew();
}

void CurveSheet::setSpeeds(bool on) {
    speeds_ = on;
    paintAnew();
}

double CurveSheet::footY() const {
    return height() - curve_px::foot - (speeds_ ? curve_px::speed_share * height() : 0);
}

void CurveSheet::resizeEvent(QResizeEvent* event) {
    still_ = {};
    QWidget::resizeEvent(event);
}

void CurveSheet::setOneScale(bool on) {
    one_scale_ = on;
    rescale();
    paintAnew();
}

Ruler CurveSheet::ruler() const {
    return {first_, last_, curve_px::left, width() - curve_px::right};
}

double CurveSheet::y(ChannelRef channel, double value) const {
    const Scale& scale = scales_.at(channel);
    const double high = footY() - curve_px::top;
    return curve_px::top + high * (1 - (value - scale.low) / (scale.high - scale.low));
}

double CurveSheet::valueAt(ChannelRef channel, double at) const {
    const Scale& scale = scales_.at(channel);
    return scale.low + (1 - (at - curve_px::top) / (footY() - curve_px::top)) * (scale.high - scale.low);
}

QPointF CurveSheet::placeOf(ChannelRef channel, double frame) const {
    const Track* its = track(channel);
    const Key* key = its ? its->key_at(frame) : nullptr;
    return key ? QPointF(ruler().x_at(frame), y(channel, key->value)) : QPointF();
}

/// None for the outer side of the first and the last key.
QPointF CurveSheet::handleOf(ChannelRef channel, double frame, bool out) const {
    const Track* its = track(channel);
    const Key* key = its ? its->key_at(frame) : nullptr;
    if (!key || key->interpolation != Interpolation::Own) return {};
    const auto i = static_cast<std::size_t>(key - its->keys.data());
    if (out ? i + 1 == its->keys.size() : i == 0) return {};
    const CurveKey& one = compiled(channel)->curve[i];
    const double way = out ? one.weight_out * (its->keys[i + 1].frame - frame)
                           : -one.weight_in * (frame - its->keys[i - 1].frame);
    return {ruler().x_at(frame + way), y(channel, key->value + way * (out ? one.out : one.in))};
}

std::optional<CurveSheet::KeyAt> CurveSheet::keyAt(const QPointF& place) const {
    std::optional<KeyAt> nearest;
    double least = curve_px::grip;
    const Ruler r = ruler();
    for (const ChannelRef channel : channels_)
        for (const Key& key : track(channel)->keys) {
            const double aside = std::abs(r.x_at(key.frame) - place.x());
            if (aside >= least) continue;
            const double far = std::hypot(aside, y(channel, key.value) - place.y());
            if (far < least) least = far, nearest = KeyAt{channel, key.frame};
        }
    return nearest;
}

std::optional<CurveSheet::HandleAt> CurveSheet::handleAt(const QPointF& place) const {
    for (const auto& [channel, frames] : session_.keyPicks().frames())
        for (const double frame : frames)
            for (const bool out : {true, false}) {
                const QPointF end = handleOf(channel, frame, out);
                if (!end.isNull() && QLineF(end, place).length() < curve_px::grip)
                    return HandleAt{{channel, frame}, out};
            }
    return std::nullopt;
}

}  // namespace pivrak
