#pragma once

#include "core/motion/evaluator.h"
#include "core/motion/rig_plan.h"

namespace pivrak {

/// Fills an Evaluator: slots for every part and channel first, then the steps of all elements, phase by
/// phase, then the order in which they can be done.
class EvaluatorBuilder {
public:
    /// Without `facts` nothing is measured: good for the order alone.
    EvaluatorBuilder(const Document& document, const Clip& clip, RigFacts* facts)
        : document_(document), clip_(clip), plan_(document, clip, facts) {}

    Result<Evaluator> build();

private:
    void plan_elements(PlanPhase phase);
    void plan_nodes();
    Result<void> check_driven_once() const;
    void add_tracks();
    void add_layers();
    Result<void> order();
    /// The lists in the order in which they are run where there is a choice.
    std::vector<std::uint32_t> preferred_lists() const;
    /// Steps stand in their lists as they are run.
    void arrange_lists(const std::vector<std::size_t>& steps);
    RunOrder runs_of(const std::vector<std::size_t>& steps) const;
    void add_slice(const std::vector<std::size_t>& steps);
    /// Whether nothing in a slice depends on the states that it moves on.
    bool adds_up(const std::vector<std::size_t>& slice) const;
    Error loop_error(const std::vector<std::uint32_t>& circle) const;

    const Document& document_;
    const Clip& clip_;
    RigPlan plan_;
    Evaluator out_;
    std::vector<std::vector<std::uint32_t>> place_;  ///< of each step in its list, once arranged
};

}  // namespace pivrak
