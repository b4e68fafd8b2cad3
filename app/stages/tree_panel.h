#pragma once

#include "app/stages/joint_card.h"
#include "app/stages/stage_panel.h"

namespace pivrak {

/// Who carries whom, names and joints.
class TreePanel : public StagePanel {
    Q_OBJECT

public:
    explicit TreePanel(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    QLineEdit* name_;
    QLabel* carried_;
    QPushButton *under_, *release_;
    JointCard* joint_;
};

/// Puts all picked parts but the last under the last one. Answers why not, or nothing when it can be done.
QString putUnderObstacle(const Session& session);
void putUnderLast(Session& session);

}  // namespace pivrak
