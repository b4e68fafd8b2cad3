#include "app/stages/split/split_panel.h"

#include "app/stages/split/break_card.h"
#include "app/stages/split/copy_card.h"
#include "app/stages/split/find_cards.h"
#include "app/stages/split/pick_card.h"
#include "app/stages/split/set_card.h"

namespace pivrak {

SplitPanel::SplitPanel(Session& session, QWidget* parent)
    : StagePanel(session, Stage::Split, parent),
      break_(new BreakCard(session)),
      trim_(new TrimCard(session)),
      pick_(new PickCard(session)),
      repeats_(new RepeatsCard(session)),
      recognise_(new RecogniseCard(session)),
      copy_(new CopyCard(session)),
      sets_(new SetCard(session)) {
    addCard(break_, tr("Break"));
    addCard(trim_, tr("Break"));
    addCard(pick_, tr("Pick"));
    addCard(recognise_, tr("Find"));
    addCard(repeats_, tr("Find"));
    addCard(copy_, tr("Copy"));
    addCard(sets_, tr("Sets"));
}

}  // namespace pivrak
