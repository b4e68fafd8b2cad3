#pragma once

#include "app/session/session.h"
#include "app/stages/kit/form_card.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

/// Name of the part picked last, what carries it, and who it is put under.
class CarrierCard : public Card {
    Q_OBJECT

public:
    explicit CarrierCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    Session& session_;
    QLineEdit* name_;
    QLabel* carried_;
    QPushButton *under_, *release_;
};

/// Datums, groups and frames above parts, and parts moved onto another one's frame.
class DatumCard : public Card {
    Q_OBJECT

public:
    explicit DatumCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void alignToLast();
    Session& session_;
    PlaceButton* click_;
    QPushButton *datum_, *group_, *above_, *align_, *replace_;
    QCheckBox* takes_joint_;
    QComboBox* what_;
};

/// Moves the picked parts at rest, typed, seen before it is accepted.
class PlaceCard : public FormCard {
    Q_OBJECT

public:
    explicit PlaceCard(Session& session);

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    /// Elsewhere gauges are those of joints again.
    void hideEvent(QHideEvent* event) override;

private:
    QPushButton* gauges_;
};

/// Puts all picked parts but the last under the last one. Answers why not, or nothing when it can be done.
QString putUnderObstacle(const Session& session);
void putUnderLast(Session& session);

}  // namespace pivrak
