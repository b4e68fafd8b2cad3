#include "core/io/project/project_json.h"

#include <fmt/format.h>

#include <array>
#include <cmath>

#include "core/io/project/coupling_json.h"
#include "core/io/project/field_json.h"
#include "core/io/project/material_json.h"

namespace pivrak {

namespace fields {

nlohmann::json channel_to_json(const Channel& channel) {
    nlohmann::json out{{"value", channel.value}};
    const auto end = [](double at) {
        return std::isfinite(at) ? nlohmann::json(at) : nlohmann::json("none");
    };
    if (channel.limits) out["limits"] = {end(channel.limits->min), end(channel.limits->max)};
    if (channel.locked) out["locked"] = true;
    return out;
}

}  // namespace fields

namespace {

using nlohmann::json;
using namespace fields;

json joint_to_json(const Joint& joint) {
    json channels = json::object();
    for (const ChannelKind kind : all_channel_kinds()) {
        if (!is_of_part(kind)) continue;
        const Channel& channel = joint.channel(kind);
        if (kind == ChannelKind::Size ? !joint.size : channel == Channel{}) continue;
        channels[std::string(word(kind))] = channel_to_json(channel);
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

/// `[frame, value, "smooth"]`; with handles of its own, slope and weight: `[..., {"in": [0.5, 0.3333]}]`.
json key_to_json(const Key& key) {
    json out{key.frame, key.value, word(key.interpolation)};
    json handles = json::object();
    if (key.in) handles["in"] = {key.in->slope, key.in->weight};
    if (key.out) handles["out"] = {key.out->slope, key.out->weight};
    if (!handles.empty()) out.push_back(std::move(handles));
    return out;
}

json clip_to_json(const Clip& clip) {
    json tracks = json::array();
    for (const Track& track : clip.tracks) {
        json keys = json::array();
        for (const Key& key : track.keys) keys.push_back(key_to_json(key));
        json out{{is_of_part(track.channel.kind) ? "part" : "element", track.channel.owner.value},
                 {"channel", word(track.channel.kind)},
                 {"keys", keys}};
        if (track.before != Beyond::Hold) out["before"] = word(track.before);
        if (track.after != Beyond::Hold) out["after"] = word(track.after);
        tracks.push_back(std::move(out));
    }
    json out{{"id", clip.id.value},           {"name", clip.name}, {"first_frame", clip.first_frame},
             {"last_frame", clip.last_frame}, {"loop", clip.loop}, {"tracks", tracks}};
    if (clip.rate) out["rate"] = *clip.rate;
    if (clip.place != 0) out["place"] = clip.place;
    if (clip.color) out["color"] = word(*clip.color);
    for (const Marker& marker : clip.markers)
        out["markers"].push_back({{"frame", marker.frame}, {"name", marker.name}});
    for (const ClipLayer& layer : clip.layers)
        out["layers"].push_back(
            {{"clip", layer.clip.value}, {"share", layer.share}, {"from_frame", layer.from_frame}});
    return out;
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
        if (!shape.made_of.is_null()) shapes.back()["made_of"] = shape.made_of;
        ++i;
    }
    i = 0;
    for (const Material& m : document.materials) materials.push_back(material_to_json(m));
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

}  // namespace pivrak
