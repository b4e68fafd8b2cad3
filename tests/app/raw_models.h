// The demo's awkward models from raw to clean parts, by mouse and keys and by a job, with the same result;
// and the tools of Intake and Split as hands use them.
#pragma once

#include <gtest/gtest.h>

#include <QDragEnterEvent>
#include <QLabel>
#include <QListWidget>
#include <QMimeData>
#include <QSlider>
#include <QTableWidget>
#include <QTest>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/mesh_faults.h"
#include "core/io/delivery/deliver.h"
#include "core/io/gltf/gltf_write.h"
#include "core/model/recognised.h"
#include "core/operations/job.h"
#include "demo/vehicles.h"
#include "tests/app/app_test.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;

const std::string models = DEMO_MODELS;

inline Document by_job(const json& job) {
    const auto done = run_job(make_registry(), job, {models, {}});
    EXPECT_TRUE(done.ok()) << (done ? "" : done.error().message);
    return done ? done->document : Document{};
}

inline void open(Hands& hands, const char* model) {
    hands.type("importPath", QString::fromStdString(models + "/" + model));
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
}

inline QPoint gripPixel(Hands& hands, CuttingSheet::Grip grip) {
    const auto place = hands.window.view().sheet()->place(grip, hands.window.view().camera());
    return {static_cast<int>(place->x()), static_cast<int>(place->y())};
}

inline void drop(Hands& hands, const QStringList& paths, const QPoint& at = {600, 300}) {
    QMimeData data;
    QList<QUrl> urls;
    for (const QString& path : paths) urls << QUrl::fromLocalFile(path);
    data.setUrls(urls);
    QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&hands.window, &enter);
    ASSERT_TRUE(enter.isAccepted()) << "the window takes files";
    QDropEvent drop(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&hands.window, &drop);
    hands.settle();
}

inline void drop(Hands& hands, const QString& path) {
    drop(hands, QStringList{path});
}

}  // namespace
}  // namespace pivrak
