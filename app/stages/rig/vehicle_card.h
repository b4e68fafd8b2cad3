#pragma once

#include <set>

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "core/rig/vehicles/vehicle_layout.h"

namespace pivrak {

/// A vehicle seen from above: wheels on their axles, steered ones turned. A click on a wheel has its axle
/// steered or not; a wheel dragged off the picture is left out.
class LayoutPicture : public QWidget {
    Q_OBJECT

public:
    explicit LayoutPicture(QWidget* parent = nullptr);
    void show(const VehicleLayout& layout, const std::set<int>& steered);
    /// Where a wheel is drawn, and where a sprocket or idler.
    QRectF wheelBox(std::size_t wheel) const;
    QRectF runnerBox(std::size_t runner) const;

signals:
    void axleClicked(int axle);
    void wheelDropped(int wheel);
    void runnerDropped(int runner);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    QRectF boxOf(const FoundWheel& wheel) const;

    VehicleLayout layout_;
    std::set<int> steered_;
    std::optional<std::size_t> held_, held_runner_;
    QPointF pressed_, at_;
};

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
    void showVehicles();
    void takePicked(std::vector<PartId>& into);
    QString namesOf(const std::vector<PartId>& parts) const;
    Vec3 hitchPlace() const;

    Session& session_;
    std::vector<PartId> looked_at_;
    std::optional<VehicleLayout> layout_;
    std::set<int> steered_;
    Card* card_;
    QPushButton *look_, *make_;
    LayoutPicture* picture_;
    QLabel* facts_;
    QWidget* details_;
    QLineEdit *name_, *bump_, *droop_, *kingpin_, *track_;
    QWidget *track_row_, *turntable_row_, *drawbar_row_;
    QPushButton *turntable_, *drawbar_;
    std::vector<PartId> turning_, nodding_;  ///< parts of a drawbar: what turns, and of that what nods
    QComboBox *ground_, *hitch_;
    QVBoxLayout* vehicles_;
};

}  // namespace pivrak
