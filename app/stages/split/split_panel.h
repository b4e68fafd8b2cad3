#pragma once

#include "app/stages/kit/stage_panel.h"

namespace pivrak {

class BreakCard;
class TrimCard;
class PickCard;
class RepeatsCard;
class RecogniseCard;
class CopyCard;
class SetCard;

/// One lump becomes parts: break apart, pick, find, copy, sets.
class SplitPanel : public StagePanel {
    Q_OBJECT

public:
    explicit SplitPanel(Session& session, QWidget* parent = nullptr);

private:
    BreakCard* break_;
    TrimCard* trim_;
    PickCard* pick_;
    RepeatsCard* repeats_;
    RecogniseCard* recognise_;
    CopyCard* copy_;
    SetCard* sets_;
};

}  // namespace pivrak
