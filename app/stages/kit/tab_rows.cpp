#include "app/stages/kit/tab_rows.h"

#include <algorithm>

namespace pivrak {
namespace {

constexpr int row_height = 29, row_gap = 2, room_beside_words = 12;

}  // namespace

TabRows::TabRows(QWidget* parent) : QFrame(parent) {
    setProperty("tabs", true);
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    hide();
}

QPushButton* TabRows::add(const QString& words) {
    auto* button = new QPushButton(words, this);
    button->setObjectName(QStringLiteral("tab") + words);
    button->setProperty("tab", true);
    button->setCheckable(true);
    button->setChecked(buttons_.empty());
    buttons_.push_back(button);
    QFont chosen = button->font();
    chosen.setBold(true);
    widths_.push_back(QFontMetrics(chosen).horizontalAdvance(words) + room_beside_words);
    show();
    updateGeometry();
    lay();
    return button;
}

std::vector<int> TabRows::rows(int width) const {
    std::vector<int> counts;
    int taken = width + 1;
    for (const int needs : widths_) {
        if (counts.empty() || taken + needs > width) {
            counts.push_back(0);
            taken = 0;
        }
        ++counts.back();
        taken += needs;
    }
    return counts;
}

int TabRows::heightForWidth(int width) const {
    const int count = static_cast<int>(rows(width).size());
    return std::max(0, count * (row_height + row_gap) - row_gap);
}

void TabRows::resizeEvent(QResizeEvent* event) {
    QFrame::resizeEvent(event);
    lay();
}

/// As few rows as there must be, about equally long; what is left of a row goes to all of it.
void TabRows::lay() {
    const std::size_t wanted = rows(width()).size();
    int least = widths_.empty() ? 0 : *std::max_element(widths_.begin(), widths_.end());
    while (least < width() && rows(least).size() > wanted) ++least;
    std::size_t at = 0;
    int top = 0;
    for (const int count : rows(least)) {
        int needs = 0;
        for (int i = 0; i < count; ++i) needs += widths_[at + static_cast<std::size_t>(i)];
        int left = 0;
        const int spare = std::max(0, width() - needs);
        for (int i = 0; i < count; ++i, ++at) {
            const int right =
                i + 1 == count ? std::max(width(), left + widths_[at]) : left + widths_[at] + spare / count;
            buttons_[at]->setGeometry(left, top, right - left, row_height);
            left = right;
        }
        top += row_height + row_gap;
    }
}

}  // namespace pivrak
