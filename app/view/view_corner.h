#pragma once

#include <QFrame>
#include <array>

#include "app/shell/theme.h"

class QHBoxLayout;
class QToolButton;

class QMenu;

namespace pivrak {

class CompassDial;
class Viewport;

/// What sits in the lower left corner of the view: the compass dial, and beside it how the view draws.
class ViewCorner : public QObject {
    Q_OBJECT

public:
    ViewCorner(Viewport& view, Look& look);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void place();
    void restyle();
    void fillCameras(QMenu& menu);
    /// One row of buttons, or two where one is too wide for the view.
    void arrange(int room);
    Viewport& view_;
    Look& look_;
    CompassDial* dial_;
    QFrame* chip_;
    std::array<QToolButton*, 6> buttons_;
    std::array<QHBoxLayout*, 2> rows_;
};

}  // namespace pivrak
