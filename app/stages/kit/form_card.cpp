#include "app/stages/kit/form_card.h"

#include <algorithm>

#include "app/session/shown_value.h"

namespace pivrak {

using nlohmann::json;

FormCard::FormCard(Session& session, const char* prefix, std::vector<std::string> operations, Words words)
    : Card(words.title),
      session_(session),
      do_(makeButton(words.button, words.button_name, true)),
      prefix_(prefix),
      operations_(std::move(operations)),
      words_(std::move(words)) {
    connect(do_, &QPushButton::clicked, this, [this] { doStep(); });
}

std::optional<ArgumentSpec> FormCard::specOf(const std::string& argument) const {
    for (const std::string& name : operations_)
        for (const ArgumentSpec& spec : session_.registry().find(name)->arguments)
            if (spec.name == argument) return spec;
    return std::nullopt;
}

namespace {

QString text(const std::string& words) {
    return QString::fromStdString(words);
}

QString sentence(const std::string& summary) {
    QString words = text(summary);
    if (!words.isEmpty()) words[0] = words[0].toUpper();
    return words;
}

QComboBox* choiceOf(const ArgumentSpec& spec, const char* name,
                    const QList<std::pair<QString, QString>>& choices) {
    if (!choices.empty()) return makeChoice(name, choices);
    QList<std::pair<QString, QString>> made;
    for (const std::string& value : spec.choices) made.push_back({text(value), text(value)});
    auto* choice = makeChoice(name, made);
    if (spec.fallback.is_string())
        choice->setCurrentIndex(std::max(0, choice->findData(text(spec.fallback.get<std::string>()))));
    return choice;
}

}  // namespace

QWidget* FormCard::make(const ArgumentSpec& spec, const Field& field) {
    const std::string made_name = prefix_ + "_" + spec.name;
    const char* name = field.object_name ? field.object_name : made_name.c_str();
    const QString empty = field.placeholder.isEmpty() ? text(spec.placeholder) : field.placeholder;
    switch (spec.kind) {
        case ArgumentKind::Part:
        case ArgumentKind::Parts: {
            auto* parts = new PartField(session_, name, empty, spec.kind == ArgumentKind::Parts);
            connect(parts, &PartField::taken, this, &FormCard::changed);
            return parts;
        }
        case ArgumentKind::Flag: {
            auto* check = makeCheck(field.label.isEmpty() ? text(label_of(spec)) : field.label, name,
                                    spec.fallback.is_boolean() && spec.fallback.get<bool>());
            connect(check, &QCheckBox::toggled, this, &FormCard::changed);
            return check;
        }
        case ArgumentKind::Choice: {
            auto* choice = choiceOf(spec, name, field.choices);
            connect(choice, &QComboBox::currentIndexChanged, this, &FormCard::changed);
            return choice;
        }
        default: {
            auto* edit = spec.kind == ArgumentKind::Text && spec.name.front() != '@' ? makeText(name)
                                                                                     : makeNumber(name);
            edit->setText(field.begins);
            edit->setPlaceholderText(empty);
            connect(edit, &QLineEdit::textEdited, this, &FormCard::changed);
            return edit;
        }
    }
}

void FormCard::add(const Field& field, bool leads) {
    const ArgumentKind own = field.choices.empty() ? ArgumentKind::Text : ArgumentKind::Choice;
    ArgumentSpec spec{field.argument, own, "", false, {}, {}};
    if (const auto known = specOf(field.argument)) spec = *known;
    QWidget* widget = make(spec, field);
    widget->setToolTip(field.tip.isEmpty() ? sentence(spec.summary) : field.tip);
    if (!spec.group.empty() && spec.group != group_) addHeading(text(spec.group));
    group_ = spec.group;
    QWidget* row = widget;
    if (spec.kind == ArgumentKind::Flag)
        addWidget(widget);
    else
        row = addOptionalRow(field.label.isEmpty() ? text(label_of(spec)) : field.label, widget);
    if (leads) leading_ = static_cast<QComboBox*>(widget);
    rows_.push_back({spec, field.shown_for, row, widget});
}

void FormCard::finish(bool tries, std::initializer_list<QPushButton*> beside) {
    facts_ = addReadout((prefix_ + "Facts").c_str());
    tellWhatItDoes();
    auto* row = new QWidget;
    auto* buttons = new QHBoxLayout(row);
    buttons->setContentsMargins(0, 0, 0, 0);
    buttons->setSpacing(6);
    buttons->addWidget(do_, 1);
    for (QPushButton* button : beside) buttons->addWidget(button, 1);
    addWidget(row);
    if (tries)
        trial_ = new DryRun(
            session_,
            [this](const Result<Outcome>& outcome) {
                do_->setEnabled(outcome.ok());
                setRole(facts_, outcome ? "good" : "bad");
                facts_->setText(!outcome                    ? text(outcome.error().message)
                                : outcome->messages.empty() ? QString()
                                                            : text(outcome->messages.front()));
            },
            this);
    showRows();
}

QWidget* FormCard::widget(const std::string& argument) const {
    for (const Row& row : rows_)
        if (row.spec.name == argument) return row.widget;
    return nullptr;
}

bool FormCard::isShown(const Row& row) const {
    if (!row.shown_for.empty() && !row.shown_for.contains(text(lead()))) return false;
    if (!isOfUse(row.spec.name)) return false;
    if (row.spec.name.front() == '@') return true;
    const auto& arguments = session_.registry().find(operation())->arguments;
    return std::any_of(arguments.begin(), arguments.end(),
                       [&](const ArgumentSpec& spec) { return spec.name == row.spec.name; });
}

void FormCard::showRows() {
    for (const Row& row : rows_) row.row->setVisible(isShown(row));
}

namespace {

/// A field that shows a value rounded knows what it shows, and what that stands for.
constexpr const char *rounded_name = "rounded", *exact_name = "exact";

/// What a field says; nothing when it is left empty.
json fieldValue(const ArgumentSpec& spec, const QWidget* widget) {
    if (const auto* parts = qobject_cast<const PartField*>(widget)) {
        if (parts->parts().empty()) return nullptr;
        return spec.kind == ArgumentKind::Part ? json(parts->part().value) : part_ids(parts->parts());
    }
    if (const auto* check = qobject_cast<const QCheckBox*>(widget)) return check->isChecked();
    if (const auto* choice = qobject_cast<const QComboBox*>(widget)) {
        const std::string value = chosen(choice);
        return value.empty() ? json() : json(value);
    }
    const QString typed = static_cast<const QLineEdit*>(widget)->text().trimmed();
    if (typed.isEmpty()) return nullptr;
    if (typed == widget->property(rounded_name).toString())
        return widget->property(exact_name).toString().toStdString();
    bool whole = false;
    const int count = typed.toInt(&whole);
    if (spec.kind == ArgumentKind::Integer && whole) return count;
    return typed.toStdString();
}

}  // namespace

std::string FormCard::valueOf(const std::string& argument) const {
    const QWidget* asked = widget(argument);
    if (const auto* choice = qobject_cast<const QComboBox*>(asked)) return chosen(choice);
    return static_cast<const QLineEdit*>(asked)->text().trimmed().toStdString();
}

json FormCard::step() const {
    json step{{"op", operation()}};
    for (const Row& row : rows_) {
        if (row.spec.name.front() == '@' || !isShown(row)) continue;
        json value = fieldValue(row.spec, row.widget);
        if (!value.is_null()) step[row.spec.name] = std::move(value);
    }
    const auto& arguments = session_.registry().find(operation())->arguments;
    // What is picked is what it is done to.
    if (std::any_of(arguments.begin(), arguments.end(),
                    [](const ArgumentSpec& spec) { return spec.name == "parts"; }) &&
        !step.contains("parts") && !session_.selection().empty())
        step["parts"] = session_.selectedIds();
    amend(step);
    return step;
}

void FormCard::setValue(const std::string& argument, const QString& value) {
    QWidget* asked = widget(argument);
    if (auto* choice = qobject_cast<QComboBox*>(asked))
        choice->setCurrentIndex(std::max(0, choice->findData(value)));
    else
        static_cast<QLineEdit*>(asked)->setText(value);
}

void FormCard::setLength(const std::string& argument, double metres) {
    const QString shown = shownValue(session_.document(), ChannelKind::Shift, metres);
    setValue(argument, shown);
    widget(argument)->setProperty(rounded_name, shown);
    widget(argument)->setProperty(exact_name, QString::fromStdString(wholeValue(ChannelKind::Shift, metres)));
}

/// What is to be done first; nothing when the step is whole.
QString FormCard::missing() const {
    if (QString first = obstacle(); !first.isEmpty()) return first;
    const json given = step();
    const auto& arguments = session_.registry().find(operation())->arguments;
    const bool whole = std::all_of(arguments.begin(), arguments.end(), [&](const ArgumentSpec& spec) {
        return !spec.required || (given.contains(spec.name) && !given[spec.name].is_null() &&
                                  given[spec.name] != json::array());
    });
    return whole ? QString() : words_.incomplete.isEmpty() ? tr("Pick the parts first.") : words_.incomplete;
}

void FormCard::changed() {
    showRows();
    tell();
}

void FormCard::ask(const json& step) {
    if (trial_) trial_->ask(step);
}

void FormCard::forget() {
    if (trial_) trial_->forget();
}

/// What the button does, as its operation says.
void FormCard::tellWhatItDoes() {
    if (const Operation* does = session_.registry().find(operation())) do_->setToolTip(text(does->summary));
}

void FormCard::tell() {
    if (!facts_) return;
    tellWhatItDoes();
    const QString first = missing();
    // Until it is told that it cannot be done, it may be asked for: a click is never lost.
    do_->setEnabled(first.isEmpty());
    if (first.isEmpty()) return ask(step());
    setRole(facts_, "soft");
    facts_->setText(first);
    forget();
}

void FormCard::refresh() {
    for (const Row& row : rows_)
        if (auto* parts = qobject_cast<PartField*>(row.widget)) parts->refresh();
    tell();
}

}  // namespace pivrak
