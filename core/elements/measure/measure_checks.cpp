#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/rig/rig_facts.h"

namespace pivrak {
namespace {

/// Why there is nothing to read; empty where there is.
std::string blind_words(const Measure& measure, ElementCheck& out) {
    const Document& document = out.document;
    if (measure.is_of_path() && !document.paths.contains(measure.path)) return "its path is gone";
    if (measure.what == Measures::Pitch && !document.chains.contains(measure.chain))
        return "its chain is gone";
    if (measure.what == Measures::Teeth && !out.facts.teeth(document, out.tree, measure.a))
        return fmt::format("no teeth can be counted on '{}'", name_of(document, measure.a));
    if (measure.what == Measures::Clearance)
        for (const PartId part : {measure.a, measure.b})
            if (!out.facts.clearance_body(document, out.tree, part))
                return fmt::format("'{}' has no shape", name_of(document, part));
    return "";
}

}  // namespace

void check(const Measure& measure, ElementCheck& out) {
    const std::string why = blind_words(measure, out);
    if (why.empty()) return;
    out.add(Stage::Rig, "measure.blind", measure.a,
            fmt::format("'{}' measures nothing: {}", measure.name, why),
            {{"op", "measure.remove"}, {"measures", {measure.id.value}}}, "Remove it");
}

void watch(const Measure&, ClipCheck&) {}

/// What is measured moves with the parts; who takes it says so.
void map(const Measure& measure, DriveMapper& out) {
    const ChannelRef reading{measure.id, measure.gives()};
    for (const PartId id : {measure.a, measure.b, measure.c})
        if (const Part* part = out.document().parts.find(id); part && !part->channels().empty())
            out.add(out.moving_channel(*part), reading, std::string(word_of(measures_words, measure.what)));
}

}  // namespace pivrak
