#include "app/stages/rig/train_cards.h"

#include <QRegularExpression>
#include <algorithm>

#include "app/stages/kit/fact_list.h"
#include "core/checks/drive/train_report.h"
#include "core/model/units.h"

namespace pivrak {

using nlohmann::json;

TrainCards::TrainCards(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      report_(new Card(tr("What turns what"))),
      planetary_(new Card(tr("Planets round an axis"))),
      finder_(new Card(tr("Find tooth counts"))),
      shafts_(makeFactList("trainShafts", 8, false)),
      answers_(makeFactList("gearAnswers", 6, false)),
      sun_(new PartField(session, "planetSun", tr("take picked"))),
      ring_(new PartField(session, "planetRing", tr("take picked"))),
      planets_(new PartField(session, "planetPlanets", tr("take picked"), true)),
      count_(makeNumber("planetCount")),
      ratio_(makeNumber("gearRatio")),
      stages_(makeNumber("gearStages")),
      range_(makeNumber("gearRange")),
      sum_(makeNumber("gearSum")),
      module_(makeNumber("gearModule")),
      set_planets_(makeButton(tr("Set planets"), "setPlanets", true)),
      build_(makeButton(tr("Build as stand-ins"), "buildGears", true)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(9);
    report_->addWidget(shafts_);
    report_facts_ = report_->addReadout("trainFacts");
    planetary_->addRow(tr("Sun"), sun_);
    planetary_->addRow(tr("Planet, or all"), planets_);
    planetary_->addRow(tr("Ring"), ring_);
    planetary_->addRow(tr("How many"), count_);
    planet_facts_ = planetary_->addReadout("planetFacts");
    planetary_->addButtons({set_planets_});
    count_->setText(QStringLiteral("3"));
    finder_->addRow(tr("Ratio"), ratio_);
    finder_->addRow(tr("Pairs in a row"), stages_);
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
    for (PartField* field : {sun_, ring_, planets_})
        connect(field, &PartField::taken, this, &TrainCards::refresh);
    connect(count_, &QLineEdit::textEdited, this, &TrainCards::refresh);
    for (QLineEdit* field : {ratio_, stages_, range_, sum_})
        connect(field, &QLineEdit::textEdited, this, &TrainCards::showSearch);
    connect(answers_, &QListWidget::currentRowChanged, this,
            [this](int row) { build_->setEnabled(row >= 0); });
    connect(set_planets_, &QPushButton::clicked, this, [this] { session_.preview(planetStep()); });
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

json TrainCards::planetStep() const {
    json step{{"op", "coupling.planets"},
              {"planets", part_ids(planets_->parts())},
              {"count", count_->text().toInt()}};
    if (sun_->part()) step["sun"] = sun_->part().value;
    if (ring_->part()) step["ring"] = ring_->part().value;
    return step;
}

void TrainCards::refresh() {
    for (PartField* field : {sun_, ring_, planets_}) field->refresh();
    showReport();
    count_->setEnabled(planets_->parts().size() < 2);
    set_planets_->setEnabled(false);
    setRole(planet_facts_, "soft");
    if (planets_->parts().empty())
        return planet_facts_->setText(
            tr("Pick the sun, one planet under its carrier, the ring, and take each here."));
    const auto outcome = session_.registry().run(session_.document(), planetStep());
    set_planets_->setEnabled(outcome.ok());
    setRole(planet_facts_, outcome ? "good" : "bad");
    planet_facts_->setText(
        QString::fromStdString(outcome ? outcome->messages.front() : outcome.error().message));
}

void TrainCards::showReport() {
    const Document& document = session_.document();
    const TrainReport report = report_trains(document, &session_.clip());
    shafts_->clear();
    const auto touches = [&](const TrainPart& train) {
        return session_.selection().empty() ||
               std::any_of(train.lines.begin(), train.lines.end(),
                           [&](const TrainLine& line) { return session_.isSelected(line.channel.part); });
    };
    bool any = false;
    for (const TrainPart& train : report.trains) any |= touches(train);
    for (const TrainPart& train : report.trains) {
        if (any && !touches(train)) continue;
        for (const TrainLine& line : train.lines) {
            const Part* part = document.parts.find(line.channel.part);
            if (!part) continue;
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
