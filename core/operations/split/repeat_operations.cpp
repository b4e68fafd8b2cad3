#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/words.h"
#include "core/geometry/fits/repeats.h"
#include "core/geometry/fits/series.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/operations/split/copied_riders.h"
#include "core/operations/split/repeat_branches.h"

namespace pivrak {
namespace {

std::string copied_words(const BranchCopy& copy, std::size_t times, std::size_t riders, CopiedRiders how) {
    std::string words = counted(copy.parts.size() * times, "part") + " copied";
    if (copy.couplings) words += fmt::format(", {} couplings", copy.couplings * times);
    if (copy.tracks) words += fmt::format(", keys of {} channels", copy.tracks * times);
    if (riders)
        words += fmt::format(", {} {}", counted(riders, "rider"),
                             how == CopiedRiders::Apart ? "at places of their own" : "off the path");
    return words;
}

/// Copies once for each way to copy.
Result<Outcome> repeat(const Document& document, const Arguments& a, const std::vector<CopyOptions>& ways) {
    Outcome out{document};
    const std::vector<BranchCopy> copies = copies_of_branches(out.document, a.parts("parts"), ways);
    const CopiedRiders how = copied_riders(a);
    std::unordered_map<PartId, PartId> coupled;
    std::size_t riders = 0;
    for (std::size_t i = 0; i < copies.size(); ++i) {
        out.created.insert(out.created.end(), copies[i].tops.begin(), copies[i].tops.end());
        PIVRAK_TRY(placed,
                   place_copied_riders(document, out.document, copies[i], ways[i], how, i + 1, coupled));
        riders += placed;
    }
    out.messages.push_back(copied_words(copies.back(), ways.size(), riders, how));
    return out;
}

}  // namespace

Result<Outcome> repeated_by(const Document& document, const Arguments& a, const std::vector<Frame>& motions) {
    std::vector<CopyOptions> ways;
    for (const Frame& motion : motions) ways.push_back({motion, std::nullopt, a.flag("shape_alone")});
    return repeat(document, a, ways);
}

Result<int> repeat_count(const Arguments& a) {
    const int count = a.integer("count");
    if (count < 2 || count > 10000)
        return Error{"repeat.count", fmt::format("{} in all is out of range: 2 to 10000", count), "count"};
    return count;
}

namespace {

Result<Outcome> duplicate(const Document& document, const Arguments& a, const OperationContext&) {
    return repeated_by(document, a, {Frame{Quat(1, 0, 0, 0), a.point("shift")}});
}

Result<Outcome> repeat_line(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(count, repeat_count(a));
    const Vec3 step = a.point("step");
    if (!(step.norm() > 0))
        return Error{"repeat.step", "a step of no length puts all copies into one place", "step"};
    std::vector<Frame> motions;
    for (int i = 1; i < count; ++i) motions.push_back({Quat(1, 0, 0, 0), i * step});
    return repeated_by(document, a, motions);
}

Result<Outcome> repeat_round(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(count, repeat_count(a));
    const Vec3 axis = a.point("axis");
    if (!(axis.norm() > 1e-9))
        return Error{"repeat.axis", "the axis has no length; give a direction such as [1, 0, 0]", "axis"};
    const double angle = a.number_if("angle").value_or(2 * pi / count);
    if (!(std::abs(angle) > 0))
        return Error{"repeat.angle", "an angle of nothing puts all copies into one place", "angle"};
    const Vec3 centre = a.point("centre");
    std::vector<Frame> motions;
    for (int i = 1; i < count; ++i) {
        const Quat turn(Eigen::AngleAxisd(i * angle, axis.normalized()));
        motions.push_back({turn, centre - turn * centre});
    }
    return repeated_by(document, a, motions);
}

Result<Outcome> mirror(const Document& document, const Arguments& a, const OperationContext&) {
    const Vec3 normal = a.point("normal");
    if (!(normal.norm() > 1e-9))
        return Error{"plane.no_normal",
                     "the mirror's normal has no length; give a direction such as [0, 1, 0]", "normal"};
    return repeat(document, a,
                  {{Frame{}, Plane{a.point("point"), normal.normalized()}, a.flag("shape_alone")}});
}

// ---- finding repeats

/// A name without the number at its end.
std::string series_base(const std::string& name) {
    const std::size_t end = name.find_last_not_of("0123456789");
    if (end == std::string::npos) return name;
    const std::size_t letters = name.find_last_not_of(" _-.", end);
    return end + 1 < name.size() && letters != std::string::npos ? name.substr(0, letters + 1) : name;
}

class RepeatFinder {
public:
    RepeatFinder(const Document& document, const Arguments& a) : a_(a), out_{document, {}, {}} {
        for (const PartId id : parts_or_all(document, a)) {
            const Shape* shape = document.shapes.find(document.parts.find(id)->shape);
            if (!shape) continue;
            parts_.push_back(id);
            meshes_.push_back(shape->mesh.get());
        }
    }

    Result<Outcome> run() {
        RepeatOptions options;
        options.tolerance_m = a_.number("tolerance");
        if (!(options.tolerance_m > 0) || options.tolerance_m > 0.1)
            return Error{"repeats.tolerance",
                         fmt::format("a tolerance of {} is out of range: above 0, at most 100 mm",
                                     format_length(options.tolerance_m, out_.document)),
                         "tolerance"};
        out_.readings["groups"] = nlohmann::json::array();
        const SharedTable<Material>& materials = out_.document.materials;
        options.compare_uvs = std::any_of(materials.begin(), materials.end(), [](const Material& m) {
            bool any = false;
            each_picture(m, [&](const std::string&, const PictureUse& use) { any |= bool(use); });
            return any;
        });
        std::size_t repeated = 0;
        for (const RepeatGroup& group : find_repeats(meshes_, options)) {
            if (group.members.size() < 2) continue;
            repeated += group.members.size();
            take(group);
        }
        if (repeated == 0)
            return nothing_to_do(out_.document,
                                 fmt::format("no two of {} shapes are equal within {}", parts_.size(),
                                             format_length(options.tolerance_m, out_.document)));
        drop_unused_shapes(out_.document);
        return std::move(out_);
    }

private:
    void take(const RepeatGroup& group) {
        std::vector<RepeatMember> plain, mirrored;
        for (const RepeatMember& m : group.members) (m.mirrored ? mirrored : plain).push_back(m);
        const std::string base =
            a_.has("name") ? a_.text("name") : series_base(name_of(group.members.front().mesh));
        double deviation = 0;
        for (const RepeatMember& m : group.members) deviation = std::max(deviation, m.deviation_m);
        share(plain);
        share(mirrored);
        const Series series = a_.flag("rename") ? rename(group, base) : Series{};
        const std::string mirror_words =
            mirrored.empty() ? "" : fmt::format(" and {} mirrored", mirrored.size());
        const std::string_view stand = series.kind == Series::Kind::Line    ? ", in a line"
                                       : series.kind == Series::Kind::Round ? ", round an axis"
                                                                            : "";
        out_.messages.push_back(fmt::format("{}: {} equal{}{}, largest difference {}", base, plain.size(),
                                            mirror_words, stand, format_length(deviation, out_.document)));
        nlohmann::json members = nlohmann::json::array();
        for (const RepeatMember& m : group.members) {
            members.push_back(parts_[m.mesh].value);
            out_.created.push_back(parts_[m.mesh]);
        }
        out_.readings["groups"].push_back(
            {{"name", base}, {"parts", members}, {"mirrored", mirrored.size()}, {"deviation_m", deviation}});
    }

    const std::string& name_of(std::size_t mesh) const {
        return out_.document.parts.find(parts_[mesh])->name;
    }

    /// All members show the first one's shape, each where it stood.
    void share(const std::vector<RepeatMember>& members) {
        if (members.size() < 2) return;
        const ShapeId pattern = out_.document.parts.find(parts_[members.front().mesh])->shape;
        const Frame first_from_pattern = members.front().mesh_from_first;
        for (std::size_t i = 1; i < members.size(); ++i) {
            Part part = *out_.document.parts.find(parts_[members[i].mesh]);
            if (part.shape == pattern) continue;
            const Frame old_from_pattern = members[i].mesh_from_first * first_from_pattern.inverse();
            part.shape = pattern;
            part.part_from_shape = (part.part_from_shape * old_from_pattern).normalized();
            rehang_origin(part.origin, old_from_pattern);
            out_.document.parts.set(part);
        }
    }

    Series rename(const RepeatGroup& group, const std::string& base) {
        std::vector<Vec3> places;
        for (const RepeatMember& m : group.members) {
            const Part& part = *out_.document.parts.find(parts_[m.mesh]);
            const Shape& shape = *out_.document.shapes.find(part.shape);
            places.push_back((world_from_rest(out_.document, part.id) * part.part_from_shape)
                                 .point(shape.bounds.middle()));
        }
        const Series series = order_series(places);
        FreeNames names(out_.document);
        for (const RepeatMember& m : group.members) names.release(name_of(m.mesh));
        for (std::size_t i = 0; i < series.order.size(); ++i) {
            Part part = *out_.document.parts.find(parts_[group.members[series.order[i]].mesh]);
            part.name = names.take(series_name(base, i + 1, series.order.size()));
            out_.document.parts.set(part);
        }
        return series;
    }

    const Arguments& a_;
    Outcome out_;
    std::vector<PartId> parts_;
    std::vector<const Mesh*> meshes_;
};

Result<Outcome> find(const Document& document, const Arguments& a, const OperationContext&) {
    return RepeatFinder(document, a).run();
}

}  // namespace

ArgumentSpec shape_alone_argument() {
    return {"shape_alone",
            ArgumentKind::Flag,
            "copies only the shapes, without joints and what they carry",
            false,
            false,
            {}};
}

void add_repeat_operations(Registry& registry) {
    registry.add(
        {"part.duplicate",
         "Duplicate",
         "Copies branches with joints, the couplings inside them and keys; shapes are shared.",
         {parts_argument("parts to copy"),
          {"shift", ArgumentKind::Point, "where the copy stands against the original", false, {0, 0, 0}, {}},
          riders_argument(CopiedRiders::Apart),
          shape_alone_argument()},
         duplicate});
    registry.add({"part.mirror",
                  "Mirror",
                  "Copies branches as their image in a plane; side words, turns, limits and keys follow.",
                  {parts_argument("parts to mirror"),
                   {"point", ArgumentKind::Point, "a point of the plane", false, {0, 0, 0}, {}},
                   {"normal", ArgumentKind::Vector, "its normal", false, {0, 1, 0}, {}},
                   riders_argument(CopiedRiders::Off),
                   shape_alone_argument()},
                  mirror});
    registry.add(
        {"part.repeat_line",
         "Repeat in a line",
         "Copies parts with all they carry, each one step further on.",
         {parts_argument("parts to repeat"),
          {"count", ArgumentKind::Integer, "how many there are in the end, the first included", true, {}, {}},
          {"step", ArgumentKind::Point, "from one to the next", true, {}, {}},
          riders_argument(CopiedRiders::Apart),
          shape_alone_argument()},
         repeat_line});
    registry.add(
        {"part.repeat_round",
         "Repeat round an axis",
         "Copies parts with all they carry, each turned further about an axis.",
         {parts_argument("parts to repeat"),
          {"count", ArgumentKind::Integer, "how many there are in the end, the first included", true, {}, {}},
          {"axis", ArgumentKind::Vector, "direction of the axis", false, {1, 0, 0}, {}},
          {"centre", ArgumentKind::Point, "a point on the axis", false, {0, 0, 0}, {}},
          {"angle", ArgumentKind::Angle, "from one to the next; evenly round when left out", false, {}, {}},
          riders_argument(CopiedRiders::Apart),
          shape_alone_argument()},
         repeat_round});
    registry.add({"part.find_repeats",
                  "Find repeats",
                  "Lets parts of equal shape share one, and numbers them along a line or round an axis.",
                  {parts_argument("parts to look among; all when left out", false),
                   {"tolerance", ArgumentKind::Length, "how far vertices may be off", false, 1e-4, {}},
                   {"rename", ArgumentKind::Flag, "numbers each group in a series", false, true, {}},
                   {"name",
                    ArgumentKind::Text,
                    "name of the series; that of its first part when left out",
                    false,
                    {},
                    {}}},
                  find});
}

}  // namespace pivrak
