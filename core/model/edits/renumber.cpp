#include "core/model/edits/renumber.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <memory>
#include <set>

#include "core/model/part_fields.h"

namespace pivrak {
namespace {

struct Renumber : DeepFields<Renumber> {
    std::uint64_t by;
    explicit Renumber(std::uint64_t more) : by(more) {}

    template <class AnyId>
    void id(const char*, AnyId& id) {
        move(id);
    }
    template <class AnyId>
    void id_if(const char*, AnyId& id) {
        move(id);
    }
    void channel(const char*, ChannelRef& channel, Role) {
        if (channel.owner.value != 0) channel.owner.value += by;
    }
    void part(const char*, PartId& part, Role) { move(part); }
    void part_if(const char*, PartId& part, Role) { move(part); }
    void parts(const char*, std::vector<PartId>& parts, Role) {
        for (PartId& part : parts) move(part);
    }

    template <class AnyId>
    void move(AnyId& id) const {
        if (id) id.value += by;
    }
    /// All entries of a table, each changed and put back under its new id.
    template <class Entry, class Change>
    void table(SharedTable<Entry>& table, Change change) const {
        SharedTable<Entry> moved;
        for (Entry entry : table) {
            move(entry.id);
            change(entry);
            moved.set(std::move(entry));
        }
        table = std::move(moved);
    }
};

void renumber_part(Part& part, Renumber& ids) {
    ids.move(part.parent);
    ids.move(part.shape);
    ids.move(part.chain);
#define PIVRAK_FACET(Type, facet) \
    if (part.facet) Type::fields(*part.facet, ids);
#include "core/elements/kinds.def"
}

void renumber_clip(Clip& clip, Renumber& ids) {
    for (Track& track : clip.tracks) ids.channel("", track.channel, Role::Held);
    for (ClipLayer& layer : clip.layers) ids.move(layer.clip);
}

/// Shared meshes name materials in their runs.
void renumber_shape(Shape& shape, Renumber& ids, std::map<const Mesh*, std::shared_ptr<const Mesh>>& known) {
    auto& moved = known[shape.mesh.get()];
    if (!moved) {
        Mesh mesh = *shape.mesh;
        for (Submesh& run : mesh.submeshes) ids.move(run.material);
        moved = std::make_shared<const Mesh>(std::move(mesh));
    }
    shape.mesh = moved;
}

}  // namespace

void renumber(Document& document, std::uint64_t by) {
    Renumber ids(by);
    std::map<const Mesh*, std::shared_ptr<const Mesh>> meshes;
    ids.table(document.parts, [&](Part& part) { renumber_part(part, ids); });
    ids.table(document.shapes, [&](Shape& shape) { renumber_shape(shape, ids, meshes); });
    ids.table(document.materials, [&](Material& material) {
        each_picture(material, [&](const std::string&, PictureUse& use) { ids.move(use.image); });
    });
    ids.table(document.images, [](Image&) {});
    ids.table(document.couplings, [&](Coupling& coupling) {
        std::visit([&](auto& kind) { std::decay_t<decltype(kind)>::fields(kind, ids); }, coupling.what);
    });
    ids.table(document.clips, [&](Clip& clip) { renumber_clip(clip, ids); });
    ids.table(document.sets, [&](PartSet& set) {
        for (PartId& part : set.parts) ids.move(part);
    });
    // An element's own id is one of its fields.
#define PIVRAK_TABLE(Type, table)             \
    {                                         \
        SharedTable<Type> moved;              \
        for (Type element : document.table) { \
            Type::fields(element, ids);       \
            moved.set(std::move(element));    \
        }                                     \
        document.table = std::move(moved);    \
    }
#include "core/elements/kinds.def"
    document.next_id += by;
}

namespace {

template <class Entry>
void add_named(SharedTable<Entry>& table, const SharedTable<Entry>& added,
               std::vector<std::string>& renamed) {
    std::set<std::string> taken;
    for (const Entry& entry : table) taken.insert(entry.name);
    for (Entry entry : added) {
        const std::string wanted = entry.name;
        for (int n = 2; taken.contains(entry.name); ++n) entry.name = fmt::format("{} {}", wanted, n);
        if (entry.name != wanted) renamed.push_back(fmt::format("'{}' is '{}' now", wanted, entry.name));
        taken.insert(entry.name);
        table.set(std::move(entry));
    }
}

void shift_sources(Origin& origin, std::uint32_t by) {
    if (origin.source > 0) origin.source += by;
    for (Origin& joined : origin.joined) shift_sources(joined, by);
}

/// Clips that nothing moves in stay behind; of another rate they keep it.
SharedTable<Clip> clips_of(const Document& added, double rate) {
    SharedTable<Clip> clips;
    std::set<ClipId> added_to_others;
    for (const Clip& clip : added.clips)
        for (const ClipLayer& layer : clip.layers) added_to_others.insert(layer.clip);
    for (Clip clip : added.clips) {
        if (clip.tracks.empty() && clip.layers.empty() && !added_to_others.contains(clip.id)) continue;
        if (frame_rate_of(added, clip) != rate)
            clip.rate = frame_rate_of(added, clip);
        else
            clip.rate.reset();
        clips.set(std::move(clip));
    }
    return clips;
}

}  // namespace

std::vector<std::string> add_document(Document& document, const Document& added) {
    std::vector<std::string> renamed;
    const auto sources = static_cast<std::uint32_t>(document.sources.size());
    for (Part part : added.parts) {
        shift_sources(part.origin, sources);
        document.parts.set(std::move(part));
    }
    document.sources.insert(document.sources.end(), added.sources.begin(), added.sources.end());
    for (const Shape& shape : added.shapes) document.shapes.set(shape);
    for (const Material& material : added.materials) document.materials.set(material);
    for (const Image& image : added.images) document.images.set(image);
    for (const Coupling& coupling : added.couplings) document.couplings.set(coupling);
    add_named(document.sets, added.sets, renamed);
    add_named(document.clips, clips_of(added, document.settings.frame_rate), renamed);
#define PIVRAK_TABLE(Type, table) add_named(document.table, added.table, renamed);
#include "core/elements/kinds.def"
    document.next_id = std::max(document.next_id, added.next_id);
    return renamed;
}

}  // namespace pivrak
