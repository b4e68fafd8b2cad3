#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "core/motion/curve.h"
#include "core/motion/step_list.h"

namespace pivrak {

struct TrackStep {
    std::uint32_t channel, first_key, key_count;
    Beyond before = Beyond::Hold, after = Beyond::Hold;
};

/// A run of steps of one list, done one after the other.
struct StepRun {
    static constexpr std::uint32_t nodes = ~std::uint32_t{0};  ///< in place of a list: parts by the tree
    std::uint32_t list, first, count;
};

/// What is done for a frame, in this order. Runs of nodes count in `node_order`, all others in their list.
struct RunOrder {
    std::vector<StepRun> runs;
    std::vector<std::uint32_t> node_order;
};

/// Everything of a rig in an order in which each value is computed once, after all it depends on.
struct RigProgram {
    std::vector<NodeStep> nodes;
    std::vector<std::shared_ptr<StepList>> lists;
    RunOrder order;
    RunOrder slice;  ///< what steps that depend on the past need, and no more
    std::uint32_t state_count = 0;
    std::uint32_t stand_count = 0;  ///< wheels that stand on the ground

    /// The steps of a type; none when the rig has no such.
    template <class Step>
    const ListOf<Step>* list() const {
        for (const auto& one : lists)
            if (const auto* found = dynamic_cast<const ListOf<Step>*>(one.get())) return found;
        return nullptr;
    }
    /// What the steps of a type remember, step by step. Pre: the memories are of this program.
    template <class Step>
    std::span<const typename Step::Memory> memories(const Memories& memories) const {
        for (std::size_t i = 0; i < lists.size(); ++i)
            if (dynamic_cast<const ListOf<Step>*>(lists[i].get()))
                return static_cast<const MemoryOf<Step>*>(memories[i])->of;
        return {};
    }
};

/// The slot of a node's channel; none where it has no such.
std::optional<std::uint32_t> channel_slot_of(std::span<const NodeStep> nodes, std::int32_t node,
                                             ChannelKind kind);

/// Runs a program, or a part of it.
void run_program(const RunOrder& order, std::span<const std::shared_ptr<StepList>> lists,
                 const Memories& memories, RunContext& context);

}  // namespace pivrak
