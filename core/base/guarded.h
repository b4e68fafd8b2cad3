#pragma once

#include <exception>
#include <new>
#include <string>
#include <type_traits>

#include "core/base/result.h"

namespace pivrak {

/// The one border at which exceptions of libraries, memory that ran out among them, become an `Error`: what
/// is answered must be a Result. `doing` says what was being done, as in "reading 'crane.glb'". Errors: those
/// of the work, `memory`, `internal`.
template <class Work>
std::invoke_result_t<Work> guarded(const std::string& doing, Work&& work) {
    try {
        return work();
    } catch (const std::bad_alloc&) {
        return Error{"memory", "the memory did not suffice for " + doing + "; nothing was changed", doing};
    } catch (const std::exception& e) {
        return Error{"internal", doing + " went wrong (" + e.what() + "); nothing was changed", doing};
    } catch (...) {
        return Error{"internal", doing + " went wrong; nothing was changed", doing};
    }
}

}  // namespace pivrak
