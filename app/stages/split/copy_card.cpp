#include "app/stages/split/copy_card.h"

#include "app/session/words.h"

namespace pivrak {

using nlohmann::json;

CopyCard::CopyCard(Session& session)
    : FormCard(session, "copy",
               {"part.repeat_line", "part.repeat_round", "part.repeat_path", "part.mirror", "part.duplicate"},
               {tr("Copies"), tr("Preview"), "previewCopy",
                tr("Pick the parts to copy; what they carry comes along, with joints, couplings and keys.")}),
      click_(new PlaceButton(session, "copyClickPlace")) {
    const QStringList line{"part.repeat_line", "part.duplicate"};
    add({.argument = "@way",
         .label = tr("Kind"),
         .choices = {{tr("repeat in a line"), "part.repeat_line"},
                     {tr("repeat round an axis"), "part.repeat_round"},
                     {tr("repeat along a path"), "part.repeat_path"},
                     {tr("mirror"), "part.mirror"},
                     {tr("duplicate once"), "part.duplicate"}},
         .object_name = "copyWay"},
        true);
    add({.argument = "count",
         .label = tr("Total"),
         .begins = QStringLiteral("3"),
         .object_name = "copyCount"});
    add({.argument = "@path",
         .label = tr("Path"),
         .shown_for = {"part.repeat_path"},
         .choices = {{tr("none yet"), ""}},
         .object_name = "copyPath"});
    add({.argument = "spacing", .object_name = "copySpacing"});
    add({.argument = "turn",
         .choices = {{tr("with the path"), "path"},
                     {tr("about the upright"), "level"},
                     {tr("as it is"), "fixed"}},
         .object_name = "copyTurned"});
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
         .choices = {{tr("left–right, across Y"), "y"},
                     {tr("front–rear, across X"), "x"},
                     {tr("above–below, across Z"), "z"},
                     {tr("along picked face"), "face"},
                     {tr("between two places"), "between"}},
         .object_name = "mirrorPlane"});
    add({.argument = "@axis",
         .label = tr("Axis along"),
         .shown_for = {"part.repeat_round"},
         .choices = {{tr("X"), "x"},
                     {tr("Y"), "y"},
                     {tr("Z"), "z"},
                     {tr("places 1 to 2"), "places"},
                     {tr("square to a face"), "face"}},
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
                     {tr("its own pivot"), "own"},
                     {tr("place clicked last"), "place"}},
         .object_name = "copyCentre"});
    add({.argument = "riders",
         .label = tr("Riders"),
         .choices = {{tr("spaced along it"), "apart"}, {tr("off the path"), "off"}},
         .object_name = "copyRiders"});
    add({.argument = "shape_alone",
         .label = tr("the shape alone, without what it carries"),
         .object_name = "copyAlone"});
    addButtons({click_});
    finish(false);
    connect(click_, &PlaceButton::picked, this, &CopyCard::refresh);
    for (QLineEdit* edit : findChildren<QLineEdit*>())
        connect(edit, &QLineEdit::returnPressed, this, [this] { doStep(); });
    for (QComboBox* choice : findChildren<QComboBox*>())
        connect(choice, &QComboBox::activated, this, [this] {
            if (session_.previewed()) doStep();
        });
}

/// Where a place is at rest that was clicked last, or so many before.
std::optional<Vec3> CopyCard::clicked(std::size_t before) const {
    const auto& places = session_.picks().places;
    if (before >= places.size()) return std::nullopt;
    const PickedPlace& place = places[places.size() - 1 - before];
    const Document& document = session_.document();
    return place_in_world(
        document, place,
        document.parts.contains(place.part) ? world_from_rest(document, place.part) : Frame{});
}

/// The plane of a mirror, or the axis of a turn, where the choice names picked things; none until they are
/// there.
std::optional<Plane> CopyCard::picked() const {
    const std::string way = lead() == "part.mirror" ? valueOf("@plane") : valueOf("@axis");
    if (way == "face") return picked_face_plane(session_.document(), session_.picks());
    const auto to = clicked(0), from = clicked(1);
    if (!to || !from || !((*to - *from).norm() > 1e-9)) return std::nullopt;
    return Plane{way == "between" ? Vec3(0.5 * (*from + *to)) : *from, (*to - *from).normalized()};
}

/// Whether the plane or the axis is a picked one.
bool CopyCard::isPicked() const {
    const std::string way = lead() == "part.mirror"         ? valueOf("@plane")
                            : lead() == "part.repeat_round" ? valueOf("@axis")
                                                            : std::string();
    return way == "face" || way == "between" || way == "places";
}

QString CopyCard::obstacle() const {
    if (lead() == "part.repeat_path" && valueOf("@path").empty())
        return tr("Draw a path first, under Rig, or read one from a file.");
    if (isPicked() && !picked())
        return (lead() == "part.mirror" ? valueOf("@plane") : valueOf("@axis")) == "face"
                   ? tr("Pick a face first, under Pick.")
                   : tr("Click two places first.");
    return isOfUse("@centre") && valueOf("@centre") == "place" && lead() != "part.repeat_line" &&
                   lead() != "part.duplicate" && !clicked(0)
               ? tr("Click a place first.")
               : QString();
}

/// A picked plane or axis says itself where it is.
bool CopyCard::isOfUse(const std::string& argument) const {
    return argument != "@centre" || !isPicked();
}

/// What a copy is turned round, or mirrored through.
Vec3 CopyCard::centre(const json& parts) const {
    const Document& document = session_.document();
    const Part* part =
        parts.empty() ? nullptr : document.parts.find(PartId{parts.back().get<std::uint64_t>()});
    if (valueOf("@centre") == "place") return clicked(0).value_or(Vec3(0, 0, 0));
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
    if (lead() == "part.repeat_path") step["path"] = valueOf("@path");
    const Vec3 middle = centre(step.value("parts", json::array()));
    const json shift{valueOf("@x"), valueOf("@y"), valueOf("@z")}, place{middle.x(), middle.y(), middle.z()};
    if (lead() == "part.repeat_line") step["step"] = shift;
    if (lead() == "part.duplicate") step["shift"] = shift;
    const bool mirrors = lead() == "part.mirror", turns = lead() == "part.repeat_round";
    if (!mirrors && !turns) return;
    const char *way = mirrors ? "normal" : "axis", *at = mirrors ? "point" : "centre";
    if (const auto plane = isPicked() ? picked() : std::nullopt) {
        step[way] = {plane->normal.x(), plane->normal.y(), plane->normal.z()};
        step[at] = {plane->point.x(), plane->point.y(), plane->point.z()};
    } else if (!isPicked()) {
        step[way] = unit(valueOf(mirrors ? "@plane" : "@axis"));
        step[at] = place;
    }
}

/// Paths by their names; the one that was chosen stays.
void CopyCard::listPaths() {
    auto* list = static_cast<QComboBox*>(widget("@path"));
    QStringList names;
    for (const Path& path : session_.document().paths) names << QString::fromStdString(path.name);
    if (names.isEmpty()) names << QString();
    QStringList listed;
    for (int i = 0; i < list->count(); ++i) listed << list->itemData(i).toString();
    if (names == listed) return;
    const QSignalBlocker quiet(list);
    const QString chosen = list->currentData().toString();
    list->clear();
    for (const QString& name : names) list->addItem(name.isEmpty() ? tr("none yet") : name, name);
    list->setCurrentIndex(std::max(0, list->findData(chosen)));
}

void CopyCard::refresh() {
    click_->refresh();
    listPaths();
    FormCard::refresh();
    if (session_.previewed()) do_->setEnabled(true);
    if (!session_.selection().empty() && obstacle().isEmpty())
        facts_->setText(tr("%1 picked; all that is carried comes along")
                            .arg(countWords(session_.selection().size(), "part")));
}

}  // namespace pivrak
