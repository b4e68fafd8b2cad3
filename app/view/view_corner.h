#pragma once

#include <QFrame>

#include "app/shell/theme.h"

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
    Viewport& view_;
    Look& look_;
    CompassDial* dial_;
    QFrame* chip_;
};

}  // namespace pivrak
