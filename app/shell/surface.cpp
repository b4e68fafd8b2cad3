#include "app/shell/surface.h"

#include <fmt/format.h>
#include <unistd.h>

#include <QCoreApplication>
#include <QSurfaceFormat>
#include <QTimer>
#include <ctime>
#include <fstream>
#include <memory>
#include <string>
#include <utility>

#include "app/view/viewport.h"

namespace pivrak {

void setSurfaceFormat() {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    format.setDepthBufferSize(24);
    format.setStencilBufferSize(8);
    QSurfaceFormat::setDefaultFormat(format);
}

namespace {

/// Seconds since this process was started, by the system's own account.
double seconds_since_start() {
    std::ifstream stat("/proc/self/stat");
    std::string text((std::istreambuf_iterator<char>(stat)), {});
    // The start time is the 20th field after the program's name, which may hold blanks.
    std::size_t at = text.rfind(')');
    for (int field = 0; field < 20; ++field) at = text.find(' ', at + 1);
    const double started = std::stod(text.substr(at + 1)) / static_cast<double>(sysconf(_SC_CLK_TCK));
    timespec now{};
    clock_gettime(CLOCK_BOOTTIME, &now);
    return static_cast<double>(now.tv_sec) + static_cast<double>(now.tv_nsec) * 1e-9 - started;
}

}  // namespace

void quitAfterFirstFrame(Viewport& view) {
    // A picture is drawn while the window is painted: it stands on the screen once that is over.
    const auto first = std::make_shared<bool>(true);
    QObject::connect(&view, &Viewport::painted, &view, [&view, first](bool full) {
        QTimer::singleShot(0, &view, [first, full] {
            const double seconds = seconds_since_start();
            if (std::exchange(*first, false)) fmt::print("{:.3f} ", seconds);
            if (!full) return;
            fmt::print("{:.3f}\n", seconds);
            QCoreApplication::quit();
        });
    });
}

}  // namespace pivrak
