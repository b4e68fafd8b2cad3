#include "app/stages/split/pick_card.h"

#include <algorithm>
#include <set>

#include "app/session/words.h"
#include "core/geometry/mesh/topology.h"

namespace pivrak {

PickCard::PickCard(Session& session, QWidget* parent)
    : Card(tr("Pick"), parent),
      session_(session),
      kinds_(new QButtonGroup(this)),
      through_(makeCheck(tr("through: what is hidden too"), "pickThrough")),
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
    angle_->setText(QString::fromUtf8("10°"));
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
    connect(hide_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "part.show"}, {"parts", session_.selectedIds()}, {"shown", false}});
    });
    connect(only_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "part.show_only"}, {"parts", session_.selectedIds()}});
    });
    connect(all_, &QPushButton::clicked, this, [this] {
        nlohmann::json parts = nlohmann::json::array();
        for (const Part& part : session_.document().parts)
            if (!part.shown) parts.push_back(part.id.value);
        session_.run({{"op", "part.show"}, {"parts", parts}, {"shown", true}});
    });
    for (auto signal : {&Session::picksChanged, &Session::pickSettingsChanged})
        connect(&session_, signal, this, [this] {
            if (isVisible()) refresh();
        });
}

QPushButton* PickCard::growButton(const QString& text, const char* name, Growth growth) {
    auto* button = makeButton(text, name);
    growths_.emplace_back(growth, button);
    connect(button, &QPushButton::clicked, this, [this, growth] {
        if (session_.pickSettings().kind == PickKind::Parts) return growParts(growth);
        const auto angle = parse_quantity(angle_->text().toStdString(), Dimension::Angle);
        if (!angle) {
            emit session_.told(QString::fromStdString(angle.error().message), true);
            return;
        }
        session_.setPicks(grown(session_.shownDocument(), session_.picks(), growth, *angle));
    });
    return button;
}

void PickCard::growParts(Growth growth) {
    const Document& document = session_.shownDocument();
    if (growth == Growth::SameSize)
        return session_.select(parts_of_same_size(document, session_.selection()));
    std::vector<PartId> picked;
    std::set<MaterialId> wanted;
    const auto materials = [&](const Part& part) {
        std::set<MaterialId> set;
        if (const auto* shape = document.shapes.find(part.shape))
            for (const Submesh& run : shape->mesh->submeshes) set.insert(run.material);
        return set;
    };
    if (growth == Growth::Material)
        for (const PartId id : session_.selection()) wanted.merge(materials(*document.parts.find(id)));
    for (const Part& part : document.parts) {
        if (!part.shape) continue;
        const auto own = materials(part);
        const bool same =
            std::any_of(own.begin(), own.end(), [&](MaterialId m) { return wanted.contains(m); });
        if (growth == Growth::Invert ? !session_.isSelected(part.id) : same) picked.push_back(part.id);
    }
    session_.select(picked);
}

void PickCard::refresh() {
    const PickSettings& settings = session_.pickSettings();
    if (QAbstractButton* kind = kinds_->button(static_cast<int>(settings.kind))) kind->setChecked(true);
    through_->setChecked(settings.through);
    lasso_->setChecked(settings.lasso);
    const ElementPicks& picks = session_.picks();
    const bool parts = settings.kind == PickKind::Parts, faces = settings.kind == PickKind::Faces;
    const bool some = parts ? !session_.selection().empty() : !picks.faces.empty();
    for (const auto& [growth, button] : growths_) {
        const bool for_parts =
            growth == Growth::Material || growth == Growth::SameSize || growth == Growth::Invert;
        button->setEnabled(some && (faces || (parts && for_parts)));
    }
    angle_->setEnabled(faces);
    const bool picked = !session_.selection().empty() && !session_.previewed();
    hide_->setEnabled(picked);
    only_->setEnabled(picked);
    const auto& all = session_.document().parts;
    all_->setEnabled(std::any_of(all.begin(), all.end(), [](const Part& p) { return !p.shown; }));
    double area = 0;
    for (const auto& [id, mask] : picks.faces) {
        const Part* part = session_.shownDocument().parts.find(id);
        const auto* shape = part ? session_.shownDocument().shapes.find(part->shape) : nullptr;
        if (shape && mask.size() == shape->mesh->triangle_count())
            for (std::size_t f = 0; f < mask.size(); ++f)
                if (mask[f]) area += triangle_area(*shape->mesh, f);
    }
    count_->setText(
        parts   ? tr("%1 picked").arg(countWords(session_.selection().size(), "part"))
        : faces ? tr("%1 picked, %2 m²").arg(countWords(picks.face_count(), "face")).arg(area, 0, 'g', 4)
        : settings.kind == PickKind::Edges ? tr("%1 picked").arg(countWords(picks.edges.size(), "edge"))
                                           : tr("%1 picked").arg(countWords(picks.points.size(), "point")));
}

}  // namespace pivrak
