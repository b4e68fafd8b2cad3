#include "app/session/pivot_checks.h"

#include <algorithm>

namespace pivrak {

PivotChecks::PivotChecks(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session_, &Session::documentChanged, this, [this] {
        if (!swing_ && !map_) return;
        const auto& parts = session_.document().parts;
        if (swing_ && !parts.contains(swing_->channel.part())) swing_.reset();
        if (map_ && (!parts.contains(map_->first.part()) || !parts.contains(map_->second.part())))
            map_.reset();
        stale_ = true;
        emit swingChanged();
    });
}

void PivotChecks::measureSpins() {
    std::vector<PartId> parts = session_.selection();
    const bool picked = !parts.empty();
    const Document document = session_.shownDocument();
    for (const Part& part : document.parts)
        if (!picked && part.shape &&
            (part.joint.kind == JointKind::Hinge || part.joint.kind == JointKind::Cylinder))
            parts.push_back(part.id);
    spinning_.start(
        QString(),
        [document, parts](const Progress& progress) {
            std::vector<Spin> spins;
            for (const PartId id : parts) {
                if (!progress.go_on(0, "measuring run-out")) break;
                if (const auto check = spin_check(document, id)) spins.push_back({id, *check});
            }
            std::stable_sort(spins.begin(), spins.end(), [](const Spin& a, const Spin& b) {
                return a.check.run_out_m > b.check.run_out_m;
            });
            return spins;
        },
        [this](std::vector<Spin> spins) {
            spins_ = std::move(spins);
            emit spinsChanged();
        });
}

void PivotChecks::sweep(PartId part, const SwingOptions& options) {
    session_.measuring().start(
        tr("Swing check"),
        [document = session_.document(), part, options](const Progress& progress) {
            return swing_check(document, part, options, progress);
        },
        [this](Result<SwingCheck> check) {
            if (!check) {
                emit session_.told(QString::fromStdString(check.error().message), true);
                return;
            }
            swing_ = std::move(*check);
            map_.reset();
            stale_ = false;
            emit swingChanged();
        });
}

void PivotChecks::sweepBoth(PartId first, PartId second, const SwingMapOptions& options) {
    session_.measuring().start(
        tr("Sweeping two joints"),
        [document = session_.document(), first, second, options](const Progress& progress) {
            return swing_map(document, first, second, options, progress);
        },
        [this](Result<SwingMap> map) {
            if (!map) {
                emit session_.told(QString::fromStdString(map.error().message), true);
                return;
            }
            map_ = std::move(*map);
            swing_.reset();
            stale_ = false;
            emit swingChanged();
        });
}

}  // namespace pivrak
