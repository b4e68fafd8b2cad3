#include "app/stages/rig/drivers/formula_editor.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QKeyEvent>
#include <QScrollBar>
#include <QStringListModel>

namespace pivrak {

FormulaEditor::FormulaEditor(Look& look, const char* object_name)
    : look_(look), completer_(new QCompleter(this)) {
    setObjectName(QLatin1String(object_name));
    setTabChangesFocus(true);
    setFont(Look::uiFont(14));
    setPlaceholderText(tr("pull * 60 deg / 1.2 m"));
    setFixedHeight(84);
    completer_->setModel(new QStringListModel(completer_));
    completer_->setWidget(this);
    completer_->setCaseSensitivity(Qt::CaseSensitive);
    connect(completer_, qOverload<const QString&>(&QCompleter::activated), this, &FormulaEditor::complete);
    setNames({});
}

void FormulaEditor::setNames(const QStringList& inputs) {
    QStringList words = inputs;
    for (const FormulaFunction& function : formula_functions())
        words << QString::fromUtf8(function.name.data(), static_cast<qsizetype>(function.name.size()));
    words << QStringLiteral("if") << QStringLiteral("pi");
    auto* model = static_cast<QStringListModel*>(completer_->model());
    if (model->stringList() != words) model->setStringList(words);
}

void FormulaEditor::mark(const std::optional<FormulaNote>& problem, const std::vector<FormulaNote>& hints) {
    const QByteArray bytes = toPlainText().toUtf8();
    QList<QTextEdit::ExtraSelection> marks;
    const auto add = [&](const FormulaNote& note, const QColor& color) {
        // Notes count bytes, the cursor characters.
        const auto place = [&](std::size_t byte) {
            return static_cast<int>(QString::fromUtf8(bytes.left(static_cast<qsizetype>(byte))).size());
        };
        QTextEdit::ExtraSelection mark;
        mark.cursor = QTextCursor(document());
        const int end = static_cast<int>(toPlainText().size());
        mark.cursor.setPosition(std::min(place(note.at), end));
        mark.cursor.setPosition(std::min(place(note.at + note.length), end), QTextCursor::KeepAnchor);
        mark.format.setUnderlineStyle(QTextCharFormat::WaveUnderline);
        mark.format.setUnderlineColor(color);
        mark.format.setToolTip(QString::fromStdString(note.message));
        marks << mark;
    };
    if (problem) add(*problem, look_.theme().rust);
    for (const FormulaNote& hint : hints) add(hint, look_.theme().saffron);
    setExtraSelections(marks);
}

QTextCursor FormulaEditor::wordHere() const {
    QTextCursor cursor = textCursor();
    const QString line = cursor.block().text();
    const int end = cursor.positionInBlock();
    int begin = end;
    while (begin > 0 && (line[begin - 1].isLetterOrNumber() || line[begin - 1] == '_')) --begin;
    cursor.setPosition(cursor.block().position() + begin);
    cursor.setPosition(cursor.block().position() + end, QTextCursor::KeepAnchor);
    return cursor;
}

void FormulaEditor::complete(const QString& word) {
    QTextCursor cursor = wordHere();
    cursor.insertText(word);
    setTextCursor(cursor);
}

/// Only while something is there to be completed.
void FormulaEditor::offer() {
    const QString begun = wordHere().selectedText();
    if (begun.isEmpty() || !begun[0].isLetter()) return completer_->popup()->hide();
    completer_->setCompletionPrefix(begun);
    const bool whole = completer_->completionCount() == 1 && completer_->currentCompletion() == begun;
    if (completer_->completionCount() == 0 || whole) return completer_->popup()->hide();
    completer_->popup()->setCurrentIndex(completer_->completionModel()->index(0, 0));
    QRect place = cursorRect();
    place.setWidth(completer_->popup()->sizeHintForColumn(0) + 24 +
                   completer_->popup()->verticalScrollBar()->sizeHint().width());
    completer_->complete(place);
}

void FormulaEditor::keyPressEvent(QKeyEvent* event) {
    const bool enters = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (enters && (event->modifiers() & Qt::ControlModifier)) {
        completer_->popup()->hide();
        emit wanted();
        return;
    }
    // The list of words takes these itself.
    if (completer_->popup()->isVisible() &&
        (enters || event->key() == Qt::Key_Tab || event->key() == Qt::Key_Escape))
        return event->ignore();
    QPlainTextEdit::keyPressEvent(event);
    const bool typed = !event->text().isEmpty() && event->text()[0].isPrint();
    if (typed || event->key() == Qt::Key_Backspace)
        offer();
    else
        completer_->popup()->hide();
}

}  // namespace pivrak
