#pragma once

#include "app/stages/stage_panel.h"

namespace pivrak {

/// Places pivots by measurement, with their numbers shown before they are taken.
class PivotsPanel : public StagePanel {
    Q_OBJECT

public:
    explicit PivotsPanel(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    QPushButton *middle_, *base_, *fit_;
    QComboBox* axis_;
    QLabel* place_;
};

}  // namespace pivrak
