#include "app/stages/tree/name_cards.h"

#include <algorithm>

#include "app/session/words.h"
#include "core/io/project/project_json.h"
#include "core/model/names/convention.h"

namespace pivrak {

using nlohmann::json;

namespace {

constexpr std::size_t shown_names = 6;

}  // namespace

// ---- patterns

PatternCard::PatternCard(Session& session, QWidget* parent)
    : Card(tr("Name by pattern"), parent),
      session_(session),
      trial_(new DryRun(
          session, [this](const Result<Outcome>& outcome) { tellNames(outcome); }, this)),
      pattern_(makeChoice("namePattern", {})),
      order_(makeChoice("nameOrder", {{tr("as picked"), "picked"},
                                      {tr("front to rear"), "front_to_rear"},
                                      {tr("left to right"), "left_to_right"},
                                      {tr("bottom to top"), "bottom_to_top"}})),
      first_(makeNumber("nameFirst")),
      find_(new QLineEdit),
      put_(new QLineEdit),
      rename_(makeButton(tr("Rename the picked"), "renameByPattern", true)),
      replace_(makeButton(tr("Replace"), "replaceInNames")) {
    pattern_->setEditable(true);
    for (const char* ready :
         {"<base> <number>", "<side> <base>", "<side> <base> <number>", "<carrier> <base>"})
        pattern_->addItem(QString::fromUtf8(ready));
    pattern_->setToolTip(
        tr("<name> as it is, <base> without side and number, <side> by its place,\n"
           "<number> in a series, <carrier> what carries it"));
    first_->setText(QStringLiteral("1"));
    find_->setObjectName(QStringLiteral("nameFind"));
    put_->setObjectName(QStringLiteral("namePut"));
    addRow(tr("Pattern"), pattern_);
    addRow(tr("Counted"), order_);
    addRow(tr("From"), first_);
    names_ = addReadout("namesShown");
    addButtons({rename_});
    addRow(tr("Find letters"), find_);
    addRow(tr("Put instead"), put_);
    addButtons({replace_});
    connect(pattern_, &QComboBox::editTextChanged, this, &PatternCard::showNames);
    connect(order_, &QComboBox::activated, this, &PatternCard::showNames);
    connect(first_, &QLineEdit::textChanged, this, &PatternCard::showNames);
    connect(find_, &QLineEdit::textChanged, this, &PatternCard::refresh);
    connect(rename_, &QPushButton::clicked, this, [this] { session_.run(step()); });
    connect(replace_, &QPushButton::clicked, this, [this] {
        json step{{"op", "name.replace"},
                  {"find", find_->text().toStdString()},
                  {"put", put_->text().toStdString()}};
        if (!session_.selection().empty()) step["parts"] = session_.selectedIds();
        session_.run(step);
    });
}

json PatternCard::step() const {
    return {{"op", "name.pattern"},
            {"parts", session_.selectedIds()},
            {"pattern", pattern_->currentText().toStdString()},
            {"order", chosen(order_)},
            {"first", std::max(0, first_->text().toInt())}};
}

void PatternCard::showNames() {
    if (session_.selection().empty()) {
        trial_->forget();
        return names_->setText(tr("Pick parts to see what they would be called."));
    }
    trial_->ask(step());
}

void PatternCard::tellNames(const Result<Outcome>& outcome) {
    if (!outcome) return names_->setText(QString::fromStdString(outcome.error().message));
    if (outcome->unchanged) return names_->setText(QString::fromStdString(outcome->messages.front()));
    QStringList lines;
    const json& names = outcome->readings["names"];
    for (std::size_t i = 0; i < std::min(names.size(), shown_names); ++i)
        lines << QStringLiteral("%1 → %2").arg(QString::fromStdString(names[i]["from"]),
                                               QString::fromStdString(names[i]["to"]));
    if (names.size() > shown_names) lines << tr("and %1 more").arg(names.size() - shown_names);
    names_->setText(lines.join(QLatin1Char('\n')));
}

void PatternCard::refresh() {
    const bool open = session_.previewed() != nullptr;
    rename_->setEnabled(!open && !session_.selection().empty());
    replace_->setEnabled(!open && !find_->text().isEmpty());
    replace_->setText(session_.selection().empty() ? tr("Replace in all names")
                                                   : tr("Replace in the picked"));
    showNames();
}

// ---- convention

ConventionCard::ConventionCard(Session& session, QWidget* parent)
    : Card(tr("Naming convention"), parent),
      session_(session),
      letters_(makeChoice("conventionLetters",
                          {{tr("any"), "any"}, {tr("lower case"), "lower"}, {tr("Capitals"), "capital"}})),
      separator_(makeChoice("conventionSeparator", {{tr("any"), "any"},
                                                    {tr("space"), "space"},
                                                    {tr("underscore _"), "underscore"},
                                                    {tr("hyphen -"), "hyphen"}})),
      sides_(makeChoice("conventionSides",
                        {{tr("any"), "any"}, {tr("words: left"), "words"}, {tr("letters: L"), "letters"}})),
      plain_(makeCheck(tr("only a-z, A-Z and 0-9"), "conventionPlain")),
      conform_(makeButton(tr("Rename them"), "conformNames")) {
    addRow(tr("Words"), letters_);
    addRow(tr("Divided by"), separator_);
    addRow(tr("Sides"), sides_);
    addWidget(plain_);
    state_ = addReadout("conventionState");
    addButtons({conform_});
    for (QComboBox* choice : {letters_, separator_, sides_})
        connect(choice, &QComboBox::activated, this, &ConventionCard::apply);
    connect(plain_, &QCheckBox::clicked, this, &ConventionCard::apply);
    connect(conform_, &QPushButton::clicked, this, [this] { session_.run({{"op", "name.conform"}}); });
}

void ConventionCard::apply() {
    session_.run({{"op", "project.naming"},
                  {"letters", chosen(letters_)},
                  {"separator", chosen(separator_)},
                  {"sides", chosen(sides_)},
                  {"plain", plain_->isChecked()}});
}

void ConventionCard::refresh() {
    const Document& document = session_.document();
    const NamingConvention& naming = document.settings.naming;
    const auto show = [](QComboBox* choice, std::string_view value) {
        choice->setCurrentIndex(choice->findData(QString::fromUtf8(value.data())));
    };
    show(letters_, word(naming.letters));
    show(separator_, word(naming.separator));
    show(sides_, word(naming.sides));
    plain_->setChecked(naming.plain);
    const auto off = std::count_if(document.parts.begin(), document.parts.end(), [&](const Part& part) {
        return conformed_name(part.name, naming) != part.name;
    });
    conform_->setEnabled(off > 0 && !session_.previewed());
    state_->setText(naming.asks_nothing() ? tr("Nothing is asked of names.")
                    : off == 0
                        ? tr("All names keep it.")
                        : tr("%1 do not keep it.").arg(countWords(static_cast<std::size_t>(off), "name")));
    setRole(state_, off > 0 ? "bad" : naming.asks_nothing() ? "soft" : "good");
}

}  // namespace pivrak
