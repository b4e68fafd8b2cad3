#include "app/stages/pivots/swing_map_card.h"

#include <algorithm>
#include <cmath>

#include "app/session/words.h"
#include "app/stages/kit/button_tips.h"

namespace pivrak {
namespace {

bool moves_one_way(const Part* part) {
    return part && (part->joint.has(ChannelKind::Turn) || part->joint.has(ChannelKind::Shift));
}

}  // namespace

SwingMapCard::SwingMapCard(Session& session, PivotChecks& checks, QWidget* parent)
    : Card(tr("Two joints at once"), parent),
      session_(session),
      checks_(checks),
      joints_{{.range = {session, "mapFirstFrom", "mapFirstTo"}},
              {.range = {session, "mapSecondFrom", "mapSecondTo"}}},
      run_(makeButton(tr("Sweep both"), "mapRun", true)) {
    const char* names[] = {"mapFirst", "mapSecond"};
    for (int k = 0; k < 2; ++k) {
        joints_[k].name = addReadout(names[k], "soft");
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(joints_[k].range.from(), 1);
        layout->addWidget(new QLabel(tr("to")));
        layout->addWidget(joints_[k].range.to(), 1);
        addWidget(row);
        joints_[k].row = row;
    }
    addButtons({run_});
    result_ = addReadout("mapResult");
    connect(run_, &QPushButton::clicked, this, &SwingMapCard::run);
    connect(&checks_, &PivotChecks::swingChanged, this, &SwingMapCard::refresh);
}

std::optional<std::pair<PartId, PartId>> SwingMapCard::pair() const {
    const auto& picked = session_.selection();
    if (picked.size() != 2) return std::nullopt;
    for (const PartId part : picked)
        if (!moves_one_way(session_.document().parts.find(part))) return std::nullopt;
    return std::pair(picked[0], picked[1]);
}

void SwingMapCard::run() {
    const auto parts = pair();
    if (!parts) return;
    const auto& known = session_.document().parts;
    const auto first = joints_[0].range.read(*known.find(parts->first)),
               second = joints_[1].range.read(*known.find(parts->second));
    if (first && second) checks_.sweepBoth(parts->first, parts->second, {*first, *second});
}

void SwingMapCard::refresh() {
    const auto parts = pair();
    run_->setEnabled(parts && !session_.previewed());
    tellWhy(run_, parts ? QString() : tr("pick two parts that are hinges, slides or cylinders"));
    const PartId ids[] = {parts ? parts->first : PartId{}, parts ? parts->second : PartId{}};
    for (int k = 0; k < 2; ++k) {
        const Part* part = session_.document().parts.find(ids[k]);
        joints_[k].row->setVisible(part);
        joints_[k].name->setVisible(part || k == 0);
        joints_[k].name->setText(part ? QString::fromStdString(part->name)
                                 : k == 0
                                     ? tr("Pick two parts that move: a door and its window, or two doors.")
                                     : QString());
        // Otherwise a quarter turn, or a quarter of a metre, to either side.
        if (part) joints_[k].range.propose(*part, pi / 2, 0.25);
    }
    const auto& map = checks_.map();
    result_->setVisible(map.has_value());
    if (!map) return;
    QStringList lines{tr("%1 % of all poses touch").arg(100 * map->contact_share(), 0, 'f', 1)};
    if (!map->touching.empty())
        lines << tr("touching at rest, left out: %1").arg(countWords(map->touching.size(), "part"));
    if (checks_.swingIsStale()) lines << tr("out of date: sweep both again");
    lines << tr("Click the chart below the view to pose both.");
    result_->setText(lines.join(QLatin1Char('\n')));
}

}  // namespace pivrak
