#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace pivrak {

/// A step with what it needs and what it gives: channels by their slots, then the frames of nodes.
struct OrderedStep {
    std::uint32_t list;  ///< of a program, or `StepRun::nodes`
    std::uint32_t index;
    std::vector<std::uint32_t> needs, gives;
    std::vector<std::uint32_t> asks =
        {};  ///< channels of which it wants what is asked, before anything drives it
};

/// Puts steps in an order in which each comes after what gives what it needs. What nothing gives is there
/// from the start.
class StepOrder {
public:
    void resize(std::size_t channels, std::size_t nodes) {
        channels_ = static_cast<std::uint32_t>(channels);
        given_by_.assign(channels + nodes, none);
    }
    /// One more, behind those of all nodes.
    void add_frame() { given_by_.push_back(none); }
    std::uint32_t frame(std::uint32_t node) const { return channels_ + node; }
    std::size_t add(OrderedStep step);
    const OrderedStep& step(std::size_t i) const { return steps_[i]; }

    struct Sorted {
        std::vector<std::size_t> steps;
        std::vector<std::uint32_t> circle;  ///< what gives each other, when there is no order
    };
    /// Steps of a list stand together where they can; of those that could be done, ones of the list that
    /// stands first in `preferred` come first. Pre: every list that has steps stands there. Deterministic.
    Sorted sorted(std::span<const std::uint32_t> preferred) const;
    /// Steps that the given ones depend on, and these themselves.
    std::vector<bool> needed_by(const std::vector<std::size_t>& wanted) const;

private:
    static constexpr std::uint32_t none = ~std::uint32_t{0};
    std::vector<std::uint32_t> circle(const std::vector<std::uint32_t>& missing) const;

    std::uint32_t channels_ = 0;
    std::vector<OrderedStep> steps_;
    std::vector<std::uint32_t> given_by_;
};

}  // namespace pivrak
