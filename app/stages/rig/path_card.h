#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Draws new paths, and changes the one in hand.
class PathCard : public QWidget {
    Q_OBJECT

public:
    explicit PathCard(Session& session, QWidget* parent = nullptr);
    void refresh();

signals:
    void importAsked();
    void exportAsked(const QString& path_name);

private:
    void makeDrawing(QVBoxLayout* into);
    void makeInHand(QVBoxLayout* into);
    void run(const char* op, nlohmann::json more = nlohmann::json::object());
    void startDrawing(bool on);
    bool placePlane(PathTool& tool);
    void addCircle();
    void movePoint();
    std::optional<Vec3> pickedPlace(const Path& path) const;
    QStringList placeWords(const std::optional<Vec3>& at) const;
    void layOnGround();
    std::string pickedPoints() const;
    QString facts(const Path& path) const;

    Session& session_;
    QComboBox *form_, *where_;
    QPushButton *draw_, *circle_;
    QLineEdit *radius_, *second_radius_;
    QLabel* drawing_;
    Card* in_hand_;
    QComboBox *which_, *runs_;
    QLineEdit *name_, *point_at_, *count_, *height_, *ease_, *roll_at_, *roll_;
    QLabel *facts_, *drape_facts_;
    QPushButton *closed_, *reverse_, *respace_, *corner_, *smooth_, *delete_, *drape_, *carry_, *set_roll_,
        *export_, *remove_;
};

}  // namespace pivrak
