#pragma once

#include <QPushButton>

#include "app/session/session.h"

namespace pivrak {

/// Switches the view to clicking places, and back to parts.
class PlaceButton : public QPushButton {
    Q_OBJECT

public:
    PlaceButton(Session& session, const char* object_name);
    /// The place that was clicked last, or so many before, as an operation takes it; null while there is
    /// none.
    nlohmann::json place(std::size_t before = 0) const;
    void refresh();

signals:
    /// Something was picked in the view, or picking changed, while the button is seen.
    void picked();

private:
    Session& session_;
};

/// What clicking does in the view; back to parts when it is not `on`.
void pickKindInView(Session& session, PickKind kind, bool on);

}  // namespace pivrak
