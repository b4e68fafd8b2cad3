#pragma once

#include <cstddef>

namespace pivrak::test {

/// How often this thread has asked for memory so far: by `new`, and by `malloc` where core calls it itself.
std::size_t allocations();

}  // namespace pivrak::test
