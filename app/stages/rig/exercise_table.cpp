#include "app/stages/rig/exercise_table.h"

#include <QHeaderView>
#include <QPushButton>

namespace pivrak {
namespace {

/// What kind of thing a row tells.
QString kindOf(const std::string& code) {
    if (code == "contact") return ExerciseTable::tr("contact");
    if (code == "wheel.slips") return ExerciseTable::tr("slip");
    if (code.starts_with("wheel.")) return ExerciseTable::tr("ground");
    if (code == "linkage.stops") return ExerciseTable::tr("stop");
    if (code.starts_with("limit.") || code == "constraint.held") return ExerciseTable::tr("limit");
    if (code.starts_with("reach.")) return ExerciseTable::tr("missed goal");
    if (code.starts_with("chain.") || code.starts_with("run.")) return ExerciseTable::tr("chain");
    return ExerciseTable::tr("finding");
}

}  // namespace

ExerciseTable::ExerciseTable(ExerciseResults& results, QWidget* parent)
    : QWidget(parent), results_(results), table_(new QTableWidget(0, 3)) {
    table_->setObjectName(QStringLiteral("exerciseTable"));
    table_->setHorizontalHeaderLabels({tr("kind"), tr("what happens"), QString()});
    for (const int column : {0, 1})
        table_->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    table_->horizontalHeader()->setHighlightSections(false);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(26);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setShowGrid(false);
    area_ = new LowerArea(tr("Exercise"), table_);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(area_);
    connect(table_, &QTableWidget::cellActivated, this,
            [this](int row, int) { results_.show(static_cast<std::size_t>(row)); });
    connect(&results_, &ExerciseResults::changed, this, &ExerciseTable::retell);
    retell();
}

void ExerciseTable::addRow(int row, const ExerciseRow& told) {
    table_->setItem(row, 0, new QTableWidgetItem(kindOf(told.code)));
    auto* message = new QTableWidgetItem(QString::fromStdString(told.message));
    message->setToolTip(message->text());
    table_->setItem(row, 1, message);
    auto* show = new QPushButton(tr("Show me"));
    show->setObjectName(QStringLiteral("showExercised"));
    show->setFlat(true);
    connect(show, &QPushButton::clicked, this, [this, row] {
        table_->selectRow(row);
        results_.show(static_cast<std::size_t>(row));
    });
    table_->setCellWidget(row, 2, show);
}

void ExerciseTable::retell() {
    const auto& report = results_.report();
    table_->setRowCount(0);
    if (report) {
        table_->setRowCount(static_cast<int>(report->rows.size()));
        for (std::size_t i = 0; i < report->rows.size(); ++i) addRow(static_cast<int>(i), report->rows[i]);
        table_->resizeColumnToContents(0);
        table_->resizeColumnToContents(2);
    }
    area_->setNote(results_.isStale() ? tr("out of date; run it again under Exercise")
                   : report && report->rows.empty()
                       ? tr("nothing touched, stopped, slid or was missed")
                       : tr("each with the pose in which it happens; nothing is changed by looking"));
    emit retold();
}

}  // namespace pivrak
