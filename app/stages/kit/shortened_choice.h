#pragma once

#include <QComboBox>

namespace pivrak {

/// A choice whose word is cut with dots in its middle where there is no room for it; a tip then tells it
/// whole.
class ShortenedChoice : public QComboBox {
public:
    using QComboBox::QComboBox;
    /// Whether its word is cut at its present size.
    bool isCut() const;
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
    bool event(QEvent* event) override;

private:
    /// As it is painted, for an option of this widget.
    QString shortened(const QStyleOptionComboBox& option) const;
};

}  // namespace pivrak
