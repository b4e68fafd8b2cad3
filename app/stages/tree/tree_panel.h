#pragma once

#include "app/stages/kit/stage_panel.h"

namespace pivrak {

class CarrierCard;
class DatumCard;
class PlaceCard;
class SnapCard;
class JointCard;
class PatternCard;
class ConventionCard;
class ControlCard;
class SetCard;

/// Who carries whom, how each part may move, names, controls and sets.
class TreePanel : public StagePanel {
    Q_OBJECT

public:
    explicit TreePanel(Session& session, QWidget* parent = nullptr);

private:
    CarrierCard* carrier_;
    DatumCard* datums_;
    PlaceCard* place_;
    SnapCard* snap_;
    JointCard* joint_;
    PatternCard* pattern_;
    ConventionCard* convention_;
    ControlCard* controls_;
    SetCard* sets_;
};

}  // namespace pivrak
