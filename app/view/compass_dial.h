#pragma once

#include <QWidget>

#include "app/shell/theme.h"

namespace pivrak {

class Viewport;

/// A round dial that shows which way the view looks at the model and turns it on a click: the four sides
/// round the rim, the top in the middle. The needle points to where the eye stands.
class CompassDial : public QWidget {
    Q_OBJECT

public:
    CompassDial(Viewport& view, Look& look, QWidget* parent);
    QSize sizeHint() const override { return {92, 92}; }

    enum class Side { Front, Left, Back, Right, Top };
    /// Middle of a side's field in this widget.
    QPointF fieldOf(Side side) const;

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    /// Left and right go round the model, up looks from above, down from the side again.
    void keyPressEvent(QKeyEvent* event) override;

private:
    void look(Side side);
    Viewport& view_;
    Look& look_;
};

}  // namespace pivrak
