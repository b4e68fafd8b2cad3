#include "app/stages/kit/place_button.h"

namespace pivrak {

PlaceButton::PlaceButton(Session& session, const char* object_name)
    : QPushButton(tr("Click a place")), session_(session) {
    setObjectName(object_name);
    setCheckable(true);
    setToolTip(tr("Corners, middles of edges, rims and faces in the view; the last one clicked counts"));
    connect(this, &QPushButton::clicked, this,
            [this](bool on) { pickKindInView(session_, PickKind::Places, on); });
    for (auto signal : {&Session::picksChanged, &Session::pickSettingsChanged})
        connect(&session_, signal, this, [this] {
            if (isVisible()) emit picked();
        });
}

nlohmann::json PlaceButton::place(std::size_t before) const {
    const auto& places = session_.picks().places;
    return before < places.size() ? places[places.size() - 1 - before].argument() : nlohmann::json();
}

void PlaceButton::refresh() {
    setChecked(session_.pickSettings().kind == PickKind::Places);
}

void pickKindInView(Session& session, PickKind kind, bool on) {
    PickSettings settings = session.pickSettings();
    settings.kind = on ? kind : PickKind::Parts;
    session.setPickSettings(settings);
}

}  // namespace pivrak
