#pragma once

#include "core/operations/registry.h"

namespace pivrak {

void add_model_operations(Registry& registry);
void add_intake_operations(Registry& registry);
void add_tidy_operations(Registry& registry);
void add_split_operations(Registry& registry);
void add_repeat_operations(Registry& registry);
void add_repeat_path_operation(Registry& registry);
void add_recognise_operations(Registry& registry);
void add_stand_in_operations(Registry& registry);
void add_set_operations(Registry& registry);
void add_pivot_operations(Registry& registry);
void add_tree_operations(Registry& registry);
void add_name_operations(Registry& registry);
void add_control_operations(Registry& registry);
void add_joint_operations(Registry& registry);
void add_size_operations(Registry& registry);
void add_coupling_operations(Registry& registry);
void add_train_operations(Registry& registry);
void add_chain_operations(Registry& registry);
void add_link_operations(Registry& registry);
void add_run_operations(Registry& registry);
void add_path_operations(Registry& registry);
void add_path_point_operations(Registry& registry);
void add_ride_operations(Registry& registry);
void add_wheel_operations(Registry& registry);
void add_print_operations(Registry& registry);
void add_vehicle_operations(Registry& registry);
void add_constraint_operations(Registry& registry);
void add_linkage_operations(Registry& registry);
void add_ram_operations(Registry& registry);
void add_reach_operations(Registry& registry);
void add_carry_operations(Registry& registry);
void add_stretch_operations(Registry& registry);
void add_driver_operations(Registry& registry);
void add_measure_operations(Registry& registry);
void add_follow_operations(Registry& registry);
void add_formula_operations(Registry& registry);
void add_sway_operations(Registry& registry);
void add_key_operations(Registry& registry);
void add_clip_operations(Registry& registry);
void add_clip_layer_operations(Registry& registry);
void add_motion_operations(Registry& registry);
void add_placing_operations(Registry& registry);
void add_project_operations(Registry& registry);
void add_mirror_operations(Registry& registry);
void add_camera_operations(Registry& registry);
void add_place_operations(Registry& registry);
void add_sequence_operations(Registry& registry);
void add_key_time_operations(Registry& registry);
void add_key_shape_operations(Registry& registry);

/// The argument nearly every operation has.
inline ArgumentSpec parts_argument(std::string summary, bool required = true) {
    return {"parts", ArgumentKind::Parts, std::move(summary), required, {}, {}};
}

/// The parts given, or every part when the argument was left out.
inline std::vector<PartId> parts_or_all(const Document& document, const Arguments& arguments) {
    return arguments.has("parts") ? arguments.parts("parts") : Tree(document).all();
}

/// Refuses a name that is empty or would divide a path.
Result<void> check_name(const std::string& name);

}  // namespace pivrak
