#include "core/io/project/project_json.h"

#include <fmt/format.h>

#include <array>

#include "core/io/project/coupling_json.h"
#include "core/io/project/field_json.h"

namespace pivrak {
namespace {

using nlohmann::json;
using namespace fields;
constexpr int format_version = 2;

json joint_to_json(const Joint& joint) {
    json channels = json::object();
    for (const ChannelKind kind : all_channel_kinds()) {
        const Channel& channel = joint.channel(kind);
        if (channel == Channel{}) continue;
        json one{{"value", channel.value}};
        if (channel.limits) one["limits"] = {channel.limits->min, channel.limits->max};
        if (channel.locked) one["locked"] = true;
        channels[std::string(word(kind))] = one;
    }
    json out{{"kind", word(joint.kind)}, {"axis", axis_word(joint.axis)}};
    if (!channels.empty()) out["channels"] = channels;
    return out;
}

json frame_to_json(const Frame& frame) {
    const Quat& q = frame.rotation;
    const Vec3& t = frame.translation;
    return {t.x(), t.y(), t.z(), q.w(), q.x(), q.y(), q.z()};
}

json origin_to_json(const Origin& origin) {
    json out{
        {"source", origin.source}, {"node", origin.node}, {"frame", frame_to_json(origin.world_from_node)}};
    if (origin.scale != 1) out["scale"] = origin.scale;
    if (origin.stretch != Vec3(1, 1, 1))
        out["stretch"] = {origin.stretch.x(), origin.stretch.y(), origin.stretch.z()};
    if (origin.mirrored) out["mirrored"] = true;
    if (!origin.cuts.empty()) out["cuts"] = origin.cuts;
    if (!(origin.node_from_shape == Frame{})) out["node_from_shape"] = frame_to_json(origin.node_from_shape);
    for (const Origin& joined : origin.joined) out["joined"].push_back(origin_to_json(joined));
    return out;
}

json control_to_json(const ControlSymbol& control) {
    return {{"form", word(control.form)},
            {"color", word(control.color)},
            {"axis", axis_word(control.axis)},
            {"middle", vec_to_json(control.middle_m)},
            {"half", vec_to_json(control.half_m)}};
}

json naming_to_json(const NamingConvention& naming) {
    return {{"letters", word(naming.letters)},
            {"separator", word(naming.separator)},
            {"sides", word(naming.sides)},
            {"plain", naming.plain}};
}

json part_to_json(const Part& part, int node, int shape_node) {
    json out{{"id", part.id.value}, {"node", node}};
    if (part.shape) out["shape"] = part.shape.value;
    if (shape_node >= 0) out["shape_node"] = shape_node;
    if (part.joint != Joint{}) out["joint"] = joint_to_json(part.joint);
    if (!part.shown) out["shown"] = false;
    if (part.locked) out["locked"] = true;
    if (part.control) out["control"] = control_to_json(*part.control);
#define PIVRAK_FACET(Type, facet) \
    if (part.facet) out[#facet] = to_json(*part.facet);
#include "core/elements/kinds.def"
    if (part.chain) out["chain"] = part.chain.value;
    if (part.origin.source) out["origin"] = origin_to_json(part.origin);
    return with_unknown(std::move(out), part.unknown);
}

json clip_to_json(const Clip& clip) {
    json tracks = json::array();
    for (const Track& track : clip.tracks) {
        json keys = json::array();
        for (const Key& key : track.keys) keys.push_back({key.frame, key.value, word(key.interpolation)});
        tracks.push_back(
            {{"part", track.channel.part.value}, {"channel", word(track.channel.kind)}, {"keys", keys}});
    }
    return {{"id", clip.id.value},           {"name", clip.name}, {"first_frame", clip.first_frame},
            {"last_frame", clip.last_frame}, {"loop", clip.loop}, {"tracks", tracks}};
}

}  // namespace

json project_to_json(const Document& document, const GltfIndices& indices) {
    json parts = json::array(), shapes = json::array(), materials = json::array(), images = json::array();
    json couplings = json::array(), clips = json::array(), sources = json::array(), sets = json::array();
    std::size_t i = 0;
    for (const Part& part : document.parts) {
        parts.push_back(part_to_json(part, indices.nodes[i], indices.shape_nodes[i]));
        ++i;
    }
    i = 0;
    for (const Shape& shape : document.shapes) {
        shapes.push_back({{"id", shape.id.value}, {"name", shape.name}, {"mesh", indices.meshes[i]}});
        if (!indices.groups[i].empty()) shapes.back()["groups"] = indices.groups[i];
        ++i;
    }
    i = 0;
    for (const Material& m : document.materials)
        materials.push_back({{"id", m.id.value},
                             {"name", m.name},
                             {"base_color", m.base_color},
                             {"metallic", m.metallic},
                             {"roughness", m.roughness},
                             {"image", m.base_color_image.value},
                             {"double_sided", m.double_sided}});
    for (const Image& image : document.images)
        images.push_back({{"id", image.id.value},
                          {"name", image.name},
                          {"mime_type", image.mime_type},
                          {"view", indices.images[i++]}});
    for (const Coupling& coupling : document.couplings) couplings.push_back(coupling_to_json(coupling));
    for (const Clip& clip : document.clips) clips.push_back(clip_to_json(clip));
    for (const Source& source : document.sources)
        sources.push_back({{"path", source.path},
                           {"metres_per_unit", source.metres_per_unit},
                           {"up", std::string(1, source.up)}});
    for (const PartSet& set : document.sets) {
        json members = json::array();
        for (const PartId part : set.parts) members.push_back(part.value);
        sets.push_back({{"id", set.id.value}, {"name", set.name}, {"parts", members}});
    }
    json out{{"version", format_version},
             {"length_unit", symbol(document.settings.length_unit)},
             {"frame_rate", document.settings.frame_rate},
             {"next_id", document.next_id},
             {"parts", parts},
             {"shapes", shapes},
             {"materials", materials},
             {"images", images},
             {"couplings", couplings},
             {"clips", clips},
             {"sources", sources},
             {"sets", sets}};
#define PIVRAK_TABLE(Type, table) \
    for (const Type& element : document.table) out[#table].push_back(to_json(element));
#include "core/elements/kinds.def"
    if (!document.settings.naming.asks_nothing()) out["naming"] = naming_to_json(document.settings.naming);
    return with_unknown(std::move(out), document.unknown);
}

namespace {

Joint joint_from_json(const json& entry) {
    Joint joint;
    const auto kind = joint_kind_from(entry.at("kind").get<std::string>());
    const auto axis = axis_from(entry.at("axis").get<std::string>());
    if (!kind || !axis) throw Damage{"a joint has an unknown kind or axis"};
    joint.kind = *kind;
    joint.axis = *axis;
    const auto limits_of = [](const json& pair) { return Limits{finite(pair.at(0)), finite(pair.at(1))}; };
    // Format 1 had hinges only.
    if (entry.contains("turn_rad")) joint.turn.value = finite(entry["turn_rad"]);
    if (entry.contains("limits_rad")) joint.turn.limits = limits_of(entry["limits_rad"]);
    const json channels = entry.value("channels", json::object());
    for (const auto& [name, one] : channels.items()) {
        const auto channel_kind = channel_kind_from(name);
        if (!channel_kind) throw Damage{"a joint has an unknown channel"};
        Channel channel{finite(one.at("value")), std::nullopt, one.value("locked", false)};
        if (one.contains("limits")) channel.limits = limits_of(one["limits"]);
        joint.set_channel(*channel_kind, channel);
    }
    return joint;
}

Frame frame_from_json(const json& n) {
    const Frame frame{Quat(finite(n.at(3)), finite(n.at(4)), finite(n.at(5)), finite(n.at(6))),
                      Vec3(finite(n.at(0)), finite(n.at(1)), finite(n.at(2)))};
    if (std::abs(frame.rotation.norm() - 1) > 1e-6) throw Damage{"a frame is not rigid"};
    return frame;
}

/// The steps by which a shape was split off.
json cuts_from_json(const json& list) {
    json cuts = json::array();
    each_entry(list, "cuts", [&](const json& cut) {
        json kept{{"division", without_nothing(cut.at("division"))},
                  {"label", whole<std::uint32_t>(cut.at("label"))}};
        if (!kept["division"].is_object()) throw Damage{"a cut says not how it was made"};
        if (cut.contains("box")) {
            const Vec3 low = vec_from_json(cut["box"].at(0)), high = vec_from_json(cut["box"].at(1));
            kept["box"] = {vec_to_json(low), vec_to_json(high)};
        }
        cuts.push_back(std::move(kept));
    });
    return cuts;
}

Origin origin_from_json(const json& entry) {
    Origin origin;
    origin.source = whole<std::uint32_t>(entry.at("source"));
    origin.node = entry.at("node").get<std::string>();
    origin.world_from_node = frame_from_json(entry.at("frame"));
    origin.scale = entry.contains("scale") ? finite(entry["scale"]) : 1;
    if (entry.contains("stretch"))
        for (int k = 0; k < 3; ++k)
            origin.stretch[k] = finite(entry["stretch"].at(static_cast<std::size_t>(k)));
    origin.mirrored = entry.value("mirrored", false);
    origin.cuts = cuts_from_json(entry.value("cuts", json()));
    if (entry.contains("node_from_shape")) origin.node_from_shape = frame_from_json(entry["node_from_shape"]);
    if (entry.contains("joined"))
        for (const json& joined : entry["joined"]) origin.joined.push_back(origin_from_json(joined));
    return origin;
}

ControlSymbol control_from_json(const json& entry) {
    const auto form = control_form_from(entry.at("form").get<std::string>());
    const auto color = control_color_from(entry.at("color").get<std::string>());
    const auto axis = axis_from(entry.at("axis").get<std::string>());
    if (!form || !color || !axis) throw Damage{"a control has an unknown form, colour or axis"};
    const ControlSymbol control{*form, *color, *axis, vec_from_json(entry.at("middle")),
                                vec_from_json(entry.at("half"))};
    if (!(control.half_m.minCoeff() > 0)) throw Damage{"a control has no size"};
    return control;
}

NamingConvention naming_from_json(const json& entry) {
    const auto letters = name_letters_from(entry.at("letters").get<std::string>());
    const auto separator = name_separator_from(entry.at("separator").get<std::string>());
    const auto sides = side_tags_from(entry.at("sides").get<std::string>());
    if (!letters || !separator || !sides) throw Damage{"the naming convention has an unknown word"};
    return {*letters, *separator, *sides, entry.at("plain").get<bool>()};
}

Part part_from_json(const json& entry) {
    Part part;
    part.id = id_of<PartId>(entry);
    part.shape = id_if<ShapeId>(entry, "shape");
    if (entry.contains("joint")) part.joint = joint_from_json(entry["joint"]);
    part.shown = entry.value("shown", true);
    part.locked = entry.value("locked", false);
    if (entry.contains("origin")) part.origin = origin_from_json(entry["origin"]);
    if (entry.contains("control")) part.control = control_from_json(entry["control"]);
#define PIVRAK_FACET(Type, facet) \
    if (entry.contains(#facet)) part.facet = from_json<Type>(entry[#facet]);
#include "core/elements/kinds.def"
    part.chain = id_if<ChainId>(entry, "chain");
    part.unknown = unknown_fields(entry, {
                                             "id",
                                             "node",
                                             "shape",
                                             "shape_node",
                                             "joint",
                                             "shown",
                                             "locked",
                                             "control",
                                             "chain",
                                             "origin",
#define PIVRAK_FACET(Type, facet) #facet,
#include "core/elements/kinds.def"
                                         });
    return part;
}

Material material_from_json(const json& entry) {
    Material m;
    m.id = id_of<MaterialId>(entry);
    m.name = entry.at("name").get<std::string>();
    for (std::size_t k = 0; k < 4; ++k) m.base_color[k] = finite(entry.at("base_color").at(k));
    m.metallic = finite(entry.at("metallic"));
    m.roughness = finite(entry.at("roughness"));
    m.base_color_image = id_if<ImageId>(entry, "image");
    m.double_sided = entry.at("double_sided").get<bool>();
    return m;
}

Track track_from_json(const json& entry) {
    const auto kind = channel_kind_from(entry.value("channel", "turn"));
    if (!kind) throw Damage{"keys stand on an unknown channel"};
    Track track{{id_of<PartId>(entry, "part"), *kind}, {}};
    for (const json& key : entry.at("keys")) {
        const auto interpolation = interpolation_from(key.at(2).get<std::string>());
        if (!interpolation) throw Damage{"a key has an unknown interpolation"};
        track.keys.push_back({finite(key.at(0)), finite(key.at(1)), *interpolation});
        if (track.keys.size() > 1 && !(track.keys[track.keys.size() - 2].frame < track.keys.back().frame))
            throw Damage{"keys are not in rising order of frames"};
    }
    return track;
}

Clip clip_from_json(const json& entry) {
    Clip clip;
    clip.id = id_of<ClipId>(entry);
    clip.name = entry.at("name").get<std::string>();
    clip.first_frame = finite(entry.at("first_frame"));
    clip.last_frame = finite(entry.at("last_frame"));
    if (!(clip.first_frame < clip.last_frame) || clip.last_frame - clip.first_frame > most_clip_frames ||
        std::abs(clip.first_frame) > farthest_frame || std::abs(clip.last_frame) > farthest_frame)
        throw Damage{fmt::format("clip '{}' runs from frame {} to {}: out of range", clip.name,
                                 clip.first_frame, clip.last_frame)};
    clip.loop = entry.at("loop").get<bool>();
    each_entry(entry.at("tracks"), "tracks", [&](const json& track) {
        clip.tracks.push_back(track_from_json(track));
        if (clip.tracks.size() > 1 &&
            !(clip.tracks[clip.tracks.size() - 2].channel < clip.tracks.back().channel))
            throw Damage{"the tracks of a clip are out of order"};
    });
    return clip;
}

PartSet set_from_json(const json& entry) {
    PartSet set{id_of<SetId>(entry), entry.at("name").get<std::string>(), {}};
    for (const json& part : entry.at("parts")) set.parts.push_back(PartId{whole<std::uint64_t>(part)});
    return set;
}

template <class T>
void put(SharedTable<T>& table, T entry, const Document& document) {
    if (!entry.id || entry.id.value >= document.next_id || table.contains(entry.id))
        throw Damage{fmt::format("id {} is used twice or out of range", entry.id.value)};
    // What is listed beside them goes by their order.
    if (table.size() > 0 && !(table.last().id < entry.id))
        throw Damage{fmt::format("id {} is out of order: ids rise", entry.id.value)};
    table.set(std::move(entry));
}

void read_settings(const json& root, Document& document) {
    const auto unit = length_unit_from(root.at("length_unit").get<std::string>());
    if (!unit) throw Damage{unit.error().message};
    document.settings.length_unit = *unit;
    document.settings.frame_rate = finite(root.at("frame_rate"));
    if (!(document.settings.frame_rate > 0) || document.settings.frame_rate > 1e5)
        throw Damage{fmt::format("the frame rate is {}", document.settings.frame_rate)};
    if (root.contains("naming")) document.settings.naming = naming_from_json(root["naming"]);
    document.next_id = whole<std::uint64_t>(root.at("next_id"));
    for (const json& source : root.at("sources")) {
        const std::string up = source.value("up", "y");
        document.sources.push_back(
            {source.at("path").get<std::string>(),
             source.contains("metres_per_unit") ? finite(source["metres_per_unit"]) : 1,
             up.empty() ? 'y' : up.front()});
    }
    document.unknown = unknown_fields(root, {
                                                "version",
                                                "length_unit",
                                                "frame_rate",
                                                "next_id",
                                                "parts",
                                                "shapes",
                                                "materials",
                                                "images",
                                                "couplings",
                                                "clips",
                                                "sources",
                                                "sets",
                                                "naming",
                                                "material_of_gltf",
#define PIVRAK_TABLE(Type, table) #table,
#include "core/elements/kinds.def"
                                            });
}

ProjectContents read_contents(const json& root) {
    ProjectContents out;
    read_settings(root, out.document);
    each_entry(root.at("parts"), "parts", [&](const json& entry) {
        put(out.document.parts, part_from_json(entry), out.document);
        out.indices.nodes.push_back(whole<int>(entry.at("node")));
        out.indices.shape_nodes.push_back(whole_at(entry, "shape_node", -1));
    });
    each_entry(root.at("shapes"), "shapes", [&](const json& entry) {
        Shape shape;
        shape.id = id_of<ShapeId>(entry);
        shape.name = entry.at("name").get<std::string>();
        put(out.document.shapes, shape, out.document);
        out.indices.meshes.push_back(whole<int>(entry.at("mesh")));
        out.indices.groups.push_back(entry.value("groups", std::vector<std::string>{}));
    });
    const auto read = [&](const char* name, auto& table, auto from_json, bool needed) {
        if (!needed && !root.contains(name)) return;
        each_entry(root.at(name), name,
                   [&](const json& entry) { put(table, from_json(entry), out.document); });
    };
    read("materials", out.document.materials, material_from_json, true);
    each_entry(root.value("material_of_gltf", json()), "material_of_gltf", [&](const json& number) {
        out.indices.material_of.push_back(MaterialId{number.is_null() ? 0 : whole<std::uint64_t>(number)});
    });
    each_entry(root.at("images"), "images", [&](const json& entry) {
        put(out.document.images,
            Image{id_of<ImageId>(entry), entry.at("name").get<std::string>(),
                  entry.at("mime_type").get<std::string>(), nullptr},
            out.document);
        out.indices.images.push_back(whole<int>(entry.at("view")));
    });
    read("couplings", out.document.couplings, coupling_from_json, true);
    read("clips", out.document.clips, clip_from_json, true);
    if (out.document.clips.empty()) throw Damage{"there is no clip"};
    read("sets", out.document.sets, set_from_json, false);
#define PIVRAK_TABLE(Type, table) read(#table, out.document.table, from_json<Type>, false);
#include "core/elements/kinds.def"
    return out;
}

}  // namespace

Result<ProjectContents> project_from_json(const json& root) {
    try {
        const int version = whole<int>(root.at("version"));
        if (version > format_version)
            return Error{
                "project.newer",
                fmt::format("the project was saved by a newer version (format {}, this one reads {})",
                            version, format_version),
                ""};
        return read_contents(root);
    } catch (const Damage& damage) {
        return Error{"project.damaged", "the project's rig data is damaged: " + damage.what, ""};
    } catch (const json::exception& problem) {
        return Error{"project.damaged", fmt::format("the project's rig data is damaged: {}", problem.what()),
                     ""};
    }
}

}  // namespace pivrak
