// A stranger's model from its file to a clip in which it rolls: by few actions of a person, and by the job
// they make.
#include <fstream>

#include "core/motion/evaluator.h"
#include "core/operations/job.h"
#include "tests/app/app_test.h"
#include "tests/support/temp_folder.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;

/// Corners and faces of one object, written corner by corner in centimetres, Y up, its front along -X of the
/// file's floor turned by a quarter: a tub and four wheels of eight sides, all one lump.
class Lump {
public:
    void box(const Vec3& low, const Vec3& high) {
        for (int i = 0; i < 8; ++i)
            corner(Vec3(i & 1 ? high.x() : low.x(), i & 2 ? high.y() : low.y(), i & 4 ? high.z() : low.z()));
        for (const auto& f :
             {std::array{1, 3, 4, 2}, {5, 6, 8, 7}, {1, 2, 6, 5}, {3, 7, 8, 4}, {1, 5, 7, 3}, {2, 4, 8, 6}})
            face({f[0], f[1], f[2], f[3]}, 8);
    }
    /// About y.
    void wheel(const Vec3& hub, double radius, double width) {
        constexpr int sides = 8;
        for (const double y : {-width / 2, width / 2})
            for (int k = 0; k < sides; ++k)
                corner(hub + Vec3(radius * std::cos(pi * (2 * k + 1) / sides), y,
                                  radius * std::sin(pi * (2 * k + 1) / sides)));
        std::vector<int> left, right;
        for (int k = 0; k < sides; ++k) {
            const int next = (k + 1) % sides;
            face({k + 1, k + 1 + sides, next + 1 + sides, next + 1}, 2 * sides);
            right.push_back(k + 1);
            left.insert(left.begin(), k + 1 + sides);
        }
        face(right, 2 * sides);
        face(left, 2 * sides);
    }
    std::string text() const { return "o thing\n" + corners_ + faces_; }

private:
    /// Of this program's axes and metres.
    void corner(const Vec3& p) {
        // Forward goes to the file's x, which comes in as this program's Y: it stands with its side to the
        // front.
        corners_ += fmt::format("v {:.4f} {:.4f} {:.4f}\n", 100 * p.x(), 100 * p.z(), -100 * p.y());
        ++count_;
    }
    void face(const std::vector<int>& of_last, int corners_of_last) {
        faces_ += "f";
        for (const int i : of_last) faces_ += fmt::format(" {}", count_ - corners_of_last + i);
        faces_ += "\n";
    }
    std::string corners_, faces_;
    int count_ = 0;
};

std::string stranger() {
    Lump lump;
    lump.box({-1.9, -0.7, 0.35}, {1.9, 0.7, 1.2});
    for (const double x : {1.25, -1.25})
        for (const double y : {0.85, -0.85}) lump.wheel({x, y, 0.32}, 0.32 / std::cos(pi / 8), 0.22);
    return lump.text();
}

/// How far each wheel rolls against how far it goes, from world frames alone: its turn about its axle between
/// frames.
void expect_rolling(const Document& document, double expected_way) {
    const auto evaluator = Evaluator::compile(document, document.clips.begin()->id);
    ASSERT_TRUE(evaluator.ok());
    ASSERT_EQ(document.vehicles.size(), 1u);
    const Vehicle& car = *document.vehicles.begin();
    ASSERT_EQ(car.wheels.size(), 4u);
    const Clip& clip = *document.clips.begin();
    Pose pose = evaluator->make_pose();
    for (const VehicleWheel& wheel : car.wheels) {
        const std::size_t slot = *evaluator->part_slot(wheel.wheel);
        double turned = 0, gone = 0;
        evaluator->evaluate(clip.first_frame, pose);
        Frame before = pose.world_from_part[slot];
        for (double at = clip.first_frame + 0.25; at <= clip.last_frame; at += 0.25) {
            evaluator->evaluate(at, pose);
            const Frame now = pose.world_from_part[slot];
            const Eigen::AngleAxisd turn(now.rotation * before.rotation.conjugate());
            turned += turn.angle() * turn.axis().y();
            gone += (now.translation - before.translation).x();
            before = now;
        }
        EXPECT_NEAR(gone, expected_way, 1e-3);
        EXPECT_NEAR(turned * 0.32 / std::cos(pi / 8), gone, 2e-3) << "rolled by its outer radius";
    }
}

TEST(RawToRolling, InFewActionsByHandAndByTheJobTheyMake) {
    test::TempFolder folder;
    folder.write("thing.obj", stranger());
    Hands hands(test::look());
    int actions = 0;
    const auto click = [&](const char* name) {
        ++actions;
        hands.click(name);
    };
    const auto key = [&](int which, Qt::KeyboardModifiers with = {}) {
        ++actions;
        hands.key(which, with);
    };
    hands.open_answer = QString::fromStdString((folder / "thing.obj").string());
    click("chooseModel");
    click("acceptPreview");
    click("tabStand");
    ++actions, hands.choose("standFront", QStringLiteral("+y"));
    ++actions, hands.type("standLength", "3.8 m");
    click("acceptPreview");
    key(Qt::Key_2);
    ++actions, hands.clickRow(hands.named("thing"));
    click("previewSplit");
    click("acceptPreview");
    key(Qt::Key_Escape);
    hands.session.select({});
    key(Qt::Key_5);
    click("tabVehicle");
    click("lookForWheels");
    EXPECT_TRUE(hands.text("vehicleFacts").contains("4 wheels on 2 axles"))
        << hands.text("vehicleFacts").toStdString();
    click("makeVehicle");
    click("acceptPreview");
    ASSERT_EQ(hands.session.document().vehicles.size(), 1u) << hands.refusals.join("; ").toStdString();
    const PartId place = hands.session.document().vehicles.begin()->place;
    ++actions, hands.clickRow(place);
    key(Qt::Key_K);
    key(Qt::Key_Right, Qt::ControlModifier);
    actions += 2, hands.typeAtGauge({place, ChannelKind::ShiftX}, "6 m");
    key(Qt::Key_K);
    EXPECT_LT(actions, 25);
    expect_rolling(hands.session.document(), 6);
    // The same steps as a job.
    json steps = hands.session.history().steps();
    OperationContext context;
    context.folder = folder / "";
    const auto done = run_job(make_registry(), {{"steps", steps}}, context);
    ASSERT_TRUE(done.ok()) << done.error().message;
    expect_rolling(done->document, 6);
}

}  // namespace
}  // namespace pivrak
