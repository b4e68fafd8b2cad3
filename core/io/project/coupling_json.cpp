#include "core/io/project/coupling_json.h"

#include "core/io/project/field_json.h"

namespace pivrak {

using nlohmann::json;

json coupling_to_json(const Coupling& coupling) {
    json out = std::visit([](const auto& kind) { return fields::to_json(kind); }, coupling.what);
    out["id"] = coupling.id.value;
    out["kind"] = std::visit([](const auto& kind) { return kind.word; }, coupling.what);
    return out;
}

Coupling coupling_from_json(const json& entry) {
    const CouplingId id = fields::id_of<CouplingId>(entry);
    const std::string kind = entry.at("kind").get<std::string>();
#define PIVRAK_COUPLING(Type) \
    if (kind == Type::word) return {id, fields::from_json<Type>(entry)};
#include "core/elements/kinds.def"
    throw fields::Damage{"a coupling has an unknown kind"};
}

}  // namespace pivrak
