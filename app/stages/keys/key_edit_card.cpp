#include "app/stages/keys/key_edit_card.h"

#include "app/session/no_keys.h"

namespace pivrak {

KeyEditCard::KeyEditCard(Session& session)
    : FormCard(session, "keyEdit",
               {"key.hold", "key.scale", "key.copy", "cycle.close", "key.beyond", "key.thin", "key.smooth",
                "key.snap", "key.reverse", "key.mirror"},
               {tr("Change many keys"), tr("Do it"), "doKeyEdit", tr("Say the numbers first.")}) {
    add({.argument = "@what",
         .label = tr("What"),
         .choices = {{tr("hold at this frame"), "key.hold"},
                     {tr("longer or shorter"), "key.scale"},
                     {tr("copy to this frame"), "key.copy"},
                     {tr("close a cycle"), "cycle.close"},
                     {tr("go on beyond keys"), "key.beyond"},
                     {tr("thin them"), "key.thin"},
                     {tr("smooth them"), "key.smooth"},
                     {tr("to whole numbers"), "key.snap"},
                     {tr("turn round in time"), "key.reverse"},
                     {tr("to the other side"), "key.mirror"}},
         .object_name = "keyEditWhat"},
        true);
    add({.argument = "frames",
         .label = tr("For frames"),
         .shown_for = {"key.hold"},
         .begins = QStringLiteral("20"),
         .object_name = "keyEditFrames"});
    add({.argument = "sudden",
         .label = tr("stops at once"),
         .shown_for = {"key.hold"},
         .object_name = "keyEditSudden"});
    add({.argument = "times",
         .label = tr("Times"),
         .shown_for = {"key.scale"},
         .placeholder = tr("2 is slower"),
         .object_name = "keyEditTimes"});
    add({.argument = "into",
         .label = tr("Or into frames"),
         .shown_for = {"key.scale"},
         .placeholder = tr("37"),
         .object_name = "keyEditInto"});
    add({.argument = "about",
         .label = tr("About frame"),
         .shown_for = {"key.scale"},
         .placeholder = tr("the first"),
         .object_name = "keyEditAbout"});
    add({.argument = "value_times",
         .label = tr("Values times"),
         .shown_for = {"key.scale"},
         .placeholder = tr("-1 mirrors"),
         .object_name = "keyEditValues"});
    add({.argument = "whole",
         .label = tr("whole frames"),
         .shown_for = {"key.scale"},
         .object_name = "keyEditWhole"});
    add({.argument = "count",
         .label = tr("So often"),
         .shown_for = {"key.copy"},
         .begins = QStringLiteral("1"),
         .object_name = "keyEditCount"});
    add({.argument = "add_up",
         .label = tr("each from where it got to"),
         .shown_for = {"key.copy", "cycle.close"},
         .object_name = "keyEditAddUp"});
    add({.argument = "even",
         .label = tr("run evenly"),
         .shown_for = {"cycle.close"},
         .object_name = "keyEditEven"});
    const QList<std::pair<QString, QString>> beyond{{tr("as it is"), ""},
                                                    {tr("stay"), "hold"},
                                                    {tr("go straight on"), "straight"},
                                                    {tr("repeat"), "repeat"},
                                                    {tr("repeat and add up"), "add_up"},
                                                    {tr("there and back"), "swing"}};
    add({.argument = "before",
         .label = tr("Before them"),
         .shown_for = {"key.beyond"},
         .choices = beyond,
         .object_name = "keyEditBefore"});
    add({.argument = "after",
         .label = tr("Behind them"),
         .shown_for = {"key.beyond"},
         .choices = beyond,
         .object_name = "keyEditAfter"});
    add({.argument = "length",
         .label = tr("Shifts within"),
         .shown_for = {"key.thin"},
         .placeholder = tr("0.1 mm"),
         .object_name = "keyEditLength"});
    add({.argument = "angle",
         .label = tr("Turns within"),
         .shown_for = {"key.thin"},
         .placeholder = tr("0.01 deg"),
         .object_name = "keyEditAngle"});
    add({.argument = "values",
         .label = tr("Or whole steps of"),
         .shown_for = {"key.snap"},
         .placeholder = tr("5 deg, 10 mm"),
         .object_name = "keyEditSteps"});
    add({.argument = "amount",
         .label = tr("By"),
         .shown_for = {"key.smooth"},
         .placeholder = tr("0.5"),
         .object_name = "keyEditAmount"});
    add({.argument = "from",
         .label = tr("From frame"),
         .placeholder = tr("the first"),
         .object_name = "keyEditFrom"});
    add({.argument = "to",
         .label = tr("To frame"),
         .placeholder = tr("the last"),
         .object_name = "keyEditTo"});
    finish(true);
    connect(&session.keyPicks(), &KeyPicks::changed, this, [this] {
        if (isVisible()) changed();
    });
}

/// Of whole channels where that is what it is done to.
void KeyEditCard::amend(nlohmann::json& step) const {
    step["clip"] = session_.clip().name;
    if (!session_.keyPicks().empty()) {
        step["keys"] = session_.keyPicks().argument();
        step.erase("parts");
    }
    if (lead() == "key.hold") step["frame"] = session_.frame();
    if (lead() == "key.copy" || lead() == "key.mirror") step["to_frame"] = session_.frame();
    for (const char* side : {"before", "after"})
        if (step.contains(side) && step[side] == "") step.erase(side);
}

QString KeyEditCard::obstacle() const {
    return session_.clip().tracks.empty() ? noKeysWords(session_) + '.' : QString();
}

}  // namespace pivrak
