#include "core/operations/intake/stand_in_change.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/motion/evaluator.h"
#include "core/operations/drive/chain_steps.h"
#include "core/operations/intake/stand_in_chains.h"
#include "core/operations/intake/stand_in_counts.h"
#include "core/operations/intake/stand_in_shapes.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {
namespace {

using nlohmann::json;

/// The measures of a shape with those that are given in their place.
Result<Arguments> merged(const Document& document, const Part& part, const Arguments& given) {
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape || !shape->made_of.is_object())
        return Error{
            "stand_in.none",
            fmt::format("'{}' is no stand-in, or its shape was changed since: its measures are not known",
                        part.name),
            part.name};
    json measures = shape->made_of;
    measures.erase("lies_along");
    const std::string kind = measures.value("kind", "");
    const std::vector<std::string> has = stand_in_measures(kind);
    bool some = false;
    for (const ArgumentSpec& spec : stand_in_specs()) {
        if (!given.has(spec.name)) continue;
        if (std::find(has.begin(), has.end(), spec.name) == has.end())
            return Error{"stand_in.measure",
                         fmt::format("'{}' is a {}, which has no '{}'", part.name, kind, spec.name),
                         spec.name};
        measures[spec.name] = given.values().at(spec.name);
        some = true;
    }
    // A standard size has its own pitch; who types a pitch has another size.
    if (given.has("chain") && given.text("chain") != other_chain) {
        for (const char* own : {"pitch", "roller"})
            if (!given.has(own)) measures.erase(own);
    } else if (!given.has("pitch") && given.has("roller") && !measures.contains("pitch")) {
        return Error{"stand_in.measure", "give the pitch as well: a standard chain has its own rollers",
                     "pitch"};
    }
    if (!some) return Error{"stand_in.measure", "give at least one measure", "parts"};
    std::vector<ArgumentSpec> specs = stand_in_specs();
    specs.push_back({"kind", ArgumentKind::Choice, "what it is", true, {}, stand_in_kinds()});
    return Arguments::read(document, specs, measures);
}

/// Its shape anew, in the same place and of the same material.
Result<Shape> remade(const Shape& shape, const Arguments& measures, LengthUnit unit) {
    PIVRAK_TRY(solid, stand_in_solid(measures, unit));
    const std::string along = shape.made_of.value("lies_along", "");
    if (!along.empty()) solid.lay_along(along.front() - 'x');
    const MaterialId material =
        shape.mesh->submeshes.empty() ? MaterialId{} : shape.mesh->submeshes.front().material;
    Shape out = make_shape(shape.id, shape.name, solid_mesh(solid, 1e-3, material));
    out.made_of = stand_in_record(measures, along.empty() ? char{0} : along.front());
    return out;
}

void change_pairs(Outcome& out, const std::vector<Changed>& changes) {
    const auto couplings = out.document.couplings;
    for (const Coupling& coupling : couplings) {
        const GearPair* pair = coupling.as<GearPair>();
        if (!pair) continue;
        const Changed* driver = turned_by(out.document, pair->driver.part(), changes);
        const Changed* driven = turned_by(out.document, pair->driven.part(), changes);
        if (!driver && !driven) continue;
        GearPair now = *pair;
        const bool drives = take_over(now.driver_teeth, now.driver_radius_m, driver),
                   follows = take_over(now.driven_teeth, now.driven_radius_m, driven);
        const GearPairMeasure m = measure_gear_pair(out.document, now);
        if (now.phase_measured) {
            now.phase = m.phase_rad;
            now.phase_measured = m.phase_measured;
        }
        out.document.couplings.set({coupling.id, now});
        if (drives || follows)
            out.messages.push_back(
                fmt::format("'{}' and '{}' run {}", name_of(out.document, now.driver.part()),
                            name_of(out.document, now.driven.part()), ratio_words(m.ratio, true)));
    }
}

/// Where a chain has taken over a pitch, its links do if they are stand-ins; others are told.
Result<void> change_link_shapes(const Document& before, Outcome& out, const Arguments& given) {
    json pitch = json::object();
    for (const char* name : {"chain", "pitch", "roller"})
        if (given.has(name)) pitch[name] = given.values().at(name);
    for (const Chain& was : before.chains) {
        const Chain& chain = *out.document.chains.find(was.id);
        if (chain.pitch_m == was.pitch_m) continue;
        for (std::size_t i = 0; i < chain.links.size() && i < static_cast<std::size_t>(chain.pattern); ++i) {
            const Part& link = *out.document.parts.find(chain.links[i]);
            const Shape* shape = out.document.shapes.find(link.shape);
            const bool fits =
                shape && shape->made_of.is_object() && is_pitch(Counted(shape->made_of).pitch_m, was.pitch_m);
            if (!fits) {
                if (shape)
                    out.messages.push_back(
                        fmt::format("'{}' keeps its shape, made for links of {}", link.name,
                                    format_length(was.pitch_m, LengthUnit::Millimetre, 3)));
                continue;
            }
            PIVRAK_TRY(asked, Arguments::read(before, changed_measures(), pitch));
            PIVRAK_TRY(measures, merged(out.document, link, asked));
            PIVRAK_TRY(now, remade(*shape, measures, before.settings.length_unit));
            out.document.shapes.set(now);
        }
    }
    return {};
}

}  // namespace

std::vector<ArgumentSpec> changed_measures() {
    std::vector<ArgumentSpec> specs = stand_in_specs();
    for (ArgumentSpec& spec : specs) spec.fallback = nullptr;
    return specs;
}

Result<Outcome> change_stand_ins(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    std::vector<Changed> changes;
    for (const PartId id : a.parts("parts")) {
        const Part& part = *document.parts.find(id);
        const bool done = std::any_of(changes.begin(), changes.end(),
                                      [&](const Changed& one) { return one.shape == part.shape; });
        if (done) continue;
        PIVRAK_TRY(measures, merged(document, part, a));
        const Shape& shape = *document.shapes.find(part.shape);
        PIVRAK_TRY(now, remade(shape, measures, document.settings.length_unit));
        changes.push_back({shape.id, Counted(shape.made_of), Counted(now.made_of)});
        out.document.shapes.set(now);
        const auto shared = static_cast<std::size_t>(
            std::count_if(document.parts.begin(), document.parts.end(),
                          [&](const Part& other) { return other.shape == shape.id; }));
        const Vec3 size = now.bounds.size();
        out.messages.push_back(
            fmt::format("{}: {} × {} × {}", shared > 1 ? counted(shared, "part") : "'" + part.name + "'",
                        format_length(size.x(), document), format_length(size.y(), document),
                        format_length(size.z(), document)));
    }
    change_pairs(out, changes);
    PIVRAK_CHECK(change_chains(document, out, changes));
    PIVRAK_CHECK(change_link_shapes(document, out, a));
    PIVRAK_CHECK(check_turns(document, out.document));
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    if (out.document == document) return nothing_to_do(document, "they have these measures already");
    return out;
}

}  // namespace pivrak
