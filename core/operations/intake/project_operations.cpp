// Another project brought into the open one.
#include <fmt/format.h>

#include "core/base/words.h"
#include "core/io/project/project_file.h"
#include "core/model/edits/renumber.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/job.h"

namespace pivrak {
namespace {

/// With its rig and its clips, where it stands.
Result<Outcome> project_add(const Document& document, const Arguments& a, const OperationContext& context) {
    const std::filesystem::path file = context.folder / a.text("file");
    PIVRAK_TRY(added, is_job_file(file) ? made_by_job(make_registry(), file, context) : open_project(file));
    const std::size_t parts = added.parts.size();
    renumber(added, document.next_id);
    Outcome out{document};
    std::vector<std::string> renamed = add_document(out.document, added);
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    for (const Part& part : added.parts)
        if (!part.parent) out.created.push_back(part.id);
    out.messages.push_back(fmt::format("{} with their rig and {} brought in", counted(parts, "part"),
                                       counted(out.document.clips.size() - document.clips.size(), "clip")));
    out.messages.insert(out.messages.end(), renamed.begin(), renamed.end());
    return out;
}

}  // namespace

void add_project_operations(Registry& registry) {
    registry.add(
        {"project.add",
         "Bring in a project",
         "Another project beside what is open: its parts where they stand, its rig, its clips and sets.",
         {{"file", ArgumentKind::File, "a .pivrak.glb project, or a .job.json that makes one", true, {}, {}}},
         project_add});
}

}  // namespace pivrak
