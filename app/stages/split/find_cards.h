#pragma once

#include <QListWidget>

#include "app/stages/kit/form_card.h"
#include "core/model/recognised.h"

namespace pivrak {

/// Finds equal shapes and lets them share one.
class RepeatsCard : public FormCard {
    Q_OBJECT

public:
    explicit RepeatsCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
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
