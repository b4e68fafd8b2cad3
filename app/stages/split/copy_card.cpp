#include "app/stages/split/copy_card.h"

#include "app/session/words.h"

namespace pivrak {

using nlohmann::json;

CopyCard::CopyCard(Session& session)
    : FormCard(
          session, "copy", {"part.repeat_line", "part.repeat_round", "part.mirror", "part.duplicate"},
          {tr("Copies"), tr("Preview"), "previewCopy",
           tr("Pick the parts to copy; what they carry comes along, with joints, couplings and keys.")}) {
    const QStringList line{"part.repeat_line", "part.duplicate"};
    add({.argument = "@way",
         .label = tr("How"),
         .choices = {{tr("repeat in a line"), "part.repeat_line"},
                     {tr("repeat round an axis"), "part.repeat_round"},
                     {tr("mirror"), "part.mirror"},
                     {tr("duplicate once"), "part.duplicate"}},
         .object_name = "copyWay"},
        true);
    add({.argument = "count",
         .label = tr("Total"),
         .begins = QStringLiteral("3"),
         .object_name = "copyCount"});
    add({.argument = "@x",
         .label = tr("Step X"),
         .shown_for = line,
         .begins = QStringLiteral("500 mm"),
         .object_name = "copyX"});
    add({.argument = "@y",
         .label = tr("Step Y"),
         .shown_for = line,
         .begins = QStringLiteral("0 mm"),
         .object_name = "copyY"});
    add({.argument = "@z",
         .label = tr("Step Z"),
         .shown_for = line,
         .begins = QStringLiteral("0 mm"),
         .object_name = "copyZ"});
    add({.argument = "@plane",
         .label = tr("Plane"),
         .shown_for = {"part.mirror"},
         .choices = {{tr("left and right, across Y"), "y"},
                     {tr("front and rear, across X"), "x"},
                     {tr("above and below, across Z"), "z"}},
         .object_name = "mirrorPlane"});
    add({.argument = "@axis",
         .label = tr("Axis along"),
         .shown_for = {"part.repeat_round"},
         .choices = {{tr("X"), "x"}, {tr("Y"), "y"}, {tr("Z"), "z"}},
         .object_name = "roundAxis"});
    add({.argument = "angle",
         .label = tr("Step"),
         .placeholder = tr("evenly round"),
         .object_name = "copyAngle"});
    add({.argument = "@centre",
         .label = tr("Through"),
         .shown_for = {"part.repeat_round", "part.mirror"},
         .choices = {{tr("the origin"), "origin"},
                     {tr("pivot of what carries it"), "parent"},
                     {tr("its own pivot"), "own"}},
         .object_name = "copyCentre"});
    add({.argument = "riders",
         .label = tr("Riders"),
         .choices = {{tr("spaced along it"), "apart"}, {tr("off the path"), "off"}},
         .object_name = "copyRiders"});
    add({.argument = "shape_alone",
         .label = tr("the shape alone, without what it carries"),
         .object_name = "copyAlone"});
    finish(false);
    for (QLineEdit* edit : findChildren<QLineEdit*>())
        connect(edit, &QLineEdit::returnPressed, this, [this] { doStep(); });
    for (QComboBox* choice : findChildren<QComboBox*>())
        connect(choice, &QComboBox::activated, this, [this] {
            if (session_.previewed()) doStep();
        });
}

/// What a copy is turned round, or mirrored through.
Vec3 CopyCard::centre(const json& parts) const {
    const Document& document = session_.document();
    const Part* part =
        parts.empty() ? nullptr : document.parts.find(PartId{parts.back().get<std::uint64_t>()});
    if (part && valueOf("@centre") == "own") return world_from_rest(document, part->id).translation;
    if (part && part->parent && valueOf("@centre") == "parent")
        return world_from_rest(document, part->parent).translation;
    return {0, 0, 0};
}

void CopyCard::amend(json& step) const {
    // A preview that is asked for again is of the same parts: by now its copies are picked.
    const StepPreview* preview = session_.previewed();
    if (preview && preview->step.contains("parts")) step["parts"] = preview->step["parts"];
    const auto unit = [](const std::string& axis) {
        const Vec3 v = Vec3::Unit(axis.front() - 'x');
        return json{v.x(), v.y(), v.z()};
    };
    const Vec3 middle = centre(step.value("parts", json::array()));
    const json shift{valueOf("@x"), valueOf("@y"), valueOf("@z")}, place{middle.x(), middle.y(), middle.z()};
    if (lead() == "part.repeat_line") step["step"] = shift;
    if (lead() == "part.duplicate") step["shift"] = shift;
    if (lead() == "part.mirror") {
        step["normal"] = unit(valueOf("@plane"));
        step["point"] = place;
    }
    if (lead() == "part.repeat_round") {
        step["axis"] = unit(valueOf("@axis"));
        step["centre"] = place;
    }
}

void CopyCard::refresh() {
    FormCard::refresh();
    if (session_.previewed()) do_->setEnabled(true);
    if (!session_.selection().empty())
        facts_->setText(
            tr("%1 picked, with what they carry").arg(countWords(session_.selection().size(), "part")));
}

}  // namespace pivrak
