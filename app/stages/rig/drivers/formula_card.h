#pragma once

#include <QTableWidget>

#include "app/shell/theme.h"
#include "app/stages/kit/card.h"
#include "app/stages/kit/dry_run.h"
#include "app/stages/kit/part_field.h"
#include "app/stages/rig/drivers/formula_editor.h"
#include "app/stages/rig/drivers/formula_plot.h"

namespace pivrak {

/// A formula for the picked parts: its text, what each name stands for, its course over the clip and its
/// value, as they are typed.
class FormulaCard : public Card {
    Q_OBJECT

public:
    FormulaCard(Session& session, Look& look);
    void refresh();
    void refreshMotion();
    /// Takes a formula in hand, to change it.
    void edit(const Formula& formula);

private:
    /// What came of trying the formula as it stands.
    struct Tried {
        std::optional<Error> error;
        std::string words;
        std::vector<FormulaNote> hints;
        std::vector<FormulaPlot::Sample> course;
        ChannelKind kind = ChannelKind::Turn;
    };
    static Tried tryOut(const Registry& registry, const Document& document, const nlohmann::json& step,
                        const Progress& progress);

    std::vector<PartId> drivenParts() const;
    nlohmann::json step() const;
    nlohmann::json inputs() const;
    QString obstacle() const;
    void listChannels();
    void listMeasures();
    void addInput();
    void addInputRow(const QString& name, const nlohmann::json& stands);
    QString freeName(const QString& wanted) const;
    QString standsFor(const nlohmann::json& stands) const;
    void cellChanged(int row, int column);
    void changed();
    void tell(const Tried& tried);

    Session& session_;
    PartField* driven_;
    QComboBox *channel_, *add_what_, *add_channel_;
    FormulaEditor* editor_;
    QTableWidget* table_;
    QPushButton *add_, *drop_, *set_;
    FormulaPlot* plot_;
    QLabel* facts_;
    Trial<Tried>* trial_;
    bool listing_ = false;
};

}  // namespace pivrak
