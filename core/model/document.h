#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "core/base/result.h"
#include "core/base/shared_table.h"
#include "core/model/clip.h"
#include "core/model/coupling.h"
#include "core/model/names/naming.h"
#include "core/model/part.h"
#include "core/model/shape.h"
#include "core/model/units.h"

namespace pivrak {

struct Settings {
    LengthUnit length_unit = LengthUnit::Metre;
    double frame_rate = 24;  ///< frames a second. Common practice.
    NamingConvention naming;
    bool operator==(const Settings&) const = default;
};

/// A file that shapes came from, and how it was read: a delivery never overwrites it, and a newer version of
/// it is read alike.
struct Source {
    std::string path;
    double metres_per_unit = 1;
    char up = 'y';
    bool operator==(const Source&) const = default;
};

/// Everything about one job, as an immutable value: an edit makes another Document that shares all it did
/// not change. Copying is cheap. `next_id` only rises, so an id is never used for two things.
struct Document {
    Settings settings;
    SharedTable<Part> parts;
    SharedTable<Shape> shapes;
    SharedTable<Material> materials;
    SharedTable<Image> images;
    SharedTable<Coupling> couplings;
    SharedTable<Clip> clips;
    SharedTable<PartSet> sets;
    // Elements of the rig, kind by kind.
#define PIVRAK_TABLE(Type, table) SharedTable<Type> table;
#include "core/elements/kinds.def"
    std::vector<Source> sources;
    std::uint64_t next_id = 1;
    nlohmann::json unknown = nlohmann::json::object();  ///< fields of newer files, kept and written back

    bool operator==(const Document&) const = default;

    template <class AnyId>
    AnyId new_id() {
        return AnyId{next_id++};
    }
};

/// A project with nothing in it but one clip of 120 frames.
Document empty_document();

/// Parts by parent, in the order of their ids; roots under the id "none". Built in one pass.
class Tree {
public:
    explicit Tree(const Document& document);
    std::span<const PartId> children(PartId parent) const;
    std::span<const PartId> roots() const { return children(PartId{}); }
    /// The part and all below it, parents before children.
    std::vector<PartId> branch(PartId top) const;
    /// Every part, parents before children, siblings in the order of their ids.
    std::vector<PartId> all() const;

private:
    std::unordered_map<PartId, std::vector<PartId>> children_;
};

/// The frame of a part in the world with every channel at rest.
Frame world_from_rest(const Document& document, PartId part);

/// Whether `part` is `above` or hangs anywhere below it.
bool is_below(const Document& document, PartId part, PartId above);

/// `Hall/Bed plate/Layshaft`: names from the root to the part.
std::string part_path(const Document& document, PartId part);

/// Finds a part by name, or by a path whose last names match when the name alone is not unique.
/// Errors: `part.unknown` (with the nearest name, if one is near), `part.ambiguous` (with their paths).
Result<PartId> find_part(const Document& document, std::string_view name_or_path);

/// The name of a part. Pre: it exists.
const std::string& name_of(const Document& document, PartId part);

/// Name shown for a kind of channel, for example `turn` or `shift x`.
std::string_view channel_word(ChannelKind kind);
/// A channel's value with its unit, lengths as a project of that unit tells them, angles with so many
/// decimals.
std::string format_channel(ChannelKind kind, double value, LengthUnit unit, int angle_decimals = 2);
std::string format_channel(ChannelKind kind, double value, const Document& document, int angle_decimals = 2);

/// A length as the project tells it.
std::string format_length(double metres, const Document& document);
/// What its values are.
Dimension dimension_of(ChannelKind kind);
/// Name shown for a channel, for example `Motor shaft turn` or `Left track slack`.
std::string channel_name(const Document& document, ChannelRef channel);

/// The clip of that id, or the first one when the id is none. Every document has at least one.
const Clip& clip_or_first(const Document& document, ClipId id = {});

/// In the order of the list.
std::vector<const Clip*> clips_in_order(const Document& document);

/// Frames a second of a clip: its own, or the project's.
double frame_rate_of(const Document& document, const Clip& clip);

/// The name of a clip that would be added to itself, directly or through others; none when no layers run in
/// a circle.
std::optional<std::string> layer_circle(const Document& document);

/// The coupling that names a channel as the one it moves, or null.
const Coupling* coupling_driving(const Document& document, ChannelRef channel);

std::size_t triangle_count(const Document& document);

/// Bounds in the world of every part with a shape, at rest.
Bounds document_bounds(const Document& document);

}  // namespace pivrak
