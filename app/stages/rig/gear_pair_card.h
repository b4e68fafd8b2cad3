#pragma once

#include <map>

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/kit/dry_run.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {

/// A pair that would come of a step, and how it would run.
struct TriedPair {
    GearPair pair;
    GearPairMeasure measure;
};

/// The pair to be made from two picked parts, and those there are.
class GearPairCard : public QWidget {
    Q_OBJECT

public:
    explicit GearPairCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void showNewPair();
    void showRows(PairKind kind);
    void showPairs();
    void countTeeth();
    void turnRound(CouplingId pair);
    const GearPairMeasure& measureOf(const Coupling& pair);
    QString meshWords(const Coupling& pair) const;
    PairKind kind() const;
    nlohmann::json step() const;
    void tell(const Result<TriedPair>& found);

    Session& session_;
    Card* pair_;
    QLabel *driver_, *driven_, *facts_;
    QComboBox *kind_, *hand_;
    QLineEdit *driver_teeth_, *driven_teeth_, *driver_radius_, *driven_radius_, *module_, *lead_;
    QWidget *driver_teeth_row_, *driven_teeth_row_, *driver_radius_row_, *driven_radius_row_, *module_row_,
        *lead_row_, *hand_row_;
    QPushButton *swap_, *couple_;
    QWidget* made_;
    QVBoxLayout* pairs_;
    std::vector<PartId> counted_for_;
    Trial<Result<TriedPair>>* trial_;
    /// What was measured of a pair, as it was then.
    struct Turned {
        GearPair pair;
        Frame driver, driven;  ///< at rest
        QString words;
    };
    std::map<CouplingId, Turned> turned_;
    std::map<CouplingId, GearPairMeasure> measured_;
    std::uint64_t measured_at_ = 0;  ///< revision
};

}  // namespace pivrak
