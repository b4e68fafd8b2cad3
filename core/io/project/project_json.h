#pragma once

#include <nlohmann/json.hpp>
#include <span>

#include "core/model/document.h"

namespace pivrak {

/// The words that enums are written with in files, jobs and tables.
std::string_view word(JointKind kind);
std::string_view word(Interpolation interpolation);
std::string_view word(Beyond beyond);
std::string_view word(ChannelKind channel);
std::string_view axis_word(int axis);
std::string_view word(ControlForm form);
std::string_view word(ControlColor color);
std::string_view word(NameLetters letters);
std::string_view word(NameSeparator separator);
std::string_view word(SideTags tags);
std::optional<ControlForm> control_form_from(std::string_view word);
std::optional<ControlColor> control_color_from(std::string_view word);
std::optional<NameLetters> name_letters_from(std::string_view word);
std::optional<NameSeparator> name_separator_from(std::string_view word);
std::optional<SideTags> side_tags_from(std::string_view word);
std::optional<JointKind> joint_kind_from(std::string_view word);
std::optional<Interpolation> interpolation_from(std::string_view word);
std::optional<Beyond> beyond_from(std::string_view word);
std::optional<ChannelKind> channel_kind_from(std::string_view word);
std::optional<int> axis_from(std::string_view word);
std::span<const ChannelKind> all_channel_kinds();

/// The form in which projects are written; older ones are read too. 2: joints of all kinds. 3: channels of
/// elements. 4: frames of vehicles have other names.
constexpr int format_version = 4;

/// Numbers of glTF nodes, meshes and so on that belong to each entry, in the order of the table.
struct GltfIndices {
    std::vector<int> nodes, shape_nodes, meshes, images;
    std::vector<MaterialId> material_of;           ///< of each material of the file; none where it is its own
    std::vector<std::vector<std::string>> groups;  ///< of each shape's runs; empty when none has a name
};

/// The rig part of a project file. Angles are in radians, lengths in metres.
nlohmann::json project_to_json(const Document& document, const GltfIndices& indices);

/// Fills all but geometry, frames and pictures, which stand in the standard part of the file.
/// Errors: `project.newer`, `project.damaged`.
struct ProjectContents {
    Document document;
    GltfIndices indices;
};
Result<ProjectContents> project_from_json(const nlohmann::json& json);

}  // namespace pivrak
