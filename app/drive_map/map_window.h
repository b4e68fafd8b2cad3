#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/drive_map/map_canvas.h"
#include "app/shell/questions.h"
#include "app/stages/kit/dry_run.h"
#include "core/operations/drivers/likely_coupling.h"

namespace pivrak {

/// The drive map in a window of its own.
class MapWindow : public QWidget {
    Q_OBJECT

public:
    MapWindow(Session& session, Look& look, const Questions& questions, QWidget* parent);
    MapCanvas* canvas() const { return canvas_; }

protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();
    void save();
    /// Shows what is most likely meant, to be taken or left.
    void couple(ChannelRef driver, ChannelRef driven);
    void showOffer();
    DriveMap arranged(const DriveMap& whole) const;

    Session& session_;
    const Questions& questions_;
    MapCanvas* canvas_;
    QLineEdit* search_;
    QComboBox* fold_;
    QCheckBox* around_;
    QLabel *note_, *offer_;
    QPushButton *take_, *leave_;
    Trial<Result<LikelyCoupling>>* likely_;
};

}  // namespace pivrak
