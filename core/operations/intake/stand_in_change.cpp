#include "core/operations/intake/stand_in_change.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/model/rig_parts.h"
#include "core/motion/evaluator.h"
#include "core/operations/drive/chain_steps.h"
#include "core/operations/intake/stand_in_shapes.h"
#include "core/rig/chains/chain_remedies.h"
#include "core/rig/chains/run_builder.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {
namespace {

using nlohmann::json;

/// What others take from a stand-in: its teeth, or threads, and the radius it rolls on; 0 for none.
struct Counted {
    int teeth = 0;
    double radius_m = 0;

    explicit Counted(const json& made_of) {
        const auto number = [&](const char* name) {
            const auto found = made_of.find(name);
            return found != made_of.end() && found->is_number() ? found->get<double>() : 0.0;
        };
        const std::string kind = made_of.value("kind", "");
        teeth = static_cast<int>(number(kind == "worm" ? "starts" : "teeth"));
        if (kind == "wheel" || kind == "cylinder" || kind == "tube") radius_m = 0.5 * number("diameter");
    }
};

/// A shape that changed, with what was and is counted on it.
struct Changed {
    ShapeId shape;
    Counted was, is;
};

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
Result<Shape> remade(const Shape& shape, const Arguments& measures) {
    PIVRAK_TRY(solid, stand_in_solid(measures));
    const std::string along = shape.made_of.value("lies_along", "");
    if (!along.empty()) solid.lay_along(along.front() - 'x');
    const MaterialId material =
        shape.mesh->submeshes.empty() ? MaterialId{} : shape.mesh->submeshes.front().material;
    Shape out = make_shape(shape.id, shape.name, solid_mesh(solid, 1e-3, material));
    out.made_of = stand_in_record(measures, along.empty() ? char{0} : along.front());
    return out;
}

/// Whether a hinge turns one of these shapes, itself or by what is fixed on it.
const Changed* turned_by(const Document& document, PartId hinge, const std::vector<Changed>& changes) {
    for (const PartId part : turning_parts(document, hinge))
        for (const Changed& one : changes)
            if (document.parts.find(part)->shape == one.shape) return &one;
    return nullptr;
}

bool take_over(int& teeth, double& radius_m, const Changed* changed) {
    if (!changed) return false;
    const int teeth_before = teeth;
    const double radius_before = radius_m;
    if (teeth == changed->was.teeth && changed->is.teeth > 0) teeth = changed->is.teeth;
    if (radius_m > 0 && std::abs(radius_m - changed->was.radius_m) < 1e-6 && changed->is.radius_m > 0)
        radius_m = changed->is.radius_m;
    return teeth != teeth_before || radius_m != radius_before;
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

/// As many links as go round now, with as many to spare as before.
Result<void> change_links(const Document& before, const Chain& was, const Document& after, Chain& chain) {
    if (chain.ends) {
        if (!chain.travels() && !chain.folds()) {
            chain.link_count = 0;
            fill_run(after, chain);
        }
        return check_run(after, chain);
    }
    PIVRAK_CHECK(check_chain(after, chain));
    const auto whole = [](const Document& document, const Chain& of) {
        return whole_links(of, needed_length(chain_loop(document, of)) / of.pitch_m)[1];
    };
    const int more = was.link_count - whole(before, was);
    chain.link_count = whole(after, chain) + std::max(0, more);
    return check_link_count(needed_length(chain_loop(after, chain)), chain.pitch_m);
}

Result<void> change_chains(const Document& before, Outcome& out, const std::vector<Changed>& changes) {
    for (const Chain& was : before.chains) {
        Chain chain = was;
        bool any = false;
        for (ChainWheel& wheel : chain.wheels) {
            const Changed* changed = turned_by(out.document, wheel.part, changes);
            if (!changed) continue;
            double none = 0;
            if (wheel.teeth > 0) any |= take_over(wheel.teeth, none, changed);
            // Pins go round a roller as far outside its tread as before.
            if (wheel.teeth > 0 || !(changed->was.radius_m > 0) ||
                changed->was.radius_m == changed->is.radius_m)
                continue;
            wheel.radius_m += changed->is.radius_m - changed->was.radius_m;
            any = true;
        }
        if (!any) continue;
        PIVRAK_CHECK(change_links(before, was, out.document, chain));
        seat_chain(out.document, chain);
        out.document.chains.set(chain);
        lay_links(out.document, chain);
        out.messages.push_back(fmt::format("'{}' has {}", chain.name,
                                           counted(static_cast<std::size_t>(chain.link_count), "link")));
    }
    return {};
}

}  // namespace

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
        PIVRAK_TRY(now, remade(shape, measures));
        changes.push_back({shape.id, Counted(shape.made_of), Counted(now.made_of)});
        out.document.shapes.set(now);
        const auto shared = static_cast<std::size_t>(
            std::count_if(document.parts.begin(), document.parts.end(),
                          [&](const Part& other) { return other.shape == shape.id; }));
        const Vec3 size = now.bounds.size();
        out.messages.push_back(
            fmt::format("{}: {} × {} × {}", shared > 1 ? counted(shared, "part") : "'" + part.name + "'",
                        format_length(size.x()), format_length(size.y()), format_length(size.z())));
    }
    change_pairs(out, changes);
    PIVRAK_CHECK(change_chains(document, out, changes));
    PIVRAK_CHECK(check_turns(document, out.document));
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    if (out.document == document) return nothing_to_do(document, "they have these measures already");
    return out;
}

}  // namespace pivrak
