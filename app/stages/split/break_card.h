#pragma once

#include <QSlider>
#include <QTimer>

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Breaks lumps apart in one of six ways, with sliders for thresholds and a coloured preview that follows
/// them.
class BreakCard : public Card {
    Q_OBJECT

public:
    explicit BreakCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    QWidget* makeSlider(const char* name, QSlider*& slider);
    void wayChanged();
    void show();
    void placePlane();
    nlohmann::json step() const;
    nlohmann::json subjects() const;
    void applyPlaneField(QLineEdit& edit);
    void showPlaneFields();

    Session& session_;
    QComboBox *by_, *direction_, *material_;
    QLineEdit *weld_, *angle_, *offset_, *tilt_, *turn_;
    QSlider *weld_slider_, *angle_slider_;
    QCheckBox* cap_;
    QPushButton* show_;
    QLabel* count_;
    std::vector<std::pair<QStringList, QWidget*>> rows_;  ///< ways that use a row
    QTimer soon_;
};

/// Small parts that go into what they touch, and joining by hand.
class TrimCard : public Card {
    Q_OBJECT

public:
    explicit TrimCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void show();
    Session& session_;
    QSlider* share_;
    QLabel* share_words_;
    QLineEdit* gap_;
    QPushButton *show_, *join_;
    QTimer soon_;
};

}  // namespace pivrak
