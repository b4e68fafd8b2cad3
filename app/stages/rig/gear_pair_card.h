#pragma once

#include <map>

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {

/// The pairs there are.
class GearPairCard : public QWidget {
    Q_OBJECT

public:
    explicit GearPairCard(Session& session);
    void refresh();

private:
    void showPairs();
    void turnRound(CouplingId pair);
    const GearPairMeasure& measureOf(const Coupling& pair);
    QString meshWords(const Coupling& pair) const;

    Session& session_;
    QWidget* made_;
    QVBoxLayout* pairs_;
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
