#pragma once

#include <compare>
#include <cstdint>
#include <functional>

namespace pivrak {

/// A stable identity: never reused within a document, zero means "none".
template <class Tag>
struct Id {
    std::uint64_t value = 0;
    explicit operator bool() const { return value != 0; }
    auto operator<=>(const Id&) const = default;
};

using PartId = Id<struct PartTag>;
using ShapeId = Id<struct ShapeTag>;
using MaterialId = Id<struct MaterialTag>;
using ImageId = Id<struct ImageTag>;
using CouplingId = Id<struct CouplingTag>;
using ClipId = Id<struct ClipTag>;
using SetId = Id<struct SetTag>;
using PathId = Id<struct PathTag>;
using VehicleId = Id<struct VehicleTag>;
using PrintId = Id<struct PrintTag>;
using ChainId = Id<struct ChainTag>;

}  // namespace pivrak

template <class Tag>
struct std::hash<pivrak::Id<Tag>> {
    std::size_t operator()(const pivrak::Id<Tag>& id) const noexcept {
        return std::hash<std::uint64_t>{}(id.value);
    }
};
