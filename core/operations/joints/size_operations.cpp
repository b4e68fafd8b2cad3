#include <fmt/format.h>

#include "core/base/words.h"
#include "core/model/edits/one_measure.h"
#include "core/operations/all_operations.h"
#include "core/rig/driven_by.h"

namespace pivrak {
namespace {

Result<void> check_can_grow(const Document& document, const Part& part) {
    const auto across = measured_across(document, part.id);
    if (!across) return {};
    return Error{"size.across",
                 fmt::format("'{}' cannot grow by itself: '{}' counts lengths across it, and would no longer "
                             "fit; let a part grow that carries all of '{}'",
                             part.name, *across, *across),
                 part.name};
}

Result<Outcome> joint_size(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    const bool on = a.flag("on");
    std::size_t changed = 0;
    for (const PartId id : a.parts("parts")) {
        Part part = *document.parts.find(id);
        if (part.joint.size.has_value() == on) continue;
        part.joint.size.reset();
        if (on) {
            PIVRAK_CHECK(check_can_grow(document, part));
            part.joint.set_channel(ChannelKind::Size, part.joint.channel(ChannelKind::Size));
        } else if (const auto user = joint_user(document, id, part.joint)) {
            return Error{
                "joint.coupled",
                fmt::format("'{}' has to grow: {} needs its size; remove that first", part.name, *user),
                part.name};
        }
        out.document.parts.set(part);
        ++changed;
    }
    if (changed == 0)
        return nothing_to_do(document,
                             on ? "these grow and shrink already" : "none of these grows or shrinks");
    out.messages.push_back(counted(changed, "part") +
                           (on ? " can grow and shrink" : " no longer grow and shrink"));
    return out;
}

}  // namespace

void add_size_operations(Registry& registry) {
    registry.add(
        {"joint.size",
         "Size",
         "Lets parts grow and shrink with all they carry: a size that is keyed, driven and limited as any "
         "channel, 1 at rest.",
         {parts_argument("parts that get a size, or lose it"),
          {"on", ArgumentKind::Flag, "whether they have one", false, true, {}}},
         joint_size});
}

}  // namespace pivrak
