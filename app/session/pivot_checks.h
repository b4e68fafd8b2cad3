#pragma once

#include <QObject>
#include <optional>
#include <vector>

#include "app/session/session.h"
#include "core/checks/pivots/spin_check.h"
#include "core/checks/pivots/swing_check.h"
#include "core/checks/pivots/swing_map.h"

namespace pivrak {

/// Owner of what was measured of pivots: the spin check of round parts, and the last swing check. Both are
/// told to be of before when the project has changed since.
class PivotChecks : public QObject {
    Q_OBJECT

public:
    explicit PivotChecks(Session& session, QObject* parent = nullptr);

    struct Spin {
        PartId part;
        SpinCheck check;
    };
    /// Of the picked round parts, or of every hinge and cylinder when none is picked; the worst first.
    const std::vector<Spin>& spins() const { return spins_; }
    void measureSpins();

    const std::optional<SwingCheck>& swing() const { return swing_; }
    /// The map of two joints, when that is what was swept last; there is either a swing or a map.
    const std::optional<SwingMap>& map() const { return map_; }
    bool swingIsStale() const { return stale_; }
    /// Sweeps off the interface thread, with progress.
    void sweep(PartId part, const SwingOptions& options);
    void sweepBoth(PartId first, PartId second, const SwingMapOptions& options);

signals:
    void spinsChanged();
    void swingChanged();

private:
    Session& session_;
    Background spinning_;
    std::vector<Spin> spins_;
    std::optional<SwingCheck> swing_;
    std::optional<SwingMap> map_;
    bool stale_ = false;
};

}  // namespace pivrak
