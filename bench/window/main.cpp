// W1, W2: what the window itself takes for a click and for a frame of dragging, among 10 000 parts and 2 000
// couplings, against the same with ten parts. Drawing the model is left out: its view is taken out of the
// window. usage: pivrak_window_bench [--view [demo|large|keys|many|memory]]
#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QStandardPaths>
#include <algorithm>

#include "app/shell/main_window.h"
#include "app/shell/surface.h"
#include "bench/window/view.h"
#include "core/geometry/mesh/solid.h"
#include "core/io/project/project_file.h"
#include "tests/support/documents.h"

namespace pivrak::bench {
namespace {

/// Boxes in a square, all hinges; of every five one turns the next one, and that a third.
Document yard(std::size_t parts) {
    Document d = empty_document();
    const PartId first = test::add_shaped(d, "part", test::box({-0.1, -0.1, -0.1}, {0.1, 0.1, 0.1}));
    const ShapeId shape = d.parts.find(first)->shape;
    std::vector<PartId> ids{first};
    while (ids.size() < parts) ids.push_back(test::add_part(d, fmt::format("part {}", ids.size())));
    const auto side = static_cast<std::size_t>(std::ceil(std::sqrt(static_cast<double>(parts))));
    for (std::size_t i = 0; i < parts; ++i) {
        Part part = *d.parts.find(ids[i]);
        part.shape = shape;
        part.joint = {JointKind::Hinge, 2, {}};
        part.parent_from_rest.translation =
            Vec3(0.3 * static_cast<double>(i % side), 0.3 * static_cast<double>(i / side), 0.1);
        d.parts.set(part);
    }
    for (std::size_t i = 0; i + 5 <= parts; i += 10)
        for (std::size_t k = 0; k < 2; ++k)
            d.couplings.set(
                {d.new_id<CouplingId>(),
                 GearPair{
                     {ids[i + k], ChannelKind::Turn}, {ids[i + k + 1], ChannelKind::Turn}, 17, 51, 0, true}});
    return d;
}

struct Measured {
    double click_ms, drag_ms;
};

double middle(std::vector<double> times) {
    std::sort(times.begin(), times.end());
    return times[times.size() / 2];
}

/// Everything that the interface thread does until it is idle again.
template <class Act>
double milliseconds(Act act) {
    QElapsedTimer timer;
    timer.start();
    act();
    QCoreApplication::processEvents();
    return static_cast<double>(timer.nsecsElapsed()) * 1e-6;
}

Measured measure(Look& look, std::size_t parts) {
    Session session;
    MainWindow window(session, look);
    window.view().setParent(nullptr);
    window.show();
    const std::filesystem::path file =
        std::filesystem::temp_directory_path() / fmt::format("pivrak-window-{}.pivrak.glb", parts);
    if (!save_project(yard(parts), file) || !session.openProject(file)) return {};
    std::filesystem::remove(file);
    session.setStage(Stage::Rig);
    session.settle();
    std::vector<PartId> ids;
    for (const Part& part : session.document().parts) ids.push_back(part.id);
    std::vector<double> clicks, drags;
    for (std::size_t i = 0; i < 21; ++i) {
        const PartId part = ids[i * 37 % ids.size()];
        const Vec3 seen = window.view().camera().project(session.worldFromPart(part).translation);
        clicks.push_back(milliseconds([&] {
            const auto found = window.view().partAt({seen.x(), seen.y()});
            session.select({found.value_or(part)});
        }));
        session.settle();
    }
    session.select({ids.front()});
    for (int i = 1; i <= 41; ++i)
        drags.push_back(milliseconds([&] { session.hold({ids.front(), ChannelKind::Turn}, 0.01 * i); }));
    session.dropHeld();
    return {middle(clicks), middle(drags)};
}

}  // namespace
}  // namespace pivrak::bench

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    pivrak::setSurfaceFormat();
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("pivrak-bench"));
    pivrak::Look look(application);
    if (argc > 1 && std::string(argv[1]) == "--view") {
        pivrak::bench::measure_view(look, argc > 2 ? argv[2] : "");
        return 0;
    }
    // Pictures first: what the large windows leave behind takes time of its own.
    pivrak::bench::measure_view(look, "");
    const auto few = pivrak::bench::measure(look, 10), many = pivrak::bench::measure(look, 10000);
    const auto row = [](const char* id, const char* work, double wanted, double ours, double theirs) {
        fmt::print("| {} | {} | at most {} ms | {:.1f} ms, {:.1f}x of {:.2f} ms with ten parts | {} |\n", id,
                   work, wanted, ours, ours / theirs, theirs, ours <= wanted ? "yes" : "**no**");
    };
    row("W1", "a click on one of 10 000 parts, 2 000 couplings", 50, many.click_ms, few.click_ms);
    row("W2", "a frame of dragging there", 16, many.drag_ms, few.drag_ms);
    return 0;
}
