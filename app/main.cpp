#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QTimer>

#include "app/shell/main_window.h"
#include "app/shell/surface.h"

namespace {

/// The examples lie beside the installed program, or in the tree it was built from.
QString examplesFolder() {
    const QDir program(QCoreApplication::applicationDirPath());
    for (const char* place : {"../share/pivrak/examples", "../../demo/models"})
        if (const QDir folder(program.filePath(QLatin1String(place))); folder.exists())
            return folder.canonicalPath();
    return {};
}

}  // namespace

int main(int argc, char** argv) {
    pivrak::setSurfaceFormat();
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("pivrak"));
    QCoreApplication::setOrganizationName(QStringLiteral("pivrak"));
    QCoreApplication::setApplicationVersion(QStringLiteral("0.1.0"));
    QCommandLineParser parser;
    parser.setApplicationDescription(QStringLiteral("Rigs and animates machines, vehicles and props."));
    parser.addPositionalArgument(QStringLiteral("file"), QStringLiteral("a project or a model to open"),
                                 QStringLiteral("[file]"));
    const QCommandLineOption first_frame(
        QStringLiteral("time-first-frame"),
        QStringLiteral(
            "quits after the first full picture; prints the seconds to the first one, and to that"));
    parser.addOption(first_frame);
    parser.addHelpOption();
    parser.addVersionOption();
    parser.process(application);

    pivrak::Look look(application);
    pivrak::Session session;
    pivrak::MainWindow window(session, look, pivrak::Questions::asked_in_dialogs(), examplesFolder());
    window.show();
    if (!parser.positionalArguments().isEmpty())
        window.openFile(parser.positionalArguments().front());
    else if (!parser.isSet(first_frame))
        QTimer::singleShot(0, &window, [&window] { window.offerLeftWork(); });
    if (parser.isSet(first_frame)) pivrak::quitAfterFirstFrame(window.view());
    return application.exec();
}
