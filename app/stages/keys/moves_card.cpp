#include "app/stages/keys/moves_card.h"

namespace pivrak {

MovesCard::MovesCard(Session& session)
    : FormCard(session, "moves", {"sequence.add", "sequence.space", "motion.keys", "keys.response"},
               {tr("Moves of the picked parts"), tr("Do it"), "doMoves", tr("Say the numbers first.")}) {
    add({.argument = "@what",
         .label = tr("What"),
         .choices = {{tr("move one by one"), "sequence.add"},
                     {tr("space them out"), "sequence.space"},
                     {tr("motion to keys"), "motion.keys"},
                     {tr("keys to an answer"), "keys.response"}},
         .object_name = "movesWhat"},
        true);
    add({.argument = "to",
         .label = tr("To"),
         .shown_for = {"sequence.add"},
         .placeholder = tr("90 deg, 0.4 m"),
         .object_name = "movesTo"});
    add({.argument = "by",
         .label = tr("that much further"),
         .shown_for = {"sequence.add"},
         .object_name = "movesBy"});
    add({.argument = "frames",
         .label = tr("Frames each"),
         .shown_for = {"sequence.add"},
         .begins = QStringLiteral("24"),
         .object_name = "movesFrames"});
    add({.argument = "gap",
         .label = tr("Frames between"),
         .shown_for = {"sequence.add", "sequence.space"},
         .placeholder = tr("0; -4 overlaps"),
         .object_name = "movesGap"});
    add({.argument = "frame",
         .label = tr("First at frame"),
         .shown_for = {"sequence.add", "sequence.space"},
         .placeholder = tr("behind all keys"),
         .object_name = "movesFrame"});
    add({.argument = "eases",
         .label = tr("Eases"),
         .shown_for = {"sequence.add"},
         .choices = {{tr("at both ends"), "yes"}, {tr("not at all"), "no"}},
         .object_name = "movesEases"});
    add({.argument = "driver",
         .label = tr("Answer to"),
         .shown_for = {"keys.response"},
         .object_name = "movesDriver"});
    add({.argument = "free",
         .label = tr("what moves them goes off"),
         .shown_for = {"motion.keys"},
         .object_name = "movesFree"});
    add({.argument = "from",
         .label = tr("From frame"),
         .shown_for = {"motion.keys", "keys.response"},
         .placeholder = tr("the first"),
         .object_name = "movesFrom"});
    // 'to' is a frame there and a value in a sequence.
    add({.argument = "@until",
         .label = tr("To frame"),
         .shown_for = {"motion.keys", "keys.response"},
         .placeholder = tr("the last"),
         .object_name = "movesUntil"});
    add({.argument = "length",
         .label = tr("Shifts within"),
         .shown_for = {"motion.keys", "keys.response"},
         .placeholder = tr("0.1 mm"),
         .object_name = "movesLength"});
    add({.argument = "angle",
         .label = tr("Turns within"),
         .shown_for = {"motion.keys", "keys.response"},
         .placeholder = tr("0.01 deg"),
         .object_name = "movesAngle"});
    finish(true);
}

void MovesCard::amend(nlohmann::json& step) const {
    step["clip"] = session_.clip().name;
    if (const std::string until = valueOf("@until");
        !until.empty() && lead() != "sequence.add" && lead() != "sequence.space")
        step["to"] = until;
}

QString MovesCard::obstacle() const {
    return session_.selection().empty() ? tr("Pick the parts in their order.") : QString();
}

}  // namespace pivrak
