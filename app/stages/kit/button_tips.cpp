#include "app/stages/kit/button_tips.h"

#include <QCoreApplication>
#include <QHash>

namespace pivrak {
namespace {

struct Tip {
    const char *name, *words;
};

/// In the order of the stages.
constexpr Tip tips[] = {
    {"acceptPreview", "Does what is shown; undo takes it back"},
    {"leavePreview", "Leaves everything as it was before the preview"},
    {"showFinding", "Picks the parts it is about, and looks at them"},
    // Intake
    {"chooseModel", "Asks for a file; several can be dropped on the window"},
    {"previewImport", "Reads the file and shows it; the project is untouched until you accept"},
    {"standPoints", "Two clicks on the model, whose true distance you then type"},
    {"standGuess", "Makes the model so much larger or smaller, as its size suggests"},
    {"previewStand", "Shows the model stood up at that size before it is done"},
    {"updateModelFile", "Reads a newer file of this model: shapes change, the rig stays"},
    {"tidyEmpty", "Removes nodes that hold nothing and carry nothing"},
    {"tidyChains", "Removes nodes that only pass on where one part stands"},
    {"tidyNames", "Numbers parts that have the same name"},
    {"tidyScale", "Forgets the scale that a file kept beside its shapes"},
    {"tidyAll", "Does all four above, in one step"},
    {"groupParts", "Puts the picked parts under a new node; nothing moves"},
    {"joinParts", "All picked parts become part of the one picked last"},
    {"repairShapes", "Removes faces without area and doubled ones, turns faces to look outwards"},
    {"flattenParts", "Puts all that the picked parts carry straight under what carries them"},
    // Split
    {"pickParts", "Clicks in the view pick whole parts"},
    {"pickFaces", "Clicks in the view pick single faces of parts"},
    {"pickEdges", "Clicks in the view pick edges of faces"},
    {"pickPoints", "Clicks in the view pick corners of faces"},
    {"growPiece", "Picks all faces that hang together with those picked"},
    {"growMaterial", "Picks all of the same material"},
    {"growAngle", "Picks on over edges that bend no further than above"},
    {"growSize", "Picks all pieces, or parts, of the same measures"},
    {"growRing", "Picks the faces next to those picked as well"},
    {"shrinkRing", "Lets go of the outermost picked faces"},
    {"invertPick", "Picks what is not picked, and lets go of what is"},
    {"hidePicked", "Leaves the picked parts out of the view, or the picked faces for the moment"},
    {"showOnly", "Leaves everything else out of the view; of parts with picked faces, their other faces"},
    {"showAllParts", "Brings back all parts and faces that are left out"},
    {"previewSplit", "Shows the pieces in colours before the part is broken"},
    {"previewTrim", "Shows what goes to which part before it is done"},
    {"joinIntoLast", "All picked parts become part of the one picked last"},
    {"lookForParts", "Measures every shape and lists what it takes it for, and how sure it is"},
    {"acceptRecognised", "Ticked parts get their names, and pivots on their axes"},
    {"makeSet", "Gives the picked parts a name by which they are picked again"},
    {"pickSet", "Picks the parts of the set"},
    {"hideSet", "Leaves the parts of the set out of the view, or brings them back"},
    {"onlySet", "Shows the parts of the set and nothing else"},
    {"lockSet", "Clicks go through locked parts"},
    {"removeSet", "The name goes, its parts stay"},
    {"renameSet", "Gives the set in the list the name typed above"},
    {"addToSet", "The picked parts belong to the set as well"},
    {"takeFromSet", "The picked parts belong to the set no more"},
    // Pivots
    {"pivotPickFaces", "Clicks in the view pick faces, to take an axis from"},
    {"pickPlaces", "Clicks in the view take corners, edges, rims and middles of faces"},
    {"clearPlaces", "Forgets the places clicked so far"},
    {"pivotOrigin", "The pivot goes to the origin, its axes along the world's"},
    {"centrePivot", "Moves the pivot onto the axis on which the part runs true"},
    {"letTurn", "Turns the part once round in the view, and back"},
    {"mapRun", "Moves both joints through their ranges and draws where parts touch"},
    {"swingRun", "Moves the part through its range and finds where it touches others"},
    {"swingLower", "The first contact towards minus becomes the lower limit"},
    {"swingUpper", "The first contact towards plus becomes the upper limit"},
    {"swingShow", "Puts the part where it touches first"},
    // Tree
    {"putUnder", "The part picked last carries the others; nothing moves"},
    {"release", "Nothing carries the picked parts any more; they stay where they are"},
    {"alignToLast", "The others are moved onto the part picked last, as ticked above"},
    {"replaceByLast", "What stood on or followed the others does so with the last one; they go"},
    {"takeMin", "Where it stands now becomes the lower limit"},
    {"takeMax", "Where it stands now becomes the upper limit"},
    {"noLimits", "The channel goes as far as it likes, both ways"},
    {"controlSmaller", "Draws the symbol a fifth smaller"},
    {"controlLarger", "Draws the symbol a quarter larger"},
    {"controlPlain", "The symbols go, the frames and what they drive stay"},
    {"renameByPattern", "Names the picked parts as the list above shows"},
    {"replaceInNames", "Replaces the text in the names of the picked parts"},
    {"conformNames", "Names all listed parts as the project's convention asks"},
    // Rig
    {"freeWheels", "The picked wheels turn no more by the way they go"},
    {"removeLean", "Takes the lean frame away; the wheel stands upright again"},
    {"measureSlip", "Follows each wheel through the clip and measures how far it slides"},
    {"changePrints", "Lays the picked prints anew with these measures"},
    {"removePrints", "The picked wheels leave no print any more"},
    {"lookForWheels", "Looks for pairs of round parts that could carry the model"},
    {"makeVehicle", "Shows the whole rig before it is made"},
    {"addVehicleWheels", "Adds the picked parts to the wheels that were found"},
    {"turnVehicle", "Turns the model by a quarter, so that its wheels roll forward"},
    {"vehicleOnPicked", "It stands on the shape of the part picked last"},
    {"removeVehicle", "Takes the frames of the rig away; parts stay where they are"},
    {"drawPath", "Each click in the view adds a point; Return ends it"},
    {"importPaths", "Reads paths from an SVG drawing, or lines of an OBJ file"},
    {"closePath", "Joins both ends to a loop, or opens the loop"},
    {"reversePath", "Its last point becomes its first, so riders go it the other way"},
    {"respacePath", "Puts that many points at even distances, as near to it as they can be"},
    {"cornerPoints", "The path turns sharply at the picked points"},
    {"smoothPoints", "The path goes smoothly through the picked points"},
    {"deletePoints", "Takes the picked points out"},
    {"drapePath", "Lays it on the shape of the part picked last"},
    {"carryPath", "The part picked last carries the path, or lets go of it"},
    {"setPathRoll", "Leans what rides there sideways by that angle"},
    {"exportPath", "Writes it as an SVG drawing or an OBJ file"},
    {"removePath", "Takes it away; its riders stand where they rest"},
    {"leavePath", "The picked parts ride no path any more"},
    {"swapGears", "The driver becomes the driven one"},
    {"removePair", "Both turn on their own again"},
    {"fitCentres", "Moves the second shaft until the distance is what the teeth ask for"},
    {"buildGears", "Makes stand-ins with these teeth on shafts, coupled"},
    {"takeWheels", "Takes the picked sprockets and rollers, in the order of picking"},
    {"applyRemedy", "Shows what the picked remedy changes before it is done"},
    {"setLinks", "The chain has that many links from now on"},
    {"buildLinks", "Makes a part of every link, from the one or two taken above"},
    {"attachPieces", "Puts a copy of the piece on every n-th link"},
    {"removeChain", "Takes the chain away; wheels and links stay"},
    {"removeChainLinks", "Takes the chain away, and the parts of its links"},
    {"keyBlend", "Writes a key of how much it answers, at this frame"},
    {"askEarlier", "It asks before the one above it"},
    {"askLater", "It asks after the one below it, and has more of a say"},
    {"removeAsked", "Takes it away; the joint goes back to keys and hands"},
    {"removeStretch", "Takes it away; the part keeps its length"},
    {"keyReachBlend", "Writes a key of how far it reaches, at this frame"},
    {"removeReach", "Takes it away; joints go back to keys and hands"},
    {"runExercise", "Moves every channel through its range, then pairs, and lists what goes wrong"},
    {"saveExercise", "Writes the list as a page or as a table"},
    {"removeMeasure", "Takes it away; formulas that took it keep their last value"},
    {"switchDriven", "Stops driving for now, or drives again"},
    {"openMapLarge", "Shows the whole map in a window of its own, to be searched and saved"},
    {"editFormula", "Puts its formula into the card for formulas"},
    {"pickDriver", "Picks the part that drives it; that one can be keyed"},
    {"keepDriver", "Leaves the driver as it is"},
    {"formulaAddInput", "Gives the formula another name to use, for the picked channel"},
    {"formulaDropInput", "Takes the name in the picked row away"},
    // Keys
    {"panelSetKey", "Writes keys of what is picked, at this frame"},
    {"removeKey", "Takes the keys of what is picked away, at this frame"},
    {"runsLinear", "Picked keys run straight to the next ones"},
    {"runsSmooth", "Picked keys bend, and never beyond their neighbours"},
    {"runsStepped", "Picked keys hold their value until the next ones"},
    {"runsFlat", "Picked keys are level: they begin and end gently"},
    {"runsOwn", "Picked keys get tangents that are dragged"},
    {"fitCurves", "Shows all of the curves, as large as they go"},
    {"newClip", "Makes an empty clip on the same rig"},
    {"copyClip", "Makes another clip with the same keys"},
    {"removeClip", "Takes the clip away with its keys; the rig stays"},
    {"clipUp", "Moves it up in the list; deliveries keep that order"},
    {"clipDown", "Moves it down in the list; deliveries keep that order"},
    {"setMarker", "Puts a mark of that name on this frame of the time strip"},
    {"dropMarker", "Takes the mark on this frame away"},
    {"addLayer", "Adds the motion of the chosen clip to this one, from this frame on"},
    {"dropLayer", "The picked clip is added no more"},
    {"seeClearance", "Follows both picked parts through the clip and finds where they come nearest"},
    {"toNearest", "Goes to the frame where they come nearest"},
    // Handover
    {"chooseDelivery", "Asks where the file goes"},
    {"deliver", "Writes the file, reads it back, and compares all parts in millimetres and degrees"},
    {"chooseFilm", "Asks where pictures or movie go"},
    {"makeFilm", "Draws all frames of the range and writes them; it can be cancelled"},
};

}  // namespace

QString buttonTip(const QString& object_name) {
    static const QHash<QString, const char*> known = [] {
        QHash<QString, const char*> out;
        for (const Tip& tip : tips) out.insert(QLatin1String(tip.name), tip.words);
        return out;
    }();
    const char* words = known.value(object_name, nullptr);
    return words ? QCoreApplication::translate("ButtonTips", words) : QString();
}

void tellWhy(QAbstractButton* button, const QString& why) {
    button->setToolTip(why.isEmpty() ? buttonTip(button->objectName()) : why);
}

}  // namespace pivrak
