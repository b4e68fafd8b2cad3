#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

/// Pivots by the shape itself: its middle, base or centroid, or the axis of what is round, each part by its
/// own.
class ShapePivotCard : public Card {
    Q_OBJECT

public:
    explicit ShapePivotCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    Session& session_;
    QPushButton *middle_, *base_, *centroid_, *whole_, *pick_faces_, *faces_;
    QComboBox* axis_;
    QLabel* state_;
};

/// Pivots by places picked in the view: one place, half way between two, a hinge line, a circle.
class PickedPivotCard : public Card {
    Q_OBJECT

public:
    explicit PickedPivotCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    nlohmann::json places() const;
    Session& session_;
    QPushButton *pick_, *clear_, *there_, *between_, *line_, *circle_;
    QComboBox *axis_, *at_;
    QLabel* list_;
};

/// Pivots by numbers, or by another part.
class TypedPivotCard : public Card {
    Q_OBJECT

public:
    explicit TypedPivotCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void apply(QLineEdit* edited);
    Session& session_;
    QLineEdit* at_[3];
    QPushButton *origin_, *as_last_, *pin_;
};

/// A choice of the own axis that goes along what was found.
QComboBox* makeAxisChoice(const char* object_name);

}  // namespace pivrak
