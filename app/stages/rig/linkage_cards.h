#pragma once

#include <QListWidget>

#include "app/stages/kit/dry_run.h"
#include "app/stages/kit/form_card.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

/// Holds the two parts picked last together.
class CloseLoopCard : public FormCard {
    Q_OBJECT

public:
    explicit CloseLoopCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }

private:
    std::optional<Vec3> axisChosen(PartId last) const;

    PlaceButton* click_;
};

/// Makes a ram of the two parts picked last.
class RamCard : public FormCard {
    Q_OBJECT

public:
    explicit RamCard(Session& session);

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }
};

/// The linkages that move the picked parts, or all where none is picked: how they can move and how far, live
/// how they close; on and off, what leads them.
class LinkagesCard : public Card {
    Q_OBJECT

public:
    explicit LinkagesCard(Session& session);
    void refresh();
    /// What changes while things move: where they stop, what is open.
    void refreshMotion();

private:
    QString wordsOf(const Linkage& linkage) const;
    /// Null when there is none in hand.
    const Linkage* current() const;
    void tellCurrent();
    void listClosures(const Linkage& linkage);
    void switchRow(QListWidgetItem* item);
    void leadByPicked();

    Session& session_;
    QListWidget* list_;
    QLabel* facts_;
    QComboBox* closure_;
    Trial<QString>* measured_;
    QPushButton *lead_, *open_;
    std::vector<LinkageId> rows_;
    bool listing_ = false;
};

}  // namespace pivrak
