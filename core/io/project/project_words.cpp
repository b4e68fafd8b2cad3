// The words that enums are written with in files, jobs and tables.
#include <array>

#include "core/io/project/project_json.h"
#include "core/model/field.h"

namespace pivrak {
namespace {

// In the order of their enums.
constexpr ChoiceWords<6> joint_words{"fixed", "hinge", "slide", "cylinder", "ball", "free"};
constexpr ChoiceWords<19> channel_words{
    "turn", "shift", "shift_x", "shift_y", "shift_z", "turn_x", "turn_y", "turn_z", "along", "travel",
    "size", "slack", "blend",   "stretch", "length",  "angle",  "count",  "bend",   "speed"};
constexpr ChoiceWords<5> interpolation_words{"linear", "smooth", "stepped", "flat", "own"};
constexpr ChoiceWords<5> beyond_words{"hold", "straight", "repeat", "add_up", "swing"};
constexpr ChoiceWords<5> form_words{"ring", "box", "arrow", "cross", "plate"};
constexpr ChoiceWords<7> color_words{"petrol", "steel", "leaf", "saffron", "rust", "ink", "plum"};
constexpr ChoiceWords<3> letters_words{"any", "lower", "capital"};
constexpr ChoiceWords<4> separator_words{"any", "space", "underscore", "hyphen"};
constexpr ChoiceWords<3> tag_words{"any", "words", "letters"};
constexpr ChoiceWords<3> axis_words{"x", "y", "z"};

}  // namespace

std::string_view word(JointKind kind) {
    return word_of(joint_words, kind);
}
std::string_view word(Beyond beyond) {
    return word_of(beyond_words, beyond);
}

std::string_view word(Interpolation interpolation) {
    return word_of(interpolation_words, interpolation);
}
std::string_view word(ChannelKind channel) {
    return word_of(channel_words, channel);
}
std::string_view axis_word(int axis) {
    return word_of(axis_words, axis);
}
std::string_view word(ControlForm form) {
    return word_of(form_words, form);
}
std::string_view word(ControlColor color) {
    return word_of(color_words, color);
}
std::string_view word(NameLetters letters) {
    return word_of(letters_words, letters);
}
std::string_view word(NameSeparator separator) {
    return word_of(separator_words, separator);
}
std::string_view word(SideTags tags) {
    return word_of(tag_words, tags);
}
std::optional<ControlForm> control_form_from(std::string_view text) {
    return value_of<ControlForm>(form_words, text);
}
std::optional<ControlColor> control_color_from(std::string_view text) {
    return value_of<ControlColor>(color_words, text);
}
std::optional<NameLetters> name_letters_from(std::string_view text) {
    return value_of<NameLetters>(letters_words, text);
}
std::optional<NameSeparator> name_separator_from(std::string_view text) {
    return value_of<NameSeparator>(separator_words, text);
}
std::optional<SideTags> side_tags_from(std::string_view text) {
    return value_of<SideTags>(tag_words, text);
}
std::optional<JointKind> joint_kind_from(std::string_view text) {
    return value_of<JointKind>(joint_words, text);
}
std::optional<Beyond> beyond_from(std::string_view text) {
    return value_of<Beyond>(beyond_words, text);
}

std::optional<Interpolation> interpolation_from(std::string_view text) {
    return value_of<Interpolation>(interpolation_words, text);
}
std::optional<ChannelKind> channel_kind_from(std::string_view text) {
    return value_of<ChannelKind>(channel_words, text);
}
std::optional<int> axis_from(std::string_view text) {
    return value_of<int>(axis_words, text);
}

std::span<const ChannelKind> all_channel_kinds() {
    static const auto kinds = [] {
        std::array<ChannelKind, channel_words.size()> all;
        for (std::size_t i = 0; i < all.size(); ++i) all[i] = static_cast<ChannelKind>(i);
        return all;
    }();
    return kinds;
}

}  // namespace pivrak
