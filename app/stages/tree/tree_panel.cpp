#include "app/stages/tree/tree_panel.h"

#include "app/stages/split/set_card.h"
#include "app/stages/tree/carrier_card.h"
#include "app/stages/tree/control_card.h"
#include "app/stages/tree/joint_card.h"
#include "app/stages/tree/name_cards.h"
#include "app/stages/tree/snap_card.h"

namespace pivrak {

TreePanel::TreePanel(Session& session, QWidget* parent)
    : StagePanel(session, Stage::Tree, parent),
      carrier_(new CarrierCard(session)),
      datums_(new DatumCard(session)),
      place_(new PlaceCard(session)),
      snap_(new SnapCard(session)),
      joint_(new JointCard(session)),
      pattern_(new PatternCard(session)),
      convention_(new ConventionCard(session)),
      controls_(new ControlCard(session)),
      sets_(new SetCard(session)) {
    const QString carriers = tr("Carrier"), names = tr("Names");
    addCard(carrier_, carriers);
    addCard(datums_, carriers);
    addCard(place_, tr("Place"));
    addCard(snap_, tr("Place"));
    addCard(joint_, tr("Joint"));
    addCard(pattern_, names);
    addCard(convention_, names);
    addCard(controls_, tr("Controls"));
    addCard(sets_, tr("Sets"));
}

}  // namespace pivrak
