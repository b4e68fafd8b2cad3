#pragma once

#include "app/stages/joint_card.h"
#include "app/stages/stage_panel.h"

namespace pivrak {

/// Couplings: the gear pair to be made from two picked hinges, and the pairs there are.
class RigPanel : public StagePanel {
    Q_OBJECT

public:
    explicit RigPanel(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    void showNewPair();
    void showPairs();
    void countTeeth();
    void couple();
    JointCard* joint_;
    Card* pair_;
    QLabel *driver_, *driven_, *facts_;
    QLineEdit *driver_teeth_, *driven_teeth_;
    QPushButton *swap_, *couple_;
    QWidget* made_;
    QVBoxLayout* pairs_;
    std::vector<PartId> counted_for_;
};

}  // namespace pivrak
