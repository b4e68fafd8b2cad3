// Pictures, sheets and movies of a clip, from the window.
#include <QComboBox>
#include <QMenu>
#include <QProcess>
#include <QProgressBar>
#include <QToolButton>
#include <fstream>

#include "app/film/film.h"
#include "tests/app/keyed_handle.h"
#include "tests/support/steps.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

struct Films : Curves {
    test::TempFolder folder;
    std::string file(const char* name) { return (folder / name).string(); }
    /// Until it is made, or refused.
    Result<FilmReport> made(FilmWish wish, const std::function<void(Film&)>& meanwhile = {}) {
        Film film(hands.session.document(), std::move(wish), test::look());
        std::optional<Result<FilmReport>> answer;
        QObject::connect(&film, &Film::finished, &hands.window,
                         [&](const Result<FilmReport>& report) { answer = report; });
        film.start();
        for (int i = 0; i < 4000 && !answer; ++i) {
            QTest::qWait(2);
            if (meanwhile) meanwhile(film);
        }
        EXPECT_TRUE(answer.has_value());
        return answer.value_or(Error{"film.never", "it never ended", ""});
    }
    std::size_t files() {
        std::size_t count = 0;
        for (const auto& entry : std::filesystem::directory_iterator(folder / ""))
            count += entry.exists() ? 1 : 0;
        return count;
    }
};

/// The handle goes up in them; of a loop the end is left out, for it is the beginning.
TEST_F(Films, PicturesShowTheClipFrameByFrame) {
    hands.session.run({{"op", "clip.set"}, {"last_frame", 80}});
    FilmWish wish;
    wish.path = file("run.png");
    wish.every = 20;
    wish.size = {320, 200};
    const auto report = made(wish);
    ASSERT_TRUE(report.ok()) << report.error().message;
    EXPECT_EQ(report->pictures, 4u) << "frames 0, 20, 40 and 60";
    const QImage first(QString::fromStdString(file("run-0000.png"))),
        third(QString::fromStdString(file("run-0002.png")));
    ASSERT_EQ(first.size(), QSize(320, 200));
    EXPECT_NE(first, third) << "it has moved";
    EXPECT_EQ(files(), 4u) << "nothing else stays";
    hands.session.run({{"op", "clip.set"}, {"loop", false}});
    wish.form = FilmWish::Form::Sheet;
    wish.path = file("sheet.png");
    wish.columns = 2;
    const auto sheet = made(wish);
    ASSERT_TRUE(sheet.ok());
    EXPECT_EQ(sheet->pictures, 5u);
    EXPECT_EQ(QImage(QString::fromStdString(file("sheet.png"))).width(), 320);
}

/// A wheel that rolls through the picture leaves its track there as it does in the view.
TEST_F(Films, PicturesShowWhatWheelsPrint) {
    hands.session.newProject();
    test::runAll(hands, test::wheel_that_rolls(24, -4));
    test::runAll(hands,
                 {{{"op", "camera.add"}, {"name", "Above"}, {"at", {2, -0.01, 9}}, {"to", {2, 0, 0}}}});
    const auto last_picture = [&](const Document& document, const char* name) {
        FilmWish wish;
        wish.path = file(name);
        wish.camera = "Above";
        wish.from = wish.to = 24;
        wish.size = {200, 200};
        Film film(document, wish, test::look());
        bool ended = false;
        QObject::connect(&film, &Film::finished, &hands.window, [&] { ended = true; });
        film.start();
        for (int i = 0; i < 4000 && !ended; ++i) QTest::qWait(2);
        const std::string stem = std::string(name).substr(0, std::string(name).size() - 4);
        return QImage(QString::fromStdString((folder / (stem + "-0000.png")).string()));
    };
    const QImage plain = last_picture(hands.session.document(), "plain.png");
    hands.session.run({{"op", "print.add"}, {"parts", {"Wheel"}}});
    const QImage printed = last_picture(hands.session.document(), "printed.png");
    ASSERT_FALSE(plain.isNull() || printed.isNull());
    // Half of the way behind the wheel, below the camera.
    int changed = 0;
    for (int x = 0; x < 200; ++x)
        for (int y = 0; y < 200; ++y) changed += plain.pixel(x, y) != printed.pixel(x, y) ? 1 : 0;
    EXPECT_NE(plain.pixel(100, 100), printed.pixel(100, 100));
    EXPECT_GT(changed, 200);
}

TEST_F(Films, WhatCannotBeMadeIsToldAndWhatWasThereStays) {
    FilmWish good;
    good.path = file("run.png");
    good.size = {64, 64};
    const auto refused = [&](auto change) {
        FilmWish wish = good;
        change(wish);
        const auto report = made(wish);
        return report ? std::string("made") : report.error().code;
    };
    EXPECT_EQ(refused([](FilmWish& w) { w.path = "run.gif"; }), "film.ending");
    EXPECT_EQ(refused([](FilmWish& w) { w.form = FilmWish::Form::Movie; }), "film.ending");
    EXPECT_EQ(refused([](FilmWish& w) { w.size = {4, 4}; }), "film.size");
    EXPECT_EQ(refused([](FilmWish& w) { w.every = 0; }), "film.every");
    EXPECT_EQ(refused([](FilmWish& w) { w.from = 50, w.to = 10; }), "film.range");
    EXPECT_EQ(refused([](FilmWish& w) { w.clip = "none"; }), "clip.unknown");
    EXPECT_EQ(refused([](FilmWish& w) { w.camera = "none"; }), "part.unknown");
    EXPECT_EQ(refused([](FilmWish& w) { w.path = "/nowhere/run.png"; }), "film.folder");
    std::ofstream(file("sheet.png")) << "kept";
    good.form = FilmWish::Form::Sheet;
    good.path = file("sheet.png");
    const auto cancelled = made(good, [](Film& film) { film.cancel(); });
    ASSERT_FALSE(cancelled.ok());
    EXPECT_EQ(cancelled.error().code, "film.cancelled");
    std::string words;
    std::ifstream(file("sheet.png")) >> words;
    EXPECT_EQ(words, "kept");
    EXPECT_EQ(files(), 1u);
}

/// The encoder is a stand-in here that writes down what it is given and how much comes.
TEST_F(Films, AMovieIsGivenToTheEncoderPictureByPicture) {
    const QByteArray paths = qgetenv("PATH");
    qputenv("PATH", folder.path().string().c_str());
    FilmWish wish;
    wish.form = FilmWish::Form::Movie;
    wish.path = file("run.webm");
    wish.size = {64, 48};
    wish.to = 9;
    EXPECT_EQ(made(wish).error().code, "film.no_encoder");
    std::ofstream(file("ffmpeg"))
        << "#!/bin/sh\nfor last; do :; done\n/usr/bin/wc -c > \"$last\"\necho \"$@\" >> \"$last\"\n";
    std::filesystem::permissions(file("ffmpeg"), std::filesystem::perms::owner_all);
    const auto report = made(wish);
    qputenv("PATH", paths);
    ASSERT_TRUE(report.ok()) << report.error().message;
    std::ifstream movie(file("run.webm"));
    std::size_t bytes = 0;
    std::string words;
    movie >> bytes;
    std::getline(movie, words);
    std::getline(movie, words);
    EXPECT_EQ(bytes, 10u * 64 * 48 * 4) << "ten pictures";
    EXPECT_NE(words.find("-s 64x48 -r 24"), std::string::npos) << words;
    EXPECT_NE(words.find("libvpx-vp9"), std::string::npos) << words;
}

/// The pictures of a movie, as the decoder beside the encoder gives them back.
std::vector<QImage> decoded(const std::string& movie, const QSize& size) {
    QProcess decoder;
    decoder.start(QStringLiteral("ffmpeg"), {"-loglevel", "error", "-i", QString::fromStdString(movie), "-f",
                                             "rawvideo", "-pix_fmt", "rgb24", "-"});
    decoder.waitForFinished(60000);
    const QByteArray all = decoder.readAllStandardOutput();
    const qsizetype each = qsizetype{3} * size.width() * size.height();
    EXPECT_EQ(all.size() % each, 0) << decoder.readAllStandardError().toStdString();
    std::vector<QImage> pictures;
    for (qsizetype at = 0; at + each <= all.size(); at += each)
        pictures.push_back(QImage(reinterpret_cast<const uchar*>(all.data()) + at, size.width(),
                                  size.height(), 3 * size.width(), QImage::Format_RGB888)
                               .copy());
    return pictures;
}

/// Mean difference of two pictures, of 255.
double mean_difference(const QImage& a, const QImage& b) {
    double sum = 0;
    for (int x = 0; x < a.width(); ++x)
        for (int y = 0; y < a.height(); ++y) {
            const QColor p = a.pixelColor(x, y), q = b.pixelColor(x, y);
            sum +=
                std::abs(p.red() - q.red()) + std::abs(p.green() - q.green()) + std::abs(p.blue() - q.blue());
        }
    return sum / (3.0 * a.width() * a.height());
}

/// Both kinds of movie, made and read back: as many pictures as frames, in their order, at the clip's rate,
/// each like the one that is written as PNG.
TEST_F(Films, AMovieShowsWhatItsPicturesShow) {
    hands.session.run({{"op", "clip.set"}, {"last_frame", 80}, {"loop", false}});
    FilmWish wish;
    wish.path = file("run.png");
    wish.size = {160, 120};
    wish.every = 8;
    ASSERT_TRUE(made(wish).ok());
    for (const char* name : {"run.webm", "run.mp4"}) {
        wish.form = FilmWish::Form::Movie;
        wish.path = file(name);
        const auto report = made(wish);
        ASSERT_TRUE(report.ok()) << report.error().message;
        const std::vector<QImage> pictures = decoded(file(name), QSize(160, 120));
        ASSERT_EQ(pictures.size(), 11u) << name;
        double apart = 0;
        for (std::size_t i = 0; i < pictures.size(); ++i) {
            const QImage meant(QString::fromStdString(file(fmt::format("run-{:04}.png", i).c_str())));
            EXPECT_LT(mean_difference(pictures[i], meant), 4) << name << " " << i;
            if (i > 0) apart = std::max(apart, mean_difference(pictures[i], pictures[i - 1]));
        }
        EXPECT_GT(apart, 0.2) << "it moves";
        QProcess told;
        told.start(QStringLiteral("ffprobe"), {"-v", "error", "-show_entries", "stream=r_frame_rate", "-of",
                                               "csv=p=0", QString::fromStdString(file(name))});
        told.waitForFinished(60000);
        EXPECT_EQ(told.readAllStandardOutput().trimmed(), "3/1") << "24 frames a second, every eighth";
    }
}

TEST_F(Films, ByHandFromWhereTheViewLooks) {
    hands.key(Qt::Key_7);
    hands.choose("filmForm", "sheet");
    hands.save_answer = QString::fromStdString(file("sheet.png"));
    hands.click("chooseFilm");
    hands.type("filmEvery", "10", false);
    hands.type("filmTo", "80", false);
    hands.type("filmWide", "400", false);
    hands.type("filmHigh", "300", false);
    hands.type("filmColumns", "3", false);
    hands.click("makeFilm");
    for (int i = 0; i < 2000 && !std::filesystem::exists(file("sheet.png")); ++i) QTest::qWait(5);
    hands.settle();
    EXPECT_EQ(QImage(hands.save_answer).width(), 400);
    EXPECT_TRUE(hands.find<QLabel>("filmFacts")->text().contains("9"))
        << hands.find<QLabel>("filmFacts")->text().toStdString();
    EXPECT_TRUE(hands.window.findChild<QProgressBar*>("filmProgress")->isHidden());
}

/// The same machine once more, with its keys: both go up by their own.
TEST_F(Films, AnotherProjectIsBroughtInWithItsClip) {
    const QString other = QString::fromStdString(file("one.pivrak.glb"));
    ASSERT_TRUE(hands.session.saveProject(other.toStdString()));
    const std::size_t parts = hands.session.document().parts.size();
    hands.open_answer = other;
    hands.window.findChild<QAction*>("addProject")->trigger();
    for (int i = 0; i < 500 && hands.session.document().parts.size() == parts; ++i) QTest::qWait(10);
    hands.settle();
    ASSERT_EQ(hands.session.document().parts.size(), 2 * parts) << hands.refusals.join(" ").toStdString();
    EXPECT_EQ(hands.session.document().clips.size(), 2u);
    hands.session.undo();
    EXPECT_EQ(hands.session.document().parts.size(), parts);
    hands.open_answer = QStringLiteral("/nowhere.pivrak.glb");
    hands.window.findChild<QAction*>("addProject")->trigger();
    for (int i = 0; i < 300 && hands.refusals.isEmpty(); ++i) QTest::qWait(10);
    EXPECT_FALSE(hands.refusals.isEmpty());
}

/// A camera on a turning part looks where that takes it; a hand that moves the view leaves it.
TEST_F(Films, ThroughACameraThatIsCarried) {
    Viewport& view = hands.window.view();
    const Vec3 stood = view.camera().eye(), looked = view.camera().back();
    auto* button = hands.find<QToolButton>("viewCameras");
    emit button->menu()->aboutToShow();
    button->menu()->findChild<QAction*>("newCamera")->trigger();
    hands.settle();
    const PartId camera = hands.named("camera");
    ASSERT_TRUE(camera) << hands.refusals.join(" ").toStdString();
    emit button->menu()->aboutToShow();
    for (QAction* action : button->menu()->actions())
        if (action->text() == "camera") action->trigger();
    EXPECT_TRUE(view.through() == camera);
    EXPECT_LT((view.camera().eye() - stood).norm(), 1e-9);
    EXPECT_LT((view.camera().back() - looked).norm(), 1e-9) << "the picture stays as it was";
    // On the handle, which goes up by 400 mm until frame 40.
    hands.session.run({{"op", "tree.parent"}, {"parts", {camera.value}}, {"under", "Handle"}});
    hands.session.setFrame(40);
    hands.settle();
    EXPECT_NEAR(view.camera().eye().z(), stood.z() + 0.4, 1e-6) << hands.refusals.join(" ").toStdString();
    FilmWish wish;
    wish.path = file("through.png");
    wish.size = {160, 120};
    wish.camera = "camera";
    wish.from = 0, wish.to = 40, wish.every = 40;
    const auto through = made(wish);
    ASSERT_TRUE(through.ok()) << through.error().message;
    EXPECT_NE(QImage(QString::fromStdString(file("through-0000.png"))),
              QImage(QString::fromStdString(file("through-0001.png"))));
    hands.drag(&view, {300, 200}, {340, 210}, {}, Qt::MiddleButton);
    EXPECT_FALSE(view.through());
    wish.camera = "Handle";
    EXPECT_EQ(made(wish).error().code, "camera.none");
}

}  // namespace
}  // namespace pivrak
