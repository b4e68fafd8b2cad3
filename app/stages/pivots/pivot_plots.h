#pragma once

#include "app/session/pivot_checks.h"
#include "app/shell/theme.h"
#include "app/stages/kit/lower_area.h"
#include "app/stages/pivots/swing_map_chart.h"

namespace pivrak {

/// Below the view in Pivots: the run-out of the picked part round its axis, and the clearance of the last
/// swing over its values, with contacts and limits.
class PivotPlots : public QWidget {
    Q_OBJECT

public:
    PivotPlots(Session& session, PivotChecks& checks, Look& look, QWidget* parent = nullptr);
    /// Whether anything has been measured that it could show.
    bool hasSomething() const;

signals:
    void retold();

private:
    void retell();
    Session& session_;
    PivotChecks& checks_;
    LowerArea* area_;
    QWidget* canvas_;
    SwingMapChart* map_;
};

/// How a polar plot of a run-out is drawn: the mean as a circle, deviations enlarged so that the largest
/// reaches a part of its radius.
struct PolarScale {
    QPointF middle;
    double mean_px, px_per_m;
    static PolarScale fit(const QRectF& box, const SpinCheck& check);
    QPointF at(const SpinCheck::Sample& sample) const;
};

/// Values and clearances on a rectangle; infinite clearances lie at its top.
struct CurveScale {
    QRectF box;
    double from, to, highest;
    static CurveScale fit(const QRectF& box, const SwingCheck& check);
    double x(double value) const;
    double y(double clearance) const;
};

}  // namespace pivrak
