#pragma once

#include <QListWidget>

#include "app/stages/rig/planet_card.h"
#include "core/checks/drive/train_report.h"
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

    Session& session_;
    Card* report_;
    PlanetCard* planetary_;
    Card* finder_;
    QListWidget *shafts_, *answers_;
    QLabel *report_facts_, *finder_facts_;
    QLineEdit *ratio_, *stages_, *range_, *sum_, *module_;
    QPushButton* build_;
    std::vector<GearAnswer> found_;
    std::pair<std::uint64_t, ClipId> known_{~std::uint64_t{0}, {}};  ///< revision and clip of `trains_`
    TrainReport trains_;
};

}  // namespace pivrak
