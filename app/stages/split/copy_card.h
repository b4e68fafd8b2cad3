#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Copies, mirrors and repeats branches with all that is rigged in them.
class CopyCard : public Card {
    Q_OBJECT

public:
    explicit CopyCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void wayChanged();
    void show();
    nlohmann::json step() const;
    Session& session_;
    QComboBox *way_, *plane_, *axis_, *centre_;
    QLineEdit *count_, *x_, *y_, *z_, *angle_;
    QCheckBox* alone_;
    QPushButton* show_;
    QLabel* state_;
    std::vector<std::pair<QStringList, QWidget*>> rows_;
};

}  // namespace pivrak
