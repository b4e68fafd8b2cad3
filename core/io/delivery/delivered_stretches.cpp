#include "core/io/delivery/delivered_stretches.h"

namespace pivrak {

DeliveredStretches::DeliveredStretches(const Evaluator& evaluator) {
    const auto* list = evaluator.program().list<StretchStep>();
    if (!list) return;
    for (const StretchStep& step : list->steps)
        if (step.shape) steps_[evaluator.parts()[step.node]] = &step;
}

const StretchStep* DeliveredStretches::of(PartId part) const {
    const auto found = steps_.find(part);
    return found == steps_.end() ? nullptr : found->second;
}

void DeliveredStretches::add_nodes(const Document& document, const Part& part, int node,
                                   GltfBuilder& builder) {
    const StretchStep& step = *of(part.id);
    const Shape& shape = *document.shapes.find(part.shape);
    tinygltf::Skin skin;
    skin.name = part.name;
    for (const char* end : {"near end", "far end"}) {
        skin.joints.push_back(builder.add_node(part.name + " " + end, {}));
        builder.add_child(node, skin.joints.back());
    }
    bones_[part.id] = skin.joints.back();
    const int mesh = builder.add_mesh(transformed(*shape.mesh, part.part_from_shape), shape.name);
    builder.bind(mesh, step.shape->share);
    builder.model().skins.push_back(skin);
    const int bound = builder.add_node(part.name + " shape", {}, mesh);
    builder.model().nodes[static_cast<std::size_t>(bound)].skin =
        static_cast<int>(builder.model().skins.size()) - 1;
    builder.add_root(bound);
}

int DeliveredStretches::far_bone(PartId part) const {
    const auto found = bones_.find(part);
    return found == bones_.end() ? -1 : found->second;
}

Vec3 DeliveredStretches::shift(const Part& part, const Bake& bake, std::size_t frame) const {
    const StretchStep& step = *of(part.id);
    const Frame &from = bake.at(frame, static_cast<std::size_t>(step.from)),
                &to = bake.at(frame, static_cast<std::size_t>(step.to));
    const double length = (to.point(step.to_place) - from.point(step.from_place)).norm() / from.size;
    return (length - step.rest_m) * part.part_from_shape.direction(step.shape->way());
}

}  // namespace pivrak
