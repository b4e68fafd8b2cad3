#pragma once

#include <QListWidget>

#include "app/shell/theme.h"
#include "app/stages/kit/form_card.h"
#include "app/stages/rig/drivers/channel_course.h"

namespace pivrak {

/// Measures something on the picked parts, or between places that were clicked.
class MeasureCard : public FormCard {
    Q_OBJECT

public:
    explicit MeasureCard(Session& session);

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }

private:
    bool atClicked() const;
    /// How many parts, or places, it takes.
    std::size_t count() const;
    /// The chain that goes round a picked part, or the only one.
    const Chain* chain() const;
};

/// What is measured, live, with its course over the clip.
class MeasuresCard : public Card {
    Q_OBJECT

public:
    MeasuresCard(Session& session, Look& look);
    void refresh();
    void refreshMotion();

private:
    QString wordsOf(const Measure& measure) const;
    /// Null when there is none in hand.
    const Measure* current() const;
    void switchRow(QListWidgetItem* item);
    void showCourse();

    Session& session_;
    QListWidget* list_;
    FormulaPlot* plot_;
    QPushButton* remove_;
    std::vector<MeasureId> rows_;
    bool listing_ = false;
    Trial<Course>* trial_;
};

}  // namespace pivrak
