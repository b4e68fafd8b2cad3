#include "app/drive_map/map_layout.h"

#include <gtest/gtest.h>

namespace pivrak {
namespace {

ChannelRef turn(std::uint64_t part) {
    return {PartId{part}, ChannelKind::Turn};
}

DriveMap tree() {
    return {{turn(1), turn(2), turn(3), turn(4)},
            {{turn(1), turn(2), "a"}, {turn(1), turn(3), "b"}, {turn(3), turn(4), "c"}}};
}

TEST(MapLayout, PutsDriversLeftOfWhatTheyMove) {
    const MapLayout layout = lay_out(tree(), {100, 30});
    ASSERT_EQ(layout.boxes.size(), 4u);
    EXPECT_LT(layout.boxes[0].right(), layout.boxes[1].left());
    EXPECT_LT(layout.boxes[0].right(), layout.boxes[2].left());
    EXPECT_LT(layout.boxes[2].right(), layout.boxes[3].left());
    for (std::size_t i = 0; i < 4; ++i) {
        EXPECT_EQ(layout.boxes[i].size(), QSizeF(100, 30));
        EXPECT_TRUE(QRectF(QPointF(0, 0), layout.size).adjusted(-1, -1, 1, 1).contains(layout.boxes[i]));
        for (std::size_t k = 0; k < i; ++k) EXPECT_FALSE(layout.boxes[i].intersects(layout.boxes[k]));
    }
}

TEST(MapLayout, LinesRunInRightAnglesFromBoxToBox) {
    const DriveMap map = tree();
    const MapLayout layout = lay_out(map, {100, 30});
    ASSERT_EQ(layout.lines.size(), 3u);
    const int from[] = {0, 0, 2}, to[] = {1, 2, 3};
    for (std::size_t i = 0; i < 3; ++i) {
        const QPolygonF& line = layout.lines[i];
        ASSERT_GE(line.size(), 2);
        EXPECT_TRUE(
            layout.boxes[static_cast<std::size_t>(from[i])].adjusted(-2, -2, 2, 2).contains(line.first()));
        EXPECT_TRUE(
            layout.boxes[static_cast<std::size_t>(to[i])].adjusted(-2, -2, 2, 2).contains(line.last()));
        for (int k = 1; k < line.size(); ++k) {
            const QPointF way = line[k] - line[k - 1];
            EXPECT_LT(std::min(std::abs(way.x()), std::abs(way.y())), 1.0);
        }
    }
}

TEST(MapLayout, TakesCirclesAndTwoLinesBetweenTheSame) {
    const DriveMap map{{turn(1), turn(2)},
                       {{turn(1), turn(2), "a"}, {turn(2), turn(1), "b"}, {turn(1), turn(2), "c"}}};
    const MapLayout layout = lay_out(map, {100, 30});
    EXPECT_EQ(layout.boxes.size(), 2u);
    EXPECT_EQ(layout.lines.size(), 3u);
}

TEST(MapLayout, OfNothingIsEmpty) {
    const MapLayout layout = lay_out({}, {100, 30});
    EXPECT_TRUE(layout.boxes.empty());
    EXPECT_TRUE(layout.lines.empty());
}

}  // namespace
}  // namespace pivrak
