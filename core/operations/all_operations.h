#pragma once

#include "core/operations/registry.h"

namespace pivrak {

void add_model_operations(Registry& registry);
void add_split_operations(Registry& registry);
void add_pivot_operations(Registry& registry);
void add_tree_operations(Registry& registry);
void add_joint_operations(Registry& registry);
void add_coupling_operations(Registry& registry);
void add_key_operations(Registry& registry);

/// The argument nearly every operation has.
inline ArgumentSpec parts_argument(std::string summary) {
    return {"parts", ArgumentKind::Parts, std::move(summary), true, {}, {}};
}

}  // namespace pivrak
