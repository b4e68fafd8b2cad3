#include "app/stages/pivots/pivots_panel.h"

#include "app/stages/pivots/pivot_aim_card.h"
#include "app/stages/pivots/pivot_check_cards.h"
#include "app/stages/pivots/pivot_place_cards.h"
#include "app/stages/pivots/swing_map_card.h"

namespace pivrak {

PivotsPanel::PivotsPanel(Session& session, PivotChecks& checks, QWidget* parent)
    : StagePanel(session, Stage::Pivots, parent),
      shape_(new ShapePivotCard(session)),
      picked_(new PickedPivotCard(session)),
      typed_(new TypedPivotCard(session)),
      aim_(new PivotAimCard(session)),
      spin_(new SpinCard(session, checks)),
      swing_(new SwingCard(session, checks)),
      map_(new SwingMapCard(session, checks)) {
    const QString place = tr("Place");
    addCard(shape_, place);
    addCard(picked_, place);
    addCard(typed_, place);
    addCard(aim_, tr("Aim"));
    addCard(spin_, tr("Spin"));
    addCard(swing_, tr("Swing"));
    addCard(map_, tr("Swing"));
    for (auto signal : {&Session::picksChanged, &Session::pickSettingsChanged})
        connect(&session, signal, this, &PivotsPanel::refreshAll);
}

}  // namespace pivrak
