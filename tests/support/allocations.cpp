// Every way to memory that core takes is led past a counter: operator new is replaced, and malloc is wrapped
// by the linker (matrices of changing size use it). Where the address sanitizer has replaced both already, it
// tells of them itself.
#include "tests/support/allocations.h"

#include <cstdlib>
#include <new>

#if defined(__has_feature)
#if __has_feature(address_sanitizer)
#define PIVRAK_ADDRESS_SANITIZER
#endif
#endif
#if defined(__SANITIZE_ADDRESS__)
#define PIVRAK_ADDRESS_SANITIZER
#endif

namespace {
thread_local std::size_t counted = 0;
}

extern "C" void* __real_malloc(std::size_t size);

#ifdef PIVRAK_ADDRESS_SANITIZER
#include <sanitizer/allocator_interface.h>

extern "C" void* __wrap_malloc(std::size_t size) {
    return __real_malloc(size);
}
namespace {
void count(const volatile void*, std::size_t) {
    ++counted;
}
void pass(const volatile void*) {}
[[maybe_unused]] const int installed = __sanitizer_install_malloc_and_free_hooks(count, pass);
}  // namespace
#else
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
#endif

namespace pivrak::test {
std::size_t allocations() {
    return counted;
}
}  // namespace pivrak::test
