#include "app/stages/split/pick_card.h"

#include <algorithm>

#include "app/session/words.h"
#include "app/stages/kit/button_tips.h"
#include "core/geometry/mesh/topology.h"

namespace pivrak {

PickCard::PickCard(Session& session, QWidget* parent)
    : Card(tr("Pick"), parent),
      session_(session),
      kinds_(new QButtonGroup(this)),
      through_(makeCheck(tr("through: what lies behind too"), "pickThrough")),
      lasso_(makeCheck(tr("drag a free outline, not a box"), "pickLasso")),
      angle_(makeNumber("pickAngle")),
      hide_(makeButton(tr("Hide"), "hidePicked")),
      only_(makeButton(tr("Only these"), "showOnly")),
      all_(makeButton(tr("Show all"), "showAllParts")) {
    auto* kinds = new QWidget;
    auto* row = new QHBoxLayout(kinds);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    const std::pair<QString, const char*> names[] = {{tr("Parts"), "pickParts"},
                                                     {tr("Faces"), "pickFaces"},
                                                     {tr("Edges"), "pickEdges"},
                                                     {tr("Points"), "pickPoints"}};
    for (int i = 0; i < 4; ++i) {
        auto* button = makeButton(names[i].first, names[i].second);
        button->setCheckable(true);
        kinds_->addButton(button, i);
        row->addWidget(button, 1);
    }
    addWidget(kinds);
    addWidget(through_);
    addWidget(lasso_);
    count_ = addReadout("pickCount");
    addButtons({growButton(tr("Whole piece"), "growPiece", Growth::Piece),
                growButton(tr("Same material"), "growMaterial", Growth::Material)});
    addRow(tr("Bend up to"), angle_);
    addButtons({growButton(tr("Smooth surface"), "growAngle", Growth::Angle),
                growButton(tr("Same size"), "growSize", Growth::SameSize)});
    addButtons({growButton(tr("One ring more"), "growRing", Growth::Ring),
                growButton(tr("One less"), "shrinkRing", Growth::Shrink),
                growButton(tr("Invert"), "invertPick", Growth::Invert)});
    addButtons({hide_, only_, all_});
    connect(kinds_, &QButtonGroup::idClicked, this, [this](int id) {
        PickSettings settings = session_.pickSettings();
        settings.kind = static_cast<PickKind>(id);
        session_.setPickSettings(settings);
    });
    connect(through_, &QCheckBox::clicked, this, [this](bool on) {
        PickSettings settings = session_.pickSettings();
        settings.through = on;
        session_.setPickSettings(settings);
    });
    connect(lasso_, &QCheckBox::clicked, this, [this](bool on) {
        PickSettings settings = session_.pickSettings();
        settings.lasso = on;
        session_.setPickSettings(settings);
    });
    connect(angle_, &QLineEdit::editingFinished, this, &PickCard::takeAngle);
    connect(hide_, &QPushButton::clicked, &session_, [this] { session_.setPickedShown(false); });
    connect(only_, &QPushButton::clicked, &session_, &Session::showPickedOnly);
    connect(all_, &QPushButton::clicked, &session_, &Session::showAll);
    for (auto signal : {&Session::picksChanged, &Session::pickSettingsChanged, &Session::hiddenFacesChanged})
        connect(&session_, signal, this, [this] {
            if (isVisible()) refresh();
        });
}

QPushButton* PickCard::growButton(const QString& text, const char* name, Growth growth) {
    auto* button = makeButton(text, name);
    growths_.emplace_back(growth, button);
    connect(button, &QPushButton::clicked, &session_, [this, growth] { session_.grow(growth); });
    return button;
}

/// How far faces may bend that grow into one surface; what is no angle is told, and the one before stays.
void PickCard::takeAngle() {
    PickSettings settings = session_.pickSettings();
    const auto angle = parse_quantity(angle_->text().toStdString(), Dimension::Angle);
    if (!angle)
        emit session_.told(QString::fromStdString(angle.error().message), true);
    else
        settings.bend_rad = *angle;
    session_.setPickSettings(settings);
    refresh();
}

void PickCard::refresh() {
    const PickSettings& settings = session_.pickSettings();
    if (QAbstractButton* kind = kinds_->button(static_cast<int>(settings.kind))) kind->setChecked(true);
    through_->setChecked(settings.through);
    lasso_->setChecked(settings.lasso);
    const ElementPicks& picks = session_.picks();
    const bool parts = settings.kind == PickKind::Parts, faces = settings.kind == PickKind::Faces;
    for (const auto& [growth, button] : growths_) {
        const QString why = session_.whyNotGrown(growth);
        button->setEnabled(why.isEmpty());
        tellWhy(button, why);
    }
    if (!angle_->hasFocus()) angle_->setText(tr("%1°").arg(settings.bend_rad / rad_per_deg, 0, 'g', 4));
    angle_->setEnabled(faces);
    const bool picked = session_.whyNothingToHide().isEmpty() && !session_.previewed();
    hide_->setEnabled(picked);
    only_->setEnabled(picked);
    all_->setEnabled(session_.hidesAnything());
    double area = 0;
    for (const auto& [id, mask] : picks.faces) {
        const Part* part = session_.shownDocument().parts.find(id);
        const auto* shape = part ? session_.shownDocument().shapes.find(part->shape) : nullptr;
        if (shape && mask.size() == shape->mesh->triangle_count())
            for (std::size_t f = 0; f < mask.size(); ++f)
                if (mask[f]) area += triangle_area(*shape->mesh, f);
    }
    const std::size_t hidden = session_.hiddenFaces().count();
    const QString also = hidden > 0 ? tr(", %1 hidden").arg(countWords(hidden, "face")) : QString();
    count_->setText(
        parts   ? tr("%1 picked").arg(countWords(session_.selection().size(), "part"))
        : faces ? tr("%1 picked, %2 m²").arg(countWords(picks.face_count(), "face")).arg(area, 0, 'g', 4)
        : settings.kind == PickKind::Edges ? tr("%1 picked").arg(countWords(picks.edges.size(), "edge"))
                                           : tr("%1 picked").arg(countWords(picks.points.size(), "point")));
    count_->setText(count_->text() + also);
}

}  // namespace pivrak
