#pragma once

#include <QListWidget>

#include "app/stages/stage_panel.h"

namespace pivrak {

/// Breaks lumps apart, always with a coloured preview and a count first.
class SplitPanel : public StagePanel {
    Q_OBJECT

public:
    explicit SplitPanel(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    void preview();
    void listPieces();
    QComboBox* by_;
    QLineEdit* weld_;
    QPushButton* show_;
    QLabel* count_;
    Card* pieces_card_;
    QListWidget* pieces_;
};

}  // namespace pivrak
