// The hands that take the pictures.
#pragma once

#include <gtest/gtest.h>

#include "tests/support/window.h"

namespace pivrak {

/// Drives the real window through the demo and keeps a picture of each main view.
class Photographer {
public:
    Photographer(Look& look, QString models, QString pictures);
    void all();

private:
    void take(const char* name);
    void open(const char* model);
    /// The groomer as it comes: backwards and off the ground; then stood up and tidied.
    void intake();
    void split();
    void lookAt(const char* part, double azimuth, double elevation);
    void run(const nlohmann::json& step);
    /// The left door of the groomer gets its hinge line by two barrels, is swept, and hangs on a control.
    void groomerDoors();
    void tree();
    void rig();
    /// The station's chain with its ways to whole links.
    void chain();
    /// The groomer on its tracks, from its job.
    void groomer();
    void keys();
    void handover();
    /// The station's shutter by its cord, its next formula half written; and who drives whom.
    void drivers();
    std::string model(const char* name) const;
    /// The truck found on the snow field, and its road drawn.
    void vehicle();
    /// A lamp that follows a crate which a crane takes from a belt.
    void constraints();
    /// The groomer's blade on its four-bar, lifted by its rams.
    void linkage();
    /// A loading crane in its finished shapes, whose hook follows a crate; the way of its stick, with pale
    /// poses; its clips, one of them a sequence; and a contact sheet.
    void reach();
    void motion();
    void sequence();
    void saddle();
    void showCard(const char* of);
    /// What the crane's controller would read, as dimensions.
    void measures();
    void runJob(const char* name);

    Look& look_;
    QString models_, pictures_;
    test::Hands hands_;
};

}  // namespace pivrak
