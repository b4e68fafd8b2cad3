#pragma once

#include "app/session/slip_results.h"
#include "app/shell/theme.h"
#include "app/stages/kit/lower_area.h"

namespace pivrak {

/// Below the view in Rig: slip of every wheel along its way, by frame.
class SlipPlot : public QWidget {
    Q_OBJECT

public:
    SlipPlot(Session& session, SlipResults& slips, Look& look, QWidget* parent = nullptr);

signals:
    void retold();

private:
    void retell();
    Session& session_;
    SlipResults& slips_;
    LowerArea* area_;
    QWidget* canvas_;
};

}  // namespace pivrak
