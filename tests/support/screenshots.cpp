// Drives the real window through the demo, by mouse and keys, and writes a picture of each main view.
// usage: pivrak_screenshots MODELS_FOLDER PICTURES_FOLDER
#include <gtest/gtest.h>

#include <QDir>
#include <QFile>
#include <QScreen>
#include <QStandardPaths>

#include "app/shell/surface.h"
#include "tests/support/window.h"

namespace {

using namespace pivrak;
using test::Hands;

class Photographer {
public:
    Photographer(Look& look, QString models, QString pictures)
        : models_(std::move(models)), pictures_(std::move(pictures)), hands_(look, models_) {
        hands_.window.setGeometry(0, 0, 1280, 800);
        hands_.settle();
        QDir().mkpath(pictures_);
    }

    void all() {
        intake();
        standIn();
        split();
        groomerDoors();
        hands_.session.newProject();
        hands_.window.openFile(models_ + "/drive-station.pivrak.glb");
        hands_.settle();
        spin();
        tree();
        rig();
        planetary();
        chain();
        keys();
        handover();
        vehicle();
        cabins();
        tracks();
        hands_.session.newProject();
        hands_.window.openFile(models_ + "/drive-station.pivrak.glb");
        hands_.settle();
        night();
    }

private:
    void take(const char* name) {
        hands_.settle();
        QTest::qWait(150);
        const QRect place(hands_.window.mapToGlobal(QPoint(0, 0)), hands_.window.size());
        QGuiApplication::primaryScreen()
            ->grabWindow(0, place.x(), place.y(), place.width(), place.height())
            .save(pictures_ + "/" + QLatin1String(name) + ".png");
    }

    void open(const char* model) {
        hands_.session.newProject();
        hands_.key(Qt::Key_1);
        hands_.click("tabModel");
        hands_.type("importPath", models_ + "/" + QLatin1String(model));
    }

    /// The groomer as it comes: backwards and off the ground; then stood up and tidied.
    void intake() {
        open("groomer.glb");
        hands_.click("acceptPreview");
        take("01-intake-before");
        hands_.click("tabStand");
        hands_.choose("standFront", "-x");
        hands_.click("previewStand");
        hands_.click("acceptPreview");
        hands_.click("tabTidy");
        hands_.click("tidyAll");
    }

    void standIn() {
        hands_.session.newProject();
        hands_.click("tabStand-ins");
        hands_.choose("standInKind", "wheel");
        hands_.click("previewStandIn");
        hands_.window.view().setDirection(-0.9, 0.3);
        take("04-stand-in");
        hands_.key(Qt::Key_Escape);
    }

    void split() {
        open("drive-station.obj");
        hands_.click("acceptPreview");
        hands_.key(Qt::Key_2);
        hands_.clickRow(hands_.named("steel"));
        hands_.clickRow(hands_.named("paint"), Qt::ControlModifier);
        hands_.clickRow(hands_.named("cast"), Qt::ControlModifier);
        hands_.click("previewSplit");
        take("05-split");
        hands_.click("acceptPreview");
    }

    void lookAt(const char* part, double azimuth, double elevation) {
        hands_.clickRow(hands_.named(part));
        hands_.window.view().setDirection(azimuth, elevation);
        hands_.key(Qt::Key_F);
    }

    void run(const nlohmann::json& step) { EXPECT_TRUE(hands_.session.run(step)) << step.dump(); }

    /// The left door of the groomer gets its hinge line by two barrels, is swept, and hangs on a control.
    void groomerDoors() {
        open("groomer.glb");
        hands_.click("acceptPreview");
        run({{"op", "model.stand"}, {"up", "+z"}, {"front", "-x"}, {"ground", true}, {"centre", true}});
        run({{"op", "tree.tidy"}, {"what", "all"}});
        hands_.key(Qt::Key_3);
        hands_.window.view().setDirection(1.15, 0.35);
        hands_.click("pickPlaces");
        for (const char* barrel : {"door/hinge", "door/hinge 2"}) {
            hands_.clickRow(hands_.named(barrel));
            hands_.key(Qt::Key_F);
            if (const auto pixel = hands_.rimPixel(hands_.named(barrel)))
                QTest::mouseClick(&hands_.window.view(), Qt::LeftButton, {}, *pixel);
        }
        hands_.clickRow(hands_.named("door"));
        hands_.key(Qt::Key_F);
        hands_.choose("pivotLineAxis", "z");
        hands_.click("pivotLine");
        take("08-hinge-line");
        hands_.click("acceptPreview");
        hands_.click("pickPlaces");
        run({{"op", "joint.set"}, {"parts", {"door"}}, {"kind", "hinge"}, {"axis", "z"}});
        hands_.click("tabSwing");
        hands_.type("swingFrom", "-150", false);
        hands_.type("swingTo", "30", false);
        hands_.click("swingRun");
        hands_.session.settle();
        take("10-swing");
        hands_.click("tabPlace");
        controls();
    }

    void controls() {
        run({{"op", "pivot.line"},
             {"parts", {"door 2"}},
             {"from", {{"part", "door 2/hinge 3"}, {"at", "middle"}}},
             {"to", {{"part", "door 2/hinge 4"}, {"at", "middle"}}},
             {"axis", "z"}});
        run({{"op", "joint.set"}, {"parts", {"door 2"}}, {"kind", "hinge"}, {"axis", "z"}});
        run({{"op", "pivot.line"},
             {"parts", {"engine cover"}},
             {"from", {{"part", "engine/hinge 5"}, {"at", "middle"}}},
             {"to", {{"part", "engine/hinge 6"}, {"at", "middle"}}},
             {"axis", "z"}});
        run({{"op", "joint.set"}, {"parts", {"engine cover"}}, {"kind", "hinge"}, {"axis", "z"}});
        run({{"op", "pivot.fit_cylinder"},
             {"parts", {"tiller drum", "drive sprocket", "idler"}},
             {"axis", "x"}});
        run({{"op", "joint.set"},
             {"parts", {"tiller drum", "drive sprocket", "idler"}},
             {"kind", "hinge"},
             {"axis", "x"}});
        run({{"op", "part.rename"}, {"part", "door"}, {"name", "left door"}});
        run({{"op", "part.rename"}, {"part", "door 2"}, {"name", "right door"}});
        run({{"op", "control.add"},
             {"parts", {"left door", "right door"}},
             {"form", "plate"},
             {"color", "leaf"}});
        run({{"op", "control.add"}, {"parts", {"engine cover"}}, {"form", "box"}, {"color", "steel"}});
        run({{"op", "control.add"},
             {"parts", {"tiller drum", "drive sprocket", "idler"}},
             {"form", "ring"},
             {"color", "rust"}});
        hands_.key(Qt::Key_4);
        hands_.click("tabControls");
        hands_.session.select({});
        hands_.window.view().setDirection(0.75, 0.3);
        hands_.window.view().frameAll();
        hands_.click("viewHandsOff");
        hands_.clickRow(hands_.named("left door control"));
        hands_.type("gaugeEntry", "-35");
        take("12-controls");
        hands_.click("viewHandsOff");
        hands_.click("tabCarrier");
    }

    void spin() {
        hands_.key(Qt::Key_3);
        lookAt("Layshaft", -1.2, 0.35);
        hands_.clickRow(hands_.named("Layshaft"));
        run({{"op", "pivot.turn"}, {"parts", {"Layshaft"}}, {"axis", "z"}, {"angle", "0.03 deg"}});
        hands_.session.select({});
        hands_.click("tabSpin");
        QTest::qWait(500);
        hands_.clickRow(hands_.named("Layshaft"));
        QTest::qWait(500);
        take("09-spin");
        hands_.session.undo();
        hands_.click("tabPlace");
    }

    void tree() {
        hands_.key(Qt::Key_4);
        lookAt("Brake arm", -1.0, 0.25);
        hands_.window.view().frameAll();
        take("11-tree");
    }

    void rig() {
        hands_.key(Qt::Key_5);
        hands_.type("frameEntry", "9");
        lookAt("Layshaft", -0.75, 0.3);
        hands_.clickRow(hands_.named("Motor shaft"), Qt::ControlModifier);
        hands_.key(Qt::Key_F);
        hands_.clickRow(hands_.named("Motor shaft"));
        take("13-rig");
    }

    /// The planetary set in the middle of a turn, and what turns what.
    void planetary() {
        hands_.key(Qt::Key_5);
        hands_.click("tabGears");
        // What stands before it is hidden for the picture.
        nlohmann::json hidden = {hands_.named("Reducer housing").value, hands_.named("Sprocket 38T").value};
        for (const PartId link : hands_.session.document().chains.begin()->links)
            hidden.push_back(link.value);
        run({{"op", "part.show"}, {"parts", hidden}, {"shown", false}});
        hands_.type("frameEntry", "31");
        lookAt("Ring 60T", -1.35, 0.12);
        hands_.window.view().frameSelection();
        hands_.clickRow(hands_.named("Planet 1"));
        take("22-planetary");
        while (hands_.session.isModified()) hands_.session.undo();
    }

    /// The station's chain with its ways to whole links.
    void chain() {
        hands_.key(Qt::Key_5);
        hands_.click("tabChains");
        lookAt("Drive chain", -1.35, 0.16);
        hands_.window.view().frameSelection();
        take("23-chain");
        hands_.click("tabGears");
    }

    /// The groomer on its tracks, from its job.
    void tracks() {
        hands_.session.newProject();
        QFile job(models_ + "/groomer.job.json");
        ASSERT_TRUE(job.open(QIODevice::ReadOnly));
        const auto steps = nlohmann::json::parse(job.readAll().toStdString());
        run({{"op", "model.import"}, {"file", model("groomer.glb")}});
        for (nlohmann::json step : steps["steps"]) {
            if (step.value("op", "") == "model.import") step["file"] = model("saddle-ground.glb");
            run(step);
        }
        hands_.key(Qt::Key_5);
        hands_.click("tabChains");
        hands_.type("frameEntry", "120");
        hands_.session.select(Tree(hands_.session.document()).branch(hands_.named("Track left")));
        hands_.window.view().setDirection(-1.2, 0.1);
        hands_.window.view().frameSelection();
        hands_.window.view().camera().distance *= 1.3;
        hands_.session.select({hands_.named("Track left")});
        take("24-track");
    }

    void keys() {
        hands_.key(Qt::Key_6);
        hands_.type("frameEntry", "27");
        hands_.clickRow(hands_.named("Motor shaft"));
        hands_.window.view().setDirection(-1.0, 0.3);
        hands_.window.view().frameAll();
        take("14-keys");
    }

    void handover() {
        hands_.key(Qt::Key_7);
        hands_.session.select({});
        const QString file = QDir::temp().filePath("drive-station.glb");
        hands_.type("deliveryPath", file, false);
        hands_.click("deliver");
        take("15-handover");
        QFile::remove(file);
    }

    void night() {
        hands_.key(Qt::Key_5);
        hands_.clickRow(hands_.named("Motor shaft"));
        hands_.click("nightTheme");
        take("16-night");
        hands_.click("nightTheme");
    }

    std::string model(const char* name) const { return (models_ + "/" + QLatin1String(name)).toStdString(); }

    /// The truck found on the snow field, its road drawn, and its slip over the clip.
    void vehicle() {
        using nlohmann::json;
        hands_.session.newProject();
        run({{"op", "model.import"}, {"file", model("supply-truck.glb")}});
        run({{"op", "model.stand"}, {"scale", 0.01}, {"ground", true}, {"centre", true}});
        run({{"op", "tree.tidy"}});
        run({{"op", "split.pieces"}, {"parts", {"tyres"}}});
        hands_.key(Qt::Key_5);
        std::vector<PartId> truck{hands_.named("truck")};
        for (const char* tyre : {"tyres 1", "tyres 2", "tyres 3", "tyres 4"})
            truck.push_back(hands_.named(tyre));
        hands_.session.select(truck);
        hands_.click("tabVehicle");
        hands_.click("lookForWheels");
        hands_.settle();
        hands_.type("vehicleName", "Truck");
        hands_.type("vehicleKingpin", "160 mm");
        hands_.window.view().setDirection(-0.95, 0.3);
        hands_.window.view().frameSelection();
        take("18-vehicle");
        run({{"op", "model.import"}, {"file", model("saddle-ground.glb")}});
        run({{"op", "vehicle.make"},
             {"parts", {"truck", "tyres 1", "tyres 2", "tyres 3", "tyres 4"}},
             {"name", "Truck"},
             {"ground", "snow field"},
             {"kingpin", "160 mm"}});
        run({{"op", "vehicle.make"},
             {"parts", {"trailer", "tyres 5", "tyres 6", "tyres 7", "tyres 8"}},
             {"name", "Trailer"},
             {"ground", "snow field"},
             {"hitch", "Truck body"},
             {"hitch_at", {{"part", "drawbar eye"}, {"at", "middle"}}},
             {"turntable", {"turntable"}},
             {"drawbar", {"drawbar", "drawbar eye"}}});
        run({{"op", "path.add"},
             {"name", "road"},
             {"form", "bezier"},
             {"points", json::array({{-30, -5, 0}, {-12, -6.5, 0}, {4, 0.5, 0}, {18, 6, 0}, {32, 4, 0}})}});
        run({{"op", "path.handles"}, {"path", "road"}, {"points", "0-4"}, {"as", "smooth"}});
        run({{"op", "path.drape"}, {"path", "road"}, {"ground", "snow field"}, {"ease", 2}});
        for (const auto& [at, roll] : {std::pair{"20 m", "0 deg"}, {"32 m", "-12 deg"}, {"44 m", "9 deg"}})
            run({{"op", "path.roll"}, {"path", "road"}, {"at", at}, {"roll", roll}});
        hands_.session.select({});
        hands_.click("tabPaths");
        hands_.session.setPathTool({newest_path(hands_.session.document()), {2}});
        hands_.window.view().setDirection(-1.3, 0.62);
        hands_.window.view().frameAll();
        hands_.window.view().camera().distance *= 0.62;
        take("19-path");
        run({{"op", "ride.set"}, {"parts", {"Truck place"}}, {"path", "road"}});
        run({{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 120}});
        for (const auto& [frame, along] : {std::pair{0, 10.0}, {120, 46.0}})
            run({{"op", "key.set"},
                 {"parts", {"Truck place"}},
                 {"channel", "along"},
                 {"frame", frame},
                 {"value", along},
                 {"interpolation", "linear"}});
        run({{"op", "print.add"},
             {"parts",
              {"tyres 1", "tyres 2", "tyres 3", "tyres 4", "tyres 5", "tyres 6", "tyres 7", "tyres 8"}}});
        hands_.session.setPathTool({});
        hands_.click("tabWheels");
        hands_.click("measureSlip");
        hands_.settle();
        hands_.type("frameEntry", "70");
        hands_.session.select({hands_.named("Truck place")});
        hands_.window.view().setDirection(-0.95, 0.52);
        hands_.window.view().frameSelection();
        hands_.session.select({hands_.named("tyres 1")});
        take("20-slip");
    }

    /// Six cabins hang plumb on a rope loop.
    void cabins() {
        using nlohmann::json;
        hands_.session.newProject();
        run({{"op", "model.import"}, {"file", model("cabin.glb")}});
        run({{"op", "model.stand"}, {"ground", true}, {"centre", true}});
        const PartId top = Tree(hands_.session.document()).roots().front();
        hands_.session.select({top});
        run({{"op", "path.add"},
             {"name", "rope"},
             {"closed", true},
             {"points", json::array({{-16, -3, 6},
                                     {0, -3, 8.5},
                                     {16, -3, 10},
                                     {20, 0, 10},
                                     {16, 3, 10},
                                     {0, 3, 8.5},
                                     {-16, 3, 6},
                                     {-20, 0, 6}})}});
        hands_.session.setPathTool({newest_path(hands_.session.document())});
        hands_.key(Qt::Key_5);
        hands_.click("tabRide");
        hands_.choose("rideUpright", "plumb");
        hands_.type("rideHeight", "-3.75 m", false);
        hands_.choose("stringCoupling", "path");
        hands_.click("coupleString");
        hands_.settle();
        hands_.click("acceptPreview");
        hands_.session.select({top});
        hands_.window.view().setDirection(-1.1, 0.2);
        hands_.window.view().frameAll();
        take("21-cabins");
    }

    QString models_, pictures_;
    Hands hands_;
};

}  // namespace

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    if (argc != 3) {
        fmt::print(stderr, "usage: pivrak_screenshots MODELS_FOLDER PICTURES_FOLDER\n");
        return 2;
    }
    QStandardPaths::setTestModeEnabled(true);
    setSurfaceFormat();
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("pivrak-pictures"));
    QCoreApplication::setOrganizationName(QStringLiteral("pivrak-tests"));
    Look look(application);
    Photographer(look, QString::fromLocal8Bit(argv[1]), QString::fromLocal8Bit(argv[2])).all();
    return testing::UnitTest::GetInstance()->Failed() ? 1 : 0;
}
