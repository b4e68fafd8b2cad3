// What a project file says of the rig, read.
#include <fmt/format.h>

#include <array>
#include <cmath>
#include <limits>

#include "core/io/project/coupling_json.h"
#include "core/io/project/field_json.h"
#include "core/io/project/material_json.h"
#include "core/io/project/project_json.h"

namespace pivrak {
namespace {

Limits limits_of(const nlohmann::json& pair) {
    constexpr double open = std::numeric_limits<double>::infinity();
    return {pair.at(0) == "none" ? -open : fields::finite(pair.at(0)),
            pair.at(1) == "none" ? open : fields::finite(pair.at(1))};
}

}  // namespace

namespace fields {

Channel channel_from_json(const nlohmann::json& entry) {
    Channel channel{finite(entry.at("value")), std::nullopt, entry.value("locked", false)};
    if (entry.contains("limits")) channel.limits = limits_of(entry["limits"]);
    return channel;
}

}  // namespace fields

namespace {

using nlohmann::json;
using namespace fields;

Joint joint_from_json(const json& entry) {
    Joint joint;
    const auto kind = joint_kind_from(entry.at("kind").get<std::string>());
    const auto axis = axis_from(entry.at("axis").get<std::string>());
    if (!kind || !axis) throw Damage{"a joint has an unknown kind or axis"};
    joint.kind = *kind;
    joint.axis = *axis;
    // Format 1 had hinges only.
    if (entry.contains("turn_rad")) joint.turn.value = finite(entry["turn_rad"]);
    if (entry.contains("limits_rad")) joint.turn.limits = limits_of(entry["limits_rad"]);
    const json channels = entry.value("channels", json::object());
    for (const auto& [name, one] : channels.items()) {
        const auto channel_kind = channel_kind_from(name);
        if (!channel_kind || !is_of_part(*channel_kind)) throw Damage{"a joint has an unknown channel"};
        const Channel channel = channel_from_json(one);
        const Limits limits = channel.limits.value_or(Limits{channel.value, channel.value}),
                     range = range_of(*channel_kind);
        for (const double number : {channel.value, limits.min, limits.max})
            if (std::isfinite(number) && range.clamp(number) != number)
                throw Damage{fmt::format("the {} of a joint is out of range", channel_word(*channel_kind))};
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

/// How a stand-in was made; nothing where that is in no form that could be read.
json made_of(const json& shape) {
    const auto made = shape.find("made_of");
    if (made == shape.end() || !made->is_object()) return {};
    const auto kind = made->find("kind"), along = made->find("lies_along");
    if (kind == made->end() || !kind->is_string()) return {};
    if (along != made->end() && *along != "x" && *along != "y" && *along != "z") return {};
    return *made;
}

std::optional<Handle> handle_from_json(const json& key, const char* side) {
    if (key.size() < 4 || !key.at(3).contains(side)) return std::nullopt;
    const json& given = key.at(3).at(side);
    const Handle handle{finite(given.at(0)), finite(given.at(1))};
    if (!(handle.weight > 0 && handle.weight <= most_weight))
        throw Damage{"a key's tangent reaches nowhere, or too far"};
    return handle;
}

Beyond beyond_from_json(const json& entry, const char* name) {
    const auto beyond = beyond_from(entry.value(name, "hold"));
    if (!beyond) throw Damage{"it is unknown what keys do beyond their ends"};
    return *beyond;
}

Track track_from_json(const json& entry) {
    const auto kind = channel_kind_from(entry.value("channel", "turn"));
    if (!kind) throw Damage{"keys stand on an unknown channel"};
    Track track{{id_of<PartId>(entry, is_of_part(*kind) ? "part" : "element"), *kind}, {}};
    for (const json& key : entry.at("keys")) {
        const auto interpolation = interpolation_from(key.at(2).get<std::string>());
        if (!interpolation) throw Damage{"a key has an unknown interpolation"};
        track.keys.push_back({finite(key.at(0)), finite(key.at(1)), *interpolation,
                              handle_from_json(key, "in"), handle_from_json(key, "out")});
        if (track.keys.size() > 1 && !(track.keys[track.keys.size() - 2].frame < track.keys.back().frame))
            throw Damage{"keys are not in rising order of frames"};
    }
    track.before = beyond_from_json(entry, "before");
    track.after = beyond_from_json(entry, "after");
    return track;
}

/// What a clip has beside its keys.
void read_extras(const json& entry, Clip& clip) {
    if (entry.contains("rate")) clip.rate = finite(entry.at("rate"));
    if (clip.rate && !(*clip.rate > 0 && *clip.rate <= 1e5))
        throw Damage{fmt::format("the frame rate of clip '{}' is {}", clip.name, *clip.rate)};
    clip.place = entry.value("place", 0);
    if (entry.contains("color")) {
        clip.color = control_color_from(entry.at("color").get<std::string>());
        if (!clip.color) throw Damage{fmt::format("clip '{}' has an unknown colour", clip.name)};
    }
    for (const json& marker : entry.value("markers", json::array())) {
        clip.markers.push_back({finite(marker.at("frame")), marker.at("name").get<std::string>()});
        if (clip.markers.size() > 1 && !(clip.markers.end()[-2].frame < clip.markers.back().frame))
            throw Damage{fmt::format("the markers of clip '{}' are out of order", clip.name)};
    }
    for (const json& layer : entry.value("layers", json::array()))
        clip.layers.push_back(
            {id_of<ClipId>(layer, "clip"), finite(layer.at("share")), finite(layer.at("from_frame"))});
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
    read_extras(entry, clip);
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
        shape.made_of = made_of(entry);
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

namespace {

/// Frames of vehicles had other names before format 4.
json with_frames_renamed(json root) {
    constexpr std::pair<const char*, const char*> names[] = {
        {"root", "place"}, {"skid", "yaw"}, {"follow", "ground_level"}};
    if (!root.contains("vehicles") || !root["vehicles"].is_array()) return root;
    for (json& vehicle : root["vehicles"])
        for (const auto& [before, now] : names)
            if (vehicle.is_object() && vehicle.contains(before) && !vehicle.contains(now)) {
                vehicle[now] = std::move(vehicle[before]);
                vehicle.erase(before);
            }
    return root;
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
        return version < 4 ? read_contents(with_frames_renamed(root)) : read_contents(root);
    } catch (const Damage& damage) {
        return Error{"project.damaged", "the project's rig data is damaged: " + damage.what, ""};
    } catch (const json::exception& problem) {
        return Error{"project.damaged", fmt::format("the project's rig data is damaged: {}", problem.what()),
                     ""};
    }
}

}  // namespace pivrak
