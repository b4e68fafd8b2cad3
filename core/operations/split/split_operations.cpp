#include <fmt/format.h>

#include "core/base/words.h"
#include "core/geometry/mesh/cutting.h"
#include "core/model/edits/edits.h"
#include "core/operations/all_operations.h"
#include "core/operations/split/piece_maker.h"
#include "core/operations/split/trim.h"

namespace pivrak {
namespace {

using nlohmann::json;

Error cancelled() {
    return {"split.cancelled", "cancelled; the project is as it was", ""};
}

Result<Outcome> split(const Document& document, const Arguments& a, const OperationContext& context,
                      PieceMaker::Label label, const Division& division, PieceMaker::Name name,
                      const std::string& when_whole) {
    Outcome out{document};
    PieceMaker maker(out, division, std::move(label), std::move(name));
    const std::vector<PartId> parts = a.parts("parts");
    std::vector<std::string> whole;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (!context.progress.go_on(static_cast<double>(i) / static_cast<double>(parts.size()),
                                    "breaking apart"))
            return cancelled();
        const std::size_t pieces = maker.break_apart(parts[i]);
        if (pieces < 2)
            whole.push_back(fmt::format("'{}' {}", document.parts.find(parts[i])->name,
                                        pieces == 0 ? "has no shape" : when_whole));
    }
    if (out.created.empty())
        return nothing_to_do(document, fmt::format("nothing to break apart: {}", fmt::join(whole, ", ")));
    drop_unused_shapes(out.document);
    out.messages.push_back(counted(out.created.size(), "piece"));
    if (!whole.empty()) out.messages.push_back(fmt::format("left as they are: {}", fmt::join(whole, ", ")));
    out.readings["pieces"] = out.created.size();
    return out;
}

Result<double> weld_of(const Document& document, const Arguments& a) {
    const double weld = a.number("weld");
    if (weld < 0)
        return Error{"split.weld",
                     fmt::format("a weld distance of {} is below zero", format_length(weld, document)),
                     "weld"};
    return weld;
}

Result<Outcome> by_division(const Document& document, const Arguments& a, const OperationContext& context,
                            const Division& division, PieceMaker::Name name, const std::string& when_whole) {
    return split(
        document, a, context, [division](const Mesh& mesh) { return label_by(division, mesh); }, division,
        std::move(name), when_whole);
}

Result<Outcome> by_pieces(const Document& d, const Arguments& a, const OperationContext& c) {
    PIVRAK_TRY(weld, weld_of(d, a));
    return by_division(d, a, c, {{"by", "pieces"}, {"weld", weld}}, {}, "is one piece");
}

std::string material_name(const Document& document, const Mesh& mesh) {
    const Material* material =
        mesh.submeshes.empty() ? nullptr : document.materials.find(mesh.submeshes.front().material);
    return material ? material->name : std::string();
}

Result<Outcome> by_material(const Document& d, const Arguments& a, const OperationContext& c) {
    return by_division(d, a, c, {{"by", "material"}}, material_name, "has one material");
}

Result<Outcome> by_crease(const Document& d, const Arguments& a, const OperationContext& c) {
    PIVRAK_TRY(weld, weld_of(d, a));
    const double angle = a.number("angle");
    if (angle <= 0 || angle >= pi)
        return Error{"split.angle",
                     fmt::format("{} is no crease: it lies between 0° and 180°", format_angle(angle)),
                     "angle"};
    return by_division(d, a, c, {{"by", "crease"}, {"angle", angle}, {"weld", weld}}, {},
                       fmt::format("has no crease over {} all round", format_angle(angle, 1)));
}

Result<Outcome> by_group(const Document& d, const Arguments& a, const OperationContext& c) {
    return by_division(
        d, a, c, {{"by", "group"}},
        [](const Document&, const Mesh& mesh) {
            return mesh.submeshes.empty() ? "" : mesh.submeshes.front().group;
        },
        "has one group");
}

Result<Outcome> by_faces(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PickedFaces& picked : a.faces("faces")) {
        const Part& part = *out.document.parts.find(picked.part);
        const std::shared_ptr<const Mesh> mesh = out.document.shapes.find(part.shape)->mesh;
        if (picked.faces.size() == mesh->triangle_count())
            return Error{"split.all_faces",
                         fmt::format("all faces of '{}' are picked: nothing would stay", part.name),
                         part.name};
        FaceMask mask(mesh->triangle_count(), false);
        for (const std::uint32_t f : picked.faces) mask[f] = true;
        const TriangleLabels labels = label_by_mask(mask);
        std::vector<Mesh> pieces = extract_labelled(*mesh, labels.of_triangle, labels.count);
        const std::string name = a.has("name") ? a.text("name") : part.name + " picked";
        const std::string rest = part.name + " rest";
        PieceMaker(out, {{"by", "faces"}}, {}).hang(picked.part, std::move(pieces), {rest, name});
    }
    drop_unused_shapes(out.document);
    out.messages.push_back(counted(out.created.size(), "piece"));
    out.readings["pieces"] = out.created.size();
    return out;
}

/// The cut as it can be done again: in the coordinates of the part's node.
Division plane_division(const Plane& plane, const CutOptions& options, const Origin& origin) {
    const Vec3 point = origin.node_from_shape.point(plane.point) / origin.scale,
               normal = origin.node_from_shape.direction(plane.normal);
    Division division{{"by", "plane"},
                      {"point", {point.x(), point.y(), point.z()}},
                      {"normal", {normal.x(), normal.y(), normal.z()}},
                      {"cap", options.cap}};
    if (options.cap_material) division["material"] = options.cap_material.value;
    return division;
}

Result<Outcome> by_plane(const Document& document, const Arguments& a, const OperationContext& context) {
    const Vec3 normal = a.point("normal");
    if (!(normal.norm() > 1e-9))
        return Error{"plane.no_normal",
                     "the plane's normal has no length; give a direction such as [0, 0, 1]", "normal"};
    CutOptions options;
    options.cap = a.flag("cap");
    if (a.has("material")) {
        for (const Material& m : document.materials)
            if (m.name == a.text("material")) options.cap_material = m.id;
        if (!options.cap_material)
            return Error{"material.unknown", fmt::format("there is no material '{}'", a.text("material")),
                         "material"};
    }
    Outcome out{document};
    std::vector<std::string> missed;
    std::size_t open_runs = 0;
    const std::vector<PartId> parts = a.parts("parts");
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (!context.progress.go_on(static_cast<double>(i) / static_cast<double>(parts.size()), "cutting"))
            return cancelled();
        const Part part = *out.document.parts.find(parts[i]);
        const Shape* shape = out.document.shapes.find(part.shape);
        if (!shape) continue;
        const Frame shape_from_world =
            (world_from_rest(out.document, parts[i]) * part.part_from_shape).inverse();
        const Plane plane{shape_from_world.point(a.point("point")),
                          shape_from_world.direction(normal.normalized())};
        CutHalves halves = cut_mesh(*shape->mesh, plane, options);
        if (halves.above.indices.empty() || halves.below.indices.empty()) {
            missed.push_back("'" + part.name + "'");
            continue;
        }
        open_runs += halves.open_runs;
        std::vector<Mesh> pieces;
        pieces.push_back(std::move(halves.above));
        pieces.push_back(std::move(halves.below));
        PieceMaker(out, plane_division(plane, options, part.origin), {})
            .hang(parts[i], std::move(pieces), {part.name + " A", part.name + " B"});
    }
    if (out.created.empty())
        return Error{"plane.misses",
                     missed.empty() ? "no part with a shape is picked"
                                    : fmt::format("the plane misses {}", fmt::join(missed, ", ")),
                     ""};
    drop_unused_shapes(out.document);
    out.messages.push_back(counted(out.created.size(), "piece"));
    if (!missed.empty()) out.messages.push_back(fmt::format("the plane misses {}", fmt::join(missed, ", ")));
    if (open_runs && options.cap)
        out.messages.push_back(
            fmt::format("not capped, since the surface has gaps: {}", counted(open_runs, "open border")));
    out.readings = {{"pieces", out.created.size()}, {"open_borders", open_runs}};
    return out;
}

ArgumentSpec weld_argument() {
    return {"weld", ArgumentKind::Length, "vertices this near count as one", false, 1e-5, {}};
}

}  // namespace

void add_split_operations(Registry& registry) {
    const ArgumentSpec parts = parts_argument("parts to break apart");
    registry.add({"split.pieces",
                  "Break apart by unconnected pieces",
                  "Makes a part of every connected run of faces; the source carries them.",
                  {parts, weld_argument()},
                  by_pieces});
    registry.add({"split.material",
                  "Break apart by material",
                  "Makes a part of the faces of each material; the source carries them.",
                  {parts},
                  by_material});
    registry.add({"split.crease",
                  "Break apart at creases",
                  "Makes a part of every region bounded by edges sharper than an angle.",
                  {parts,
                   {"angle",
                    ArgumentKind::Angle,
                    "edges at which faces meet at more than this divide",
                    false,
                    "30 deg",
                    {}},
                   weld_argument()},
                  by_crease});
    registry.add({"split.groups",
                  "Break apart by groups of the file",
                  "Makes a part of the faces of each group named in the file.",
                  {parts},
                  by_group});
    registry.add({"split.faces",
                  "Break off picked faces",
                  "Makes a part of the picked faces of each part, and one of the rest.",
                  {{"faces", ArgumentKind::Faces, "the picked faces of each part", true, {}, {}},
                   {"name", ArgumentKind::Text, "name of the part they make", false, {}, {}}},
                  by_faces});
    registry.add({"split.plane",
                  "Cut with a plane",
                  "Cuts parts in two with a plane in the world, open or capped.",
                  {parts_argument("parts to cut"),
                   {"point", ArgumentKind::Point, "a point of the plane", true, {}, {}},
                   {"normal", ArgumentKind::Vector, "its normal; piece A lies on this side", true, {}, {}},
                   {"cap", ArgumentKind::Flag, "whether the cut is closed", false, true, {}},
                   {"material",
                    ArgumentKind::Text,
                    "material of the caps; as beside them when left out",
                    false,
                    {},
                    {}}},
                  by_plane});
    registry.add({"split.trim",
                  "Join bolts and trim",
                  "Lets small parts go into the part they touch.",
                  {parts_argument("parts among which small ones are looked for; all when left out", false),
                   {"share",
                    ArgumentKind::Number,
                    "small means below this share of the neighbour's longest side",
                    false,
                    0.2,
                    {}},
                   {"gap", ArgumentKind::Length, "surfaces this near touch", false, 1e-3, {}}},
                  trim_small_parts});
}

}  // namespace pivrak
