#include "app/stages/pivots_panel.h"

namespace pivrak {

PivotsPanel::PivotsPanel(Session& session, QWidget* parent)
    : StagePanel(session, Stage::Pivots,
                 tr("Still to come here: hinge lines through two picks, fits to picked faces, spin and swing "
                    "checks."),
                 parent),
      middle_(makeButton(tr("Middle of bounds"), "pivotMiddle")),
      base_(makeButton(tr("Base of bounds"), "pivotBase")),
      fit_(makeButton(tr("Fit a cylinder"), "pivotCylinder", true)),
      axis_(makeChoice(
          "pivotAxis",
          {{tr("own X along it"), "x"}, {tr("own Y along it"), "y"}, {tr("own Z along it"), "z"}})) {
    auto* round = new Card(tr("Round parts"));
    round->addRow(tr("Axis"), axis_);
    round->addButtons({fit_});
    addCard(round);
    auto* bounds = new Card(tr("Any part"));
    bounds->addButtons({middle_, base_});
    addCard(bounds);
    auto* now = new Card(tr("Pivot now"));
    place_ = now->addReadout("pivotPlace", "number");
    addCard(now);
    connect(fit_, &QPushButton::clicked, this, [this] {
        this->session().preview({{"op", "pivot.fit_cylinder"},
                                 {"parts", selectedIds()},
                                 {"axis", axis_->currentData().toString().toStdString()}});
    });
    connect(middle_, &QPushButton::clicked, this, [this] {
        this->session().preview({{"op", "pivot.bounds"}, {"parts", selectedIds()}, {"at", "middle"}});
    });
    connect(base_, &QPushButton::clicked, this, [this] {
        this->session().preview({{"op", "pivot.bounds"}, {"parts", selectedIds()}, {"at", "base"}});
    });
}

void PivotsPanel::refresh() {
    const bool some = !session().selection().empty();
    for (QPushButton* button : {middle_, base_, fit_}) button->setEnabled(some && !session().previewed());
    const Part* part = session().shownDocument().parts.find(session().primary());
    if (!part) return place_->setText(tr("Pick a part to see its pivot."));
    const Vec3 at = world_from_rest(session().shownDocument(), part->id).translation;
    const LengthUnit unit = document().settings.length_unit;
    const int decimals = unit == LengthUnit::Metre ? 5 : 2;
    const auto length = [&](double v) { return QString::fromStdString(format_length(v, unit, decimals)); };
    place_->setText(tr("x %1\ny %2\nz %3").arg(length(at.x()), length(at.y()), length(at.z())));
}

}  // namespace pivrak
