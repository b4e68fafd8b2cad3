#pragma once

#include <variant>
#include <vector>

#include "app/gauges/protractor.h"
#include "app/gauges/rule.h"
#include "core/model/part.h"

namespace pivrak {

/// The gauge of one channel: a dial for a turn, a rule for a shift or a size.
struct ChannelGauge {
    ChannelRef channel;
    std::variant<Protractor, Rule> form;

    double value() const;
    const std::optional<Limits>& limits() const;
    bool driven() const;
    Vec2 knob(const Camera& camera) const;
    bool is_on_knob(const Camera& camera, const Vec2& pixel) const;
    void set_ghost(std::optional<double> value);
    void set_plain(bool plain);
    void paint(QPainter& painter, const Camera& camera, const Theme& theme, LengthUnit unit,
               LabelRoom* room = nullptr) const;
};

/// What a joint's gauges are made from: where the part rests and stands, and what it carries.
struct JointStand {
    PartId part;
    Joint joint;
    Frame world_from_rest;       ///< with every channel of the part at zero, its carrier as it stands
    std::vector<double> values;  ///< of `channels_of(joint.kind)`
    std::vector<bool> driven;    ///< alike
    double size = 1;             ///< by which it is larger than what carries it
    bool size_driven = false;
    Bounds bounds;  ///< in the world, of the part and all it carries, as they stand; may be empty
};

/// One gauge for each channel of a joint: a dial for a hinge, a rule for a slide, both for a cylinder; three
/// nested dials for a ball, about z, the turned y and the turned x; those and three rules for a free part.
/// One more rule for a part that can grow and shrink. Dials stand just outside what turns, at the end that
/// faces the eye, never too small to be gripped nor larger than the view.
std::vector<ChannelGauge> joint_gauges(const JointStand& stand, const Camera& camera);

}  // namespace pivrak
