// Drives the real window through the demo, by mouse and keys, and writes a picture of each main view.
// usage: pivrak_screenshots MODELS_FOLDER PICTURES_FOLDER
#include <QDir>
#include <QFile>
#include <QScreen>
#include <QStandardPaths>

#include "app/curves/curve_sheet.h"
#include "app/shell/surface.h"
#include "tests/support/photographer.h"

namespace pivrak {

Photographer::Photographer(Look& look, QString models, QString pictures)
    : look_(look), models_(std::move(models)), pictures_(std::move(pictures)), hands_(look, models_) {
    hands_.window.setGeometry(0, 0, 1280, 800);
    hands_.settle();
    QDir().mkpath(pictures_);
}

void Photographer::all() {
    intake();
    split();
    groomerDoors();
    hands_.session.newProject();
    hands_.window.openFile(QStringLiteral(FINISHED_STATION));
    hands_.settle();
    tree();
    rig();
    chain();
    keys();
    handover();
    vehicle();
    constraints();
    groomer();
    linkage();
    reach();
    motion();
    sequence();
    saddle();
    measures();
    hands_.session.newProject();
    hands_.window.openFile(QStringLiteral(FINISHED_STATION));
    hands_.settle();
    drivers();
}

void Photographer::take(const char* name) {
    hands_.settle();
    hands_.window.view().paintFully();
    QTest::qWait(150);
    const QRect place(hands_.window.mapToGlobal(QPoint(0, 0)), hands_.window.size());
    QGuiApplication::primaryScreen()
        ->grabWindow(0, place.x(), place.y(), place.width(), place.height())
        .save(pictures_ + "/" + QLatin1String(name) + ".png");
}

void Photographer::open(const char* model) {
    hands_.session.newProject();
    hands_.key(Qt::Key_1);
    hands_.click("tabModel");
    hands_.type("importPath", models_ + "/" + QLatin1String(model));
}

void Photographer::lookAt(const char* part, double azimuth, double elevation) {
    hands_.clickRow(hands_.named(part));
    hands_.window.view().setDirection(azimuth, elevation);
    hands_.key(Qt::Key_F);
}

void Photographer::run(const nlohmann::json& step) {
    EXPECT_TRUE(hands_.session.run(step)) << step.dump();
}

void Photographer::tree() {
    hands_.key(Qt::Key_4);
    lookAt("Brake arm", -1.0, 0.25);
    hands_.window.view().frameAll();
    take("11-tree");
}

void Photographer::rig() {
    hands_.key(Qt::Key_5);
    hands_.type("frameEntry", "9");
    lookAt("Layshaft", -0.75, 0.3);
    hands_.clickRow(hands_.named("Motor shaft"), Qt::ControlModifier);
    hands_.key(Qt::Key_F);
    hands_.clickRow(hands_.named("Motor shaft"));
    take("13-rig");
}

void Photographer::keys() {
    hands_.key(Qt::Key_6);
    hands_.type("frameEntry", "27");
    hands_.clickRow(hands_.named("Motor shaft"));
    hands_.window.view().setDirection(-1.0, 0.3);
    hands_.window.view().frameAll();
    // For the picture alone: it hesitates halfway.
    const ChannelRef turn{hands_.named("Motor shaft"), ChannelKind::Turn};
    run({{"op", "key.insert"}, {"parts", {"Motor shaft"}}, {"frame", 36}});
    run({{"op", "key.shape"},
         {"parts", {"Motor shaft"}},
         {"from", 36},
         {"to", 36},
         {"slope", "60 deg"},
         {"weight", 0.6},
         {"weight_in", 0.6}});
    run({{"op", "key.shape"}, {"parts", {"Motor shaft"}}, {"from", 0}, {"to", 0}, {"runs", "smooth"}});
    auto* sheet = hands_.find<CurveSheet>("curveSheet");
    QTest::mouseClick(sheet, Qt::LeftButton, {}, sheet->placeOf(turn, 36).toPoint());
    take("14-keys");
    for (int i = 0; i < 3; ++i) hands_.session.undo();
}

void Photographer::handover() {
    hands_.key(Qt::Key_7);
    hands_.session.select({});
    const QString file = QDir::temp().filePath("drive-station.glb");
    hands_.type("deliveryPath", file, false);
    hands_.click("deliver");
    take("15-handover");
    QFile::remove(file);
}

std::string Photographer::model(const char* name) const {
    return (models_ + "/" + QLatin1String(name)).toStdString();
}

}  // namespace pivrak

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    if (argc != 3) {
        fmt::print(stderr, "usage: pivrak_screenshots MODELS_FOLDER PICTURES_FOLDER\n");
        return 2;
    }
    QStandardPaths::setTestModeEnabled(true);
    pivrak::setSurfaceFormat();
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("pivrak-pictures"));
    QCoreApplication::setOrganizationName(QStringLiteral("pivrak-tests"));
    pivrak::Look look(application);
    pivrak::Photographer(look, QString::fromLocal8Bit(argv[1]), QString::fromLocal8Bit(argv[2])).all();
    return testing::UnitTest::GetInstance()->Failed() ? 1 : 0;
}
