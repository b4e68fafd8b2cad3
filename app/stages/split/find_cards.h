#pragma once

#include <QListWidget>

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "core/model/recognised.h"

namespace pivrak {

/// Finds equal shapes and lets them share one.
class RepeatsCard : public Card {
    Q_OBJECT

public:
    explicit RepeatsCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void show();
    Session& session_;
    QLineEdit* tolerance_;
    QCheckBox* rename_;
    QPushButton* show_;
    QLabel* state_;
};

/// Suggests what parts are, to be taken one by one or together.
class RecogniseCard : public Card {
    Q_OBJECT

public:
    explicit RecogniseCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void look();
    void take();
    Session& session_;
    QListWidget* list_;
    QCheckBox *rename_, *pivot_;
    QComboBox* axis_;
    QPushButton *look_, *take_;
    QLabel* state_;
    std::vector<RecognisedPart> found_;
    Document looked_at_;
};

}  // namespace pivrak
