#pragma once

#include "app/session/pivot_checks.h"
#include "app/stages/kit/stage_panel.h"

namespace pivrak {

class ShapePivotCard;
class PickedPivotCard;
class TypedPivotCard;
class PivotAimCard;
class SpinCard;
class SwingCard;
class SwingMapCard;

/// Places and aims pivots by measurement, with their numbers shown before they are taken, and checks how they
/// spin and swing.
class PivotsPanel : public StagePanel {
    Q_OBJECT

public:
    PivotsPanel(Session& session, PivotChecks& checks, QWidget* parent = nullptr);

private:
    ShapePivotCard* shape_;
    PickedPivotCard* picked_;
    TypedPivotCard* typed_;
    PivotAimCard* aim_;
    SpinCard* spin_;
    SwingCard* swing_;
    SwingMapCard* map_;
};

}  // namespace pivrak
