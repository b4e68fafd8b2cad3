// Every way to memory that core takes is led past a counter: operator new is replaced, and malloc is wrapped
// by the linker (matrices of changing size use it).
#include "tests/support/allocations.h"

#include <cstdlib>
#include <new>

namespace {
thread_local std::size_t counted = 0;
}

extern "C" void* __real_malloc(std::size_t size);
extern "C" void* __wrap_malloc(std::size_t size) {
    ++counted;
    return __real_malloc(size);
}

void* operator new(std::size_t size) {
    ++counted;
    if (void* memory = __real_malloc(size ? size : 1)) return memory;
    throw std::bad_alloc();
}
void operator delete(void* memory) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept {
    std::free(memory);
}

namespace pivrak::test {
std::size_t allocations() {
    return counted;
}
}  // namespace pivrak::test
