#pragma once

#include <memory>

#include "core/checks/findings.h"
#include "core/motion/evaluator.h"

namespace pivrak {

class ClipCheck;

/// Looks at an element all over a clip, and tells in the end what it found.
class ClipWatch {
public:
    virtual ~ClipWatch() = default;
    /// At every whole frame; with `looks_between` at every quarter too.
    virtual void look(const Pose& pose, double frame) = 0;
    virtual bool looks_between() const { return false; }
    virtual void tell(ClipCheck& out) const = 0;
};

/// One pass over a clip for everything that looks at it. `say` puts a frame into words for a person; by
/// itself it is "at frame 12 of 'name'".
class ClipCheck {
public:
    ClipCheck(const Document& checked, const Clip& of, const Evaluator& compiled,
              std::vector<Finding>& findings, MomentWords say = {})
        : document(checked), clip(of), evaluator(compiled), findings_(findings), say_(std::move(say)) {}

    const Document& document;
    const Clip& clip;
    const Evaluator& evaluator;

    void watch(std::unique_ptr<ClipWatch> watch) { watches_.push_back(std::move(watch)); }
    /// Watches that every element asks for.
    void watch_elements();
    /// A finding of the stage of keys; `frame` is where it is worst.
    void add(std::string code, PartId part, std::string message, std::optional<double> frame,
             nlohmann::json fix = {}, std::string fix_title = "") {
        findings_.push_back({Stage::Keys, std::move(code), part, std::move(message), std::move(fix),
                             std::move(fix_title), frame});
    }
    /// A moment in words, to follow a verb.
    std::string at(double frame) const;
    /// Whether moments are frames of a clip that a person made.
    bool says_frames() const { return !say_; }
    /// The pose of the clip's first frame.
    const Pose& first_pose();
    /// Goes over the clip; a cancelled pass tells nothing.
    void run(const Progress& progress);

private:
    std::vector<Finding>& findings_;
    MomentWords say_;
    std::vector<std::unique_ptr<ClipWatch>> watches_;
    std::optional<Pose> first_;
};

// For every kind, defined in its folder: what of an element shows only as a clip runs.
#define PIVRAK_TABLE(Type, table) void watch(const Type& element, ClipCheck& out);
#define PIVRAK_COUPLING(Type) void watch(const Type& element, ClipCheck& out);
#define PIVRAK_FACET(Type, facet) void watch(const Type& element, const Part& part, ClipCheck& out);
#include "core/elements/kinds.def"

}  // namespace pivrak
