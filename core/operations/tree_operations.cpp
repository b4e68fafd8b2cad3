#include <fmt/format.h>

#include "core/model/edits.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

Result<Outcome> put_under(const Document& document, const std::vector<PartId>& parts, PartId parent) {
    Outcome out{document};
    for (const PartId part : parts) PIVRAK_CHECK(reparent(out.document, part, parent));
    return out;
}

}  // namespace

void add_tree_operations(Registry& registry) {
    registry.add({"tree.parent",
                  "Put under",
                  "Lets one part carry others; they stay where they stand.",
                  {parts_argument("parts to be carried"),
                   {"under", ArgumentKind::Part, "the part that carries them", true, {}, {}}},
                  [](const Document& d, const Arguments& a, const OperationContext&) {
                      return put_under(d, a.parts("parts"), a.part("under"));
                  }});
    registry.add({"tree.release",
                  "Release",
                  "Takes parts out of what carries them; they stay where they stand.",
                  {parts_argument("parts to release")},
                  [](const Document& d, const Arguments& a, const OperationContext&) {
                      return put_under(d, a.parts("parts"), PartId{});
                  }});
}

}  // namespace pivrak
