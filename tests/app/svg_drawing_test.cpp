#include <gtest/gtest.h>

#include <QImage>
#include <QPainter>
#include <QSvgRenderer>
#include <algorithm>

#include "core/io/paths/path_files.h"

namespace pivrak {
namespace {

constexpr int side_px = 900;
constexpr double page = 30;  // units each way from the middle
constexpr double px_per_unit = side_px / (2 * page);

/// What QtSvg draws of some elements: dark where there is a line.
QImage drawn_by_qt(const std::string& text) {
    QSvgRenderer renderer(QByteArray::fromStdString(text));
    EXPECT_TRUE(renderer.isValid()) << text;
    QImage image(side_px, side_px, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    renderer.render(&painter);
    return image;
}

std::string drawing(const std::string& elements) {
    return "<svg xmlns='http://www.w3.org/2000/svg' viewBox='-30 -30 60 60'>"
           "<g fill='none' stroke='black' stroke-width='0.1'>" +
           elements + "</g></svg>";
}

/// The same, of what was read: places on all curves in pixels.
std::vector<QPointF> places_of(const std::vector<Path>& paths) {
    std::vector<QPointF> places;
    for (const Path& path : paths) {
        const auto curve = PathCurve::make(path);
        for (int i = 0; i <= 4000; ++i) {
            const Vec3 p = curve->place(curve->length() * i / 4000.0);
            places.emplace_back((p.x() + page) * px_per_unit, (page - p.y()) * px_per_unit);
        }
    }
    return places;
}

bool dark_near(const QImage& image, QPointF at, int within) {
    const QPoint middle(static_cast<int>(std::floor(at.x())), static_cast<int>(std::floor(at.y())));
    for (int y = -within; y <= within; ++y)
        for (int x = -within; x <= within; ++x)
            if (image.valid(middle + QPoint(x, y)) && qGray(image.pixel(middle + QPoint(x, y))) < 230)
                return true;
    return false;
}

struct Drawn {
    const char* name;
    const char* elements;
};

class SvgDrawing : public testing::TestWithParam<Drawn> {};

/// Source: QtSvg's own reader and painter, of the same text. Lines agree to two pixels of a thirtieth of a
/// unit.
TEST_P(SvgDrawing, IsReadAsQtDrawsIt) {
    const std::string text = drawing(GetParam().elements);
    const QImage image = drawn_by_qt(text);
    const auto paths = paths_from_svg(text, 1);
    ASSERT_TRUE(paths.ok()) << paths.error().message;
    const std::vector<QPointF> places = places_of(*paths);
    int astray = 0;
    QImage touched(side_px, side_px, QImage::Format_RGB32);
    touched.fill(Qt::white);
    for (const QPointF& at : places) {
        astray += !dark_near(image, at, 2);
        if (touched.valid(at.toPoint()))
            touched.setPixel(static_cast<int>(at.x()), static_cast<int>(at.y()), qRgb(0, 0, 0));
    }
    EXPECT_EQ(astray, 0) << "places on our curves where Qt draws nothing";
    int dark = 0, missed = 0;
    for (int y = 0; y < side_px; ++y)
        for (int x = 0; x < side_px; ++x)
            if (qGray(image.pixel(x, y)) < 100) {
                ++dark;
                missed += !dark_near(touched, QPointF(x, y), 2);
            }
    EXPECT_GT(dark, 100);
    EXPECT_EQ(missed, 0) << "of " << dark << " pixels that Qt draws";
}

INSTANTIATE_TEST_SUITE_P(
    PathFiles, SvgDrawing,
    testing::Values(
        Drawn{"lines", "<path d='M-20-20h10v5.5l-4,-3zm10 10L 12 10 12-14'/>"},
        Drawn{"cubics",
              "<path d='M-20 0C-10 20 0-20 10 0S20 10 25-5'/><path d='m-20-20c5 0 5 5 10 5s5-9 10-5'/>"},
        Drawn{"quadratics", "<path d='M-25 5Q-15-20 0 0T20 8t6-14'/>"},
        Drawn{"arcs",
              "<path d='M-20 0A12 7 30 0 1 0 4 12 7 30 1 0 15-9'/><path d='M-20-15a6 6 0 1120 0'/>"
              "<path d='M5 20a3 9-40 0 0 9-3'/>"},
        Drawn{"shapes",
              "<circle cx='-12' cy='8' r='7'/><ellipse cx='10' cy='-9' rx='13' ry='5'/>"
              "<rect x='4' y='6' width='17' height='9'/><polyline points='-25,-25 -14,-20 -9,-27'/>"
              "<polygon points='20 20 28 20 24 28'/><line x1='-28' y1='20' x2='-15' y2='28'/>"},
        Drawn{"moved and turned",
              "<g transform='translate(6 -3) rotate(25)'><path d='M0 0h10q5 0 5 5'/>"
              "<g transform='scale(1.5,0.5) skewX(20)'><circle cx='-9' cy='4' r='5'/></g></g>"
              "<path transform='matrix(0.8 0.6 -0.6 0.8 -10 12)' d='M0 0C4 8 8-8 12 0'/>"}),
    [](const auto& tested) {
        std::string name = tested.param.name;
        std::replace(name.begin(), name.end(), ' ', '_');
        return name;
    });

TEST(SvgOfPath, IsDrawnByQtWhereThePathRuns) {
    Path path;
    path.name = "loop";
    path.form = PathForm::Smooth;
    path.closed = true;
    path.points = {{{-20, -15, 0}}, {{14, -11, 0}}, {{25, 15, 0}}, {{-1, 6, 3}}};
    std::string text = svg_of_path(path);
    // On our page, whatever size it gave itself.
    const auto begin = text.find("viewBox=\""), end = text.find('"', begin + 9);
    ASSERT_NE(begin, std::string::npos);
    text.replace(begin, end + 1 - begin, "viewBox=\"-30 -30 60 60\"");
    const QImage image = drawn_by_qt(text);
    int astray = 0;
    for (const QPointF& at : places_of({path})) astray += !dark_near(image, at, 2);
    EXPECT_EQ(astray, 0);
}

}  // namespace
}  // namespace pivrak
