#pragma once

#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>
#include <set>
#include <vector>

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/kit/tab_rows.h"

namespace pivrak {

class PinnedButton;

/// The frame of each stage's panel: what the selection is, the bar of an open preview, the stage's cards, and
/// its findings at the foot.
class StagePanel : public QWidget {
    Q_OBJECT

public:
    StagePanel(Session& session, Stage stage, QWidget* parent = nullptr);
    /// Shows a tab by its name.
    void showTab(const QString& tab);
    /// The tab that something in the panel stands in; empty where it stands in none.
    QString tabOf(const QWidget& widget) const;

protected:
    /// Puts a card into the panel, or into its tab of that name; tabs stand in the order they are first
    /// named. A card that can be refreshed is, once per change, while it is seen.
    template <class AnyCard>
    void addCard(AnyCard* card, const QString& tab = {}) {
        place(card, tab);
        if constexpr (requires { card->refresh(); }) refreshed_.push_back({tab, [card] { card->refresh(); }});
    }
    QString shownTab() const;
    Session& session() { return session_; }
    const Session& session() const { return session_; }
    const Document& document() const { return session_.document(); }
    nlohmann::json selectedIds() const { return session_.selectedIds(); }
    /// Called before its cards are, for what the panel shows besides.
    virtual void refresh() {}
    void refreshAll();
    void showEvent(QShowEvent* event) override;

private:
    struct Refreshed {
        QString tab;
        std::function<void()> act;
    };
    void place(QWidget* card, const QString& tab);
    void refreshHead();
    void refreshPreview();
    void refreshFindings();
    void addFindings(const std::vector<Finding>& alike);
    void addFinding(const Finding& finding);

    Session& session_;
    Stage stage_;
    QWidget* body_ = nullptr;
    PinnedButton* pinned_ = nullptr;
    QLabel *title_, *subtitle_;
    QFrame* preview_;
    QLabel* preview_text_;
    QVBoxLayout* cards_;
    TabRows* tabs_;
    QStringList tab_names_;
    std::vector<QWidget*> tab_pages_;
    std::vector<Refreshed> refreshed_;
    QFrame* findings_;
    QVBoxLayout* finding_rows_;
    QCheckBox* of_picked_;                 ///< findings about what is picked alone
    std::set<std::string> open_findings_;  ///< codes whose findings are listed one by one
    QLabel* clean_;
};

}  // namespace pivrak
