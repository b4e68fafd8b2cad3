#include "app/steps/steps_window.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/stages/kit/card.h"
#include "core/io/atomic_file.h"

namespace pivrak {

StepsWindow::StepsWindow(Session& session, const Questions& questions, QWidget* parent)
    : QDialog(parent),
      session_(session),
      questions_(questions),
      list_(new QListWidget),
      facts_(new QLabel),
      go_(makeButton(tr("Go there"), "goToStep")),
      repeat_(makeButton(tr("Take again on the picked"), "repeatSteps", true)),
      save_(makeButton(tr("Keep as a job…"), "saveStepsAsJob")) {
    setObjectName(QStringLiteral("stepsWindow"));
    setWindowTitle(tr("Steps"));
    resize(440, 520);
    list_->setObjectName(QStringLiteral("stepsList"));
    list_->setAccessibleName(tr("Steps"));
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    facts_->setObjectName(QStringLiteral("stepsFacts"));
    facts_->setWordWrap(true);
    setRole(facts_, "soft");
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(go_);
    buttons->addStretch();
    buttons->addWidget(save_);
    buttons->addWidget(repeat_);
    auto* column = new QVBoxLayout(this);
    column->addWidget(list_, 1);
    column->addWidget(facts_);
    column->addLayout(buttons);
    connect(list_, &QListWidget::itemSelectionChanged, this, &StepsWindow::refresh);
    connect(list_, &QListWidget::itemDoubleClicked, this, [this](QListWidgetItem* item) {
        session_.goToState(static_cast<std::size_t>(list_->row(item)));
    });
    connect(go_, &QPushButton::clicked, this, [this] {
        if (const auto rows = marked()) session_.goToState(rows->second);
    });
    connect(repeat_, &QPushButton::clicked, this, &StepsWindow::repeat);
    connect(save_, &QPushButton::clicked, this, &StepsWindow::saveJob);
    connect(&session_, &Session::changed, this, &StepsWindow::fill);
    fill();
}

/// While it is closed it does not follow.
void StepsWindow::showEvent(QShowEvent* event) {
    QDialog::showEvent(event);
    fill();
}

/// Undone steps stand below the present one, until another is taken in their place.
void StepsWindow::fill() {
    if (!isVisible() && filled_ > 0) return;
    const History& history = session_.history();
    std::vector<int> before;
    for (const QModelIndex& row : list_->selectionModel()->selectedRows()) before.push_back(row.row());
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (std::size_t i = 0; i < history.size(); ++i) {
        const QString title = i == 0 ? tr("As it was opened") : QString::fromStdString(history.title_at(i));
        auto* item = new QListWidgetItem(i > history.now() ? tr("%1, undone").arg(title) : title);
        QFont font = list_->font();
        font.setBold(i == history.now());
        item->setFont(font);
        if (i > history.now())
            item->setForeground(QApplication::palette().brush(QPalette::Disabled, QPalette::Text));
        list_->addItem(item);
    }
    for (const int row : before)
        if (row < list_->count() && filled_ <= history.size()) list_->item(row)->setSelected(true);
    filled_ = history.size();
    if (before.empty()) list_->scrollToItem(list_->item(static_cast<int>(history.now())));
    refresh();
}

std::optional<std::pair<std::size_t, std::size_t>> StepsWindow::marked() const {
    std::vector<int> rows;
    for (const QModelIndex& row : list_->selectionModel()->selectedRows()) rows.push_back(row.row());
    if (rows.empty()) return std::nullopt;
    const auto [first, last] = std::minmax_element(rows.begin(), rows.end());
    if (*last - *first + 1 != static_cast<int>(rows.size())) return std::nullopt;
    return std::pair(static_cast<std::size_t>(*first), static_cast<std::size_t>(*last));
}

void StepsWindow::refresh() {
    const auto rows = marked();
    const bool steps = rows && rows->first > 0 && rows->second <= session_.history().now();
    go_->setEnabled(rows && rows->first == rows->second && rows->second != session_.history().now());
    QString words = tr("Mark one step to go there, or some in a row to take them again.");
    bool can = false;
    if (steps) {
        const auto run = session_.stepsTaken(rows->first, rows->second);
        can = run.ok();
        words =
            !run ? QString::fromStdString(run.error().message)
            : run->takes_any_number()
                ? tr("They are about one lot of parts: pick as many others as you like.")
                : tr("They are about %n parts, each in its place: pick as many others, in the same order.",
                     nullptr, static_cast<int>(run->roles().size()));
    }
    facts_->setText(words);
    repeat_->setEnabled(can && !session_.selection().empty());
    save_->setEnabled(can);
}

void StepsWindow::repeat() {
    if (const auto rows = marked()) session_.repeatSteps(rows->first, rows->second);
}

/// A job without a model: it is told which ones when it runs.
void StepsWindow::saveJob() {
    const auto rows = marked();
    if (!rows) return;
    const auto run = session_.stepsTaken(rows->first, rows->second);
    if (!run) return;
    const QString path = questions_.save_file(this, tr("Keep as a job"), QStringLiteral("steps.job.json"),
                                              tr("Job (*.job.json)"));
    if (path.isEmpty()) return;
    const nlohmann::json job{{"steps", run->named()}};
    if (const auto written = write_file_atomically(path.toStdString(), job.dump(1) + "\n"); !written)
        emit session_.told(QString::fromStdString(written.error().message), true);
    else
        emit session_.told(tr("Kept %n steps; 'pivrak-cli run' takes them on models: --over FOLDER", nullptr,
                              static_cast<int>(run->named().size())),
                           false);
}

}  // namespace pivrak
