#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Finished shapes for stand-ins, and newer versions of models: what is rigged stays rigged.
class SwapCard : public Card {
    Q_OBJECT

public:
    explicit SwapCard(Session& session, QWidget* parent = nullptr);
    void refresh();
    void updateFrom(const QString& path);

signals:
    /// A newer file is to be chosen.
    void fileAsked();

private:
    Session& session_;
    QComboBox *match_, *model_;
    QPushButton *swap_, *update_;
    QLabel *state_, *models_;
};

}  // namespace pivrak
