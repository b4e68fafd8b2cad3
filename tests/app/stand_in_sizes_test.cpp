// Measures of stand-ins changed later, by hand.
#include <gtest/gtest.h>

#include "tests/app/app_test.h"
#include "tests/support/steps.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using test::Hands;

TEST(StandInSizes, MeasuresArePickedUpTypedAndWhatCountsOnThemFollows) {
    Hands hands(test::look());
    test::runAll(hands, {{{"op", "gears.build"}, {"stages", "20:40"}, {"module", 0.005}, {"width", 0.03}},
                         test::small_box("Crate", 1, 0)});
    hands.settle();
    hands.key(Qt::Key_1);
    hands.click("tabStand-ins");
    hands.pickNothing();
    EXPECT_FALSE(hands.find("sizes_teeth")) << "nothing is picked";
    EXPECT_FALSE(hands.find("previewSizes")->isEnabled());
    hands.clickRow(hands.named("Crate"));
    EXPECT_EQ(hands.find<QLineEdit>("sizes_length")->text(), "60.00 mm");
    EXPECT_FALSE(hands.find("sizes_teeth")) << "a box has none";

    hands.clickRow(hands.named("Gear 20T"));
    ASSERT_TRUE(hands.find<QLineEdit>("sizes_teeth"));
    EXPECT_EQ(hands.find<QLineEdit>("sizes_teeth")->text(), "20");
    EXPECT_EQ(hands.find<QLineEdit>("sizes_module")->text(), "5.00 mm");
    EXPECT_FALSE(hands.find("previewSizes")->isEnabled()) << "nothing else was typed yet";
    hands.type("sizes_teeth", "25", false);
    hands.settle();
    EXPECT_TRUE(hands.text("sizesFacts").contains("Gear 20T")) << hands.text("sizesFacts").toStdString();
    hands.click("previewSizes");
    hands.click("acceptPreview");
    const Document& d = hands.session.document();
    EXPECT_EQ(d.couplings.begin()->as<GearPair>()->driver_teeth, 25)
        << hands.refusals.join("; ").toStdString();
    // Only what was typed is changed.
    const Part& gear = *d.parts.find(hands.named("Gear 20T"));
    EXPECT_EQ(d.shapes.find(gear.shape)->made_of["module"], 0.005);
    EXPECT_EQ(hands.session.history().steps().back().size(), 3u)
        << hands.session.history().steps().back().dump();
    EXPECT_FALSE(hands.find("previewSizes")->isEnabled());

    // A plain large gear gets a web with holes: less of it is left.
    hands.clickRow(hands.named("Gear 40T"));
    const auto triangles = [&] {
        const Document& now = hands.session.document();
        return now.shapes.find(now.parts.find(hands.named("Gear 40T"))->shape)->mesh->triangle_count();
    };
    const std::size_t plain = triangles();
    hands.click("sizes_web");
    hands.click("previewSizes");
    hands.click("acceptPreview");
    EXPECT_GT(triangles(), plain) << hands.refusals.join("; ").toStdString();
}

}  // namespace
}  // namespace pivrak
