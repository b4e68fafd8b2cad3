#include <gtest/gtest.h>

#include <QApplication>
#include <QSettings>
#include <QStandardPaths>
#include <QSurfaceFormat>
#include <QTemporaryDir>

#include "app/shell/surface.h"
#include "tests/app/app_test.h"

namespace {
pivrak::Look* shared_look = nullptr;
}

pivrak::Look& pivrak::test::look() {
    return *shared_look;
}

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    QStandardPaths::setTestModeEnabled(true);
    pivrak::setSurfaceFormat();
    // Software draws the tests' pictures: smooth edges would take most of their time.
    QSurfaceFormat format = QSurfaceFormat::defaultFormat();
    format.setSamples(0);
    QSurfaceFormat::setDefaultFormat(format);
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("pivrak-tests"));
    QCoreApplication::setOrganizationName(QStringLiteral("pivrak-tests"));
    // Settings of this run alone: another one beside it has recent projects of its own.
    const QTemporaryDir settings;
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings.path());
    QSettings().clear();
    pivrak::Look look(application);
    shared_look = &look;
    return RUN_ALL_TESTS();
}
