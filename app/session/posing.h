#pragma once

#include <map>
#include <optional>
#include <utility>
#include <vector>

#include "core/motion/evaluator.h"
#include "core/rig/driven_by.h"

namespace pivrak {

/// A document as it stands at a moment: its clip, its frame, and the channels that a hand holds or that are
/// shown elsewhere.
class Posing {
public:
    /// Compiles a document. One that cannot be evaluated is shown at rest, without what cannot be computed;
    /// the error says why.
    std::optional<Error> compile(const Document& document, ClipId clip);
    /// Computes the pose.
    void evaluate();

    const Evaluator& evaluator() const { return keyless_ ? *keyless_ : *evaluator_; }
    const Pose& pose() const { return keyless_ ? keyless_pose_ : pose_; }
    Frame worldFromPart(PartId part) const;
    /// [rad or m]; nothing for a channel that is not there.
    double valueOf(ChannelRef channel) const;
    /// Who moves what; looked up when first asked.
    const Drivers& drivers() const;
    /// A part's shape as it stands, a spring drawn out; made anew only when it is of another length. Null
    /// without one.
    std::shared_ptr<const Mesh> meshOf(PartId part) const;
    /// Null when it cannot be measured.
    std::shared_ptr<const DrapedPath> path(const Path& path) const;

    double frame() const { return frame_; }
    void setFrame(double frame) {
        frame_ = frame;
        drop();
    }
    const std::optional<std::pair<ChannelRef, double>>& held() const { return held_; }
    void hold(ChannelRef channel, double value) {
        drop();
        held_ = {channel, value};
    }
    /// Several channels stand elsewhere, to be looked at; no hand holds them. All others stand as keys have
    /// them at the frame, or without keys as hands have set them.
    void show(std::vector<std::pair<ChannelRef, double>> values, bool with_keys);
    bool isShowing() const { return !shown_.empty(); }
    /// Parts are shown moved in the world, whatever moves them; nothing else follows.
    void carry(std::vector<std::pair<PartId, Frame>> moved) { carried_ = std::move(moved); }
    void drop() {
        held_.reset();
        shown_.clear();
        carried_.clear();
        keyless_.reset();
    }

private:
    Document document_;
    double frame_ = 0;
    mutable RigFacts facts_;  ///< measured of what the evaluator and the view show
    std::optional<Evaluator> evaluator_, keyless_;
    Pose pose_, keyless_pose_;
    std::optional<std::pair<ChannelRef, double>> held_;
    std::vector<std::pair<ChannelRef, double>> shown_;
    std::vector<std::pair<PartId, Frame>> carried_;
    struct DrawnOut {
        std::shared_ptr<const Mesh> from, mesh;
        double by_m = 0;
    };
    mutable std::map<PartId, DrawnOut> drawn_out_;
    mutable std::optional<Drivers> drivers_;
};

}  // namespace pivrak
