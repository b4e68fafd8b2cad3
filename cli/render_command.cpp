#include "cli/render_command.h"

#include <fmt/format.h>
#include <unistd.h>

#include <QApplication>
#include <QStandardPaths>
#include <cstdlib>

#include "app/film/film.h"
#include "app/shell/surface.h"
#include "core/io/project/project_file.h"

namespace pivrak::cli {
namespace {

/// Qt draws with OpenGL only where there is a display. Answers only when that could not be had.
int on_virtual_display(char** argv) {
    const QString tool = QStandardPaths::findExecutable(QStringLiteral("xvfb-run"));
    if (tool.isEmpty() || std::getenv("PIVRAK_VIRTUAL")) {
        fmt::print(stderr, "drawing needs a display, or the program xvfb-run for a virtual one\n");
        return 2;
    }
    setenv("PIVRAK_VIRTUAL", "1", 1);
    std::vector<std::string> words{tool.toStdString(), "-a", "-s", "-screen 0 1280x800x24"};
    for (char** word = argv; *word; ++word) words.emplace_back(*word);
    std::vector<char*> given;
    for (std::string& word : words) given.push_back(word.data());
    given.push_back(nullptr);
    execv(given[0], given.data());
    return 2;
}

FilmWish wish_of(const RenderCommand& command) {
    FilmWish wish;
    wish.form = command.as == "sheet"   ? FilmWish::Form::Sheet
                : command.as == "movie" ? FilmWish::Form::Movie
                                        : FilmWish::Form::Pictures;
    wish.path = command.out;
    wish.clip = command.clip;
    wish.camera = command.camera;
    if (command.has_from) wish.from = command.from;
    if (command.has_to) wish.to = command.to;
    wish.every = command.every;
    wish.size = {command.width, command.height};
    wish.columns = command.columns;
    wish.edges = !command.no_edges;
    return wish;
}

}  // namespace

int render(const RenderCommand& command, int argc, char** argv) {
    if (!std::getenv("DISPLAY") && !std::getenv("WAYLAND_DISPLAY")) return on_virtual_display(argv);
    const auto loaded = open_project(command.file);
    if (!loaded) {
        fmt::print(stderr, "{}\n", loaded.error().message);
        return 1;
    }
    setSurfaceFormat();
    QApplication application(argc, argv);
    Look look(application);
    look.setNight(command.night);
    Film film(*loaded, wish_of(command), look);
    int code = 1;
    QObject::connect(&film, &Film::finished, &application, [&](const Result<FilmReport>& report) {
        if (report) {
            fmt::print("{} pictures, {} files\n", report->pictures, report->files.size());
            for (const auto& file : report->files) fmt::print("{}\n", file.string());
            code = 0;
        } else {
            fmt::print(stderr, "{}\n", report.error().message);
        }
        application.exit(code);
    });
    QTimer::singleShot(0, &film, &Film::start);
    application.exec();
    return code;
}

}  // namespace pivrak::cli
