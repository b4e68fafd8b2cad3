#include "bench/window/view.h"

#include <fmt/format.h>
#include <malloc.h>
#include <unistd.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QPainter>
#include <QThread>
#include <QWheelEvent>
#include <filesystem>
#include <fstream>

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

/// Wheels and boxes by the thousand beside each other, one in ten turning with the clip.
Document many(std::size_t parts) {
    Document d = empty_document();
    const PartId first = test::add_shaped(d, "part", test::box({-0.1, -0.1, -0.1}, {0.1, 0.1, 0.1}));
    const ShapeId box = d.parts.find(first)->shape;
    Mesh small = ball(200);
    for (Vec3f& p : small.positions) p *= 0.13f;
    const PartId second = test::add_shaped(d, "wheel", std::move(small));
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
    double orbit_fps, play_fps, still_ms;
    std::string moving, still;  ///< shares of the passes of a picture
};

/// What share of a picture each of its passes takes, and all before and after them.
class Passes {
public:
    explicit Passes(Viewport& view) : view_(view) {
        view_.tellPasses([this](const char* pass) {
            const double now = ms();
            if (std::string_view(pass) != "begin") taken_.emplace_back(pass, now - last_);
            last_ = now;
        });
        timer_.start();
    }
    ~Passes() { view_.tellPasses({}); }
    std::string shares(double whole_ms) const {
        std::string text;
        double drawn = 0;
        for (const auto& [pass, took] : taken_)
            if (took > 0) {
                text += fmt::format("{} {:.0f} %, ", pass, 100 * took / whole_ms);
                drawn += took;
            }
        return text + fmt::format("all else {:.0f} %", 100 * std::max(0.0, 1 - drawn / whole_ms));
    }

private:
    double ms() const { return static_cast<double>(timer_.nsecsElapsed()) * 1e-6; }
    Viewport& view_;
    QElapsedTimer timer_;
    double last_ = 0;
    std::vector<std::pair<std::string, double>> taken_;
};

class Stand {
public:
    Stand(Look& look, const std::filesystem::path& file) : window_(session_, look) {
        window_.resize(1280, 800);
        window_.show();
        if (!session_.openProject(file)) return;
        session_.setStage(Stage::Keys);
        session_.settle();
        // Prints are laid, and what is looked for beside is found, before anything is measured.
        for (int quiet = 0; quiet < 20; quiet = window_.prints().isBusy() ? 0 : quiet + 1) {
            QApplication::processEvents();
            QThread::msleep(10);
        }
        session_.settle();
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
        window_.view().finish();
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
    rates.orbit_fps = 1000 / stand.middle_ms(31, [&](int i) {
        view.setDirection(view.camera().azimuth + 0.02 * (i + 1), view.camera().elevation);
    });
    // At its beginning, middle and end: machines go on, and prints grow.
    const Clip clip = stand.session().clip();
    constexpr int pictures = 31;
    double slowest_ms = 0;
    for (const double share : {0.0, 0.5, 1.0}) {
        const double first = std::round(clip.first_frame +
                                        share * std::max(0.0, clip.last_frame - clip.first_frame - pictures));
        slowest_ms = std::max(
            slowest_ms, stand.middle_ms(pictures, [&](int i) { stand.session().setFrame(first + i + 1); }));
    }
    rates.play_fps = 1000 / slowest_ms;
    rates.still_ms = stand.middle_ms(3, [&](int) { view.paintFully(); });
    // In pictures of their own: to tell a pass from the next one takes time.
    const auto shares = [&](auto act) {
        Passes passes(view);
        const double whole = stand.shown_ms(act);
        return passes.shares(whole);
    };
    rates.still = shares([&] { view.paintFully(); });
    stand.shown_ms([&] { stand.session().setFrame(11); });
    rates.moving = shares([&] { stand.session().setFrame(12); });
    return rates;
}

std::filesystem::path saved(const Document& document, const char* name) {
    const auto file = std::filesystem::temp_directory_path() / fmt::format("pivrak-view-{}.pivrak.glb", name);
    if (!save_project(document, file)) fmt::print("{} could not be written\n", file.string());
    return file;
}

void row(const char* id, const char* what, double wanted, const Rates& rates) {
    fmt::print(
        "| {} | {} | at least {} a second | orbit {:.1f}, playing {:.1f} a second ({}); full picture {:.0f} "
        "ms ({}) | "
        "{} |\n",
        id, what, wanted, rates.orbit_fps, rates.play_fps, rates.moving, rates.still_ms, rates.still,
        rates.orbit_fps >= wanted && rates.play_fps >= wanted ? "yes" : "**no**");
}

/// What the program holds [KB], after what is free was given back.
double held_kb() {
    malloc_trim(0);
    std::ifstream statm("/proc/self/statm");
    double whole = 0, resident = 0;
    statm >> whole >> resident;
    return resident * static_cast<double>(sysconf(_SC_PAGESIZE)) / 1024;
}

/// By how much more is held with many parts open than with few: by the program itself, its view taken out,
/// and with all that whoever draws keeps of a picture.
void measure_memory(Look& look) {
    constexpr std::size_t few = 100, lots = 5000;
    const auto alone = [&](std::size_t parts) {
        const auto file = saved(many(parts), "memory");
        Session session;
        MainWindow window(session, look);
        window.view().setParent(nullptr);
        window.show();
        if (!session.openProject(file)) fmt::print("{} could not be opened\n", file.string());
        session.setStage(Stage::Keys);
        session.settle();
        return held_kb();
    };
    const auto drawn = [&](std::size_t parts) {
        const auto file = saved(many(parts), "memory");
        Stand stand(look, file);
        stand.window().view().frameAll();
        stand.shown_ms([&] { stand.window().view().paintFully(); });
        return held_kb();
    };
    const auto each = [&](auto with) {
        with(few);  // fonts, shaders and the like are held from then on
        const double before = with(few);
        return (with(lots) - before) / static_cast<double>(lots - few);
    };
    const double ours = each(alone), whole = each(drawn);
    fmt::print(
        "| B10 | memory of a part, open | at most 5 KB | {:.1f} KB, {:.1f} KB once a processor drew it | {} "
        "|\n",
        ours, whole, ours <= 5 ? "yes" : "**no**");
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

void measure_view(Look& look, const std::string& only) {
    const auto asked = [&](const char* name) { return only.empty() || only == name; };
    if (asked("demo")) row("B11", "the demo at 1280x800", 24, measure(look, "demo/models/saddle.pivrak.glb"));
    if (asked("large")) row("B10", "1 000 000 triangles", 10, measure(look, saved(large(1000000), "large")));
    if (asked("keys")) measure_keys(look);
    if (asked("many")) row("B10", "5 000 parts", 15, measure(look, saved(many(5000), "many")));
    if (asked("memory")) measure_memory(look);
}

}  // namespace pivrak::bench
