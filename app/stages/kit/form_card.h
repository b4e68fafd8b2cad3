#pragma once

#include "app/stages/kit/card.h"
#include "app/stages/kit/dry_run.h"
#include "app/stages/kit/part_field.h"

namespace pivrak {

/// A card made from the schema of operations: a field for each argument it names, of the kind that the schema
/// says, with the schema's label and placeholder where the form says nothing better. It puts the step
/// together, tells what the step would do, and shows or does it.
class FormCard : public Card {
    Q_OBJECT

public:
    void refresh();

protected:
    struct Field {
        std::string argument;
        QString label = {};
        /// Values of the leading choice for which the field is shown; for all when empty.
        QStringList shown_for = {};
        QString begins = {};       ///< what the field begins with
        QString placeholder = {};  ///< what it means to leave it empty
        QString tip = {};
        QList<std::pair<QString, QString>> choices = {};  ///< words and values; the schema's when empty
        const char* object_name = nullptr;                ///< prefix and argument when null
    };
    struct Words {
        QString title, button;
        const char* button_name;
        QString incomplete;  ///< what to do first
    };

    /// Arguments are looked up in `operations`, in their order.
    FormCard(Session& session, const char* prefix, std::vector<std::string> operations, Words words);
    /// Adds a row. One whose argument begins with `@` is the card's own, for `amend`. The choice added with
    /// `leads` decides which others are shown.
    void add(const Field& field, bool leads = false);
    /// Ends the card with what the step would do, and the button, beside others.
    void finish(bool tries, std::initializer_list<QPushButton*> beside = {});

    /// The operation that the form stands for as it is filled in.
    virtual std::string operation() const { return operations_.front(); }
    /// What the fields do not say.
    virtual void amend(nlohmann::json&) const {}
    /// What is to be done first, in words, that the schema does not ask for; nothing when the step can be
    /// tried.
    virtual QString obstacle() const { return {}; }
    /// Whether a field that the leading choice shows is of use as the others stand.
    virtual bool isOfUse(const std::string&) const { return true; }
    virtual void doStep() { session_.preview(step()); }
    /// Tries a step that is whole, to tell what would come of it; and lets go of what was asked.
    virtual void ask(const nlohmann::json& step);
    virtual void forget();
    /// What decides which fields are shown: the value of the leading choice.
    virtual std::string lead() const { return leading_ ? chosen(leading_) : std::string(); }
    /// The widget of an argument, for what a form cannot say, and what was typed or chosen there.
    QWidget* widget(const std::string& argument) const;
    std::string valueOf(const std::string& argument) const;
    void setValue(const std::string& argument, const QString& value);
    /// Shows a length rounded; as long as nobody types another, the step gets it whole.
    void setLength(const std::string& argument, double metres);
    nlohmann::json step() const;
    /// After a field was changed.
    void changed();
    /// Shows the fields that what leads asks for.
    void showRows();

    Session& session_;
    QPushButton* do_;
    QLabel* facts_ = nullptr;

private:
    struct Row {
        ArgumentSpec spec;
        QStringList shown_for;
        QWidget *row, *widget;
    };
    std::optional<ArgumentSpec> specOf(const std::string& argument) const;
    QWidget* make(const ArgumentSpec& spec, const Field& field);
    bool isShown(const Row& row) const;
    QString missing() const;
    void tell();
    void tellWhatItDoes();

    std::string prefix_;
    std::vector<std::string> operations_;
    Words words_;
    std::vector<Row> rows_;
    std::string group_;  ///< of the row added last
    QComboBox* leading_ = nullptr;
    DryRun* trial_ = nullptr;
};

}  // namespace pivrak
