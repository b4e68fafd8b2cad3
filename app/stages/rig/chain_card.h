#pragma once

#include <QListWidget>

#include "app/stages/kit/card.h"
#include "app/stages/kit/part_field.h"
#include "app/stages/kit/place_button.h"
#include "core/rig/chains/chain_remedies.h"

namespace pivrak {

/// Tells how many links a chain or run needs, offers ways to whole links, and builds them.
class ChainCard : public QWidget {
    Q_OBJECT

public:
    explicit ChainCard(Session& session);
    void refresh();
    /// What changes while things move: slack and sag at the present frame.
    void refreshMotion();

private:
    void showChain();
    void showRemedies(const Document& document, const Chain& chain);
    QString runWords(const Chain& run, const ChainFit& now) const;
    QString loopWords(const Chain& loop, const ChainFit& now) const;
    nlohmann::json clickedPins() const;
    /// The chain that the selection belongs to, or the only one.
    const Chain* chain() const;

    Session& session_;
    Card *chain_, *links_;
    QListWidget* remedies_;
    QComboBox* slack_;
    QLineEdit *count_, *every_, *kept_;
    QWidget *slack_row_, *kept_row_;
    QLabel *facts_, *link_facts_;
    QPushButton *apply_, *set_count_, *build_, *attach_, *remove_, *drop_links_;
    PartField *link_parts_, *piece_, *take_up_;
    PlaceButton* pins_;
    std::vector<ChainRemedy> found_;
    ChainId chain_shown_;              ///< last
    Chain shown_;                      ///< whose remedies are listed
    std::vector<Vec2> shown_centres_;  ///< and where its wheels stood
};

}  // namespace pivrak
