#include "app/stages/rig/train_cards.h"

#include <QRegularExpression>
#include <algorithm>

#include "app/stages/kit/fact_list.h"
#include "core/checks/drive/train_report.h"
#include "core/model/units.h"

namespace pivrak {

using nlohmann::json;

constexpr int most_listed = 200;  // shafts; pick one of a train to see its own

TrainCards::TrainCards(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      report_(new Card(tr("Shafts and ratios"))),
      planetary_(new PlanetCard(session)),
      finder_(new Card(tr("Find tooth counts"))),
      shafts_(makeFactList("trainShafts", 8, false)),
      answers_(makeFactList("gearAnswers", 6, false)),
      ratio_(makeNumber("gearRatio")),
      stages_(makeNumber("gearStages")),
      range_(makeNumber("gearRange")),
      sum_(makeNumber("gearSum")),
      module_(makeNumber("gearModule")),
      build_(makeButton(tr("Build as stand-ins"), "buildGears", true)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(9);
    report_->addWidget(shafts_);
    report_facts_ = report_->addReadout("trainFacts");
    finder_->addRow(tr("Ratio"), ratio_);
    finder_->addRow(tr("Stages"), stages_);
    finder_->addRow(tr("Teeth from – to"), range_);
    finder_->addRow(tr("Teeth of a pair"), sum_);
    finder_->addWidget(answers_);
    finder_facts_ = finder_->addReadout("finderFacts");
    finder_->addRow(tr("Module"), module_);
    finder_->addButtons({build_});
    ratio_->setPlaceholderText(tr("5.2, or 51/17"));
    stages_->setText(QStringLiteral("2"));
    range_->setText(QStringLiteral("14 – 72"));
    sum_->setPlaceholderText(tr("any"));
    sum_->setToolTip(tr("Of both gears together: twice the centre distance divided by the module"));
    module_->setText(QStringLiteral("4 mm"));
    column->addWidget(planetary_);
    column->addWidget(finder_);
    for (QLineEdit* field : {ratio_, stages_, range_, sum_})
        connect(field, &QLineEdit::textEdited, this, &TrainCards::showSearch);
    connect(answers_, &QListWidget::currentRowChanged, this,
            [this](int row) { build_->setEnabled(row >= 0); });
    connect(shafts_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        const PartId part{item->data(Qt::UserRole).toULongLong()};
        if (session_.document().parts.contains(part)) session_.select({part});
    });
    connect(build_, &QPushButton::clicked, this, [this] {
        const int row = answers_->currentRow();
        if (row < 0 || static_cast<std::size_t>(row) >= found_.size()) return;
        std::string stages;
        for (const auto& [driver, driven] : found_[static_cast<std::size_t>(row)].stages)
            stages += std::to_string(driver) + ":" + std::to_string(driven) + " ";
        session_.preview(
            {{"op", "gears.build"}, {"stages", stages}, {"module", module_->text().toStdString()}});
    });
    showSearch();
}

void TrainCards::refresh() {
    planetary_->refresh();
    showReport();
}

void TrainCards::showReport() {
    const Document& document = session_.document();
    const std::pair known{session_.revision(), session_.clip().id};
    if (known_ != known) {
        known_ = known;
        trains_ = report_trains(document, &session_.clip());
    }
    const TrainReport& report = trains_;
    shafts_->clear();
    const auto touches = [&](const TrainPart& train) {
        return session_.selection().empty() ||
               std::any_of(train.lines.begin(), train.lines.end(),
                           [&](const TrainLine& line) { return session_.isSelected(line.channel.part()); });
    };
    bool any = false;
    for (const TrainPart& train : report.trains) any |= touches(train);
    for (const TrainPart& train : report.trains) {
        if (any && !touches(train)) continue;
        for (const TrainLine& line : train.lines) {
            const Part* part = document.parts.find(line.channel.part());
            if (!part || shafts_->count() >= most_listed) continue;
            const QString name = QString::fromStdString(part->name),
                          words = QString::fromStdString(line.words);
            const QString brief = line.brief.empty() ? words : QString::fromStdString(line.brief);
            auto* item = new QListWidgetItem(tr("%1   %2").arg(name, brief));
            item->setToolTip(tr("%1: %2").arg(name, words));
            item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(part->id.value));
            shafts_->addItem(item);
        }
    }
    shafts_->setVisible(shafts_->count() > 0);
    shafts_->setFixedHeight(std::clamp(shafts_->count(), 3, 10) * 22 + 6);
    if (!report.clashes.empty()) {
        setRole(report_facts_, "bad");
        report_facts_->setText(QString::fromStdString(report.clashes.front()));
    } else {
        setRole(report_facts_, "soft");
        report_facts_->setText(report.trains.empty() ? tr("No shafts run with each other yet.")
                               : report.trains.size() == 1
                                   ? tr("One train; every shaft has one driver.")
                                   : tr("%1 trains; every shaft has one driver.").arg(report.trains.size()));
    }
}

void TrainCards::showSearch() {
    answers_->clear();
    answers_->hide();
    found_.clear();
    build_->setEnabled(false);
    GearSearch search;
    const auto ratio = parse_quantity(ratio_->text().toStdString(), Dimension::None, LengthUnit::Metre);
    const QStringList ends =
        range_->text().split(QRegularExpression(QStringLiteral("[^0-9]+")), Qt::SkipEmptyParts);
    setRole(finder_facts_, "soft");
    if (ratio_->text().trimmed().isEmpty() || !ratio || !(*ratio > 0) || ends.size() != 2)
        return finder_facts_->setText(tr("Turns of the first shaft for one of the last."));
    search.ratio = *ratio;
    search.stages = stages_->text().toInt();
    search.least_teeth = ends[0].toInt();
    search.most_teeth = ends[1].toInt();
    search.teeth_in_pair = sum_->text().toInt();
    found_ = find_gear_trains(search);
    for (const GearAnswer& answer : found_) {
        QString text;
        for (const auto& [driver, driven] : answer.stages) text += tr("%1:%2  ").arg(driver).arg(driven);
        answers_->addItem(
            tr("%1 %2   %3 ppm")
                .arg(text, QString::number(answer.ratio, 'f', 6), QString::number(answer.error_ppm, 'f', 1)));
    }
    answers_->setVisible(!found_.empty());
    if (found_.empty()) setRole(finder_facts_, "bad");
    finder_facts_->setText(found_.empty() ? tr("No gears within these limits.")
                                          : tr("Nearest first; pick one to build it."));
}

}  // namespace pivrak
