// From raw to hung doors, hatches and wheels by hands: barrels of hinges are clicked in the view.
#include <gtest/gtest.h>

#include "tests/app/app_test.h"
#include "tests/support/hinge_truth.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using test::Hands;

const std::string model_folder = DEMO_MODELS;

class Hung : public ::testing::Test {
protected:
    Hands hands{test::look()};

    void open(const char* model) {
        hands.type("importPath", QString::fromStdString(model_folder + "/" + model));
        ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
        hands.click("acceptPreview");
    }

    const Part& part(const std::string& name) {
        return *hands.session.document().parts.find(hands.named(name));
    }

    /// Looks near at a barrel and clicks its rim, as a person who sees the ring does.
    void clickRimOf(const std::string& barrel) {
        hands.clickRow(hands.named(barrel));
        hands.key(Qt::Key_F);
        const auto pixel = hands.rimPixel(hands.named(barrel));
        ASSERT_TRUE(pixel.has_value()) << "no rim of " << barrel << " is to be seen";
        QTest::mouseClick(&hands.window.view(), Qt::LeftButton, {}, *pixel);
        hands.settle();
    }

    void hang(const std::string& name, const std::string& first, const std::string& second, double azimuth,
              double elevation, const char* low, const char* high) {
        SCOPED_TRACE(name);
        hands.key(Qt::Key_3);
        hands.window.view().setDirection(azimuth, elevation);
        hands.click("pickPlaces");
        clickRimOf(first);
        clickRimOf(second);
        ASSERT_EQ(hands.session.picks().places.size(), 2u);
        hands.clickRow(hands.named(name));
        hands.choose("pivotLineAxis", "z");
        hands.click("pivotLine");
        ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
        hands.click("acceptPreview");
        hands.click("pickPlaces");
        hands.key(Qt::Key_4);
        hands.click("tabJoint");
        hands.choose("jointKind", "hinge");
        hands.choose("jointAxis", "z");
        hands.type("limitMin", low);
        hands.type("limitMax", high);
        ASSERT_TRUE(part(name).joint.turn.limits.has_value()) << hands.refusals.join("; ").toStdString();
    }

    void hangWheels(const std::vector<std::string>& wheels) {
        hands.key(Qt::Key_3);
        for (const std::string& wheel : wheels)
            hands.clickRow(hands.named(wheel),
                           wheel == wheels.front() ? Qt::NoModifier : Qt::ControlModifier);
        hands.click("pivotCylinder");
        ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
        hands.click("acceptPreview");
        hands.key(Qt::Key_4);
        hands.click("tabJoint");
        hands.choose("jointKind", "hinge");
        hands.choose("jointAxis", "x");
    }
};

TEST_F(Hung, GroomerDoorsCoverAndWheels) {
    open("groomer.glb");
    hands.click("tabStand");
    hands.choose("standFront", "-x");
    hands.click("previewStand");
    hands.click("acceptPreview");
    hands.click("tabTidy");
    hands.click("tidyAll");
    // Outer rims of the barrels are seen from the left, the right, and from behind.
    hang("door", "door/hinge", "door/hinge 2", 1.2, 0.5, "-75", "0");
    hang("door 2", "door 2/hinge 3", "door 2/hinge 4", -1.2, 0.5, "0", "75");
    hang("engine cover", "engine/hinge 5", "engine/hinge 6", 2.6, 0.3, "-60", "0");
    std::vector<std::string> wheels{"wheel"};
    for (int i = 2; i <= 10; ++i) wheels.push_back(fmt::format("wheel {}", i));
    hangWheels(wheels);
    test::expect_hinges_true(hands.session.document(), demo::groomer_hinges(),
                             {{"door left", {"door", "door 2"}},
                              {"door right", {"door", "door 2"}},
                              {"engine cover", {"engine cover"}},
                              {"wheel", wheels}});
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
}

TEST_F(Hung, TruckDoorsTailgateAndWheels) {
    open("supply-truck.glb");
    hands.click("tabStand");
    hands.click("standGuess");
    hands.click("acceptPreview");
    hands.click("tabTidy");
    hands.click("tidyAll");
    hands.key(Qt::Key_2);
    hands.clickRow(hands.named("tyres"));
    hands.click("previewSplit");
    hands.key(Qt::Key_Return);
    std::vector<std::string> tyres;
    for (int i = 1; i <= 8; ++i) tyres.push_back(fmt::format("tyres {}", i));
    hang("door left", "door left/door hinge", "door left/door hinge 2", 1.2, 0.5, "-70", "0");
    hang("door right", "door right/door hinge 3", "door right/door hinge 4", -1.2, 0.5, "0", "70");
    hang("tailgate", "tailgate/tailgate hinge", "tailgate/tailgate hinge 2", 2.6, -0.15, "-90", "0");
    hangWheels(tyres);
    test::expect_hinges_true(hands.session.document(), demo::truck_hinges(),
                             {{"door left", {"door left"}},
                              {"door right", {"door right"}},
                              {"tailgate", {"tailgate"}},
                              {"wheel", tyres}});
}

}  // namespace
}  // namespace pivrak
