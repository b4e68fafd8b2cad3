#pragma once

#include <QWidget>
#include <vector>

#include "app/shell/theme.h"
#include "core/model/channel.h"
#include "core/model/units.h"

namespace pivrak {

/// A channel over the clip, as a recorder would draw it, with the present frame.
class FormulaPlot : public QWidget {
    Q_OBJECT

public:
    FormulaPlot(Look& look, const char* object_name);
    struct Sample {
        double frame, value;
    };
    void setCurve(std::vector<Sample> samples, ChannelKind kind, LengthUnit unit);
    void setFrame(double frame);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& look_;
    std::vector<Sample> samples_;
    ChannelKind kind_ = ChannelKind::Turn;
    LengthUnit unit_ = LengthUnit::Metre;
    double frame_ = 0;
};

}  // namespace pivrak
