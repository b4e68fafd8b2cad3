// Pictures of models as they come in and are taken apart.
#include "tests/support/photographer.h"

namespace pivrak {

using test::Hands;

void Photographer::intake() {
    open("groomer.glb");
    hands_.click("acceptPreview");
    take("01-intake-before");
    hands_.click("tabStand");
    hands_.choose("standFront", "-x");
    hands_.click("previewStand");
    hands_.click("acceptPreview");
    hands_.click("tabTidy");
    hands_.click("tidyAll");
}

void Photographer::split() {
    open("drive-station.obj");
    hands_.click("acceptPreview");
    hands_.key(Qt::Key_2);
    hands_.clickRow(hands_.named("steel"));
    hands_.clickRow(hands_.named("paint"), Qt::ControlModifier);
    hands_.clickRow(hands_.named("cast"), Qt::ControlModifier);
    hands_.click("previewSplit");
    take("05-split");
    hands_.click("acceptPreview");
}

void Photographer::groomerDoors() {
    open("groomer.glb");
    hands_.click("acceptPreview");
    run({{"op", "model.stand"}, {"up", "+z"}, {"front", "-x"}, {"ground", true}, {"centre", true}});
    run({{"op", "tree.tidy"}, {"what", "all"}});
    hands_.key(Qt::Key_3);
    hands_.window.view().setDirection(1.15, 0.35);
    hands_.click("pickPlaces");
    for (const char* barrel : {"door/hinge", "door/hinge 2"}) {
        hands_.clickRow(hands_.named(barrel));
        hands_.key(Qt::Key_F);
        if (const auto pixel = hands_.rimPixel(hands_.named(barrel)))
            QTest::mouseClick(&hands_.window.view(), Qt::LeftButton, {}, *pixel);
    }
    hands_.clickRow(hands_.named("door"));
    hands_.key(Qt::Key_F);
    hands_.choose("pivotLineAxis", "z");
    hands_.click("pivotLine");
    hands_.click("acceptPreview");
    hands_.click("pickPlaces");
    run({{"op", "joint.set"}, {"parts", {"door"}}, {"kind", "hinge"}, {"axis", "z"}});
    hands_.click("tabSwing");
    hands_.type("swingFrom", "-150", false);
    hands_.type("swingTo", "30", false);
    hands_.click("swingRun");
    hands_.session.settle();
    take("10-swing");
    hands_.click("tabPlace");
}

}  // namespace pivrak
