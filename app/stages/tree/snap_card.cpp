#include "app/stages/tree/snap_card.h"

namespace pivrak {
namespace {

/// The way in which a picked face looks out, in the world at rest; none of another place.
std::optional<Vec3> normal_of(const Document& document, const PickedPlace& place) {
    const Part* part = document.parts.find(place.part);
    const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
    if (place.kind != PickedPlace::Kind::FaceCentre || !shape || place.a >= shape->mesh->triangle_count())
        return std::nullopt;
    const Mesh& mesh = *shape->mesh;
    const Vec3 a = mesh.corner(place.a, 0),
               cross = (mesh.corner(place.a, 1) - a).cross(mesh.corner(place.a, 2) - a);
    if (!(cross.norm() > 0)) return std::nullopt;
    return (world_from_rest(document, part->id) * part->part_from_shape).direction(cross.normalized());
}

}  // namespace

SnapCard::SnapCard(Session& session, QWidget* parent)
    : Card(tr("Onto a place"), parent),
      session_(session),
      click_(new PlaceButton(session, "snapClickPlace")),
      along_(makeChoice("snapAlong", {{tr("in all directions"), "all"},
                                      {tr("along X only"), "x"},
                                      {tr("along Y only"), "y"},
                                      {tr("along Z only"), "z"}})),
      onto_(makeButton(tr("Place onto place"), "snapPlaces", true)),
      faces_(makeButton(tr("Face on face"), "snapFaces")) {
    click_->setText(tr("Click two places"));
    facts_ = addReadout("snapFacts");
    addButtons({click_});
    addRow(tr("Moves"), along_);
    addButtons({faces_, onto_});
    onto_->setToolTip(
        tr("The part of the first place moves, with all it carries, until that place is on the second"));
    faces_->setToolTip(tr("It turns as well, so that both faces lie on each other"));
    connect(click_, &PlaceButton::picked, this, &SnapCard::refresh);
    connect(onto_, &QPushButton::clicked, this, [this] { session_.preview(step()); });
    connect(faces_, &QPushButton::clicked, this, [this] {
        const auto& places = session_.picks().places;
        const auto own = normal_of(session_.document(), places[places.size() - 2]),
                   other = normal_of(session_.document(), places.back());
        nlohmann::json turned = step();
        turned["from_normal"] = {own->x(), own->y(), own->z()};
        turned["to_normal"] = {other->x(), other->y(), other->z()};
        session_.preview(turned);
    });
}

nlohmann::json SnapCard::step() const {
    const auto& places = session_.picks().places;
    return {{"op", "tree.snap"},
            {"parts", {places[places.size() - 2].part.value}},
            {"from", places[places.size() - 2].argument()},
            {"to", places.back().argument()},
            {"along", chosen(along_)}};
}

void SnapCard::refresh() {
    click_->refresh();
    const auto& places = session_.picks().places;
    const Document& document = session_.document();
    const bool two = places.size() > 1 && document.parts.contains(places[places.size() - 2].part);
    const bool apart = two && places[places.size() - 2].part != places.back().part;
    onto_->setEnabled(apart && !session_.previewed());
    faces_->setEnabled(apart && !session_.previewed() && normal_of(document, places[places.size() - 2]) &&
                       normal_of(document, places.back()));
    const auto name = [&](const PickedPlace& place) {
        const Part* part = document.parts.find(place.part);
        return part ? QString::fromStdString(part->name) : tr("the ground");
    };
    facts_->setText(apart ? tr("%1 moves onto %2").arg(name(places[places.size() - 2]), name(places.back()))
                    : two ? tr("Both places are on one part: click the second on another.")
                          : tr("First a place of what moves, then where it goes."));
}

}  // namespace pivrak
