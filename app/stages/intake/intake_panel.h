#pragma once

#include "app/stages/kit/stage_panel.h"

namespace pivrak {

class StandCard;
class TidyCard;
class StandInCard;
class StandInSizesCard;
class SwapCard;

/// Brings a model in: its file, unit and up axis, with a preview of the size before it is taken; stands it
/// up, tidies its tree, makes stand-ins and swaps shapes.
class IntakePanel : public StagePanel {
    Q_OBJECT

public:
    explicit IntakePanel(Session& session, QWidget* parent = nullptr);
    /// Shows a model as it would come in.
    void previewFile(const QString& path, std::optional<Vec3> at = std::nullopt);
    SwapCard& swapCard() { return *swap_; }

signals:
    void fileAsked();

protected:
    void refresh() override;

private:
    void preview();
    QLineEdit* path_;
    std::optional<Vec3> dropped_;  ///< where the file was dropped
    QComboBox *unit_, *up_, *shown_unit_;
    QLabel *size_, *contents_;
    StandCard* stand_;
    TidyCard* tidy_;
    StandInCard* stand_in_;
    StandInSizesCard* sizes_;
    SwapCard* swap_;
};

}  // namespace pivrak
