// Cameras: datums that pictures are taken through.
#include <fmt/format.h>

#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

/// At a place, looking at another one, upright. Errors: `camera.direction`.
Result<Frame> looking(const Vec3& at, const Vec3& to) {
    const Vec3 ahead = to - at;
    if (!(ahead.norm() > 1e-6))
        return Error{"camera.direction", "a camera looks from one place to another", "to"};
    const Vec3 x = ahead.normalized();
    // Straight up or down, the top of the picture is ahead of the model.
    const Vec3 upright = std::abs(x.z()) < 0.9999 ? Vec3(0, 0, 1) : Vec3(1, 0, 0);
    const Vec3 y = upright.cross(x).normalized();
    Mat3 axes;
    axes << x, y, x.cross(y);
    return Frame{Quat(axes).normalized(), at};
}

Result<void> read_field(const Arguments& a, Lens& lens) {
    lens.field_rad = a.number_if("field").value_or(lens.field_rad);
    if (!lens.damaged()) return {};
    return Error{"camera.field",
                 fmt::format("a field of {} is out of range: 1 to 170 degrees", format_angle(lens.field_rad)),
                 "field"};
}

Result<Outcome> camera_add(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_CHECK(check_name(a.text("name")));
    PIVRAK_TRY(frame, looking(a.point("at"), a.point("to")));
    Outcome out{document};
    Part camera;
    camera.id = out.document.new_id<PartId>();
    camera.name = FreeNames(document).take(a.text("name"));
    camera.parent_from_rest = frame;
    camera.lens = Lens{};
    PIVRAK_CHECK(read_field(a, *camera.lens));
    out.document.parts.set(camera);
    if (a.has("under")) PIVRAK_CHECK(reparent(out.document, camera.id, a.part("under")));
    out.created.push_back(camera.id);
    out.messages.push_back(fmt::format("camera '{}' added", camera.name));
    return out;
}

/// Where it stands and how much it sees; what carries it stays.
Result<Outcome> camera_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        Part part = *out.document.parts.find(id);
        if (!part.lens) return Error{"camera.none", fmt::format("'{}' is no camera", part.name), part.name};
        PIVRAK_CHECK(read_field(a, *part.lens));
        out.document.parts.set(part);
        if (!a.has("at") && !a.has("to")) continue;
        const Frame now = world_from_rest(document, id);
        const Vec3 at = a.point_if("at").value_or(now.translation);
        PIVRAK_TRY(frame, looking(at, a.point_if("to").value_or(at + now.axis(0))));
        align(out.document, id, frame, AlignWhat::Both);
    }
    return out;
}

}  // namespace

void add_camera_operations(Registry& registry) {
    const auto field =
        ArgumentSpec{"field", ArgumentKind::Angle, "how much it sees, from bottom to top", false, {}, {}};
    registry.add({"camera.add",
                  "Camera",
                  "A place to take pictures from: a datum that is carried, rides and is keyed as any part.",
                  {{"name", ArgumentKind::Text, "its name", true, {}, {}},
                   {"at", ArgumentKind::Point, "where it stands", true, {}, {}},
                   {"to", ArgumentKind::Point, "a place it looks at", true, {}, {}},
                   field,
                   {"under", ArgumentKind::Part, "what carries it", false, {}, {}}},
                  camera_add});
    registry.add({"camera.set",
                  "Change a camera",
                  "Where cameras stand at rest, what they look at, and how much they see.",
                  {parts_argument("cameras"),
                   {"at", ArgumentKind::Point, "where it stands", false, {}, {}},
                   {"to", ArgumentKind::Point, "a place it looks at", false, {}, {}},
                   field},
                  camera_set});
}

}  // namespace pivrak
