#pragma once

#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>
#include <vector>

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// The frame of each stage's panel: what the selection is, the bar of an open preview, the stage's cards, and
/// its findings at the foot.
class StagePanel : public QWidget {
    Q_OBJECT

public:
    StagePanel(Session& session, Stage stage, const QString& later, QWidget* parent = nullptr);

protected:
    /// Puts a card into the panel, or into its tab of that name; tabs stand in the order they are first
    /// named.
    void addCard(QWidget* card, const QString& tab = {});
    /// Shows a tab by its name.
    void showTab(const QString& tab);
    QString shownTab() const;
    Session& session() { return session_; }
    const Document& document() const { return session_.document(); }
    nlohmann::json selectedIds() const { return session_.selectedIds(); }
    /// Called whenever what the panel shows may have changed, while it is visible.
    virtual void refresh() = 0;
    void showEvent(QShowEvent* event) override;

private:
    void refreshAll();
    void refreshHead();
    void refreshPreview();
    void refreshFindings();

    Session& session_;
    Stage stage_;
    QWidget* body_ = nullptr;
    QLabel *title_, *subtitle_;
    QFrame* preview_;
    QLabel* preview_text_;
    QVBoxLayout* cards_;
    QFrame* tab_row_;
    QStringList tab_names_;
    std::vector<QWidget*> tab_pages_;
    std::vector<QPushButton*> tab_buttons_;
    QFrame* findings_;
    QVBoxLayout* finding_rows_;
    QLabel* clean_;
};

}  // namespace pivrak
