#pragma once

#include <memory>
#include <unordered_map>
#include <vector>

#include "core/base/progress.h"
#include "core/checks/pivots/swing_check.h"
#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// What limited joints were found to meet, kept from one check to the next: as long as the shapes and places
/// of what moves and of what is near stay, the answer does. Not to be used by two checks at once.
class LimitFacts {
public:
    struct Contacts {
        std::optional<SwingContact> below, above;
        bool operator==(const Contacts&) const = default;
    };
    /// The first contacts of a hinge or slide with limits on its way from rest, or null when it was
    /// cancelled. Pre: the joint has a turn or a shift with limits.
    const Contacts* of(const Document& document, PartId part, const Progress& progress);
    /// Forgets parts that were not asked for since the last time.
    void forget_unused();

private:
    struct Member {
        std::shared_ptr<const Mesh> mesh;
        Frame motion_from_mesh;
        PartId part;
        bool operator==(const Member&) const = default;
    };
    struct Scene {
        std::vector<Member> moving, near;
        Limits limits;
        bool operator==(const Scene&) const = default;
    };
    static Scene scene_of(const Document& document, PartId part);
    struct Entry {
        Scene scene;
        Contacts contacts;
        bool used = true;
    };
    std::unordered_map<PartId, Entry> entries_;
};

}  // namespace pivrak
