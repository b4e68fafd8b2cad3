#include "core/operations/update_model.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/geometry/mesh_edit.h"
#include "core/io/import_model.h"
#include "core/model/edits.h"
#include "core/operations/piece_maker.h"

namespace pivrak {
namespace {

class Updater {
public:
    Updater(const Document& before, Document after, std::uint32_t source, std::uint32_t fresh_source,
            std::vector<PartId> fresh)
        : before_(before), source_(source), fresh_source_(fresh_source), fresh_(std::move(fresh)) {
        out_.document = std::move(after);
    }

    Result<Outcome> run() {
        for (const PartId id : fresh_) fresh_by_node_[out_.document.parts.find(id)->origin.node] = id;
        match_materials();
        std::map<std::string, std::vector<PartId>> split;
        for (const Part& part : before_.parts) {
            if (part.origin.source != source_) continue;
            if (part.origin.cuts.empty())
                replace_whole(part.id);
            else
                split[part.origin.node].push_back(part.id);
        }
        for (const auto& [node, pieces] : split) replace_pieces(node, pieces);
        if (replaced_ == 0)
            return Error{"update.nothing",
                         "no part of the project is found again in this file; nothing was changed", ""};
        keep_new_nodes();
        remove_matched();
        tell();
        return std::move(out_);
    }

private:
    /// New materials that are equal to old ones but for their id give way to them.
    void match_materials() {
        std::map<MaterialId, MaterialId> old_of;
        for (const Material& fresh : out_.document.materials) {
            if (before_.materials.contains(fresh.id)) continue;
            for (const Material& old : before_.materials) {
                Material same = old;
                same.id = fresh.id;
                same.base_color_image = fresh.base_color_image;
                if (same == fresh && same_picture(old.base_color_image, fresh.base_color_image)) {
                    old_of[fresh.id] = old.id;
                    break;
                }
            }
        }
        if (old_of.empty()) return;
        const SharedTable<Shape> shapes = out_.document.shapes;
        for (const Shape& shape : shapes) {
            if (before_.shapes.contains(shape.id)) continue;
            Mesh mesh = *shape.mesh;
            for (Submesh& run : mesh.submeshes)
                if (const auto old = old_of.find(run.material); old != old_of.end())
                    run.material = old->second;
            out_.document.shapes.set(make_shape(shape.id, shape.name, std::move(mesh)));
        }
        for (const auto& [fresh, old] : old_of) out_.document.materials.erase(fresh);
    }

    bool same_picture(ImageId a, ImageId b) const {
        const Image *one = before_.images.find(a), *other = out_.document.images.find(b);
        if (!one || !other) return !one && !other;
        return one->bytes && other->bytes ? *one->bytes == *other->bytes : one->bytes == other->bytes;
    }

    /// The new node's shape hangs in the old part as the old one did, moved as the node moved in the file.
    void replace_whole(PartId id) {
        Part part = *out_.document.parts.find(id);
        const auto fresh = fresh_by_node_.find(part.origin.node);
        if (fresh == fresh_by_node_.end()) {
            missing_.push_back(part.name);
            return;
        }
        matched_.insert(fresh->second);
        old_of_fresh_[fresh->second] = id;
        const Part& node = *out_.document.parts.find(fresh->second);
        Frame moved = (part.origin.world_from_node.inverse() * node.origin.world_from_node).normalized();
        moved.translation *= part.origin.scale;
        const bool split_since = !part.shape && before_has_pieces(part.origin.node);
        if (!split_since) {
            part.shape = sized(node.shape, part.origin.scale);
            if (part.shape && before_.parts.find(id)->shape)
                part.part_from_shape = (part.part_from_shape * moved).normalized();
            ++replaced_;
        }
        part.origin.world_from_node = node.origin.world_from_node;
        part.origin.stretch = node.origin.stretch;
        part.origin.mirrored = node.origin.mirrored;
        out_.document.parts.set(part);
    }

    bool before_has_pieces(const std::string& node) const {
        return std::any_of(before_.parts.begin(), before_.parts.end(), [&](const Part& p) {
            return p.origin.source == source_ && p.origin.node == node && !p.origin.cuts.empty();
        });
    }

    ShapeId sized(ShapeId id, double scale) {
        const Shape* shape = out_.document.shapes.find(id);
        if (!shape || scale == 1) return id;
        const ShapeId made = out_.document.new_id<ShapeId>();
        out_.document.shapes.set(make_shape(made, shape->name, scaled(*shape->mesh, scale)));
        return made;
    }

    /// Pieces of one node: the same divisions in the same order, then the nearest of like size.
    void replace_pieces(const std::string& node, const std::vector<PartId>& pieces) {
        const auto fresh = fresh_by_node_.find(node);
        const Shape* lump = fresh == fresh_by_node_.end()
                                ? nullptr
                                : out_.document.shapes.find(out_.document.parts.find(fresh->second)->shape);
        if (!lump) {
            for (const PartId piece : pieces) missing_.push_back(before_.parts.find(piece)->name);
            return;
        }
        matched_.insert(fresh->second);
        std::map<std::string, std::vector<PartId>> by_division;
        for (const PartId id : pieces) {
            const auto& cuts = before_.parts.find(id)->origin.cuts;
            if (cuts.size() == 1 && is_repeatable(cuts[0].at("division")))
                by_division[cuts[0].at("division").dump()].push_back(id);
            else
                missing_.push_back(before_.parts.find(id)->name + " (cut by hand)");
        }
        const std::shared_ptr<const Mesh> mesh = lump->mesh;
        for (const auto& [division, old] : by_division)
            match_pieces(*mesh, nlohmann::json::parse(division), old);
    }

    void match_pieces(const Mesh& lump, const Division& division, const std::vector<PartId>& old) {
        const TriangleLabels labels = label_by(division, lump);
        std::vector<Mesh> pieces = extract_labelled(lump, labels.of_triangle, labels.count);
        std::vector<Bounds> bounds;
        for (const Mesh& piece : pieces) bounds.push_back(mesh_bounds(piece));
        std::vector<bool> used(pieces.size(), false);
        for (const PartId id : old) {
            Part part = *out_.document.parts.find(id);
            const Shape* shape = before_.shapes.find(part.shape);
            const std::size_t best = shape ? nearest(*shape, part.origin.scale, bounds, used) : pieces.size();
            if (best == pieces.size()) {
                missing_.push_back(part.name);
                continue;
            }
            used[best] = true;
            const ShapeId made = out_.document.new_id<ShapeId>();
            out_.document.shapes.set(make_shape(
                made, shape->name,
                part.origin.scale == 1 ? std::move(pieces[best]) : scaled(pieces[best], part.origin.scale)));
            part.shape = made;
            out_.document.parts.set(part);
            ++replaced_;
        }
        added_pieces_ += static_cast<std::size_t>(std::count(used.begin(), used.end(), false));
    }

    /// A piece whose middle lies within half the old one's size and whose size is within a half of it.
    static std::size_t nearest(const Shape& old, double scale, const std::vector<Bounds>& bounds,
                               const std::vector<bool>& used) {
        const Vec3 middle = old.bounds.middle() / scale, size = old.bounds.size() / scale;
        const double reach = 0.5 * size.norm();
        std::size_t best = bounds.size();
        double least = reach;
        for (std::size_t i = 0; i < bounds.size(); ++i) {
            if (used[i] || (bounds[i].size() - size).norm() > 0.5 * size.norm()) continue;
            const double off = (bounds[i].middle() - middle).norm() + (bounds[i].size() - size).norm();
            if (off >= least) continue;
            least = off;
            best = i;
        }
        return best;
    }

    void keep_new_nodes() {
        for (const PartId id : fresh_) {
            if (matched_.contains(id)) continue;
            Part part = *out_.document.parts.find(id);
            new_names_.push_back(part.name);
            part.origin.source = source_;
            out_.document.parts.set(part);
            const auto old_parent = old_of_fresh_.find(part.parent);
            if (old_parent != old_of_fresh_.end()) (void)reparent(out_.document, id, old_parent->second);
            out_.created.push_back(id);
        }
    }

    void remove_matched() {
        for (const PartId id : fresh_)
            if (matched_.contains(id) && out_.document.parts.contains(id)) {
                // New nodes below a matched one have been hung elsewhere already.
                const Tree tree(out_.document);
                for (const PartId child : tree.children(id))
                    if (!matched_.contains(child)) (void)reparent(out_.document, child, PartId{});
                remove_branch(out_.document, id);
            }
        out_.document.sources[source_ - 1] = out_.document.sources[fresh_source_ - 1];
        out_.document.sources.pop_back();
        drop_unused_shapes(out_.document);
    }

    void tell() {
        const auto list = [](const std::vector<std::string>& names) {
            std::string text;
            for (std::size_t i = 0; i < std::min<std::size_t>(names.size(), 12); ++i)
                text += (i ? ", '" : "'") + names[i] + "'";
            if (names.size() > 12) text += fmt::format(" and {} more", names.size() - 12);
            return text;
        };
        out_.messages.push_back(fmt::format("{} parts have their new shape", replaced_));
        if (!missing_.empty())
            out_.messages.push_back(
                fmt::format("{} not found again and left as they are: {}", missing_.size(), list(missing_)));
        if (!new_names_.empty())
            out_.messages.push_back(fmt::format("{} new parts: {}", new_names_.size(), list(new_names_)));
        if (added_pieces_)
            out_.messages.push_back(fmt::format("{} new loose pieces are not used", added_pieces_));
        out_.readings = {{"replaced", replaced_},
                         {"missing", missing_},
                         {"new", new_names_},
                         {"unused_pieces", added_pieces_}};
    }

    const Document& before_;
    Outcome out_;
    std::uint32_t source_, fresh_source_;
    std::vector<PartId> fresh_;
    std::map<std::string, PartId> fresh_by_node_;
    std::set<PartId> matched_;
    std::map<PartId, PartId> old_of_fresh_;
    std::vector<std::string> missing_, new_names_;
    std::size_t replaced_ = 0, added_pieces_ = 0;
};

/// The source to update: the one named, the one of that file, or the only one there is.
Result<std::uint32_t> source_to_update(const Document& document, const Arguments& a,
                                       const std::filesystem::path& file) {
    const std::string wanted = a.has("model") ? a.text("model") : file.filename().string();
    for (std::size_t i = document.sources.size(); i-- > 0;)
        if (std::filesystem::path(document.sources[i].path).filename() == wanted)
            return static_cast<std::uint32_t>(i + 1);
    if (!a.has("model") && document.sources.size() == 1) return 1u;
    std::string names;
    for (const Source& source : document.sources)
        names += (names.empty() ? "'" : ", '") + std::filesystem::path(source.path).filename().string() + "'";
    return Error{"update.source",
                 names.empty() ? "no model has been brought in yet that could be updated"
                               : fmt::format("no part came from '{}'; models here are {}", wanted, names),
                 "model"};
}

}  // namespace

Result<Outcome> update_model(const Document& document, const Arguments& a, const OperationContext& context) {
    const std::filesystem::path file = context.folder / a.text("file");
    PIVRAK_TRY(source, source_to_update(document, a, file));
    const Source& read_as = document.sources[source - 1];
    PIVRAK_TRY(imported,
               import_model(document, file, {read_as.metres_per_unit, read_as.up}, context.progress));
    // Animation of the newer file is not taken: the project's own keys stay.
    imported.document.clips = document.clips;
    const auto fresh_source = static_cast<std::uint32_t>(imported.document.sources.size());
    return Updater(document, std::move(imported.document), source, fresh_source, std::move(imported.parts))
        .run();
}

}  // namespace pivrak
