#pragma once

#include <memory>
#include <span>

#include "core/rig/formulas/formula_text.h"

namespace pivrak {

/// A formula made ready by muParser: the same arithmetic for whoever gives it values. Working out allocates
/// nothing, and is one thread's at a time: a copy works beside the original.
class FormulaProgram {
public:
    /// Pre: the formula was read without a problem. `inputs` is how many values it takes.
    FormulaProgram(const FormulaTree& tree, std::size_t inputs);
    FormulaProgram(const FormulaProgram& other);
    FormulaProgram& operator=(const FormulaProgram& other);
    FormulaProgram(FormulaProgram&&) noexcept;
    FormulaProgram& operator=(FormulaProgram&&) noexcept;
    ~FormulaProgram();

    /// The values to work with, in the order of the inputs: lengths in the formula's unit, degrees, seconds.
    std::span<double> inputs();
    /// Infinite, or no number, where arithmetic has no answer.
    double value() const;

private:
    struct Machine;
    std::unique_ptr<Machine> machine_;
};

/// Smooth chance between -1 and 1: 0 at whole numbers, with a slope drawn for each of them by the seed. With
/// a `period` above 0 (whole) it begins again after so much, without a seam in value or slope.
double smooth_noise(double x, std::uint32_t seed, int period = 0);

}  // namespace pivrak
