#pragma once

#include <functional>
#include <memory>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/base/progress.h"
#include "core/checks/pivots/limit_facts.h"
#include "core/geometry/fits/round_axis.h"
#include "core/geometry/mesh/mesh_faults.h"
#include "core/model/document.h"
#include "core/rig/rig_facts.h"

namespace pivrak {

/// The seven stages of the work, in their order.
enum class Stage { Intake, Split, Pivots, Tree, Rig, Keys, Handover };
inline constexpr int stage_count = 7;
std::string_view stage_name(Stage stage);

/// The result of a check: what, where, how much, and how much is allowed.
struct Finding {
    Stage stage = Stage::Intake;
    std::string code;
    PartId part;            ///< none when it concerns the whole model
    std::string message;    ///< with its numbers and units
    nlohmann::json fix;     ///< the operation that mends it; null when a person has to decide
    std::string fix_title;  ///< what that operation would do, for a button
    std::optional<double> frame = std::nullopt;  ///< at which it is worst, of what shows as a clip runs
    bool operator==(const Finding&) const = default;
};

/// A moment of a clip in words for a person, to follow a verb.
using MomentWords = std::function<std::string(double frame)>;
/// "at frame 12 of 'name'".
MomentWords frames_of(const Clip& clip);

/// What was measured of meshes, kept from one check to the next: meshes never change, so it stays true. Not
/// to be used by two checks at once.
class MeshFacts {
public:
    struct Facts {
        std::uint32_t pieces = 0;
        MeshFaults faults;
        bool is_sheet = false;  ///< open on purpose: a surface that looks one way, such as a ground
    };
    const Facts& of(const std::shared_ptr<const Mesh>& mesh);
    /// The axis of a round mesh; none when it is not round. Measured when first asked for.
    const std::optional<RoundAxis>& axis_of(const std::shared_ptr<const Mesh>& mesh);
    LimitFacts& limits() { return limits_; }
    RigFacts& rig() { return rig_; }
    /// Forgets meshes that nobody else holds any more.
    void forget_unused();

private:
    struct Entry {
        std::weak_ptr<const Mesh> mesh;
        Facts facts;
    };
    struct AxisEntry {
        std::weak_ptr<const Mesh> mesh;
        std::optional<RoundAxis> axis;
    };
    std::unordered_map<const Mesh*, Entry> entries_;
    std::unordered_map<const Mesh*, AxisEntry> axes_;
    LimitFacts limits_;
    RigFacts rig_;
};

/// All findings of a document, by stage. Deterministic. A cancelled run gives those found so far.
std::vector<Finding> check_document(const Document& document, const Progress& progress = {},
                                    MeshFacts* known = nullptr);

/// The groups that `check_document` is made of.
void check_model(const Document& document, std::vector<Finding>& findings);
void check_shapes(const Document& document, const Progress& progress, MeshFacts& known,
                  std::vector<Finding>& findings);
void check_tree(const Document& document, std::vector<Finding>& findings);
void check_pivots(const Document& document, const Progress& progress, MeshFacts& known,
                  std::vector<Finding>& findings);
void check_rig(const Document& document, MeshFacts& known, std::vector<Finding>& findings);
void check_trains(const Document& document, MeshFacts& known, std::vector<Finding>& findings);
void check_travel(const Document& document, const Progress& progress, MeshFacts& known,
                  std::vector<Finding>& findings);
void check_clips(const Document& document, std::vector<Finding>& findings);
/// Where clips that loop begin again: jumps, changes of speed, stops of what goes on.
void check_seams(const Document& document, MeshFacts& known, std::vector<Finding>& findings);

}  // namespace pivrak
