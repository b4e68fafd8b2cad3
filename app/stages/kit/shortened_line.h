#pragma once

#include <QLabel>

namespace pivrak {

/// A line that is cut with dots where there is no room for it, so that what stands beside it keeps its own.
/// Its text, and what a tip says, stay whole.
class ShortenedLine : public QLabel {
public:
    explicit ShortenedLine(Qt::TextElideMode cut = Qt::ElideRight) : cut_(cut) {}
    void setLine(const QString& line) {
        setText(line);
        setToolTip(line);
    }
    QSize minimumSizeHint() const override { return {40, QLabel::minimumSizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Qt::TextElideMode cut_;
};

}  // namespace pivrak
