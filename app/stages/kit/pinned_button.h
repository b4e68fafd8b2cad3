#pragma once

#include <QPointer>
#include <QPushButton>
#include <QScrollArea>

namespace pivrak {

/// Stands below cards that scroll: while the main button of the first card in sight lies further down, it
/// does what that one does.
class PinnedButton : public QPushButton {
    Q_OBJECT

public:
    explicit PinnedButton(QScrollArea& cards);
    /// Call it when cards may have come, gone or changed.
    void follow();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QPushButton* hiddenOne() const;

    QScrollArea& cards_;
    QPointer<QPushButton> followed_;
};

}  // namespace pivrak
