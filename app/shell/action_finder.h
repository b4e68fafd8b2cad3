#pragma once

#include <QDialog>
#include <QLineEdit>
#include <QListWidget>

#include "app/shell/actions.h"
#include "app/shell/finder_places.h"
#include "app/shell/where_done.h"
#include "core/operations/registry.h"

namespace pivrak {

/// Finds an action by its words: shows its shortcut and, when it cannot be done, why. What cards do is found
/// by its title and the words of its fields, and leads to the card; so are buttons, fields, findings, sets,
/// clips and parts.
class ActionFinder : public QDialog {
    Q_OBJECT

public:
    using Places = std::function<std::vector<FinderPlace>()>;
    /// `places` are asked for each time it opens.
    ActionFinder(Actions& actions, const Registry& registry, Places places, QWidget* parent);
    void open() override;

signals:
    /// The card of an operation is asked for.
    void cardAsked(Stage stage, const QString& tab);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void fillCards();
    void fillPlaces();
    bool fits(const QString& words) const;
    void choose();
    Actions& actions_;
    const Registry& registry_;
    Places places_asked_;
    std::vector<FinderPlace> places_;
    QLineEdit* entry_;
    QListWidget* list_;
};

/// The sheet of shortcuts; each can be changed here.
class ShortcutSheet : public QDialog {
    Q_OBJECT

public:
    ShortcutSheet(Actions& actions, QWidget* parent);
};

}  // namespace pivrak
