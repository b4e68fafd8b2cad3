#include "core/model/document.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/model/element_channels.h"

namespace pivrak {

Document empty_document() {
    Document document;
    Clip clip;
    clip.id = document.new_id<ClipId>();
    clip.name = "clip 1";
    document.clips.set(clip);
    return document;
}

Tree::Tree(const Document& document) {
    for (const Part& part : document.parts) children_[part.parent].push_back(part.id);
}

std::span<const PartId> Tree::children(PartId parent) const {
    const auto found = children_.find(parent);
    return found == children_.end() ? std::span<const PartId>{} : std::span<const PartId>(found->second);
}

std::vector<PartId> Tree::branch(PartId top) const {
    std::vector<PartId> order, pending{top};
    while (!pending.empty()) {
        const PartId part = pending.back();
        pending.pop_back();
        if (part) order.push_back(part);
        const auto below = children(part);
        pending.insert(pending.end(), below.rbegin(), below.rend());
    }
    return order;
}

std::vector<PartId> Tree::all() const {
    return branch(PartId{});
}

Frame world_from_rest(const Document& document, PartId part) {
    Frame world;
    for (const Part* p = document.parts.find(part); p; p = document.parts.find(p->parent))
        world = p->parent_from_rest * world;
    return world;
}

bool is_below(const Document& document, PartId part, PartId above) {
    for (const Part* p = document.parts.find(part); p; p = document.parts.find(p->parent))
        if (p->id == above) return true;
    return false;
}

const std::string& name_of(const Document& document, PartId part) {
    return document.parts.find(part)->name;
}

std::string part_path(const Document& document, PartId part) {
    std::vector<std::string_view> names;
    for (const Part* p = document.parts.find(part); p; p = document.parts.find(p->parent))
        names.push_back(p->name);
    std::reverse(names.begin(), names.end());
    return fmt::format("{}", fmt::join(names, "/"));
}

namespace {

/// Number of single-letter changes between two words (Levenshtein 1966).
std::size_t edit_distance(std::string_view a, std::string_view b) {
    std::vector<std::size_t> row(b.size() + 1);
    for (std::size_t j = 0; j <= b.size(); ++j) row[j] = j;
    for (std::size_t i = 1; i <= a.size(); ++i) {
        std::size_t diagonal = row[0]++;
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t change = diagonal + (a[i - 1] == b[j - 1] ? 0 : 1);
            diagonal = row[j];
            row[j] = std::min({row[j] + 1, row[j - 1] + 1, change});
        }
    }
    return row.back();
}

std::string nearest_name(const Document& document, std::string_view name) {
    std::size_t best = std::max<std::size_t>(2, name.size() / 3) + 1;
    std::string nearest;
    for (const Part& part : document.parts) {
        if (part.name.size() > name.size() + best || name.size() > part.name.size() + best) continue;
        const std::size_t distance = edit_distance(part.name, name);
        if (distance >= best) continue;
        best = distance;
        nearest = part.name;
    }
    return nearest;
}

bool path_ends_with(std::string_view path, std::string_view end) {
    if (!path.ends_with(end)) return false;
    return path.size() == end.size() || path[path.size() - end.size() - 1] == '/';
}

}  // namespace

Result<PartId> find_part(const Document& document, std::string_view wanted) {
    const std::size_t slash = wanted.rfind('/');
    const std::string_view last = slash == std::string_view::npos ? wanted : wanted.substr(slash + 1);
    std::vector<PartId> found;
    for (const Part& part : document.parts) {
        if (part.name == wanted)
            found.push_back(part.id);
        else if (slash != std::string_view::npos && part.name == last &&
                 path_ends_with(part_path(document, part.id), wanted))
            found.push_back(part.id);
    }
    if (found.size() == 1) return found.front();
    if (found.empty()) {
        const std::string near = nearest_name(document, last);
        return Error{"part.unknown",
                     near.empty() ? fmt::format("there is no part '{}'", wanted)
                                  : fmt::format("there is no part '{}'; did you mean '{}'?", wanted, near),
                     std::string(wanted)};
    }
    std::string where;
    for (std::size_t i = 0; i < std::min<std::size_t>(found.size(), 3); ++i)
        where += (i ? ", '" : "'") + part_path(document, found[i]) + "'";
    return Error{"part.ambiguous",
                 fmt::format("{} parts are called '{}': {}; give a longer path", found.size(), wanted, where),
                 std::string(wanted)};
}

std::string_view channel_word(ChannelKind kind) {
    static constexpr std::array<std::string_view, 19> words{
        "turn", "shift", "shift x", "shift y", "shift z", "turn x", "turn y", "turn z", "along", "travel",
        "size", "slack", "blend",   "stretch", "length",  "angle",  "count",  "bend",   "speed"};
    return words[static_cast<std::size_t>(kind)];
}

std::string channel_name(const Document& document, ChannelRef channel) {
    return fmt::format("{} {}", owner_name(document, channel.owner), channel_word(channel.kind));
}

Dimension dimension_of(ChannelKind kind) {
    if (has_no_unit(kind) || kind == ChannelKind::Bend || kind == ChannelKind::Speed) return Dimension::None;
    return is_turn(kind) ? Dimension::Angle : Dimension::Length;
}

std::string format_channel(ChannelKind kind, double value, LengthUnit unit, int angle_decimals) {
    switch (dimension_of(kind)) {
        case Dimension::Angle:
            return format_angle(value, angle_decimals);
        case Dimension::Length:
            return format_length(value, unit);
        default:
            return fmt::format("{:.4g}{}", value,
                               kind == ChannelKind::Bend    ? " per m"
                               : kind == ChannelKind::Speed ? " m/s"
                                                            : "");
    }
}

std::string format_channel(ChannelKind kind, double value, const Document& document, int angle_decimals) {
    return format_channel(kind, value, document.settings.length_unit, angle_decimals);
}

std::string format_length(double metres, const Document& document) {
    return format_length(metres, document.settings.length_unit);
}

const Clip& clip_or_first(const Document& document, ClipId id) {
    const Clip* clip = document.clips.find(id);
    if (clip) return *clip;
    const Clip* first = &*document.clips.begin();
    for (const Clip& one : document.clips)
        if (one.place < first->place) first = &one;
    return *first;
}

std::vector<const Clip*> clips_in_order(const Document& document) {
    std::vector<const Clip*> clips;
    for (const Clip& clip : document.clips) clips.push_back(&clip);
    std::ranges::stable_sort(clips, {}, &Clip::place);
    return clips;
}

double frame_rate_of(const Document& document, const Clip& clip) {
    return clip.rate.value_or(document.settings.frame_rate);
}

namespace {

bool comes_back(const Document& document, const Clip& clip, std::vector<ClipId>& above) {
    if (std::ranges::find(above, clip.id) != above.end()) return true;
    above.push_back(clip.id);
    const bool back = std::ranges::any_of(clip.layers, [&](const ClipLayer& layer) {
        const Clip* other = document.clips.find(layer.clip);
        return other && comes_back(document, *other, above);
    });
    above.pop_back();
    return back;
}

}  // namespace

std::optional<std::string> layer_circle(const Document& document) {
    std::vector<ClipId> above;
    for (const Clip& clip : document.clips)
        if (comes_back(document, clip, above)) return clip.name;
    return std::nullopt;
}

const Coupling* coupling_driving(const Document& document, ChannelRef channel) {
    for (const Coupling& coupling : document.couplings)
        if (coupling.drives(channel)) return &coupling;
    return nullptr;
}

std::size_t triangle_count(const Document& document) {
    std::size_t count = 0;
    for (const Part& part : document.parts)
        if (const Shape* shape = document.shapes.find(part.shape)) count += shape->mesh->triangle_count();
    return count;
}

Bounds document_bounds(const Document& document) {
    Bounds bounds;
    for (const Part& part : document.parts)
        if (const Shape* shape = document.shapes.find(part.shape))
            bounds.add(mesh_bounds(*shape->mesh, world_from_rest(document, part.id) * part.part_from_shape));
    return bounds;
}

}  // namespace pivrak
