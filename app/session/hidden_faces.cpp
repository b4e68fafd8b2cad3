#include "app/session/hidden_faces.h"

#include <algorithm>

namespace pivrak {
namespace {

/// The mesh without these faces. Vertices keep their numbers, and runs their order.
HiddenFaces::Rest restWithout(const std::shared_ptr<const Mesh>& mesh, const FaceMask& hidden) {
    auto out = std::make_shared<Mesh>(*mesh);
    HiddenFaces::Rest rest{mesh, out, {}};
    out->indices.clear();
    const auto take = [&](std::size_t from, std::size_t to) {
        for (std::size_t t = from; t < to; ++t) {
            if (hidden[t]) continue;
            rest.triangles.push_back(static_cast<std::uint32_t>(t));
            for (std::size_t k = 0; k < 3; ++k) out->indices.push_back(mesh->indices[3 * t + k]);
        }
    };
    if (mesh->submeshes.empty()) take(0, mesh->triangle_count());
    for (Submesh& run : out->submeshes) {
        const auto first = static_cast<std::uint32_t>(out->indices.size());
        take(run.first_index / 3, (run.first_index + run.index_count) / 3);
        run.first_index = first;
        run.index_count = static_cast<std::uint32_t>(out->indices.size()) - first;
    }
    return rest;
}

}  // namespace

std::size_t HiddenFaces::count() const {
    std::size_t count = 0;
    for (const auto& [part, hidden] : faces_)
        count += static_cast<std::size_t>(std::count(hidden.mask.begin(), hidden.mask.end(), true));
    return count;
}

HiddenFaces::Hidden* HiddenFaces::hiddenOf(const Document& document, PartId part, const FaceMask& mask) {
    const Part* known = document.parts.find(part);
    const Shape* shape = known ? document.shapes.find(known->shape) : nullptr;
    if (!shape || mask.size() != shape->mesh->triangle_count()) return nullptr;
    Hidden& hidden = faces_[part];
    if (hidden.of != shape->mesh) hidden = {shape->mesh, FaceMask(mask.size()), {}};
    hidden.rest = {};
    return &hidden;
}

void HiddenFaces::hide(const Document& document, const std::map<PartId, FaceMask>& faces) {
    for (const auto& [part, mask] : faces)
        if (Hidden* hidden = hiddenOf(document, part, mask))
            for (std::size_t f = 0; f < mask.size(); ++f)
                if (mask[f]) hidden->mask[f] = true;
}

void HiddenFaces::showOnly(const Document& document, const std::map<PartId, FaceMask>& faces) {
    for (const auto& [part, mask] : faces)
        if (Hidden* hidden = hiddenOf(document, part, mask))
            for (std::size_t f = 0; f < mask.size(); ++f) hidden->mask[f] = !mask[f];
}

void HiddenFaces::keepIn(const Document& document) {
    std::erase_if(faces_, [&](const auto& entry) {
        const Part* part = document.parts.find(entry.first);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        return !shape || shape->mesh != entry.second.of;
    });
}

const HiddenFaces::Rest* HiddenFaces::restOf(PartId part, const Shape& shape,
                                             const std::shared_ptr<const Mesh>& mesh) const {
    const auto found = faces_.find(part);
    if (found == faces_.end() || shape.mesh != found->second.of) return nullptr;
    const Hidden& hidden = found->second;
    // While a document is exchanged for another, the pose may still be of the one before.
    if (!mesh || mesh->triangle_count() != hidden.mask.size()) return nullptr;
    if (hidden.rest.of != mesh) hidden.rest = restWithout(mesh, hidden.mask);
    return &hidden.rest;
}

}  // namespace pivrak
