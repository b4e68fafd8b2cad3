#include "core/operations/registry.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// Whatever an edit is about, it may bring a path under its own rider, or a hitch under its trailer: an edit
/// after which the rig cannot be evaluated any more is refused. Gear pairs look after themselves.
Result<void> check_no_circle(const Document& before, const Document& after) {
    const bool gears_only = std::all_of(after.couplings.begin(), after.couplings.end(),
                                        [](const Coupling& c) { return c.gear() != nullptr; });
    if (after.paths.empty() && after.vehicles.empty() && after.chains.empty() && gears_only) return {};
    auto checked = Evaluator::check(after);
    return checked || !Evaluator::check(before) ? Result<void>{} : checked;
}

}  // namespace

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
    auto outcome = operation->apply(document, arguments, context);
    if (outcome) PIVRAK_CHECK(check_no_circle(document, outcome->document));
    return outcome;
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
    add_recognise_operations(registry);
    add_stand_in_operations(registry);
    add_set_operations(registry);
    add_pivot_operations(registry);
    add_tree_operations(registry);
    add_name_operations(registry);
    add_control_operations(registry);
    add_joint_operations(registry);
    add_coupling_operations(registry);
    add_train_operations(registry);
    add_chain_operations(registry);
    add_run_operations(registry);
    add_path_operations(registry);
    add_ride_operations(registry);
    add_wheel_operations(registry);
    add_print_operations(registry);
    add_vehicle_operations(registry);
    add_key_operations(registry);
    return registry;
}

}  // namespace pivrak
