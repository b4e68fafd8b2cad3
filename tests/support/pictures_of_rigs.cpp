// Pictures of machines that run.
#include <QListWidget>
#include <QPlainTextEdit>
#include <QScrollArea>
#include <QSpinBox>

#include "app/film/film.h"
#include "tests/support/photographer.h"

namespace pivrak {

using test::Hands;

void Photographer::vehicle() {
    using nlohmann::json;
    hands_.session.newProject();
    run({{"op", "model.import"}, {"file", model("supply-truck.glb")}});
    run({{"op", "model.stand"}, {"scale", 0.01}, {"ground", true}, {"centre", true}});
    run({{"op", "tree.tidy"}});
    run({{"op", "split.pieces"}, {"parts", {"tyres"}}});
    hands_.key(Qt::Key_5);
    std::vector<PartId> truck{hands_.named("truck")};
    for (const char* tyre : {"tyres 1", "tyres 2", "tyres 3", "tyres 4"}) truck.push_back(hands_.named(tyre));
    hands_.session.select(truck);
    hands_.click("tabVehicle");
    hands_.click("lookForWheels");
    hands_.settle();
    hands_.type("vehicleName", "Truck");
    hands_.type("vehicleKingpin", "160 mm");
    hands_.window.view().setDirection(-0.95, 0.3);
    hands_.window.view().frameSelection();
    take("18-vehicle");
}

/// The steps of a job of the demo's, on what stands open.
void Photographer::runJob(const char* name) {
    QFile job(models_ + "/" + name);
    ASSERT_TRUE(job.open(QIODevice::ReadOnly));
    const auto steps = nlohmann::json::parse(job.readAll().toStdString());
    for (nlohmann::json step : steps["steps"]) {
        if (step.value("op", "") == "model.import")
            step["file"] = model(step["file"].get<std::string>().c_str());
        run(step);
    }
}

void Photographer::groomer() {
    hands_.session.newProject();
    run({{"op", "model.import"}, {"file", model("groomer.glb")}});
    runJob("groomer.job.json");
    hands_.key(Qt::Key_5);
    hands_.type("frameEntry", "120");
    hands_.session.select(Tree(hands_.session.document()).branch(hands_.named("Track left")));
    hands_.window.view().setDirection(-1.2, 0.1);
    hands_.window.view().frameSelection();
    hands_.window.view().camera().distance *= 1.3;
}

void Photographer::drivers() {
    runJob("station-shutter.job.json");
    hands_.key(Qt::Key_5);
    hands_.click("tabFormulas");
    hands_.type("frameEntry", "20");
    hands_.window.view().setDirection(-0.5, 0.25);
    hands_.clickRow(hands_.named("Shutter slat 12"));
    hands_.key(Qt::Key_F);
    hands_.window.view().camera().distance *= 3;
    hands_.session.select({hands_.named("Shutter slat"), hands_.named("Shutter slat 2")});
    hands_.click("formulaDrives");
    auto* editor = hands_.find<QPlainTextEdit>("formulaText");
    const auto text = [&](const char* words) {
        QTest::mouseClick(editor->viewport(), Qt::LeftButton, {}, {20, 12});
        QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(editor, words);
        QTest::keyClick(editor, Qt::Key_End);
        hands_.settle();
    };
    hands_.clickRow(hands_.named("Shutter cord"));
    hands_.choose("formulaAddWhat", "channel");
    hands_.click("formulaAddInput");
    hands_.choose("formulaAddWhat", "number");
    hands_.click("formulaAddInput");
    text("clamp(shutter_cord * -133 - 80 + n, -80, 80)");
    text("clamp(shutter_cord * -133 - 80 + n, -80, 80) + wawe(3)");
    take("29-formula");
    hands_.session.setFrame(20);
    hands_.session.select({hands_.named("Motor shaft")});
    hands_.click("openMapLarge");
    auto* map = hands_.window.findChild<QWidget*>("mapWindow");
    map->move(0, 0);
    map->resize(1280, 800);
    hands_.session.setFrame(21);
    hands_.settle();
    hands_.session.setFrame(22);
    take("31-drive-map");
    map->close();
}

void Photographer::linkage() {
    hands_.click("tabLinkages");
    hands_.session.setFrame(110);
    // What stands before it is hidden for the picture.
    const Tree tree(hands_.session.document());
    nlohmann::json hidden;
    for (const char* top : {"Track right", "Track right tensioner", "Groomer suspension front right", "cab"})
        for (const PartId part : tree.branch(hands_.named(top))) hidden.push_back(part.value);
    for (const char* control : {"Groomer yaw", "Groomer ground level", "Groomer place"})
        hidden.push_back(hands_.named(control).value);
    run({{"op", "part.show"}, {"parts", hidden}, {"shown", false}});
    hands_.session.select(
        {hands_.named("arm"), hands_.named("link"), hands_.named("arm 2"), hands_.named("carrier")});
    hands_.window.view().setDirection(-1.0, 0.3);
    hands_.window.view().frameSelection();
    hands_.window.view().camera().distance *= 1.4;
    hands_.session.select({hands_.named("ram rod")});
    take("26-linkage");
}

void Photographer::reach() {
    hands_.session.newProject();
    runJob("proxy-loader.job.json");
    // The finished shapes take the places of the stand-ins.
    runJob("loader.job.json");
    run({{"op", "joint.size"}, {"parts", {"Bed"}}});
    hands_.key(Qt::Key_5);
    hands_.click("tabReach");
    hands_.type("frameEntry", "50");
    hands_.session.select({hands_.named("Stick")});
    hands_.window.view().setDirection(-0.8, 0.24);
    hands_.window.view().frameAll();
    take("27-reach");
}

/// Scrolled to where a card is seen.
void Photographer::showCard(const char* of) {
    QWidget* field = hands_.find(of);
    for (QWidget* up = field; up; up = up->parentWidget())
        if (auto* area = qobject_cast<QScrollArea*>(up)) {
            area->ensureWidgetVisible(field, 0, 200);
            break;
        }
    hands_.settle();
}

void Photographer::motion() {
    hands_.key(Qt::Key_6);
    run({{"op", "marker.set"}, {"frame", 30}, {"name", "taken"}});
    run({{"op", "marker.set"}, {"frame", 100}, {"name", "let go"}});
    hands_.session.select({hands_.named("Crate")});
    hands_.type("frameEntry", "70");
    hands_.find<QSpinBox>("paleBefore")->setValue(2);
    hands_.find<QSpinBox>("paleAfter")->setValue(2);
    hands_.type("paleStep", "9");
    hands_.click("seePath");
    for (int i = 0; i < 500 && !hands_.session.seeing().course; ++i) QTest::qWait(10);
    hands_.window.view().setDirection(-0.9, 0.35);
    hands_.window.view().frameSelection();
    hands_.window.view().camera().zoom(2, {340, 200});
    showCard("seeSpeed");
    take("33-motion");
    hands_.click("seePath");
    for (const char* poses : {"paleBefore", "paleAfter"}) hands_.find<QSpinBox>(poses)->setValue(0);
}

/// Housing, boom and stick one after the other, as bars; and the clips of the crane.
void Photographer::sequence() {
    run({{"op", "clip.set"}, {"clip", "loading"}, {"color", "petrol"}});
    run({{"op", "clip.add"},
         {"name", "fold up"},
         {"first_frame", 0},
         {"last_frame", 120},
         {"color", "saffron"}});
    run({{"op", "clip.add"}, {"name", "shake"}, {"first_frame", 0}, {"last_frame", 12}, {"color", "rust"}});
    for (const Clip& clip : hands_.session.document().clips)
        if (clip.name == "fold up") hands_.session.setClip(clip.id);
    hands_.session.select({});
    run({{"op", "sequence.add"},
         {"parts", {"Post", "Boom", "Stick"}},
         {"clip", "fold up"},
         {"to", "50 deg"},
         {"by", true},
         {"frames", 34},
         {"gap", -8},
         {"frame", 6}});
    run({{"op", "key.set"}, {"parts", {"Crate"}}, {"channel", "all"}, {"frame", 20}, {"clip", "fold up"}});
    run({{"op", "layer.set"}, {"clip", "fold up"}, {"add", "shake"}, {"share", 0.5}, {"from_frame", 60}});
    run({{"op", "marker.set"}, {"clip", "fold up"}, {"frame", 92}, {"name", "folded"}});
    hands_.type("frameEntry", "47");
    hands_.settle();
    showCard("clipColor");
    take("34-sequence");
}

/// The whole pass at work, and a sheet of it.
void Photographer::saddle() {
    hands_.session.newProject();
    hands_.window.openFile(models_ + "/saddle.pivrak.glb");
    hands_.settle();
    hands_.key(Qt::Key_6);
    for (const Clip& clip : hands_.session.document().clips)
        if (clip.name == "groomer pass") hands_.session.setClip(clip.id);
    hands_.session.select({});
    hands_.type("frameEntry", "112");
    Viewport& view = hands_.window.view();
    view.frameAll();
    view.setDirection(-1.05, 0.3);
    view.camera().target = Vec3(-10, -7, 1);
    view.camera().distance = 50;
    hands_.settle();
    take("36-saddle");
    FilmWish wish;
    wish.form = FilmWish::Form::Sheet;
    wish.path = (pictures_ + QStringLiteral("/35-sheet.png")).toStdString();
    wish.clip = "whole pass";
    wish.camera = "Camera pass";
    wish.every = 40;
    Film film(hands_.session.document(), wish, look_);
    bool done = false;
    QObject::connect(&film, &Film::finished, &hands_.window, [&](const Result<FilmReport>& report) {
        EXPECT_TRUE(report.ok());
        done = true;
    });
    film.start();
    while (!done) QTest::qWait(5);
}

void Photographer::measures() {
    hands_.key(Qt::Key_5);
    hands_.session.setClip(hands_.session.document().clips.begin()->id);
    for (const nlohmann::json& step :
         {nlohmann::json{{"what", "distance"}, {"a", "Hook"}, {"b", "Crate"}, {"name", "still to go"}},
          {{"what", "corner"}, {"a", "Post"}, {"b", "Boom"}, {"c", "Stick"}, {"name", "boom angle"}},
          {{"what", "corner"}, {"a", "Boom"}, {"b", "Stick"}, {"c", "Hook"}, {"name", "stick angle"}},
          {{"what", "distance"}, {"a", "Post"}, {"b", "Hook"}, {"name", "load radius"}}}) {
        nlohmann::json whole = step;
        whole["op"] = "measure.add";
        run(whole);
    }
    hands_.click("tabMeasures");
    hands_.type("frameEntry", "34");
    hands_.window.view().setDirection(-1.35, 0.16);
    // Near by, as somebody looks who measures.
    hands_.session.select({hands_.named("Post"), hands_.named("Boom"), hands_.named("Stick"),
                           hands_.named("Hook"), hands_.named("Crate")});
    hands_.key(Qt::Key_F);
    hands_.session.select({hands_.named("Crate")});
    hands_.find<QListWidget>("measureList")->setCurrentRow(3);
    take("30-measures");
}

void Photographer::chain() {
    hands_.key(Qt::Key_5);
    hands_.click("tabChains");
    lookAt("Drive chain", -1.35, 0.16);
    hands_.window.view().frameSelection();
    take("23-chain");
    hands_.click("tabGears");
}

void Photographer::constraints() {
    using nlohmann::json;
    hands_.session.newProject();
    const auto box = [&](const char* name, const json& at, double length, double width, double height,
                         const char* under) {
        json step{{"op", "stand_in.add"}, {"kind", "box"},  {"name", name},     {"at", at},
                  {"length", length},     {"width", width}, {"height", height}, {"chamfer", "20 mm"}};
        if (*under) step["under"] = under;
        run(step);
    };
    box("belt", {0, 0, 0}, 3.2, 0.7, 0.5, "");
    box("crane post", {0.4, 1.6, 0}, 0.3, 0.3, 2.2, "");
    box("crane jib", {0.4, 0.8, 2.2}, 0.25, 2.0, 0.2, "crane post");
    box("crate", {-1.2, 0, 0.5}, 0.5, 0.5, 0.5, "belt");
    box("lamp post", {1.9, -1.2, 0}, 0.15, 0.15, 1.9, "");
    box("lamp yoke", {1.9, -1.2, 1.9}, 0.3, 0.3, 0.1, "lamp post");
    box("lamp", {1.9, -1.2, 2.0}, 0.5, 0.25, 0.25, "lamp yoke");
    run({{"op", "pivot.to"}, {"parts", {"crane jib"}}, {"place", {0.4, 1.6, 2.2}}});
    run({{"op", "pivot.to"}, {"parts", {"lamp"}}, {"place", {1.9, -1.2, 2.12}}});
    run({{"op", "joint.set"}, {"parts", {"belt"}}, {"kind", "slide"}, {"axis", "x"}});
    run({{"op", "joint.set"}, {"parts", {"crane jib", "lamp yoke"}}, {"kind", "hinge"}, {"axis", "z"}});
    run({{"op", "joint.set"}, {"parts", {"lamp"}}, {"kind", "hinge"}, {"axis", "y"}});
    run({{"op", "channel.limit"},
         {"parts", {"lamp"}},
         {"channel", "turn"},
         {"min", "-10 deg"},
         {"max", "20 deg"}});
    const auto key = [&](const char* part, const char* channel, int frame, const char* value) {
        run({{"op", "key.set"}, {"parts", {part}}, {"channel", channel}, {"frame", frame}, {"value", value}});
    };
    key("belt", "shift", 0, "0 m"), key("belt", "shift", 40, "1.6 m");
    key("crane jib", "turn", 40, "0 deg"), key("crane jib", "turn", 100, "-110 deg");
    run({{"op", "constraint.add"}, {"parts", {"lamp yoke", "lamp"}}, {"asks", "aim"}, {"target", "crate"}});
    run({{"op", "carry.change"}, {"parts", {"crate"}}, {"carrier", "crane jib"}, {"frame", 42}});
    hands_.key(Qt::Key_5);
    hands_.click("tabConstraints");
    hands_.type("frameEntry", "30");
    hands_.session.select({hands_.named("lamp"), hands_.named("lamp yoke")});
    hands_.window.view().setDirection(-0.6, 0.35);
    hands_.window.view().frameAll();
    take("25-constraints");
}

}  // namespace pivrak
