#pragma once

#include <QWidget>

#include "app/session/session.h"
#include "app/shell/theme.h"

namespace pivrak {

/// The seven stages as stops on a line, with a tick where nothing is wrong and a badge with the number of
/// findings where something is.
class StageRail : public QWidget {
    Q_OBJECT

public:
    StageRail(Session& session, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {74, 600}; }
    /// Middle of a stop in this widget.
    QPointF stopOf(Stage stage) const;

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    int stageAt(const QPointF& pixel) const;
    std::size_t findingsOf(Stage stage) const;
    Session& session_;
    Look& look_;
    int hovered_ = -1;
};

}  // namespace pivrak
