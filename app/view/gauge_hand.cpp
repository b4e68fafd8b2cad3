#include "app/view/gauge_hand.h"

#include <algorithm>
#include <utility>

#include "app/gauges/gauge_paint.h"
#include "app/session/shown_value.h"
#include "core/rig/driven_by.h"
#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

/// A pixel that keeps away from both edges. Places beside the eye are seen endlessly far off.
int inside(double pixel, int room) {
    constexpr double away = 4;
    if (!(pixel > away)) return static_cast<int>(away);
    return static_cast<int>(std::min(pixel, std::max(away, room - away)));
}

}  // namespace

GaugeHand::GaugeHand(Session& session, const Camera& camera, QWidget* view)
    : QObject(view), session_(session), camera_(camera), view_(view), entry_(new QLineEdit(view)) {
    entry_->setObjectName(QStringLiteral("gaugeEntry"));
    entry_->setProperty("number", true);
    entry_->setAlignment(Qt::AlignRight);
    entry_->resize(92, 25);
    entry_->hide();
    connect(entry_, &QLineEdit::returnPressed, this, &GaugeHand::applyTyped);
}

/// Corners of boxes are near enough for the size of a dial, and cost nothing while dragging.
Bounds GaugeHand::carriedBounds(PartId top) const {
    const Document& document = session_.shownDocument();
    Bounds bounds;
    for (const PartId id : Tree(document).branch(top)) {
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || shape->bounds.empty()) continue;
        const Frame world = session_.worldFromPart(id) * part.part_from_shape;
        const Vec3 half = 0.5 * shape->bounds.size(), middle = world.point(shape->bounds.middle());
        Vec3 reach(0, 0, 0);
        for (int k = 0; k < 3; ++k) reach += world.size * half[k] * world.axis(k).cwiseAbs();
        bounds.add(middle - reach);
        bounds.add(middle + reach);
    }
    return bounds;
}

std::optional<JointStand> GaugeHand::stand() const {
    if (!session_.isPlacing()) return jointStand();
    Bounds bounds;
    for (const PartId part : session_.selection()) {
        const Bounds one = carriedBounds(part);
        if (one.empty()) continue;
        bounds.add(one.min);
        bounds.add(one.max);
    }
    return place_stand(session_, bounds, place_);
}

std::optional<JointStand> GaugeHand::jointStand() const {
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    if (!part || session_.previewed()) return std::nullopt;
    if (part->joint.kind == JointKind::Fixed && !part->joint.size) return std::nullopt;
    JointStand stand;
    stand.part = part->id;
    stand.joint = part->joint;
    const auto is_driven = [&](ChannelKind kind) {
        return part->joint.channel(kind).locked || session_.drivers().name({part->id, kind}).has_value();
    };
    for (const ChannelKind kind : channels_of(part->joint.kind)) {
        stand.values.push_back(session_.valueOf({part->id, kind}));
        stand.driven.push_back(is_driven(kind));
    }
    Frame moved = rest_from_part(part->joint.kind, part->joint.axis, stand.values.data());
    if (part->joint.size) {
        stand.size = moved.size = session_.valueOf({part->id, ChannelKind::Size});
        stand.size_driven = is_driven(ChannelKind::Size);
    }
    // Riders, trailers and what others carry rest where those put them.
    stand.world_from_rest = session_.worldFromPart(part->id) * moved.inverse();
    stand.bounds = carriedBounds(part->id);
    return stand;
}

std::vector<ChannelGauge> GaugeHand::gauges() const {
    const auto stand = this->stand();
    if (!stand) return {};
    std::vector<ChannelGauge> gauges = joint_gauges(*stand, camera_);
    const bool known = std::any_of(gauges.begin(), gauges.end(),
                                   [&](const ChannelGauge& g) { return g.channel == active_; });
    for (std::size_t i = 0; i < gauges.size(); ++i) {
        const bool in_use = known ? gauges[i].channel == active_ : i == 0;
        const bool apart = gauges[i].channel.kind == ChannelKind::Turn ||
                           gauges[i].channel.kind == ChannelKind::Shift ||
                           gauges[i].channel.kind == ChannelKind::Size;
        gauges[i].set_plain(!in_use && !apart);
        if (dragged_ && dragged_->channel == gauges[i].channel) gauges[i].set_ghost(dragged_->start);
    }
    return gauges;
}

std::optional<ChannelGauge> GaugeHand::active() const {
    const auto gauges = this->gauges();
    for (const ChannelGauge& gauge : gauges)
        if (gauge.channel == active_) return gauge;
    return gauges.empty() ? std::nullopt : std::optional(gauges.front());
}

bool GaugeHand::takeNext(Dimension dimension) {
    const auto gauges = this->gauges();
    const auto present = active();
    const auto start = std::find_if(gauges.begin(), gauges.end(), [&](const ChannelGauge& g) {
        return present && g.channel == present->channel;
    });
    const auto first = static_cast<std::size_t>(start - gauges.begin());
    for (std::size_t i = 1; i <= gauges.size(); ++i) {
        const ChannelGauge& next = gauges[(first + i) % gauges.size()];
        if (dimension_of(next.channel.kind) != dimension) continue;
        active_ = next.channel;
        placeEntry();
        entry_->setFocus();
        entry_->selectAll();
        view_->update();
        return true;
    }
    return false;
}

bool GaugeHand::isOnKnob(const Vec2& pixel) const {
    const auto gauges = this->gauges();
    return std::any_of(gauges.begin(), gauges.end(),
                       [&](const ChannelGauge& g) { return !g.driven() && g.is_on_knob(camera_, pixel); });
}

bool GaugeHand::press(const Vec2& pixel) {
    // Knobs may lie over each other; the one in use goes first.
    std::optional<ChannelGauge> gripped;
    for (const ChannelGauge& gauge : gauges())
        if (gauge.is_on_knob(camera_, pixel) && (!gripped || gauge.channel == active_)) gripped = gauge;
    if (!gripped) return false;
    active_ = gripped->channel;
    if (session_.isPlacing()) place_ = {active_.kind, 0, session_.carriedAtRest(session_.primary())};
    if (gripped->driven()) {
        if (const auto may = session_.mayMove(active_); !may)
            emit session_.told(QString::fromStdString(may.error().message), true);
        return true;
    }
    const auto* dial = std::get_if<Protractor>(&gripped->form);
    if (dial)
        dragged_ = {active_, dial->turn_rad, TurnDrag(dial->turn_rad, dial->angle_at(camera_, pixel))};
    else
        dragged_ = {active_, gripped->value(),
                    ShiftDrag(gripped->value(), std::get<Rule>(gripped->form).shift_at(camera_, pixel))};
    return true;
}

void GaugeHand::drag(const Vec2& pixel, Qt::KeyboardModifiers modifiers) {
    const auto gauge = active();
    if (!gauge || !dragged_ || gauge->channel != dragged_->channel) return;
    const bool coarse = modifiers & Qt::ShiftModifier, fine = modifiers & Qt::ControlModifier;
    const auto* dial = std::get_if<Protractor>(&gauge->form);
    const double value =
        dial ? std::get<TurnDrag>(dragged_->drag)
                   .move(dial->angle_at(camera_, pixel), coarse, fine, dial->limits)
             : std::get<ShiftDrag>(dragged_->drag)
                   .move(std::get<Rule>(gauge->form).shift_at(camera_, pixel), coarse, fine, gauge->limits(),
                         gauge->channel.kind == ChannelKind::Size ? 0.1 : 0.01);
    if (session_.isPlacing()) {
        place_.value = value;
        session_.holdPlaced(placed_by(session_, place_));
    } else {
        session_.hold(dragged_->channel, value);
    }
    emit hint(hintOf(*gauge, value));
}

QString GaugeHand::hintOf(const ChannelGauge& gauge, double value) const {
    const auto& limits = gauge.limits();
    if (limits && (value == limits->min || value == limits->max))
        return tr("At its limit, %1").arg(shown(*active()));
    if (gauge.channel.kind == ChannelKind::Size)
        return tr("%1 times as large as it was. Shift steps by 0.1, Ctrl moves finely")
            .arg(QString::fromStdString(
                format_channel(ChannelKind::Size, value / dragged_->start, session_.document())));
    if (is_turn(gauge.channel.kind))
        return tr("%1 from where it was. Shift steps by 5°, Ctrl turns finely")
            .arg(QString::fromStdString(format_angle(value - dragged_->start)));
    return tr("%1 from where it was. Shift steps by 10 mm, Ctrl moves finely")
        .arg(QString::fromStdString(format_length(value - dragged_->start, session_.document())));
}

void GaugeHand::release() {
    if (!dragged_) return;
    dragged_.reset();
    if (!session_.isPlacing()) return session_.release();
    session_.dropHeld();
    const PlaceHand placed = std::exchange(place_, {});
    if (placed.value != 0) session_.run(place_step(session_, placed));
}

QString GaugeHand::shown(const ChannelGauge& gauge) const {
    return shownValue(session_.document(), gauge.channel.kind, gauge.value());
}

void GaugeHand::placeEntry() {
    const auto gauge = active();
    entry_->setVisible(gauge.has_value());
    if (!gauge) return;
    const bool turns = is_turn(gauge->channel.kind);
    if (!entry_->hasFocus()) entry_->setText(shown(*gauge));
    entry_->setReadOnly(gauge->driven());
    entry_->setToolTip(session_.isPlacing() ? (turns ? tr("Type how far they turn: 45, 1/3 turn, 0.5 rad")
                                                     : tr("Type how far they move: 120 mm, -3*25.4 mm"))
                       : gauge->driven()    ? tr("Driven or locked: it does not move by hand")
                       : turns              ? tr("Type a turn: 45, 1/3 turn, 0.5 rad")
                       : std::get<Rule>(gauge->form).is_ratio
                           ? tr("Type a size: 0.5 for half as large as at rest, 1/12")
                           : tr("Type a shift: 120 mm, 3*25.4 mm"));
    const auto* dial = std::get_if<Protractor>(&gauge->form);
    const Vec3 hub = dial ? dial->centre : std::get<Rule>(gauge->form).origin;
    const Vec2 knob = gauge->knob(camera_),
               out = dial ? Vec2(knob - camera_.project(hub).head<2>()) : Vec2(0, -1);
    const Vec2 at = knob + (out.norm() > 1e-9 ? Vec2(34 * out.normalized()) : Vec2(24, -24));
    entry_->move(inside(at.x() - (out.x() < 0 ? entry_->width() : 0), view_->width() - entry_->width()),
                 inside(at.y() - entry_->height() / 2, view_->height() - entry_->height()));
}

void GaugeHand::applyTyped() {
    const auto gauge = active();
    if (!gauge) return;
    // What nobody typed is shown rounded, and is not to become so.
    if (!entry_->isModified()) return view_->setFocus();
    const auto value = parse_quantity(entry_->text().toStdString(), dimension_of(gauge->channel.kind),
                                      session_.document().settings.length_unit);
    if (!value) {
        emit session_.told(QString::fromStdString(value.error().message), true);
        entry_->selectAll();
        return;
    }
    view_->setFocus();
    takeTyped(gauge->channel, *value);
    placeEntry();
}

void GaugeHand::takeTyped(ChannelRef channel, double value) {
    if (session_.isPlacing()) {
        if (value != 0) session_.run(place_step(session_, {channel.kind, value}));
    } else if (const auto may = session_.mayMove(channel); !may) {
        emit session_.told(QString::fromStdString(may.error().message), true);
    } else {
        session_.setValue(channel, value);
    }
}

std::vector<QRectF> GaugeHand::taken() const {
    constexpr double half = gauge_knob_px + 4;
    std::vector<QRectF> boxes;
    for (const ChannelGauge& gauge : gauges()) {
        const Vec2 knob = gauge.knob(camera_);
        if (knob.allFinite()) boxes.emplace_back(knob.x() - half, knob.y() - half, 2 * half, 2 * half);
    }
    if (entry_->isVisible()) boxes.emplace_back(entry_->geometry());
    return boxes;
}

void GaugeHand::paint(QPainter& painter, const Theme& theme, LabelRoom& room) const {
    const auto present = active();
    const auto gauges = this->gauges();
    const LengthUnit unit = session_.shownDocument().settings.length_unit;
    // The one in use lies over the others.
    for (const ChannelGauge& gauge : gauges)
        if (!present || gauge.channel != present->channel) gauge.paint(painter, camera_, theme, unit, &room);
    if (present) present->paint(painter, camera_, theme, unit, &room);
}

}  // namespace pivrak
