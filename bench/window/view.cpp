#include "bench/window/view.h"

#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QOpenGLFunctions>
#include <QPainter>
#include <QWheelEvent>
#include <filesystem>

#include "app/curves/curve_sheet.h"
#include "app/shell/main_window.h"
#include "app/timeline/time_lanes.h"
#include "core/geometry/mesh/solid.h"
#include "core/io/import/import_model.h"
#include "core/io/project/project_file.h"
#include "core/operations/job.h"
#include "tests/support/documents.h"

namespace pivrak::bench {
namespace {

/// A sphere of about so many triangles, cut into one mesh.
Mesh ball(std::size_t triangles) {
    const auto rings = static_cast<std::uint32_t>(std::sqrt(static_cast<double>(triangles) / 4));
    Mesh mesh;
    for (std::uint32_t i = 0; i <= rings; ++i)
        for (std::uint32_t k = 0; k <= 2 * rings; ++k) {
            const double a = pi * i / rings, b = pi * k / rings;
            const Vec3f p(static_cast<float>(std::sin(a) * std::cos(b)),
                          static_cast<float>(std::sin(a) * std::sin(b)), static_cast<float>(std::cos(a)));
            mesh.positions.push_back(p);
            mesh.normals.push_back(p);
        }
    const std::uint32_t row = 2 * rings + 1;
    for (std::uint32_t i = 0; i < rings; ++i)
        for (std::uint32_t k = 0; k + 1 < row; ++k)
            for (const std::uint32_t v : {0u, row, 1u, 1u, row, row + 1})
                mesh.indices.push_back(i * row + k + v);
    return mesh;
}

Document large(std::size_t triangles) {
    Document d = empty_document();
    test::add_shaped(d, "ball", ball(triangles), {}, Frame{Quat(1, 0, 0, 0), Vec3(0, 0, 1)});
    return d;
}

/// Wheels and boxes by the thousand, one in ten turning with the clip.
Document many(std::size_t parts) {
    Document d = empty_document();
    const PartId first = test::add_shaped(d, "part", test::box({-0.1, -0.1, -0.1}, {0.1, 0.1, 0.1}));
    const ShapeId box = d.parts.find(first)->shape;
    const PartId second = test::add_shaped(d, "wheel", ball(200));
    const ShapeId wheel = d.parts.find(second)->shape;
    const auto side = static_cast<std::size_t>(std::ceil(std::sqrt(static_cast<double>(parts))));
    for (std::size_t i = 0; i < parts; ++i) {
        const PartId id = i == 0 ? first : i == 1 ? second : test::add_part(d, fmt::format("part {}", i));
        Part part = *d.parts.find(id);
        part.shape = i % 3 ? box : wheel;
        part.joint = {JointKind::Hinge, 2, {}};
        part.part_from_shape = Frame{Quat(1, 0, 0, 0), Vec3(0, 0, 0)};
        part.parent_from_rest.translation =
            Vec3(0.3 * static_cast<double>(i % side), 0.3 * static_cast<double>(i / side), 0.1);
        d.parts.set(part);
        if (i % 10 == 0) test::key(d, id, {{0, 0, Interpolation::Linear}, {120, 6, Interpolation::Linear}});
    }
    return d;
}

struct Rates {
    double orbit_fps, play_fps, rest_ms, still_ms;
};

class Stand {
public:
    Stand(Look& look, const std::filesystem::path& file) : window_(session_, look) {
        window_.resize(1280, 800);
        window_.show();
        if (!session_.openProject(file)) return;
        session_.setStage(Stage::Keys);
        session_.settle();
        QApplication::processEvents();
    }
    Session& session() { return session_; }
    MainWindow& window() { return window_; }

    /// Until what was asked to be painted is on the screen.
    double shown_ms(const std::function<void()>& act) {
        bool swapped = false;
        const auto told =
            QObject::connect(&window_.view(), &Viewport::painted, [&](bool) { swapped = true; });
        QElapsedTimer timer;
        timer.start();
        act();
        while (!swapped) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
        QObject::disconnect(told);
        window_.view().makeCurrent();
        window_.view().context()->functions()->glFinish();
        return static_cast<double>(timer.nsecsElapsed()) * 1e-6;
    }
    template <class Act>
    double middle_ms(int times, Act act) {
        std::vector<double> all;
        for (int i = 0; i < times; ++i) all.push_back(shown_ms([&] { act(i); }));
        std::ranges::sort(all);
        return all[all.size() / 2];
    }

private:
    Session session_;
    MainWindow window_;
};

Rates measure(Look& look, const std::filesystem::path& file) {
    Stand stand(look, file);
    Viewport& view = stand.window().view();
    view.frameAll();
    stand.shown_ms([&] { view.paintFully(); });
    Rates rates{};
    rates.orbit_fps = 1000 / stand.middle_ms(9, [&](int i) {
        view.setDirection(view.camera().azimuth + 0.02 * (i + 1), view.camera().elevation);
    });
    rates.play_fps = 1000 / stand.middle_ms(9, [&](int i) { stand.session().setFrame(i + 1); });
    rates.still_ms = stand.middle_ms(3, [&](int) { view.paintFully(); });
    return rates;
}

std::filesystem::path saved(const Document& document, const char* name) {
    const auto file = std::filesystem::temp_directory_path() / fmt::format("pivrak-view-{}.pivrak.glb", name);
    if (!save_project(document, file)) fmt::print("{} could not be written\n", file.string());
    return file;
}

void row(const char* id, const char* what, double wanted, const Rates& rates) {
    fmt::print(
        "| {} | {} | at least {} a second | orbit {:.1f}, playing {:.1f} a second; full picture {:.0f} ms | "
        "{} |\n",
        id, what, wanted, rates.orbit_fps, rates.play_fps, rates.still_ms,
        rates.orbit_fps >= wanted && rates.play_fps >= wanted ? "yes" : "**no**");
}

/// 500 channels with 20 keys each, none picked.
Document keyed(std::size_t channels) {
    Document d = many(channels);
    Clip clip = clip_or_first(d);
    clip.tracks.clear();
    for (const Part& part : d.parts) {
        Track& track = clip.track_or_new({part.id, ChannelKind::Turn});
        for (int k = 0; k < 20; ++k)
            track.keys.push_back({6.0 * k, std::sin(0.7 * k + 0.1 * static_cast<double>(part.id.value))});
    }
    d.clips.set(clip);
    return d;
}

/// Lanes scrolled and curves dragged, picture by picture.
void measure_keys(Look& look) {
    Stand stand(look, saved(keyed(500), "keys"));
    auto& lanes = *stand.window().findChild<TimeLanes*>();
    auto& sheet = *stand.window().findChild<CurveSheet*>();
    // What is not seen costs nothing.
    if (!lanes.isVisible() || !sheet.isVisible() || sheet.channels().empty()) {
        fmt::print("| K1 | 10 000 keys on 500 channels | at most 33 ms a picture | not shown | **no** |\n");
        return;
    }
    const auto repainted = [&](QWidget& widget, const std::function<void(int)>& act) {
        std::vector<double> all;
        for (int i = 0; i < 15; ++i) {
            QElapsedTimer timer;
            timer.start();
            act(i);
            widget.grab();  // painted whatever the window system thinks is hidden
            all.push_back(static_cast<double>(timer.nsecsElapsed()) * 1e-6);
        }
        std::ranges::sort(all);
        return all[all.size() / 2];
    };
    const double scroll = repainted(lanes, [&](int i) {
        QWheelEvent wheel(QPointF(400, 60), lanes.mapToGlobal(QPointF(400, 60)), {},
                          {0, i % 10 < 5 ? -120 : 120}, Qt::NoButton, {}, Qt::NoScrollPhase, false);
        QApplication::sendEvent(&lanes, &wheel);
    });
    const ChannelRef first = sheet.channels().front();
    const QPointF at = sheet.placeOf(first, 60);
    const auto mouse = [&](QEvent::Type type, const QPointF& place) {
        QMouseEvent event(type, place, sheet.mapToGlobal(place), Qt::LeftButton, Qt::LeftButton, {});
        QApplication::sendEvent(&sheet, &event);
    };
    mouse(QEvent::MouseButtonPress, at);
    const double drag = repainted(sheet, [&](int i) { mouse(QEvent::MouseMove, at + QPointF(6 + i, 5)); });
    mouse(QEvent::MouseButtonRelease, at);
    fmt::print(
        "| K1 | 10 000 keys on 500 channels | at most 33 ms a picture | lanes scrolled {:.1f} ms, curves "
        "dragged {:.1f} ms, {} of them drawn | {} |\n",
        scroll, drag, sheet.channels().size(), scroll <= 33 && drag <= 33 ? "yes" : "**no**");
}

}  // namespace

void measure_view(Look& look) {
    row("B11", "the demo at 1280x800", 24, measure(look, "demo/models/drive-station.pivrak.glb"));
    row("B10", "1 000 000 triangles", 10, measure(look, saved(large(1000000), "large")));
    measure_keys(look);
    row("B10", "5 000 parts", 15, measure(look, saved(many(5000), "many")));
}

}  // namespace pivrak::bench
