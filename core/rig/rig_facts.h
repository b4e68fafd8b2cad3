#pragma once

#include <map>
#include <memory>

#include "core/geometry/near/clearance.h"
#include "core/rig/paths/draped_path.h"
#include "core/rig/springs/long_shape.h"
#include "core/rig/vehicles/wheel_size.h"

namespace pivrak {

/// What is measured of paths, grounds and wheels for a rig. Kept from one use to the next, what did not
/// change is not measured again. Not to be used by two threads at once.
class RigFacts {
public:
    /// A path's curve, laid on its ground at rest when it is draped. Errors: those of `PathCurve::make`,
    /// `path.ground` (its ground has no shape).
    Result<std::shared_ptr<const DrapedPath>> path(const Document& document, const Path& path);
    /// A part's mesh as ground, where it stands at rest; null when it has no shape.
    std::shared_ptr<const GroundMap> ground(const Document& document, PartId part);
    WheelSize wheel(const Document& document, const Tree& tree, PartId hinge);
    /// Null when the wheel has no shape.
    std::shared_ptr<const WheelProfile> profile(const Document& document, const Tree& tree, PartId hinge);
    /// How a part's shape is drawn out at its ends; null when it has none of any length.
    std::shared_ptr<const LongShape> long_shape(const Document& document, const Part& part, bool evenly);

    /// Of a gear, about its hinge; none where none can be counted.
    std::optional<int> teeth(const Document& document, const Tree& tree, PartId gear);

    /// The surfaces of a part and of all that is fixed to it, in its frame; null where it has none.
    std::shared_ptr<const ClearanceBody> clearance_body(const Document& document, const Tree& tree,
                                                        PartId part);

private:
    struct GroundEntry {
        std::shared_ptr<const Mesh> mesh;
        Frame world_from_mesh;
        std::shared_ptr<const GroundMap> map;
    };
    struct PathEntry {
        Path path;
        Frame world_from_path;
        std::shared_ptr<const GroundMap> ground;
        std::shared_ptr<const DrapedPath> draped;
    };
    struct WheelEntry {
        WheelShapes shapes;
        WheelSize size;
        std::shared_ptr<const WheelProfile> profile;  ///< when asked for
    };
    WheelEntry& measured_wheel(const Document& document, const Tree& tree, PartId hinge);

    std::map<PartId, GroundEntry> grounds_;
    std::map<PathId, PathEntry> paths_;
    std::map<PartId, WheelEntry> wheels_;
    struct LongEntry {
        std::shared_ptr<const Mesh> mesh;
        std::shared_ptr<const LongShape> shape;
    };
    std::map<std::pair<PartId, bool>, LongEntry> long_shapes_;
    struct TeethEntry {
        WheelShapes shapes;
        std::optional<int> teeth;
    };
    std::map<PartId, TeethEntry> teeth_;
    struct BodyEntry {
        WheelShapes shapes;
        std::shared_ptr<const ClearanceBody> body;
    };
    std::map<PartId, BodyEntry> bodies_;
};

}  // namespace pivrak
