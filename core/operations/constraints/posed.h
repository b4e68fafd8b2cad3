#pragma once

#include <array>
#include <optional>

#include "core/motion/evaluator.h"
#include "core/operations/arguments.h"

namespace pivrak {

/// Where parts stand: at rest, or at a frame of a clip.
class Posed {
public:
    /// At rest.
    explicit Posed(const Document& document) : document_(document) {}
    /// At the frame that an argument `frame` names, if it is given. Errors: those of compiling,
    /// `clip.unknown`.
    static Result<Posed> asked(const Document& document, const Arguments& arguments);
    /// At a frame of a clip. Errors: those of compiling.
    static Result<Posed> at(const Document& document, ClipId clip, double frame);

    const Document& document() const { return document_; }
    /// The world for none.
    Frame world(PartId part) const;
    /// Where it stands with its joint at zero.
    Frame rest(PartId part) const;
    /// Of a part's joint. Pre: not at rest.
    double value(ChannelRef channel) const { return pose_->channels[*evaluator_->channel_slot(channel)]; }

private:
    const Document& document_;
    std::optional<Evaluator> evaluator_;
    std::optional<Pose> pose_;
};

ArgumentSpec frame_argument();

}  // namespace pivrak
