#pragma once

#include "app/stages/handover/film_card.h"
#include "app/stages/kit/stage_panel.h"

namespace pivrak {

/// Delivers, and shows what the read-back found.
class HandoverPanel : public StagePanel {
    Q_OBJECT

public:
    HandoverPanel(Session& session, Look& look, QWidget* parent = nullptr);
    FilmCard& filmCard() { return *film_; }

signals:
    void pathAsked(QLineEdit* into);

protected:
    void refresh() override;

private:
    QLineEdit* path_;
    QComboBox* samples_ = nullptr;
    QLineEdit* tolerance_;
    QCheckBox* controls_;
    QPushButton* deliver_;
    QLabel *clips_, *file_, *verdict_, *errors_;
    Card* report_;
    FilmCard* film_;
};

}  // namespace pivrak
