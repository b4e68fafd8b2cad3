#pragma once

namespace pivrak {

/// One function out of several, for `std::visit`: without a case for every kind it does not compile.
template <class... Cases>
struct Overloaded : Cases... {
    using Cases::operator()...;
};
template <class... Cases>
Overloaded(Cases...) -> Overloaded<Cases...>;

}  // namespace pivrak
