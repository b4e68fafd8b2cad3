#include "app/shell/question_box.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace pivrak {
namespace {

/// Details of more lines are scrolled.
constexpr int most_details_px = 220;

QLabel* wrapped(const QString& words, const char* role) {
    auto* label = new QLabel(words);
    label->setProperty("role", QLatin1String(role));
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return label;
}

}  // namespace

QuestionBox::QuestionBox(const QString& title, const QString& words, const QStringList& details,
                         const QStringList& answers, QWidget* parent)
    : QDialog(parent), answer_(static_cast<int>(answers.size()) - 1) {
    setObjectName(QStringLiteral("questionBox"));
    setWindowTitle(title);
    setMinimumWidth(420);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 18, 22, 16);
    column->setSpacing(10);
    column->addWidget(wrapped(title, "title"));
    column->addWidget(wrapped(words, "plain"));
    if (!details.isEmpty()) {
        auto* lines = wrapped(details.join(QLatin1Char('\n')), "soft");
        lines->setObjectName(QStringLiteral("questionDetails"));
        auto* area = new QScrollArea;
        area->setWidgetResizable(true);
        area->setWidget(lines);
        area->setFocusPolicy(Qt::NoFocus);
        area->setMaximumHeight(most_details_px);
        area->setMinimumHeight(std::min(lines->sizeHint().height() + 8, most_details_px));
        column->addWidget(area);
    }
    column->addSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addStretch(1);
    for (int i = 0; i < answers.size(); ++i) {
        auto* button = new QPushButton(answers[i]);
        button->setObjectName(QStringLiteral("answer%1").arg(i + 1));
        button->setProperty("main", i == 0);
        button->setDefault(i == 0);
        row->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, i] {
            answer_ = i;
            accept();
        });
    }
    column->addLayout(row);
}

int QuestionBox::ask() {
    exec();
    return answer_;
}

}  // namespace pivrak
