#pragma once

#include <QCheckBox>
#include <QListWidget>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// The clips of the rig in their order: which one is shown, and its name, range, rate, loop and colour.
class ClipCard : public Card {
    Q_OBJECT

public:
    ClipCard(Session& session, Look& look);
    void refresh();

private:
    void list();
    void apply();
    void applyRate();
    /// With the typed name, or one that is free; with the present clip's keys when asked.
    void add(bool keys);
    void move(int by);

    Session& session_;
    Look& look_;
    QListWidget* clips_;
    QLineEdit *name_, *first_, *last_, *rate_;
    QCheckBox *loop_, *own_rate_, *keeps_seconds_;
    QComboBox* color_;
    QPushButton *new_, *copy_, *remove_, *up_, *down_;
};

/// What a clip has beside its keys: named frames, and other clips that are added to it.
class ClipExtrasCard : public Card {
    Q_OBJECT

public:
    explicit ClipExtrasCard(Session& session);
    void refresh();

private:
    void mark();
    void addLayer(double share);

    Session& session_;
    QLineEdit *marker_, *share_;
    QComboBox* layer_;
    QPushButton *mark_, *unmark_, *add_, *remove_;
    QLabel *markers_, *layers_;
};

}  // namespace pivrak
