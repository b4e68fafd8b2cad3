#include "app/view/pick_hand.h"

#include <cmath>

#include "app/view/control_marks.h"
#include "app/view/points.h"

namespace pivrak {

std::optional<PartId> PickHand::partAt(const QPointF& pixel) {
    // Controls are picked before geometry, through which their lines are seen.
    if (const auto control = controlAt(seenControls(session_, camera_), pixel);
        control && session_.isPickable(*session_.shownDocument().parts.find(*control)))
        return control;
    const auto found = picker_.hit(camera_, pixel);
    return found ? std::optional(found->part) : std::nullopt;
}

void PickHand::combineSelection(const std::vector<PartId>& picked, Qt::KeyboardModifiers modifiers) {
    std::vector<PartId> selection;
    if (modifiers & (Qt::ShiftModifier | Qt::ControlModifier)) selection = session_.selection();
    for (const PartId part : picked) {
        std::erase(selection, part);
        if (!(modifiers & Qt::ControlModifier)) selection.push_back(part);
    }
    session_.select(selection);
}

namespace {

/// Puts newly picked elements in, or takes them out, keeping the order of those that stay.
template <class T>
void combine(std::vector<T>& into, const std::vector<T>& picked, bool take_out) {
    for (const T& one : picked) {
        std::erase(into, one);
        if (!take_out) into.push_back(one);
    }
}

}  // namespace

void PickHand::combinePicks(const ElementPicks& picked, Qt::KeyboardModifiers modifiers) {
    ElementPicks now;
    const bool take_out = modifiers & Qt::ControlModifier;
    // Places gather: a hinge line needs two, and a click beside the model clears them.
    const bool gathers = !picked.places.empty();
    if (gathers || modifiers & (Qt::ShiftModifier | Qt::ControlModifier)) now = session_.picks();
    for (const auto& [part, mask] : picked.faces) {
        FaceMask& own = now.faces[part];
        own.resize(mask.size());
        for (std::size_t f = 0; f < mask.size(); ++f)
            if (mask[f]) own[f] = !take_out;
    }
    std::erase_if(now.faces, [](const auto& entry) {
        return std::find(entry.second.begin(), entry.second.end(), true) == entry.second.end();
    });
    combine(now.edges, picked.edges, take_out);
    combine(now.points, picked.points, take_out);
    combine(now.places, picked.places, take_out);
    session_.setPicks(std::move(now));
}

/// A place to put a pivot near a pixel: another pivot that is shown, a place on a shape, or the grid.
std::optional<PickedPlace> PickHand::placeAt(const QPointF& pixel, const ViewAids& aids) {
    constexpr double reach_px = 8;
    const auto near = [&](const Vec3& world) {
        const Vec3 seen = camera_.project(world);
        return seen.z() > 0 && (seen.head<2>() - vec(pixel)).norm() < reach_px;
    };
    for (const PartId id : session_.evaluator().parts())
        if (aids.frames && !session_.isSelected(id) && near(session_.worldFromPart(id).translation))
            return PickedPlace{id, PickedPlace::Kind::Pivot, 0, 0, {0, 0, 0}};
    if (const auto place = picker_.place(camera_, pixel)) return place;
    const auto floor = camera_.floor_at(vec(pixel));
    if (!floor) return std::nullopt;
    const double step = aids.grid_step_m;
    const Vec3 crossing(step * std::round(floor->x() / step), step * std::round(floor->y() / step), 0);
    if (!near(crossing)) return std::nullopt;
    return PickedPlace{{}, PickedPlace::Kind::Grid, 0, 0, crossing};
}

void PickHand::pickAt(const QPointF& pixel, Qt::KeyboardModifiers modifiers, const ViewAids& aids) {
    const PickKind kind = session_.pickSettings().kind;
    if (kind == PickKind::Parts) {
        const auto part = partAt(pixel);
        return combineSelection(part ? std::vector{*part} : std::vector<PartId>{}, modifiers);
    }
    ElementPicks picked;
    if (kind == PickKind::Faces)
        if (const auto hit = picker_.hit(camera_, pixel)) {
            const Part& part = *session_.shownDocument().parts.find(hit->part);
            FaceMask& mask = picked.faces[hit->part];
            mask.resize(session_.shownDocument().shapes.find(part.shape)->mesh->triangle_count());
            mask[hit->triangle] = true;
        }
    if (kind == PickKind::Edges)
        if (const auto edge = picker_.edge(camera_, pixel)) picked.edges.push_back(*edge);
    if (kind == PickKind::Places)
        if (const auto place = placeAt(pixel, aids)) picked.places.push_back(*place);
    if (kind == PickKind::Points)
        if (const auto point = picker_.point(camera_, pixel)) picked.points.push_back(*point);
    combinePicks(picked, modifiers);
}

void PickHand::pickInside(const QPolygonF& outline, Qt::KeyboardModifiers modifiers) {
    const PickSettings& settings = session_.pickSettings();
    if (settings.kind == PickKind::Parts) {
        std::vector<PartId> picked = controlsInside(seenControls(session_, camera_), outline);
        std::erase_if(picked, [&](PartId id) {
            return !session_.isPickable(*session_.shownDocument().parts.find(id));
        });
        // Where there are controls to pick, what they drive is not meant.
        if (picked.empty()) picked = picker_.parts_inside(camera_, outline, settings.through);
        combineSelection(picked, modifiers);
    } else {
        combinePicks(picker_.elements_inside(camera_, outline, settings), modifiers);
    }
}

}  // namespace pivrak
