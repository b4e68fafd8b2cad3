#pragma once

#include <cmath>
#include <utility>

namespace pivrak {

/// Where a function that has one minimum between `low` and `high` is least, to within `tolerance`, and its
/// value there. Source: J. Kiefer, Sequential minimax search for a maximum, Proc. AMS 4 (1953).
template <class F>
std::pair<double, double> golden_minimum(F f, double low, double high, double tolerance) {
    const double golden = 0.5 * (std::sqrt(5.0) - 1);
    double a = high - golden * (high - low), b = low + golden * (high - low), f_a = f(a), f_b = f(b);
    while (high - low > tolerance) {
        if (f_a < f_b) {
            high = std::exchange(b, a);
            f_b = f_a;
            a = high - golden * (high - low);
            f_a = f(a);
        } else {
            low = std::exchange(a, b);
            f_a = f_b;
            b = low + golden * (high - low);
            f_b = f(b);
        }
    }
    return f_a < f_b ? std::pair(a, f_a) : std::pair(b, f_b);
}

}  // namespace pivrak
