#include "app/stages/rig/drivers/formula_card.h"

#include <QHeaderView>
#include <algorithm>

#include "app/stages/rig/drivers/channel_course.h"
#include "core/io/project/project_json.h"
#include "core/operations/drivers/driven_channel.h"
#include "core/rig/formulas/formula_inputs.h"

namespace pivrak {

using nlohmann::json;

namespace {

QString inWords(const std::string& words) {
    return QString::fromStdString(words);
}

/// `pull` of `Pull handle 2`, with letters and digits alone.
QString nameFrom(const QString& part) {
    QString name;
    for (const QChar c : part.toLower()) name += c.unicode() < 128 && c.isLetterOrNumber() ? c : QChar('_');
    while (name.contains("__")) name.replace("__", "_");
    while (name.startsWith('_')) name.remove(0, 1);
    while (name.endsWith('_')) name.chop(1);
    name = name.left(24);
    return is_formula_name(name.toStdString()) ? name : "in_" + name;
}

/// The parts that have the same formula for the same channel, in the order of their numbers.
std::vector<PartId> seriesOf(const Document& document, const Formula& formula) {
    std::vector<const Formula*> all;
    for (const Coupling& coupling : document.couplings)
        if (const Formula* one = coupling.as<Formula>(); one && one->text == formula.text &&
                                                         one->inputs == formula.inputs &&
                                                         one->driven.kind == formula.driven.kind)
            all.push_back(one);
    std::ranges::sort(all, {}, &Formula::number);
    std::vector<PartId> parts;
    for (const Formula* one : all) parts.push_back(one->driven.part());
    return parts;
}

}  // namespace

FormulaCard::FormulaCard(Session& session, Look& look)
    : Card(tr("Formula")),
      session_(session),
      driven_(new PartField(session, "formulaDrives", tr("the picked parts"), true)),
      channel_(makeChoice("formulaChannel", {{tr("the joint's own"), ""}})),
      add_what_(makeChoice("formulaAddWhat", {{tr("channel of a part"), "channel"},
                                              {tr("measure"), "measure"},
                                              {tr("number with a unit"), "constant"},
                                              {tr("seconds"), "seconds"},
                                              {tr("frame"), "frame"},
                                              {tr("clip, 0 to 1"), "progress"},
                                              {tr("number in series"), "number"}})),
      add_channel_(makeChoice("formulaAddChannel", {})),
      editor_(new FormulaEditor(look, "formulaText")),
      table_(new QTableWidget(0, 2)),
      add_(makeButton(tr("Add input"), "formulaAddInput")),
      drop_(makeButton(tr("Take out"), "formulaDropInput")),
      set_(makeButton(tr("Set formula"), "setFormula", true)),
      plot_(new FormulaPlot(look, "formulaPlot")) {
    Card::addRow(tr("Drives"), driven_);
    Card::addRow(tr("Channel"), channel_);
    addWidget(editor_);
    facts_ = addReadout("formulaFacts");
    facts_->setWordWrap(true);
    addWidget(plot_);
    addHeading(tr("What its names stand for"));
    table_->setObjectName(QStringLiteral("formulaInputs"));
    table_->setHorizontalHeaderLabels({tr("name"), tr("stands for")});
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->verticalHeader()->hide();
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setFixedHeight(4 * 24 + 30);
    addWidget(table_);
    Card::addRow(tr("New input"), add_what_);
    Card::addRow(tr("Which"), add_channel_);
    addButtons({add_, drop_});
    addButtons({set_});
    driven_->setToolTip(tr("Click to keep what is picked, then pick other parts for inputs"));
    set_->setToolTip(tr("Ctrl+Return in the text does it, too"));
    trial_ = new Trial<Tried>(
        session_, [this](const Tried& tried) { tell(tried); }, this);
    connect(driven_, &PartField::taken, this, &FormulaCard::refresh);
    connect(channel_, &QComboBox::currentIndexChanged, this, &FormulaCard::changed);
    connect(add_what_, &QComboBox::currentIndexChanged, this, &FormulaCard::listChannels);
    connect(editor_, &QPlainTextEdit::textChanged, this, &FormulaCard::changed);
    connect(editor_, &FormulaEditor::wanted, set_, &QPushButton::click);
    connect(table_, &QTableWidget::cellChanged, this, &FormulaCard::cellChanged);
    connect(add_, &QPushButton::clicked, this, &FormulaCard::addInput);
    connect(drop_, &QPushButton::clicked, this, [this] {
        if (table_->currentRow() >= 0) table_->removeRow(table_->currentRow());
        changed();
    });
    connect(&session_, &Session::started, this, [this] {
        editor_->clear();
        table_->setRowCount(0);
    });
    connect(set_, &QPushButton::clicked, this, [this] {
        if (obstacle().isEmpty()) session_.run(step());
    });
}

std::vector<PartId> FormulaCard::drivenParts() const {
    const auto kept = driven_->parts();
    return kept.empty() ? session_.selection() : kept;
}

json FormulaCard::inputs() const {
    json all = json::object();
    for (int row = 0; row < table_->rowCount(); ++row)
        all[table_->item(row, 0)->text().toStdString()] =
            json::parse(table_->item(row, 1)->data(Qt::UserRole).toString().toStdString());
    return all;
}

json FormulaCard::step() const {
    json step{{"op", "formula.set"},
              {"parts", part_ids(drivenParts())},
              {"text", editor_->toPlainText().toStdString()},
              {"inputs", inputs()},
              {"frame", session_.frame()},
              {"clip", session_.clip().name}};
    if (const std::string channel = chosen(channel_); !channel.empty()) step["channel"] = channel;
    // What is there already and was taken out of the table goes.
    for (const Coupling& coupling : session_.document().couplings)
        if (const Formula* formula = coupling.as<Formula>();
            formula && std::ranges::count(drivenParts(), formula->driven.part()))
            for (const FormulaInput& input : formula->inputs)
                if (!step["inputs"].contains(input.name)) step["inputs"][input.name] = nullptr;
    return step;
}

QString FormulaCard::obstacle() const {
    if (drivenParts().empty()) return tr("Pick the parts whose channel it gives.");
    if (editor_->toPlainText().trimmed().isEmpty())
        return tr("Type the formula; for each name in it add an input below.");
    return {};
}

QString FormulaCard::freeName(const QString& wanted) const {
    const auto taken = [&](const QString& name) {
        for (int row = 0; row < table_->rowCount(); ++row)
            if (table_->item(row, 0)->text() == name) return true;
        return false;
    };
    QString name = wanted;
    for (int i = 2; taken(name); ++i) name = wanted + QString::number(i);
    return name;
}

QString FormulaCard::standsFor(const json& stands) const {
    const Document& document = session_.document();
    if (stands.is_string()) {
        const QString word = inWords(stands.get<std::string>());
        return add_what_->findData(word) > 0 ? add_what_->itemText(add_what_->findData(word)) : word;
    }
    if (stands.is_number()) return QString::number(stands.get<double>(), 'g', 6);
    const auto kind = channel_kind_from(stands.at("channel").get<std::string>());
    const OwnerId owner{
        CouplingId{stands.at(stands.contains("part") ? "part" : "element").get<std::uint64_t>()}};
    return inWords(channel_name(document, {owner, kind.value_or(ChannelKind::Turn)}));
}

void FormulaCard::addInputRow(const QString& name, const json& stands) {
    const bool was = std::exchange(listing_, true);
    const int row = table_->rowCount();
    table_->insertRow(row);
    table_->setItem(row, 0, new QTableWidgetItem(name));
    auto* what = new QTableWidgetItem(standsFor(stands));
    what->setData(Qt::UserRole, inWords(stands.dump()));
    // A number is typed; what was picked is picked anew.
    const bool typed =
        stands.is_number() || (stands.is_string() && what->text() == inWords(stands.get<std::string>()));
    if (!typed) what->setFlags(what->flags() & ~Qt::ItemIsEditable);
    table_->setItem(row, 1, what);
    table_->setCurrentCell(row, 0);
    listing_ = was;
}

void FormulaCard::addInput() {
    const std::string what = chosen(add_what_);
    if (what == "channel") {
        const PartId part = session_.primary();
        const std::string channel = chosen(add_channel_);
        if (!part || channel.empty()) {
            emit session_.told(tr("pick the part whose channel is meant, one that can move"), true);
            return;
        }
        addInputRow(freeName(nameFrom(nameOf(session_.document(), part))),
                    {{"part", part.value}, {"channel", channel}});
    } else if (what == "measure") {
        const Measure* measure = session_.document().measures.find(
            MeasureId{std::strtoull(chosen(add_channel_).c_str(), nullptr, 10)});
        if (!measure) {
            emit session_.told(tr("there is no measure yet; make one in Measures"), true);
            return;
        }
        addInputRow(freeName(nameFrom(inWords(measure->name))),
                    {{"element", measure->id.value}, {"channel", word(measure->gives())}});
    } else if (what == "constant") {
        addInputRow(freeName(QStringLiteral("r")), "40 mm");
        table_->setCurrentCell(table_->rowCount() - 1, 1);
        table_->editItem(table_->currentItem());
    } else {
        addInputRow(freeName(what == "progress"  ? "clip"
                             : what == "seconds" ? "t"
                             : what == "frame"   ? "f"
                                                 : "n"),
                    what);
    }
    changed();
}

void FormulaCard::cellChanged(int row, int column) {
    if (listing_) return;
    if (column == 1)
        table_->item(row, 1)->setData(Qt::UserRole,
                                      inWords(json(table_->item(row, 1)->text().toStdString()).dump()));
    changed();
}

void FormulaCard::listMeasures() {
    const QString before = add_channel_->currentData().toString();
    const QSignalBlocker quiet(add_channel_);
    add_channel_->clear();
    for (const Measure& measure : session_.document().measures)
        add_channel_->addItem(inWords(measure.name), QString::number(measure.id.value));
    add_channel_->setCurrentIndex(std::max(0, add_channel_->findData(before)));
}

/// The channels of the part in hand, for the next input; and those of what is driven.
void FormulaCard::listChannels() {
    const Document& document = session_.document();
    const auto fill = [](QComboBox* combo, const Part* part, bool own) {
        const QString before = combo->currentData().toString();
        const QSignalBlocker quiet(combo);
        combo->clear();
        if (own) combo->addItem(tr("the joint's own"), "");
        if (part)
            for (const ChannelKind kind : part->channels())
                combo->addItem(inWords(std::string(channel_word(kind))), inWords(std::string(word(kind))));
        combo->setCurrentIndex(std::max(0, combo->findData(before)));
    };
    const auto parts = drivenParts();
    fill(channel_, parts.empty() ? nullptr : document.parts.find(parts.front()), true);
    if (chosen(add_what_) == "measure")
        listMeasures();
    else
        fill(add_channel_, document.parts.find(session_.primary()), false);
    const bool asks = chosen(add_what_) == "channel" || chosen(add_what_) == "measure";
    add_channel_->setEnabled(asks && add_channel_->count() > 0);
}

void FormulaCard::edit(const Formula& formula) {
    const bool was = std::exchange(listing_, true);
    driven_->setParts(seriesOf(session_.document(), formula));
    editor_->setPlainText(inWords(formula.text));
    table_->setRowCount(0);
    for (const FormulaInput& input : formula.inputs) {
        json stands = std::string(word_of(input_kind_words, input.kind));
        if (input.kind == InputKind::Channel)
            stands = {{is_of_part(input.channel.kind) ? "part" : "element", input.channel.owner.value},
                      {"channel", word(input.channel.kind)}};
        if (input.kind == InputKind::Constant) stands = constant_text(input);
        addInputRow(inWords(input.name), stands);
    }
    listing_ = was;
    listChannels();
    channel_->setCurrentIndex(
        std::max(0, channel_->findData(inWords(std::string(word(formula.driven.kind))))));
    changed();
}

FormulaCard::Tried FormulaCard::tryOut(const Registry& registry, const Document& document, const json& step,
                                       const Progress& progress) {
    Tried tried;
    const auto outcome = registry.run(document, step, {{}, progress});
    if (!outcome) {
        tried.error = outcome.error();
        return tried;
    }
    tried.words = outcome->messages.front();
    for (const json& hint : outcome->readings.at("hints"))
        tried.hints.push_back({hint.at("at"), hint.at("length"), hint.at("message")});
    const Document& after = outcome->document;
    const auto driven = channel_at(after, PartId{step.at("parts").front().get<std::uint64_t>()},
                                   step.value("channel", json()));
    const Clip* clip = nullptr;
    for (const Clip& one : after.clips)
        if (one.name == step.at("clip").get<std::string>()) clip = &one;
    if (!driven || !clip) return tried;
    tried.kind = driven->kind;
    tried.course = channel_course(after, clip->id, *driven, progress);
    return tried;
}

void FormulaCard::changed() {
    if (listing_) return;
    QStringList names;
    for (int row = 0; row < table_->rowCount(); ++row) names << table_->item(row, 0)->text();
    editor_->setNames(names);
    const QString first = obstacle();
    if (!first.isEmpty()) {
        trial_->forget();
        set_->setEnabled(false);
        editor_->mark({}, {});
        plot_->setCurve({}, ChannelKind::Turn, session_.document().settings.length_unit);
        setRole(facts_, "soft");
        return facts_->setText(first);
    }
    trial_->ask(step(), [&registry = session_.registry(), step = step()](const Document& document,
                                                                         const Progress& progress) {
        return tryOut(registry, document, step, progress);
    });
}

void FormulaCard::tell(const Tried& tried) {
    set_->setEnabled(!tried.error && !session_.previewed());
    setRole(facts_, tried.error ? "bad" : "good");
    std::optional<FormulaNote> problem;
    if (tried.error && tried.error->code == "formula.text") {
        const QStringList place = inWords(tried.error->subject).split(':');
        problem =
            FormulaNote{place.value(0).toULongLong(), place.value(1).toULongLong(), tried.error->message};
    }
    editor_->mark(problem, tried.hints);
    QStringList lines{inWords(tried.error ? tried.error->message : tried.words)};
    for (const FormulaNote& hint : tried.hints) lines << inWords(hint.message);
    facts_->setText(lines.join("\n"));
    // The last good course stays while something is wrong.
    if (!tried.error) plot_->setCurve(tried.course, tried.kind, session_.document().settings.length_unit);
    plot_->setFrame(session_.frame());
}

void FormulaCard::refresh() {
    driven_->refresh();
    for (int row = 0; row < table_->rowCount(); ++row) {
        const bool was = std::exchange(listing_, true);
        const json stands = json::parse(table_->item(row, 1)->data(Qt::UserRole).toString().toStdString());
        if (stands.is_object()) table_->item(row, 1)->setText(standsFor(stands));
        listing_ = was;
    }
    listChannels();
    drop_->setEnabled(table_->rowCount() > 0);
    changed();
}

void FormulaCard::refreshMotion() {
    plot_->setFrame(session_.frame());
}

}  // namespace pivrak
