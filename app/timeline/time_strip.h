#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <QWidget>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/timeline/player.h"
#include "app/timeline/time_lanes.h"

namespace pivrak {

/// The strip of time below the work: transport, the frame as a number, keys, lanes.
class TimeStrip : public QWidget {
    Q_OBJECT

public:
    TimeStrip(Session& session, Look& look, Player& player, QWidget* parent = nullptr);
    TimeLanes& lanes() { return *lanes_; }

signals:
    void setKeyAsked();

private:
    void refresh();
    void listClips();
    void typedFrame();

    Session& session_;
    Player& player_;
    TimeLanes* lanes_;
    QToolButton *to_start_, *play_, *to_end_;
    QLineEdit* frame_;
    QPushButton *set_key_, *auto_key_;
    QComboBox *clip_, *pace_;
    QLabel *rate_, *played_;
};

}  // namespace pivrak
