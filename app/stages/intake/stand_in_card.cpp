#include "app/stages/intake/stand_in_card.h"

#include <map>

#include "core/geometry/fits/recognise.h"
#include "core/operations/intake/stand_in_shapes.h"

namespace pivrak {
namespace {

QList<std::pair<QString, QString>> chainSizes() {
    QList<std::pair<QString, QString>> list;
    for (const ChainSize& size : roller_chains()) {
        const QString name = QString::fromUtf8(size.name.data(), static_cast<qsizetype>(size.name.size()));
        list.push_back({StandInCard::tr("%1, pitch %2 mm").arg(name).arg(size.pitch_m * 1e3), name});
    }
    list.push_back({StandInCard::tr("other size"), QString::fromUtf8(other_chain)});
    return list;
}

/// Measures that suit a kind, to begin with.
const std::map<std::string, QString>* usualOf(const std::string& kind) {
    static const std::map<std::string, std::map<std::string, QString>> usual{
        {"box", {{"width", "300 mm"}, {"length", "600 mm"}}},
        {"plate", {{"width", "300 mm"}, {"length", "600 mm"}}},
        {"cylinder", {{"length", "600 mm"}, {"diameter", "80 mm"}}},
        {"tube", {{"length", "600 mm"}, {"diameter", "80 mm"}, {"bore", "60 mm"}}},
        {"wheel", {{"width", "220 mm"}, {"diameter", "800 mm"}, {"rim", "480 mm"}, {"bore", "60 mm"}}},
        {"gear", {{"width", "40 mm"}, {"teeth", "24"}, {"bore", "30 mm"}}},
        {"ring gear", {{"width", "40 mm"}, {"teeth", "60"}, {"diameter", "300 mm"}}},
        {"rack", {{"width", "40 mm"}, {"teeth", "20"}}},
        {"worm", {{"length", "80 mm"}, {"diameter", "50 mm"}}},
        {"bevel gear", {{"width", "25 mm"}, {"teeth", "24"}, {"mate_teeth", "24"}}},
        {"sprocket", {{"width", "16 mm"}, {"teeth", "19"}, {"bore", "30 mm"}}}};
    const auto found = usual.find(kind);
    return found == usual.end() ? nullptr : &found->second;
}

}  // namespace

StandInCard::StandInCard(Session& session)
    : FormCard(session, "standIn", {"stand_in.add"},
               {tr("Stand-in"), tr("Preview"), "previewStandIn", QString()}),
      click_(new PlaceButton(session, "standInClickPlace")) {
    add({.argument = "kind",
         .choices = {{tr("box"), "box"},
                     {tr("plate"), "plate"},
                     {tr("cylinder"), "cylinder"},
                     {tr("tube"), "tube"},
                     {tr("wheel"), "wheel"},
                     {tr("gear"), "gear"},
                     {tr("ring gear"), "ring gear"},
                     {tr("rack"), "rack"},
                     {tr("worm"), "worm"},
                     {tr("bevel gear"), "bevel gear"},
                     {tr("sprocket"), "sprocket"},
                     {tr("chain link, inner"), "inner link"},
                     {tr("chain link, outer"), "outer link"}},
         .object_name = "standInKind"},
        true);
    add({.argument = "name", .placeholder = tr("by its kind"), .object_name = "standInName"});
    addNumber("length", {"box", "plate", "cylinder", "tube", "worm"}, "600 mm");
    const QStringList toothed{"gear", "ring gear", "rack", "worm", "bevel gear"};
    addNumber("diameter", {"cylinder", "tube", "wheel", "ring gear", "worm"}, "500 mm");
    addNumber("module", toothed, "4 mm");
    addNumber("starts", {"worm"}, "1");
    addNumber("teeth", {"gear", "ring gear", "rack", "bevel gear", "sprocket"}, "24");
    addNumber("mate_teeth", {"bevel gear"}, "24");
    addNumber("shaft_angle", {"bevel gear"}, QString::fromUtf8("90°"));
    addNumber("helix", {"gear"}, QString::fromUtf8("0°"));
    add({.argument = "hand",
         .shown_for = {"worm"},
         .choices = {{tr("right-handed"), "right"}, {tr("left-handed"), "left"}},
         .object_name = "standIn_hand"});
    add({.argument = "chain",
         .shown_for = {"sprocket", "inner link", "outer link"},
         .choices = chainSizes(),
         .object_name = "standIn_chain"});
    addNumber("pitch", {"sprocket", "inner link", "outer link"}, "100 mm");
    add({.argument = "roller",
         .shown_for = {"sprocket", "inner link", "outer link"},
         .placeholder = tr("5/8 of the pitch"),
         .object_name = "standIn_roller"});
    addNumber("width", {"box", "plate", "wheel", "gear", "ring gear", "rack", "bevel gear", "sprocket"},
              "200 mm");
    addNumber("height", {"box"}, "300 mm");
    addNumber("thickness", {"plate"}, "12 mm");
    addNumber("bore", {"tube", "wheel", "gear", "sprocket"}, "30 mm");
    addNumber("rim", {"wheel"}, "300 mm");
    addNumber("lugs", {"wheel"}, "24");
    addNumber("lug_depth", {"wheel"}, "12 mm");
    addNumber("pressure_angle", toothed, QString::fromUtf8("20°"));
    addNumber("chamfer", {"box", "cylinder"}, "5 mm");
    addNumber("corner", {"plate"}, "10 mm");
    add({.argument = "axis",
         .shown_for = {"cylinder", "tube", "wheel", "gear", "ring gear", "worm", "bevel gear", "sprocket"},
         .choices = {{tr("Y, across"), "y"}, {tr("X, along"), "x"}, {tr("Z, upright"), "z"}},
         .object_name = "standIn_axis"});
    click_->setText(tr("Set it down"));
    click_->setToolTip(tr("Click in the view where it is to stand: on a part, or on the grid of the floor"));
    addButtons({click_});
    finish(false);
    connect(click_, &PlaceButton::picked, this, [this] {
        click_->refresh();
        if (!click_->place().is_null()) doStep();
    });
    soon_.setSingleShot(true);
    soon_.setInterval(180);
    connect(&soon_, &QTimer::timeout, this, [this] { doStep(); });
    connect(static_cast<QComboBox*>(widget("kind")), &QComboBox::activated, this, [this] {
        begin();
        doStep();
    });
    for (QLineEdit* edit : findChildren<QLineEdit*>()) {
        connect(edit, &QLineEdit::textEdited, this, [this] {
            if (session_.previewed()) soon_.start();
        });
        connect(edit, &QLineEdit::returnPressed, this, [this] { doStep(); });
    }
    for (const char* choice : {"hand", "chain", "axis"})
        connect(static_cast<QComboBox*>(widget(choice)), &QComboBox::activated, this, [this] { doStep(); });
    auto* chain = static_cast<QComboBox*>(widget("chain"));
    chain->setCurrentIndex(chain->findData(QStringLiteral("16B")));
    begin();
}

void StandInCard::addNumber(const char* argument, const QStringList& kinds, const QString& begins) {
    const std::string name = std::string("standIn_") + argument;
    add({.argument = argument, .shown_for = kinds, .begins = begins, .object_name = name.c_str()});
}

/// A standard chain has its own pitch and rollers.
bool StandInCard::isOfUse(const std::string& argument) const {
    return (argument != "pitch" && argument != "roller") || valueOf("chain") == other_chain;
}

void StandInCard::begin() {
    if (const auto* usual = usualOf(lead()))
        for (const auto& [argument, value] : *usual)
            static_cast<QLineEdit*>(widget(argument))->setText(value);
}

void StandInCard::amend(nlohmann::json& step) const {
    const nlohmann::json place = click_->place();
    if (place.is_null()) return;
    // Not on what is shown and not there yet.
    const PartId under = session_.picks().places.back().part;
    if (!under || session_.document().parts.contains(under)) step["on"] = place;
}

void StandInCard::doStep() {
    soon_.stop();
    session_.preview(step());
}

void StandInCard::refresh() {
    FormCard::refresh();
    const StepPreview* preview = session_.previewed();
    const bool mine = preview && preview->step.value("op", "") == "stand_in.add";
    do_->setEnabled(true);
    facts_->setText(mine && !preview->outcome.messages.empty()
                        ? QString::fromStdString(preview->outcome.messages.front())
                        : tr("Rig first with stand-ins; finished shapes are swapped in later."));
}

}  // namespace pivrak
