#pragma once

#include <QLabel>
#include <QProgressBar>
#include <QTimer>
#include <QToolButton>
#include <QWidget>

#include "app/session/session.h"
#include "app/shell/theme.h"

namespace pivrak {

/// The foot of the window: on the left what is expected next or what just happened, on the right counts, unit
/// and frame. Long work shows how far it is, and can be cancelled here.
class GaugeBar : public QWidget {
    Q_OBJECT

public:
    GaugeBar(Session& session, Look& look, QWidget* parent = nullptr);
    QString message() const { return message_->text(); }

public slots:
    void hint(const QString& text);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void tell(const QString& text, bool refused);
    void count();
    void showCounts();
    void expect();
    QString expectedOf(const Part& part) const;
    void style();
    void watch(Background& work, const char* name, const QString& when_cancelled);

    Session& session_;
    Look& look_;
    QLabel* message_;
    QLabel* counts_;
    QString counted_;  ///< what there is, without the frame
    QTimer fade_;
    bool refused_ = false;
};

}  // namespace pivrak
