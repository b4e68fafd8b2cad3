#pragma once

#include <gtest/gtest.h>

#include <QLabel>
#include <QListWidget>
#include <QTableWidget>
#include <QTest>

#include "core/io/atomic_file.h"
#include "core/io/project/project_file.h"
#include "core/operations/job.h"
#include "tests/app/app_test.h"
#include "tests/support/temp_folder.h"
#include "tests/support/window.h"

namespace pivrak {

/// The demo's station, opened in a window.
struct Station : testing::Test {
    test::Hands hands{test::look(), QStringLiteral(DEMO_MODELS)};
    Station() {
        hands.window.openFile(QStringLiteral(FINISHED_STATION));
        hands.settle();
    }
};

namespace {

using nlohmann::json;
using test::Hands;
using test::piece_name;
using test::TempFolder;

const QString raw_station = QStringLiteral(DEMO_MODELS "/drive-station.obj");
const QString finished_station = QStringLiteral(FINISHED_STATION);

}  // namespace
}  // namespace pivrak
