#pragma once

#include <QColor>
#include <QFont>
#include <QObject>

class QApplication;

namespace pivrak {

/// Every colour of the window, in one place.
struct Theme {
    bool night = false;
    QColor paper, card, line, ink, softInk;
    QColor petrol, petrolLight, railText;
    QColor saffron, raspberry, raspberryTint, steel, leaf, rust, rustTint, plum;
    QColor groundTop, groundHorizon, groundBottom, grid;
    QColor edge;  ///< crease lines of shapes

    static Theme day();
    static Theme nightly();
};

/// Colours told apart in previews, none of them one of the window's own signals.
QColor pieceColor(std::size_t index);

/// Holds the present theme and tells when it changes.
class Look : public QObject {
    Q_OBJECT

public:
    explicit Look(QApplication& application);
    const Theme& theme() const { return theme_; }
    bool isNight() const { return theme_.night; }
    void setNight(bool night);

    /// Of one face for words and numbers: its digits are equally wide, and its point is no gap.
    static QFont uiFont(int pixels, bool bold = false);

signals:
    void changed();

private:
    void apply();
    QApplication& application_;
    Theme theme_ = Theme::day();
};

}  // namespace pivrak
