// The words that enums are written with in files, jobs and tables.
#include <array>

#include "core/io/project/project_json.h"

namespace pivrak {
namespace {

template <class T, std::size_t n>
using Words = std::array<std::pair<T, std::string_view>, n>;

constexpr Words<JointKind, 6> joint_words{{{JointKind::Fixed, "fixed"},
                                           {JointKind::Hinge, "hinge"},
                                           {JointKind::Slide, "slide"},
                                           {JointKind::Cylinder, "cylinder"},
                                           {JointKind::Ball, "ball"},
                                           {JointKind::Free, "free"}}};
constexpr Words<ChannelKind, 12> channel_words{{{ChannelKind::Turn, "turn"},
                                                {ChannelKind::Shift, "shift"},
                                                {ChannelKind::ShiftX, "shift_x"},
                                                {ChannelKind::ShiftY, "shift_y"},
                                                {ChannelKind::ShiftZ, "shift_z"},
                                                {ChannelKind::TurnX, "turn_x"},
                                                {ChannelKind::TurnY, "turn_y"},
                                                {ChannelKind::TurnZ, "turn_z"},
                                                {ChannelKind::Along, "along"},
                                                {ChannelKind::Travel, "travel"},
                                                {ChannelKind::Slack, "slack"},
                                                {ChannelKind::Blend, "blend"}}};
constexpr Words<Interpolation, 2> interpolation_words{
    {{Interpolation::Linear, "linear"}, {Interpolation::Smooth, "smooth"}}};
constexpr Words<ControlForm, 5> form_words{{{ControlForm::Ring, "ring"},
                                            {ControlForm::Box, "box"},
                                            {ControlForm::Arrow, "arrow"},
                                            {ControlForm::Cross, "cross"},
                                            {ControlForm::Plate, "plate"}}};
constexpr Words<ControlColor, 7> color_words{{{ControlColor::Petrol, "petrol"},
                                              {ControlColor::Steel, "steel"},
                                              {ControlColor::Leaf, "leaf"},
                                              {ControlColor::Saffron, "saffron"},
                                              {ControlColor::Rust, "rust"},
                                              {ControlColor::Ink, "ink"},
                                              {ControlColor::Plum, "plum"}}};
constexpr Words<NameLetters, 3> letters_words{
    {{NameLetters::Any, "any"}, {NameLetters::Lower, "lower"}, {NameLetters::Capital, "capital"}}};
constexpr Words<NameSeparator, 4> separator_words{{{NameSeparator::Any, "any"},
                                                   {NameSeparator::Space, "space"},
                                                   {NameSeparator::Underscore, "underscore"},
                                                   {NameSeparator::Hyphen, "hyphen"}}};
constexpr Words<SideTags, 3> tag_words{
    {{SideTags::Any, "any"}, {SideTags::Words, "words"}, {SideTags::Letters, "letters"}}};
constexpr Words<int, 3> axis_words{{{0, "x"}, {1, "y"}, {2, "z"}}};

template <class T, std::size_t n>
std::string_view word_of(const Words<T, n>& words, T value) {
    for (const auto& [known, text] : words)
        if (known == value) return text;
    return "";
}

template <class T, std::size_t n>
std::optional<T> value_of(const Words<T, n>& words, std::string_view text) {
    for (const auto& [known, spelled] : words)
        if (spelled == text) return known;
    return std::nullopt;
}

}  // namespace

std::string_view word(JointKind kind) {
    return word_of(joint_words, kind);
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
    return value_of(form_words, text);
}
std::optional<ControlColor> control_color_from(std::string_view text) {
    return value_of(color_words, text);
}
std::optional<NameLetters> name_letters_from(std::string_view text) {
    return value_of(letters_words, text);
}
std::optional<NameSeparator> name_separator_from(std::string_view text) {
    return value_of(separator_words, text);
}
std::optional<SideTags> side_tags_from(std::string_view text) {
    return value_of(tag_words, text);
}
std::optional<JointKind> joint_kind_from(std::string_view text) {
    return value_of(joint_words, text);
}
std::optional<Interpolation> interpolation_from(std::string_view text) {
    return value_of(interpolation_words, text);
}
std::optional<ChannelKind> channel_kind_from(std::string_view text) {
    return value_of(channel_words, text);
}
std::optional<int> axis_from(std::string_view text) {
    return value_of(axis_words, text);
}

std::span<const ChannelKind> all_channel_kinds() {
    static const auto kinds = [] {
        std::array<ChannelKind, channel_words.size()> all;
        for (std::size_t i = 0; i < all.size(); ++i) all[i] = channel_words[i].first;
        return all;
    }();
    return kinds;
}

}  // namespace pivrak
