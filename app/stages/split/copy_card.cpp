#include "app/stages/split/copy_card.h"
#include "app/session/words.h"

namespace pivrak {

CopyCard::CopyCard(Session& session, QWidget* parent)
    : Card(tr("Copies"), parent),
      session_(session),
      way_(makeChoice("copyWay", {{tr("repeat in a line"), "part.repeat_line"},
                                  {tr("repeat round an axis"), "part.repeat_round"},
                                  {tr("mirror"), "part.mirror"},
                                  {tr("duplicate once"), "part.duplicate"}})),
      plane_(makeChoice("mirrorPlane", {{tr("left and right, across Y"), "y"},
                                        {tr("front and rear, across X"), "x"},
                                        {tr("above and below, across Z"), "z"}})),
      axis_(makeChoice("roundAxis", {{tr("X"), "x"}, {tr("Y"), "y"}, {tr("Z"), "z"}})),
      centre_(makeChoice("copyCentre", {{tr("the origin"), "origin"},
                                        {tr("pivot of what carries it"), "parent"},
                                        {tr("its own pivot"), "own"}})),
      count_(makeNumber("copyCount")),
      x_(makeNumber("copyX")),
      y_(makeNumber("copyY")),
      z_(makeNumber("copyZ")),
      angle_(makeNumber("copyAngle")),
      alone_(makeCheck(tr("the shape alone, without what it carries"), "copyAlone")),
      show_(makeButton(tr("Preview"), "previewCopy", true)) {
    count_->setText(QStringLiteral("3"));
    x_->setText(QStringLiteral("500 mm"));
    y_->setText(QStringLiteral("0 mm"));
    z_->setText(QStringLiteral("0 mm"));
    angle_->setPlaceholderText(tr("evenly round"));
    const auto row = [&](const QStringList& ways, const QString& label, QWidget* field) {
        rows_.emplace_back(ways, addOptionalRow(label, field));
    };
    const QStringList line{"part.repeat_line", "part.duplicate"};
    addRow(tr("How"), way_);
    row({"part.repeat_line", "part.repeat_round"}, tr("In all"), count_);
    row(line, tr("Step X"), x_);
    row(line, tr("Step Y"), y_);
    row(line, tr("Step Z"), z_);
    row({"part.mirror"}, tr("Plane"), plane_);
    row({"part.repeat_round"}, tr("Axis along"), axis_);
    row({"part.repeat_round"}, tr("Step"), angle_);
    row({"part.repeat_round", "part.mirror"}, tr("Through"), centre_);
    addWidget(alone_);
    addButtons({show_});
    state_ = addReadout("copyState");
    connect(way_, &QComboBox::activated, this, &CopyCard::wayChanged);
    connect(show_, &QPushButton::clicked, this, &CopyCard::show);
    for (QLineEdit* edit : {count_, x_, y_, z_, angle_})
        connect(edit, &QLineEdit::returnPressed, this, &CopyCard::show);
    for (QComboBox* box : {plane_, axis_, centre_})
        connect(box, &QComboBox::activated, this, [this] {
            if (session_.previewed()) show();
        });
    wayChanged();
}

void CopyCard::wayChanged() {
    const QString way = way_->currentData().toString();
    for (const auto& [ways, row] : rows_) row->setVisible(ways.contains(way));
    if (session_.previewed()) show();
}

nlohmann::json CopyCard::step() const {
    const StepPreview* preview = session_.previewed();
    const bool again = preview && preview->step.contains("parts");
    nlohmann::json step{{"op", chosen(way_)},
                        {"parts", again ? preview->step["parts"] : session_.selectedIds()}};
    step["shape_alone"] = alone_->isChecked();
    const Document& document = session_.document();
    Vec3 centre(0, 0, 0);
    if (const Part* part = document.parts.find(
            PartId{step["parts"].empty() ? 0 : step["parts"].back().get<std::uint64_t>()})) {
        if (chosen(centre_) == "own") centre = world_from_rest(document, part->id).translation;
        if (chosen(centre_) == "parent" && part->parent)
            centre = world_from_rest(document, part->parent).translation;
    }
    const auto unit = [](const std::string& axis) {
        const Vec3 v = Vec3::Unit(axis.front() - 'x');
        return nlohmann::json{v.x(), v.y(), v.z()};
    };
    const nlohmann::json middle{centre.x(), centre.y(), centre.z()};
    const nlohmann::json shift{x_->text().toStdString(), y_->text().toStdString(), z_->text().toStdString()};
    bool whole = false;
    const int count = count_->text().toInt(&whole);
    if (step["op"] == "part.repeat_line" || step["op"] == "part.repeat_round")
        step["count"] = whole ? count : 0;
    if (step["op"] == "part.repeat_line") step["step"] = shift;
    if (step["op"] == "part.duplicate") step["shift"] = shift;
    if (step["op"] == "part.mirror") {
        step["normal"] = unit(chosen(plane_));
        step["point"] = middle;
    }
    if (step["op"] == "part.repeat_round") {
        step["axis"] = unit(chosen(axis_));
        step["centre"] = middle;
        if (!angle_->text().trimmed().isEmpty()) step["angle"] = angle_->text().toStdString();
    }
    return step;
}

void CopyCard::show() {
    session_.preview(step());
}

void CopyCard::refresh() {
    show_->setEnabled(!session_.selection().empty() || session_.previewed());
    state_->setText(
        session_.selection().empty()
            ? tr("Pick the parts to copy; what they carry comes along, with joints, couplings and keys.")
            : tr("%1 picked, with what they carry").arg(countWords(session_.selection().size(), "part")));
}

}  // namespace pivrak
