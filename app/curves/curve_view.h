#pragma once

#include <QCheckBox>
#include <QLineEdit>
#include <QPushButton>

#include "app/curves/curve_sheet.h"
#include "app/stages/kit/dry_run.h"
#include "app/stages/kit/lower_area.h"

namespace pivrak {

/// Below the view in Keys: the curve sheet, with tangents to choose for the picked keys and their numbers to
/// type.
class CurveView : public QWidget {
    Q_OBJECT

public:
    CurveView(Session& session, Look& look, QWidget* parent = nullptr);
    CurveSheet* sheet() const { return sheet_; }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void showPicked();
    void askDriven();
    void shape(const char* runs);
    void typed(const QLineEdit* field);

    Session& session_;
    CurveSheet* sheet_;
    LowerArea* area_;
    std::vector<QPushButton*> runs_;
    QLineEdit *frame_, *value_, *slope_, *weight_;
    QCheckBox* one_scale_;
    std::string shown_clip_;
    Trial<std::vector<DrivenCurve>>* courses_;
};

}  // namespace pivrak
