#include "app/stages/rig/pair_facts.h"

#include <cmath>

#include "app/stages/kit/card.h"
#include "app/stages/kit/length_text.h"

namespace pivrak {
namespace {

QString phaseWords(const GearPairMeasure& m, const GearPair& pair) {
    const double phase = std::abs(pair.phase) < 1e-5 ? 0 : pair.phase;
    return Card::tr(" · phase %1%2")
        .arg(is_turn(pair.driven.kind) ? QString::fromStdString(format_angle(phase, 3))
                                       : millimetres(phase, 3),
             m.phase_measured ? Card::tr(" ✓") : Card::tr(", no teeth found"));
}

}  // namespace

QString pairFacts(const GearPairMeasure& m, const GearPair& pair) {
    if (!is_turn(pair.driven.kind))
        return Card::tr("%1 a turn").arg(millimetres(2 * pi * std::abs(m.ratio))) +
               (pair.kind == PairKind::Rack && m.phase_measured ? phaseWords(m, pair) : QString());
    QString facts = Card::tr("Turns %1").arg(QString::fromStdString(ratio_words(m.ratio)));
    if (pair.kind == PairKind::Worm)
        facts = Card::tr("Threads %1, %2 · ")
                    .arg(pair.driver_teeth)
                    .arg(pair.left_hand ? Card::tr("left-hand") : Card::tr("right-hand")) +
                facts;
    if (m.module_m > 0) {
        const int both = pair.kind == PairKind::Inside ? std::abs(pair.driven_teeth - pair.driver_teeth)
                                                       : pair.driver_teeth + pair.driven_teeth;
        facts += Card::tr(" · centres %1 = %2 × %3")
                     .arg(millimetres(m.centre_distance_m), millimetres(m.module_m))
                     .arg(0.5 * both);
        if (m.fitting_m > 0 && std::abs(m.fitting_m - m.centre_distance_m) > 1e-5)
            facts += Card::tr(", the module requires %1").arg(millimetres(m.fitting_m));
    }
    const bool has_phase = pair.kind != PairKind::Belt && pair.kind != PairKind::CrossedBelt &&
                           pair.kind != PairKind::Screw && (m.module_m > 0 || m.phase_measured);
    if (has_phase) facts += phaseWords(m, pair);
    return facts;
}

}  // namespace pivrak
