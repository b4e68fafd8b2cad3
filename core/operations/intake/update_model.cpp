#include "core/operations/intake/update_model.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/words.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/io/import/import_model.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/intake/redo_cuts.h"

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
        redo_all_cuts();
        for (const Part& part : before_.parts)
            if (part.origin.source == source_) replace(part);
        add_unused();
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
                if (is_same_surface(old, fresh)) {
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

    bool is_same_surface(const Material& old, const Material& fresh) const {
        Material as_fresh = old;
        as_fresh.id = fresh.id;
        std::vector<ImageId> images;
        each_picture(fresh, [&](const std::string&, const PictureUse& use) { images.push_back(use.image); });
        std::size_t i = 0;
        bool same = true;
        each_picture(as_fresh, [&](const std::string&, PictureUse& use) {
            if (i >= images.size()) return;
            same &= same_picture(use.image, images[i]);
            use.image = images[i++];
        });
        return same && as_fresh == fresh;
    }

    bool same_picture(ImageId a, ImageId b) const {
        const Image *one = before_.images.find(a), *other = out_.document.images.find(b);
        if (!one || !other) return !one && !other;
        return one->bytes && other->bytes ? *one->bytes == *other->bytes : one->bytes == other->bytes;
    }

    /// A part of the project, or a shape joined into it, that came out of a lump of the file.
    struct Piece {
        PartId part;
        Origin origin;
    };

    /// Divides every lump of the newer file as the old one was divided.
    void redo_all_cuts() {
        std::map<std::string, std::vector<Piece>> by_node;
        for (const Part& part : before_.parts)
            for (const Origin& origin : origins_of(part.origin))
                if (origin.source == source_ && !origin.cuts.empty())
                    by_node[origin.node].push_back({part.id, origin});
        for (const auto& [node, pieces] : by_node) {
            divided_.insert(node);
            const auto fresh = fresh_by_node_.find(node);
            const Shape* lump = fresh == fresh_by_node_.end() ? nullptr : shape_of(fresh->second);
            if (!lump) continue;
            matched_.insert(fresh->second);
            std::vector<OldPiece> old;
            for (const Piece& piece : pieces) old.push_back({piece.origin.cuts, surface_of(piece)});
            RedoneCuts redone = redo_cuts(*lump->mesh, old);
            for (std::size_t i = 0; i < pieces.size(); ++i)
                if (redone.pieces[i])
                    redone_[{pieces[i].part, pieces[i].origin.cuts.dump()}] = std::move(*redone.pieces[i]);
            if (!redone.unused.empty()) unused_.push_back({pieces.front(), std::move(redone.unused)});
        }
    }

    /// The old piece in its node's coordinates, unless other shapes have been joined to it.
    std::shared_ptr<const Mesh> surface_of(const Piece& piece) const {
        const Part& part = *before_.parts.find(piece.part);
        const Shape* shape = before_.shapes.find(part.shape);
        if (!shape || !part.origin.joined.empty()) return nullptr;
        const Origin& origin = part.origin;
        if (origin.scale == 1 && origin.node_from_shape == Frame{}) return shape->mesh;
        return std::make_shared<const Mesh>(
            scaled(transformed(*shape->mesh, origin.node_from_shape), 1 / origin.scale));
    }

    const Shape* shape_of(PartId fresh) const {
        return out_.document.shapes.find(out_.document.parts.find(fresh)->shape);
    }

    /// How the node has moved in the file, at the scale its shape has now.
    static Frame moved(const Origin& old, const Origin& fresh) {
        Frame motion = (old.world_from_node.inverse() * fresh.world_from_node).normalized();
        motion.translation *= old.scale;
        return motion;
    }

    /// A shape of the newer file for one origin, in its node's coordinates, and the origin as it is now.
    struct Found {
        Mesh mesh;
        Origin origin;
        ShapeId whole;  ///< the node's own shape, when it was not divided
    };

    std::optional<Found> found(PartId part, const Origin& origin) {
        const auto fresh = fresh_by_node_.find(origin.node);
        if (origin.source != source_ || fresh == fresh_by_node_.end()) return std::nullopt;
        Found out;
        out.origin = origin;
        const Origin& node = out_.document.parts.find(fresh->second)->origin;
        out.origin.node_from_shape = (moved(origin, node).inverse() * origin.node_from_shape).normalized();
        out.origin.world_from_node = node.world_from_node;
        out.origin.stretch = node.stretch;
        out.origin.mirrored = node.mirrored;
        if (origin.cuts.empty()) {
            const Shape* shape = shape_of(fresh->second);
            if (!shape) return std::nullopt;
            out.whole = shape->id;
            out.mesh = *shape->mesh;
            return out;
        }
        const auto redone = redone_.find({part, origin.cuts.dump()});
        if (redone == redone_.end()) return std::nullopt;
        out.mesh = redone->second.mesh;
        out.origin.cuts = redone->second.cuts;
        return out;
    }

    void replace(const Part& old) {
        const auto fresh = fresh_by_node_.find(old.origin.node);
        if (fresh != fresh_by_node_.end() && old.origin.cuts.empty()) {
            matched_.insert(fresh->second);
            old_of_fresh_[fresh->second] = old.id;
        }
        if (!old.shape && (old.origin.cuts.empty() || divided_.contains(old.origin.node)))
            return replace_datum(old);
        std::vector<Found> shapes;
        for (const Origin& origin : origins_of(old.origin)) {
            auto shape = found(old.id, origin);
            if (!shape) {
                missing_.push_back(old.name +
                                   (old.origin.joined.empty() ? "" : " (joined with what is not found)"));
                return;
            }
            if (const auto node = fresh_by_node_.find(origin.node); node != fresh_by_node_.end())
                matched_.insert(node->second);
            shapes.push_back(std::move(*shape));
        }
        Part part = *out_.document.parts.find(old.id);
        if (shapes.size() == 1)
            take_over(part, std::move(shapes.front()));
        else
            take_over_joined(part, std::move(shapes));
        out_.document.parts.set(part);
        done_.insert(old.id);
        ++replaced_;
    }

    /// A part without a shape takes one only where the file now has one and it was not the one divided.
    void replace_datum(const Part& old) {
        const auto fresh = fresh_by_node_.find(old.origin.node);
        if (fresh == fresh_by_node_.end()) {
            missing_.push_back(old.name);
            return;
        }
        Part part = *out_.document.parts.find(old.id);
        const Part& node = *out_.document.parts.find(fresh->second);
        part.origin.world_from_node = node.origin.world_from_node;
        if (node.shape && !divided_.contains(old.origin.node)) {
            part.shape = sized(node.shape, part.origin.scale);
            ++replaced_;
        }
        out_.document.parts.set(part);
    }

    /// The new shape hangs in the old part as the old one did, moved as its node moved in the file.
    void take_over(Part& part, Found shape) {
        part.part_from_shape = (part.part_from_shape * shape.origin.node_from_shape.inverse()).normalized();
        shape.origin.node_from_shape = {};
        part.origin = std::move(shape.origin);
        part.shape = shape.whole ? sized(shape.whole, part.origin.scale)
                                 : made(name_of(part), at_scale(shape.mesh, part.origin.scale));
    }

    void take_over_joined(Part& part, std::vector<Found> shapes) {
        Mesh mesh;
        std::vector<Origin> origins;
        for (Found& shape : shapes) {
            append_mesh(mesh, at_scale(shape.mesh, shape.origin.scale),
                        shape.origin.node_from_shape.inverse());
            origins.push_back(std::move(shape.origin));
        }
        part.shape = made(name_of(part), std::move(mesh));
        part.origin = joined_origin(std::move(origins));
    }

    std::string name_of(const Part& part) const { return before_.shapes.find(part.shape)->name; }

    static Mesh at_scale(const Mesh& mesh, double scale) { return scale == 1 ? mesh : scaled(mesh, scale); }

    ShapeId made(const std::string& name, Mesh mesh) {
        const ShapeId id = out_.document.new_id<ShapeId>();
        out_.document.shapes.set(make_shape(id, name, std::move(mesh)));
        return id;
    }

    ShapeId sized(ShapeId id, double scale) {
        const Shape* shape = out_.document.shapes.find(id);
        if (!shape || scale == 1) return id;
        return made(shape->name, scaled(*shape->mesh, scale));
    }

    /// Pieces of the newer lumps that no part stood for become parts beside the others of their lump.
    void add_unused() {
        FreeNames names(out_.document);
        for (auto& [beside, pieces] : unused_) {
            if (!done_.contains(beside.part)) continue;
            const Part sibling = *out_.document.parts.find(beside.part);
            const std::string lump = out_.document.parts.find(fresh_by_node_.at(sibling.origin.node))->name;
            const Frame parent_from_node =
                sibling.parent_from_rest * sibling.part_from_shape * sibling.origin.node_from_shape.inverse();
            for (NewPiece& piece : pieces) {
                Part part;
                part.id = out_.document.new_id<PartId>();
                part.name = names.take(lump + " new");
                part.parent = sibling.parent;
                part.origin = sibling.origin;
                part.origin.joined.clear();
                part.origin.node_from_shape = {};
                part.origin.cuts = std::move(piece.cuts);
                const Mesh mesh = at_scale(piece.mesh, part.origin.scale);
                part.parent_from_rest.translation = mesh_bounds(mesh, parent_from_node).middle();
                part.part_from_shape = (part.parent_from_rest.inverse() * parent_from_node).normalized();
                part.shape = made(part.name, mesh);
                new_names_.push_back(part.name);
                out_.created.push_back(part.id);
                out_.document.parts.set(part);
            }
        }
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
        out_.messages.push_back(fmt::format("{} with a new shape", counted(replaced_, "part")));
        if (!missing_.empty())
            out_.messages.push_back(
                fmt::format("{} not found again and left as they are: {}", missing_.size(), list(missing_)));
        if (!new_names_.empty())
            out_.messages.push_back(
                fmt::format("{}: {}", counted(new_names_.size(), "new part"), list(new_names_)));
        out_.readings = {{"replaced", replaced_}, {"missing", missing_}, {"new", new_names_}};
    }

    const Document& before_;
    Outcome out_;
    std::uint32_t source_, fresh_source_;
    std::vector<PartId> fresh_;
    std::map<std::string, PartId> fresh_by_node_;
    std::set<PartId> matched_;
    std::map<PartId, PartId> old_of_fresh_;
    std::vector<std::string> missing_, new_names_;
    std::set<std::string> divided_;  ///< nodes of which some part is a piece
    std::map<std::pair<PartId, std::string>, NewPiece> redone_;
    std::vector<std::pair<Piece, std::vector<NewPiece>>> unused_;
    std::set<PartId> done_;
    std::size_t replaced_ = 0;
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
