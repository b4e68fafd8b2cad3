#pragma once

#include <concepts>
#include <cstdint>
#include <memory>
#include <span>
#include <utility>
#include <vector>

#include "core/motion/run_context.h"

namespace pivrak {

/// When a step would rather be done, where what it needs leaves a choice: numbers made of numbers first, then
/// parts, then what looks where parts are. So long runs of one kind come together.
enum class StepRank : std::uint8_t { Channels, Nodes, Frames };

/// How a way goes between two moments at which its direction is known.
enum class Bends : std::uint8_t {
    Evenly,  ///< as an arc does
    Once,    ///< where two straight stretches meet, as faces of a ground do
};

/// What the steps of one list remember from one frame to the next. A pose owns it.
class Memory {
public:
    virtual ~Memory() = default;
    virtual std::unique_ptr<Memory> copy() const = 0;
    /// Becomes as another one of the same list.
    virtual void take(const Memory& other) = 0;
};

/// The steps of one kind. It is asked once for each run of steps, so that a step costs no virtual call.
class StepList {
public:
    virtual ~StepList() = default;
    virtual StepRank rank() const = 0;
    /// Whether what it gives depends on the past, and is moved on from moment to moment.
    virtual bool stateful() const = 0;
    /// Of one that depends on the past: whether each move adds to its states what does not depend on them.
    virtual bool adds_up() const = 0;
    /// Of one that adds up: what its steps add to their states from one moment to another.
    virtual void add_between(const Memory& past, const Memory& now, Bends bends,
                             std::span<double> states) const = 0;
    /// Whether it moves on by itself, also behind the last key.
    virtual bool goes_on() const = 0;
    /// Steps `first` to `first + count`, one after the other. `memory` came from this list's `memory`.
    virtual void run(std::uint32_t first, std::uint32_t count, RunContext& context, Memory* memory) const = 0;
    /// Null for a kind that remembers nothing.
    virtual std::unique_ptr<Memory> memory() const = 0;
    /// Puts its steps in another order: the new one `i` is the old one `order[i]`.
    virtual void arrange(std::span<const std::uint32_t> order) = 0;
    virtual std::size_t size() const = 0;
};

/// A step that remembers: it has a type `Memory`, and `start()` gives the first one.
template <class Step>
concept Remembers = requires(const Step& step) {
    { step.start() } -> std::same_as<typename Step::Memory>;
};

/// Steps that work with something together: it has a type `Common`, and `common(steps)` makes it.
template <class Step>
concept Shares = requires(std::span<const Step> steps) {
    { Step::common(steps) } -> std::same_as<typename Step::Common>;
};

template <Shares Step>
struct CommonOf final : Memory {
    typename Step::Common common;
    explicit CommonOf(typename Step::Common made) : common(std::move(made)) {}
    std::unique_ptr<Memory> copy() const override { return std::make_unique<CommonOf>(*this); }
    void take(const Memory& other) override { *this = static_cast<const CommonOf&>(other); }
};

template <Remembers Step>
struct MemoryOf final : Memory {
    std::vector<typename Step::Memory> of;  ///< step by step
    std::unique_ptr<Memory> copy() const override { return std::make_unique<MemoryOf>(*this); }
    void take(const Memory& other) override { *this = static_cast<const MemoryOf&>(other); }
};

/// The steps of one type. A step has `static constexpr StepRank rank`, `static constexpr bool stateful`, and
/// `run(RunContext&)`, or `run(RunContext&, Memory&)` when it remembers, or `run(RunContext&, Common&)` when
/// it shares.
template <class Step>
class ListOf final : public StepList {
public:
    std::vector<Step> steps;

    StepRank rank() const override { return Step::rank; }
    bool stateful() const override { return Step::stateful; }
    bool adds_up() const override {
        if constexpr (requires { Step::adds_up; })
            return Step::adds_up;
        else
            return false;
    }
    void add_between([[maybe_unused]] const Memory& past, [[maybe_unused]] const Memory& now,
                     [[maybe_unused]] Bends bends, [[maybe_unused]] std::span<double> states) const override {
        if constexpr (requires { Step::adds_up; })
            for (std::size_t i = 0; i < steps.size(); ++i)
                states[steps[i].state] +=
                    steps[i].between(static_cast<const MemoryOf<Step>&>(past).of[i],
                                     static_cast<const MemoryOf<Step>&>(now).of[i], bends);
    }
    bool goes_on() const override {
        if constexpr (requires { Step::goes_on; })
            return Step::goes_on;
        else
            return false;
    }
    std::size_t size() const override { return steps.size(); }

    void run(std::uint32_t first, std::uint32_t count, RunContext& context,
             [[maybe_unused]] Memory* memory) const override {
        for (std::uint32_t i = first; i < first + count; ++i)
            if constexpr (Remembers<Step>)
                steps[i].run(context, static_cast<MemoryOf<Step>*>(memory)->of[i]);
            else if constexpr (Shares<Step>)
                steps[i].run(context, static_cast<CommonOf<Step>*>(memory)->common);
            else
                steps[i].run(context);
    }

    std::unique_ptr<Memory> memory() const override {
        if constexpr (Remembers<Step>) {
            auto fresh = std::make_unique<MemoryOf<Step>>();
            for (const Step& step : steps) fresh->of.push_back(step.start());
            return fresh;
        } else if constexpr (Shares<Step>) {
            return std::make_unique<CommonOf<Step>>(Step::common(steps));
        } else {
            return nullptr;
        }
    }

    void arrange(std::span<const std::uint32_t> order) override {
        std::vector<Step> arranged;
        arranged.reserve(order.size());
        for (const std::uint32_t old : order) arranged.push_back(std::move(steps[old]));
        steps = std::move(arranged);
    }
};

/// What all lists of a program remember, by list; copied whole.
class Memories {
public:
    Memories() = default;
    explicit Memories(std::span<const std::shared_ptr<StepList>> lists) {
        for (const auto& list : lists) of_.push_back(list->memory());
    }
    Memories(const Memories& other) {
        for (const auto& memory : other.of_) of_.push_back(memory ? memory->copy() : nullptr);
    }
    Memories& operator=(const Memories& other) {
        Memories copied(other);
        std::swap(of_, copied.of_);
        return *this;
    }
    Memories(Memories&&) = default;
    Memories& operator=(Memories&&) = default;
    ~Memories() = default;

    Memory* operator[](std::size_t list) const { return of_[list].get(); }

private:
    std::vector<std::unique_ptr<Memory>> of_;
};

}  // namespace pivrak
