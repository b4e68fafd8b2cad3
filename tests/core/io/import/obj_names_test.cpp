// Names of objects and groups in OBJ files, as exporters write them.
// Source of the syntax: the OBJ format's description of grouping, `g` and `o`.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/io/import/import_model.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

std::string corners_of(int number) {
    return fmt::format("v {0} 0 0\nv {0} 1 0\nv {0} 0 1\n", number);
}

std::string face_of(int number) {
    return fmt::format("f {} {} {}\n", 3 * number + 1, 3 * number + 2, 3 * number + 3);
}

ImportOutcome read_obj(const std::string& name, const std::string& text) {
    test::TempFolder folder;
    auto in = import_model(empty_document(), folder.write(name, text), {});
    EXPECT_TRUE(in.ok()) << in.error().message;
    return in ? *in : ImportOutcome{empty_document(), {}, {}};
}

std::vector<std::string> names_of(const Document& document) {
    std::vector<std::string> names;
    for (const Part& part : document.parts) names.push_back(part.name);
    return names;
}

using Names = std::vector<std::string>;

TEST(ObjNames, EqualNamesStayTwoObjects) {
    const auto in =
        read_obj("machine.obj", corners_of(0) + corners_of(1) + corners_of(2) + "o bolt\n" + face_of(0) +
                                    "o plate\n" + face_of(1) + "o bolt\n" + face_of(2));
    EXPECT_EQ(names_of(in.document), (Names{"machine", "bolt", "plate", "bolt"}));
    std::vector<double> at;
    for (const Part& part : in.document.parts)
        if (const Shape* shape = in.document.shapes.find(part.shape)) {
            EXPECT_EQ(shape->mesh->triangle_count(), 1u) << part.name;
            at.push_back(shape->bounds.middle().y());
        }
    EXPECT_EQ(at, (std::vector<double>{0, 1, 2})) << "each has its own face: x in the file is y here";
}

TEST(ObjNames, AreWholeLines) {
    const auto in = read_obj("machine.obj", corners_of(0) + corners_of(1) + "o  big wheel, left \r\n" +
                                                face_of(0) + "o 12\n" + face_of(1));
    EXPECT_EQ(names_of(in.document), (Names{"machine", "big wheel, left", "12"}));
}

/// `o` and `g` for each object, as many exporters write it: no node that is empty.
TEST(ObjNames, AnObjectOfOneGroupIsOnePart) {
    std::string text;
    constexpr int objects = 300;
    for (int i = 0; i < objects; ++i)
        text += corners_of(i) + fmt::format("o part {0}\ng part {0}_mesh\n", i) + face_of(i);
    const auto in = read_obj("machine.obj", text);
    ASSERT_EQ(in.document.parts.size(), objects + 1u);
    for (const Part& part : in.document.parts)
        if (part.parent) EXPECT_TRUE(part.shape) << part.name;
    const auto seventh = find_part(in.document, "part 7");
    ASSERT_TRUE(seventh.ok());
    const Shape& shape = *in.document.shapes.find(in.document.parts.find(*seventh)->shape);
    EXPECT_EQ(shape.mesh->submeshes[0].group, "part 7_mesh") << "the group's name is kept with its faces";
}

TEST(ObjNames, AnObjectOfSeveralGroupsCarriesThem) {
    const auto in =
        read_obj("machine.obj", corners_of(0) + corners_of(1) + corners_of(2) + "o arm\ng left\n" +
                                    face_of(0) + "g right\n" + face_of(1) + "o base\n" + face_of(2));
    EXPECT_EQ(names_of(in.document), (Names{"machine", "arm", "left", "right", "base"}));
    const PartId arm = *find_part(in.document, "arm");
    for (const char* group : {"left", "right"})
        EXPECT_EQ(in.document.parts.find(*find_part(in.document, group))->parent, arm);
    EXPECT_NE(in.document.parts.find(*find_part(in.document, "base"))->parent, arm);
}

TEST(ObjNames, AnObjectNamedLikeItsFileIsOnePart) {
    const auto one = read_obj("crate.obj", corners_of(0) + "o crate\n" + face_of(0));
    EXPECT_EQ(names_of(one.document), (Names{"crate"}));
    EXPECT_TRUE(find_part(one.document, "crate").ok());
    const auto two = read_obj(
        "crate.obj", corners_of(0) + corners_of(1) + "o crate\n" + face_of(0) + "o lid\n" + face_of(1));
    EXPECT_EQ(names_of(two.document), (Names{"crate model", "crate", "lid"}));
}

TEST(ObjNames, WhatIsEmptyIsTold) {
    const auto in = read_obj("machine.obj", corners_of(0) + "o nothing\no plate\n" + face_of(0) + "o none\n");
    EXPECT_EQ(names_of(in.document), (Names{"machine", "plate"}));
    std::string told;
    for (const std::string& line : in.messages) told += line + "\n";
    EXPECT_NE(told.find("2 objects without a face left out"), std::string::npos) << told;
}

/// Groups without objects are parts, as before; one that goes on after another material is one.
TEST(ObjNames, GroupsAloneAreParts) {
    const auto in =
        read_obj("machine.obj", corners_of(0) + corners_of(1) + corners_of(2) + "g wheel\n" + face_of(0) +
                                    "g wheel\n" + face_of(1) + "g hub\n" + face_of(2));
    EXPECT_EQ(names_of(in.document), (Names{"machine", "wheel", "hub"}));
}

}  // namespace
}  // namespace pivrak
