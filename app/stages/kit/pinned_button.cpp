#include "app/stages/kit/pinned_button.h"

#include <QEvent>
#include <QScrollBar>

#include "app/stages/kit/card.h"

namespace pivrak {

PinnedButton::PinnedButton(QScrollArea& cards) : cards_(cards) {
    setObjectName(QStringLiteral("pinnedMain"));
    setProperty("main", true);
    hide();
    connect(this, &QPushButton::clicked, this, [this] {
        if (followed_) followed_->click();
    });
    connect(cards.verticalScrollBar(), &QScrollBar::valueChanged, this, &PinnedButton::follow);
    connect(cards.verticalScrollBar(), &QScrollBar::rangeChanged, this, &PinnedButton::follow);
    cards.viewport()->installEventFilter(this);
}

/// The main button of a card that is in sight at its top, but not down to that button.
QPushButton* PinnedButton::hiddenOne() const {
    const QWidget* view = cards_.viewport();
    QPushButton* found = nullptr;
    int highest = 0;
    for (QPushButton* button : cards_.widget()->findChildren<QPushButton*>()) {
        if (!button->property("main").toBool() || !button->isVisibleTo(view)) continue;
        const QWidget* card = button->parentWidget();
        while (card && !dynamic_cast<const Card*>(card)) card = card->parentWidget();
        if (!card) continue;
        const int top = card->mapTo(view, QPoint()).y(),
                  foot = button->mapTo(view, QPoint(0, button->height())).y();
        // What shows less than a title and a row of its card is not what is worked on.
        if (foot <= view->height() || top > view->height() - 90) continue;
        if (!found || top < highest) found = button, highest = top;
    }
    return found;
}

void PinnedButton::follow() {
    QPushButton* button = hiddenOne();
    if (button != followed_) {
        if (followed_) followed_->removeEventFilter(this);
        followed_ = button;
        if (button) button->installEventFilter(this);
    }
    setVisible(button != nullptr);
    if (!button) return;
    setText(button->text());
    setToolTip(button->toolTip());
    setEnabled(button->isEnabled());
}

bool PinnedButton::eventFilter(QObject* watched, QEvent* event) {
    const bool follows =
        watched == followed_ && (event->type() == QEvent::EnabledChange || event->type() == QEvent::Hide);
    if (follows || (watched == cards_.viewport() && event->type() == QEvent::Resize))
        QMetaObject::invokeMethod(this, &PinnedButton::follow, Qt::QueuedConnection);
    return QPushButton::eventFilter(watched, event);
}

}  // namespace pivrak
