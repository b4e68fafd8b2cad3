#pragma once

#include <QLineEdit>
#include <QSortFilterProxyModel>
#include <QToolButton>
#include <QTreeView>
#include <QWidget>
#include <set>

#include "app/parts/parts_model.h"
#include "app/shell/theme.h"

namespace pivrak {

/// The tree of parts with its filter. Selection runs both ways with the session.
class PartsPanel : public QWidget {
    Q_OBJECT

public:
    PartsPanel(Session& session, Look& look, QWidget* parent = nullptr);
    QTreeView& tree() { return *tree_; }
    /// Where a person would click to pick a part in the tree; the tree is scrolled to it.
    QPoint rowOf(PartId part);

private:
    void makeKinds();
    void takeSelection();
    void showSelection();
    void keepOpen();
    void foldLots();
    void restoreOpen();

    Session& session_;
    PartsModel model_;
    QSortFilterProxyModel filtered_;
    QLineEdit* filter_;
    QTreeView* tree_;
    QToolButton* kinds_;
    std::set<std::uint64_t> closed_;
    std::set<std::uint64_t> open_lots_;  ///< by their first part
    bool showing_ = false;
};

}  // namespace pivrak
