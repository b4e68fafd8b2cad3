#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Finished shapes for stand-ins, and newer versions of models: what is rigged stays rigged.
class SwapCard : public FormCard {
    Q_OBJECT

public:
    explicit SwapCard(Session& session);
    void refresh();
    void updateFrom(const QString& path);

signals:
    /// A newer file is to be chosen.
    void fileAsked();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;

private:
    void showModels();
    QComboBox* model_;
    QPushButton* update_;
    QLabel* models_;
};

}  // namespace pivrak
