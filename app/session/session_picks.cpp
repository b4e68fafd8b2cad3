// What is picked inside the view and grows there, and what the view leaves out: whole parts by steps, single
// faces for the moment.
#include "app/session/session.h"
#include "app/session/words.h"

namespace pivrak {

QString Session::whyNotGrown(Growth growth) const {
    const bool parts = pick_settings_.kind == PickKind::Parts;
    if (parts ? selection().empty() : picks_.faces.empty())
        return parts ? tr("pick a part first") : tr("pick a face first");
    const bool for_parts =
        growth == Growth::Material || growth == Growth::SameSize || growth == Growth::Invert;
    return parts && !for_parts ? tr("this grows picked faces") : QString();
}

void Session::grow(Growth growth) {
    if (pick_settings_.kind == PickKind::Parts)
        select(grown_parts(shownDocument(), selection(), growth));
    else
        setPicks(grown(shownDocument(), picks_, growth, pick_settings_.bend_rad));
}

bool Session::meansFaces() const {
    return pick_settings_.kind == PickKind::Faces && !picks_.faces.empty();
}

QString Session::whyNothingToHide() const {
    if (meansFaces()) return {};
    return selection().empty() ? tr("pick parts or faces first") : QString();
}

void Session::setPickedShown(bool shown) {
    if (!meansFaces()) {
        run({{"op", "part.show"}, {"parts", selectedIds()}, {"shown", shown}});
        return;
    }
    hidden_faces_.hide(document(), picks_.faces);
    setPicks({});
    tellHiddenFaces();
}

void Session::showPickedOnly() {
    if (!meansFaces()) {
        run({{"op", "part.show_only"}, {"parts", selectedIds()}});
        return;
    }
    hidden_faces_.showOnly(document(), picks_.faces);
    tellHiddenFaces();
}

void Session::tellHiddenFaces() {
    emit hiddenFacesChanged();
    emit told(tr("%1 hidden").arg(countWords(hidden_faces_.count(), "face")), false);
}

const HiddenFaces::Rest* Session::restOf(PartId id, const std::shared_ptr<const Mesh>& mesh) const {
    const Part* part = shownDocument().parts.find(id);
    const Shape* shape = part ? shownDocument().shapes.find(part->shape) : nullptr;
    return shape ? hidden_faces_.restOf(id, *shape, mesh) : nullptr;
}

const HiddenFaces::Rest* Session::restOf(PartId id) const {
    return hidden_faces_.empty() ? nullptr : restOf(id, meshOf(id));
}

std::shared_ptr<const Mesh> Session::shownMeshOf(PartId part) const {
    auto mesh = meshOf(part);
    const HiddenFaces::Rest* rest = hidden_faces_.empty() ? nullptr : restOf(part, mesh);
    return rest ? rest->mesh : mesh;
}

bool Session::hidesAnything() const {
    return !hidden_faces_.empty() ||
           std::ranges::any_of(document().parts, [](const Part& part) { return !part.shown; });
}

void Session::showAll() {
    if (!hidden_faces_.empty()) {
        hidden_faces_.clear();
        emit hiddenFacesChanged();
        emit told(tr("All faces are shown"), false);
    }
    nlohmann::json parts = nlohmann::json::array();
    for (const Part& part : document().parts)
        if (!part.shown) parts.push_back(part.id.value);
    if (!parts.empty()) run({{"op", "part.show"}, {"parts", parts}, {"shown", true}});
}

}  // namespace pivrak
