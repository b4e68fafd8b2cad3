#pragma once

#include <QPlainTextEdit>

#include "app/shell/theme.h"
#include "core/rig/formulas/formula_text.h"

class QCompleter;

namespace pivrak {

/// A formula as it is typed: what is wrong is underlined where it stands, names of inputs and functions are
/// offered after their first letters.
class FormulaEditor : public QPlainTextEdit {
    Q_OBJECT

public:
    FormulaEditor(Look& look, const char* object_name);
    void setNames(const QStringList& inputs);
    /// Underlines a problem, or else the hints.
    void mark(const std::optional<FormulaNote>& problem, const std::vector<FormulaNote>& hints);

signals:
    /// Ctrl and Return.
    void wanted();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    QTextCursor wordHere() const;
    void offer();
    void complete(const QString& word);

    Look& look_;
    QCompleter* completer_;
};

}  // namespace pivrak
