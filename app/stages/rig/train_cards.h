#pragma once

#include <QListWidget>

#include "app/stages/kit/card.h"
#include "app/stages/kit/part_field.h"
#include "core/rig/gears/gear_search.h"

namespace pivrak {

/// What turns what: the trains that touch the selection, or all; planets set round an axis; and a search for
/// tooth counts.
class TrainCards : public QWidget {
    Q_OBJECT

public:
    explicit TrainCards(Session& session, QWidget* parent = nullptr);
    void refresh();
    /// What turns what: stands by itself, above the cards that make pairs.
    Card* report() { return report_; }

private:
    void showReport();
    void showSearch();
    nlohmann::json planetStep() const;

    Session& session_;
    Card *report_, *planetary_, *finder_;
    QListWidget *shafts_, *answers_;
    QLabel *report_facts_, *planet_facts_, *finder_facts_;
    PartField *sun_, *ring_, *planets_;
    QLineEdit *count_, *ratio_, *stages_, *range_, *sum_, *module_;
    QPushButton *set_planets_, *build_;
    std::vector<GearAnswer> found_;
};

}  // namespace pivrak
