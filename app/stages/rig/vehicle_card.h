#pragma once

#include <set>

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/rig/layout_picture.h"
#include "app/stages/rig/made_vehicles.h"

namespace pivrak {

/// Finds a vehicle's wheels among the picked parts, shows what was found to be corrected, and makes its rig.
class VehicleCard : public QWidget {
    Q_OBJECT

public:
    explicit VehicleCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void look();
    void make();
    void forget();
    void fillParts(QComboBox* combo, const QString& none, bool shapes_only);
    void showFound();
    void addPicked();
    void layOut(const std::vector<PartId>& tyres);
    void begin(Result<VehicleLayout> found);
    void turnModel();
    void takePicked(std::vector<PartId>& into);
    QString namesOf(const std::vector<PartId>& parts) const;
    Vec3 hitchPlace() const;

    Session& session_;
    std::vector<PartId> looked_at_;
    std::optional<VehicleLayout> layout_;
    std::set<int> steered_;
    Card* card_;
    QPushButton *look_, *make_, *add_, *turn_;
    std::optional<Error> askew_;  ///< the model stands sideways or lies
    LayoutPicture* picture_;
    QLabel* facts_;
    QWidget* details_;
    QLineEdit *name_, *bump_, *droop_, *kingpin_, *track_;
    QWidget *track_row_, *turntable_row_, *drawbar_row_;
    QPushButton *turntable_, *drawbar_;
    std::vector<PartId> turning_, nodding_;  ///< parts of a drawbar: what turns, and of that what nods
    QComboBox *ground_, *hitch_;
    MadeVehicles* made_;
};

}  // namespace pivrak
