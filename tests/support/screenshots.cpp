// Drives the real window through the demo, by mouse and keys, and writes a picture of each main view.
// usage: pivrak_screenshots MODELS_FOLDER PICTURES_FOLDER
#include <gtest/gtest.h>

#include <QDir>
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
        recognise();
        cut();
        hands_.session.newProject();
        hands_.window.openFile(models_ + "/drive-station.pivrak.glb");
        hands_.settle();
        pivots();
        tree();
        rig();
        keys();
        handover();
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

    /// The groomer as it comes: backwards and off the ground; then stood up, with its tree to tidy.
    void intake() {
        open("groomer.glb");
        hands_.click("acceptPreview");
        take("01-intake-before");
        hands_.click("tabStand");
        hands_.choose("standFront", "-x");
        hands_.click("previewStand");
        take("02-standing-up");
        hands_.click("acceptPreview");
        hands_.click("tabTidy");
        take("03-tidying");
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

    void recognise() {
        hands_.session.select({});
        hands_.click("tabFind");
        hands_.click("lookForParts");
        take("06-recognised");
    }

    void cut() {
        open("groomer.glb");
        hands_.click("acceptPreview");
        hands_.key(Qt::Key_2);
        hands_.click("tabBreak");
        hands_.clickRow(hands_.named("engine cover"));
        hands_.window.view().setDirection(2.2, 0.35);
        hands_.key(Qt::Key_F);
        hands_.choose("splitBy", "split.plane");
        take("07-cutting");
        hands_.choose("splitBy", "split.pieces");
    }

    void lookAt(const char* part, double azimuth, double elevation) {
        hands_.clickRow(hands_.named(part));
        hands_.window.view().setDirection(azimuth, elevation);
        hands_.key(Qt::Key_F);
    }

    void pivots() {
        hands_.key(Qt::Key_3);
        lookAt("Layshaft", -1.2, 0.35);
        hands_.clickRow(hands_.named("Wheel 51T"));
        hands_.click("pivotCylinder");
        take("08-pivots");
        hands_.key(Qt::Key_Escape);
    }

    void tree() {
        hands_.key(Qt::Key_4);
        lookAt("Brake arm", -1.0, 0.25);
        hands_.window.view().frameAll();
        take("09-tree");
    }

    void rig() {
        hands_.key(Qt::Key_5);
        hands_.type("frameEntry", "9");
        lookAt("Layshaft", -1.35, 0.18);
        hands_.clickRow(hands_.named("Motor shaft"), Qt::ControlModifier);
        hands_.key(Qt::Key_F);
        hands_.clickRow(hands_.named("Motor shaft"));
        take("10-rig");
    }

    void keys() {
        hands_.key(Qt::Key_6);
        hands_.type("frameEntry", "27");
        hands_.clickRow(hands_.named("Motor shaft"));
        hands_.window.view().setDirection(-1.0, 0.3);
        hands_.window.view().frameAll();
        take("11-keys");
    }

    void handover() {
        hands_.key(Qt::Key_7);
        hands_.session.select({});
        const QString file = QDir::temp().filePath("drive-station.glb");
        hands_.type("deliveryPath", file, false);
        hands_.click("deliver");
        take("12-handover");
        QFile::remove(file);
    }

    void night() {
        hands_.key(Qt::Key_5);
        hands_.clickRow(hands_.named("Motor shaft"));
        hands_.click("nightTheme");
        take("13-night");
        hands_.click("nightTheme");
        hands_.session.select({});
        hands_.key(Qt::Key_Space, Qt::ControlModifier);
        take("14-finder");
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
