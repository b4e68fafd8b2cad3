#include "core/operations/registry.h"
#include "core/operations/drivers/let_go.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/guarded.h"
#include "core/base/words.h"
#include "core/model/element_channels.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// Whether parts carry each other, and can move, as before: names, values and shapes do not matter to that.
bool same_mechanism(const Document& before, const Document& after) {
    if (before.parts.size() != after.parts.size()) return false;
    auto was = before.parts.begin();
    for (auto is = after.parts.begin(); is != after.parts.end(); ++is, ++was)
        if (&*is != &*was && !(is->id == was->id && is->parent == was->parent &&
                               is->joint.kind == was->joint.kind && is->joint.axis == was->joint.axis &&
                               is->joint.size.has_value() == was->joint.size.has_value() &&
                               is->ride == was->ride && is->tow == was->tow))
            return false;
    bool same = before.couplings == after.couplings;
#define PIVRAK_TABLE(Type, table) same = same && before.table == after.table;
#include "core/elements/kinds.def"
    return same;
}

/// Whatever an edit is about, it may bring a path under its own rider, a hitch under its trailer, or take the
/// slide from a rack: an edit after which the rig cannot be evaluated any more is refused.
Result<void> check_compiles(const Document& before, const Document& after) {
    bool any = !after.couplings.empty();
#define PIVRAK_TABLE(Type, table) any = any || !after.table.empty();
#include "core/elements/kinds.def"
    if (!any) return {};
    if (same_mechanism(before, after)) return {};
    auto checked = Evaluator::check(after);
    return checked || !Evaluator::check(before) ? Result<void>{} : checked;
}

/// Keys of an element that an edit took away, and what it drove, go with it.
void drop_what_lost_its_owner(const Document& before, Outcome& outcome) {
    const auto kept = [&](const auto& table, const auto& after) {
        return std::all_of(table.begin(), table.end(), [&](const auto& e) { return after.contains(e.id); });
    };
    bool all =
        before.couplings == outcome.document.couplings || kept(before.couplings, outcome.document.couplings);
#define PIVRAK_TABLE(Type, table) \
    all = all && (before.table == outcome.document.table || kept(before.table, outcome.document.table));
#include "core/elements/kinds.def"
    if (all && before.parts.size() <= outcome.document.parts.size()) return;
    outcome.losses = let_go_of_lost(before, outcome.document);
    const Ownerless gone = drop_ownerless(outcome.document);
    if (gone.tracks) outcome.losses.push_back("keys of " + counted(gone.tracks, "channel") + " removed");
    if (gone.couplings) outcome.losses.push_back(counted(gone.couplings, "coupling") + " removed");
    outcome.messages.insert(outcome.messages.end(), outcome.losses.begin(), outcome.losses.end());
}

/// What new parts are called, so that the next step of a job can name them; a few of very many.
std::string names_of_new(const Outcome& outcome) {
    constexpr std::size_t most = 6;
    std::string words;
    std::size_t count = 0;
    for (const PartId id : outcome.created)
        if (const Part* part = outcome.document.parts.find(id))
            if (++count <= most) words += fmt::format("{}'{}'", words.empty() ? "" : ", ", part->name);
    if (count == 0) return words;
    if (count > most) words += fmt::format(" and {} more", count - most);
    return (count == 1 ? "new part " : "new parts ") + words;
}

}  // namespace

Outcome nothing_to_do(const Document& document, std::string message) {
    Outcome out{document};
    out.messages.push_back(std::move(message));
    out.unchanged = true;
    return out;
}

void Registry::add(Operation operation) {
    operations_.push_back(std::move(operation));
}

const Operation* Registry::find(std::string_view name) const {
    const auto found = std::find_if(operations_.begin(), operations_.end(),
                                    [&](const Operation& o) { return o.name == name; });
    return found == operations_.end() ? nullptr : &*found;
}

Result<Outcome> Registry::run(const Document& document, const json& step,
                              const OperationContext& context) const {
    if (!step.is_object() || !step.contains("op") || !step["op"].is_string())
        return Error{"operation.unknown", "a step is an object with the name of an operation under 'op'", ""};
    const std::string name = step["op"].get<std::string>();
    const Operation* operation = find(name);
    if (!operation)
        return Error{"operation.unknown",
                     fmt::format("there is no operation '{}'; 'pivrak-cli ops' lists them", name), name};
    PIVRAK_TRY(arguments, Arguments::read(document, operation->arguments, step));
    return guarded(fmt::format("'{}'", operation->title), [&]() -> Result<Outcome> {
        auto outcome = operation->apply(document, arguments, context);
        if (!outcome) return outcome;
        drop_what_lost_its_owner(document, *outcome);
        PIVRAK_CHECK(check_compiles(document, outcome->document));
        if (auto words = names_of_new(*outcome); !words.empty())
            outcome->messages.push_back(std::move(words));
        return outcome;
    });
}

json Registry::schema() const {
    json out = json::array();
    for (const Operation& operation : operations_) {
        json arguments = json::array();
        for (const ArgumentSpec& spec : operation.arguments) arguments.push_back(pivrak::schema(spec));
        out.push_back({{"name", operation.name},
                       {"title", operation.title},
                       {"summary", operation.summary},
                       {"arguments", arguments}});
    }
    return out;
}

Registry make_registry() {
    Registry registry;
    add_model_operations(registry);
    add_intake_operations(registry);
    add_tidy_operations(registry);
    add_split_operations(registry);
    add_repeat_operations(registry);
    add_repeat_path_operation(registry);
    add_recognise_operations(registry);
    add_stand_in_operations(registry);
    add_set_operations(registry);
    add_pivot_operations(registry);
    add_tree_operations(registry);
    add_name_operations(registry);
    add_control_operations(registry);
    add_joint_operations(registry);
    add_size_operations(registry);
    add_coupling_operations(registry);
    add_train_operations(registry);
    add_chain_operations(registry);
    add_link_operations(registry);
    add_run_operations(registry);
    add_path_operations(registry);
    add_path_point_operations(registry);
    add_ride_operations(registry);
    add_wheel_operations(registry);
    add_print_operations(registry);
    add_vehicle_operations(registry);
    add_constraint_operations(registry);
    add_linkage_operations(registry);
    add_ram_operations(registry);
    add_reach_operations(registry);
    add_carry_operations(registry);
    add_stretch_operations(registry);
    add_driver_operations(registry);
    add_measure_operations(registry);
    add_follow_operations(registry);
    add_formula_operations(registry);
    add_sway_operations(registry);
    add_key_operations(registry);
    add_clip_operations(registry);
    add_clip_layer_operations(registry);
    add_motion_operations(registry);
    add_placing_operations(registry);
    add_project_operations(registry);
    add_mirror_operations(registry);
    add_camera_operations(registry);
    add_place_operations(registry);
    add_sequence_operations(registry);
    add_key_time_operations(registry);
    add_key_shape_operations(registry);
    return registry;
}

}  // namespace pivrak
