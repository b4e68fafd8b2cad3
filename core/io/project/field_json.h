#pragma once

#include <fmt/format.h>

#include <type_traits>

#include "core/io/project/json_fields.h"
#include "core/io/project/project_json.h"
#include "core/model/field.h"

namespace pivrak::fields {

// The visitors by which an element's fields are written to a project file and read from it. A name in a file
// is the field's name; a channel has its part under it, and its kind under `NAME_channel`.

nlohmann::json channel_to_json(const Channel& channel);
/// Throws as `ReadFields`.
Channel channel_from_json(const nlohmann::json& entry);

template <class T>
using Usual = std::type_identity_t<std::optional<T>>;

class WriteFields {
public:
    nlohmann::json out = nlohmann::json::object();

    template <class AnyId>
    void id(const char* name, const AnyId& id) {
        out[name] = id.value;
    }
    template <class AnyId>
    void id_if(const char* name, const AnyId& id) {
        if (id) out[name] = id.value;
    }
    void text(const char* name, const std::string& text) { out[name] = text; }
    void text_if(const char* name, const std::string& text) {
        if (!text.empty()) out[name] = text;
    }
    void channel(const char* name, const ChannelRef& channel, Role) {
        out[name] = channel.owner.value;
        if (channel.kind != ChannelKind::Turn) out[std::string(name) + "_channel"] = word(channel.kind);
    }
    void part(const char* name, const PartId& part, Role) { id(name, part); }
    void part_if(const char* name, const PartId& part, Role) { id_if(name, part); }
    void parts(const char* name, const std::vector<PartId>& parts, Role) {
        for (const PartId part : parts) out[name].push_back(part.value);
    }
    void number(const char* name, double value, const NumberField& field = {}) {
        if (field.usual != value) out[name] = value;
    }
    void own(const char* name, ChannelKind, const Channel& channel, const NumberField& field = {}) {
        if (channel.limits || channel.locked)
            out[name] = channel_to_json(channel);
        else
            number(name, channel.value, field);
    }
    template <class Count>
    void count(const char* name, const Count& value, Usual<Count> usual = std::nullopt) {
        if (usual != value) out[name] = value;
    }
    void flag(const char* name, bool value) {
        if (value) out[name] = true;
    }
    void handed(const char* name, bool left) { flag(name, left); }
    template <class T, std::size_t n>
    void choice(const char* name, const T& value, const ChoiceWords<n>& words,
                Usual<T> usual = std::nullopt) {
        if (usual != value) out[name] = word_of(words, value);
    }
    void axis(const char* name, int axis, int usual) {
        if (axis != usual) out[name] = axis_word(axis);
    }
    void vector(const char* name, const Vec3& value, const std::optional<Vec3>& usual = std::nullopt) {
        if (usual != value) out[name] = vec_to_json(value);
    }
    void direction(const char* name, const Vec3& value, const Vec3& usual) { vector(name, value, usual); }
    void rotation(const char* name, const Quat& turn) {
        if (turn.vec() != Vec3(0, 0, 0)) out[name] = {turn.w(), turn.x(), turn.y(), turn.z()};
    }
    template <class Entry>
    void pairs(const char* name, const std::vector<Entry>& entries, double Entry::*first,
               double Entry::*second, std::optional<double> Entry::*third = nullptr) {
        for (const Entry& entry : entries) {
            nlohmann::json pair{entry.*first, entry.*second};
            if (third && entry.*third) pair.push_back(*(entry.*third));
            out[name].push_back(std::move(pair));
        }
    }
    template <class Entry>
    void list(const char* name, const std::vector<Entry>& entries) {
        out[name] = nlohmann::json::array();
        for (const Entry& entry : entries) out[name].push_back(written(entry));
    }
    template <class Group>
    void group(const char* name, const std::optional<Group>& group) {
        if (group) out[name] = written(*group);
    }
    template <class Nested>
    void nested(const char* name, const Nested& nested) {
        out[name] = written(nested);
    }
    void unknown(const nlohmann::json& unknown) { out = with_unknown(std::move(out), unknown); }

private:
    template <class Entry>
    static nlohmann::json written(const Entry& entry) {
        WriteFields within;
        Entry::fields(entry, within);
        return std::move(within.out);
    }
};

/// Throws `Damage`, or an exception of the JSON library.
class ReadFields {
public:
    explicit ReadFields(const nlohmann::json& entry) : in_(entry) {}

    template <class AnyId>
    void id(const char* name, AnyId& id) {
        id = id_of<AnyId>(in_, known(name));
    }
    template <class AnyId>
    void id_if(const char* name, AnyId& id) {
        id = fields::id_if<AnyId>(in_, known(name));
    }
    void text(const char* name, std::string& text) { text = in_.at(known(name)).get<std::string>(); }
    void text_if(const char* name, std::string& text) { text = in_.value(known(name), std::string()); }
    void channel(const char* name, ChannelRef& channel, Role) {
        channel.owner.value = id_of<PartId>(in_, known(name)).value;
        const std::string kind = std::string(name) + "_channel";
        channel.kind = ChannelKind::Turn;
        if (const auto found = in_.find(known(kind.c_str())); found != in_.end())
            channel.kind = required(channel_kind_from(found->get<std::string>()), kind.c_str());
    }
    void part(const char* name, PartId& part, Role) { id(name, part); }
    void part_if(const char* name, PartId& part, Role) { id_if(name, part); }
    void parts(const char* name, std::vector<PartId>& parts, Role) {
        parts.clear();
        for (const nlohmann::json& part : in_.value(known(name), nlohmann::json::array()))
            parts.push_back(PartId{whole<std::uint64_t>(part)});
    }
    void number(const char* name, double& value, const NumberField& field = {}) {
        known(name);
        if (field.formerly) known(field.formerly);
        if (const auto found = in_.find(name); found != in_.end())
            value = finite(*found);
        else if (field.formerly && in_.contains(field.formerly))
            value = finite(in_.at(field.formerly));
        else
            value = field.usual ? *field.usual : finite(in_.at(name));
    }
    void own(const char* name, ChannelKind, Channel& channel, const NumberField& field = {}) {
        channel = {};
        if (const auto found = in_.find(name); found != in_.end() && found->is_object())
            channel = channel_from_json(*found), known(name);
        else
            number(name, channel.value, field);
    }
    template <class Count>
    void count(const char* name, Count& value, Usual<Count> usual = std::nullopt) {
        value = usual && !in_.contains(known(name)) ? *usual : whole<Count>(in_.at(known(name)));
    }
    void flag(const char* name, bool& value) { value = in_.value(known(name), false); }
    void handed(const char* name, bool& left) { flag(name, left); }
    template <class T, std::size_t n>
    void choice(const char* name, T& value, const ChoiceWords<n>& words, Usual<T> usual = std::nullopt) {
        const bool there = in_.contains(known(name));
        if (usual && !there)
            value = *usual;
        else
            value = required(value_of<T>(words, in_.at(name).get<std::string>()), name);
    }
    void axis(const char* name, int& axis, int usual) {
        axis = usual;
        if (in_.contains(known(name))) axis = required(axis_from(in_.at(name).get<std::string>()), name);
    }
    void vector(const char* name, Vec3& value, const std::optional<Vec3>& usual = std::nullopt) {
        value = usual && !in_.contains(known(name)) ? *usual : vec_from_json(in_.at(known(name)));
    }
    void direction(const char* name, Vec3& value, const Vec3& usual) {
        vector(name, value, usual);
        if (std::abs(value.norm() - 1) > 1e-6) throw Damage{fmt::format("'{}' is no direction", name)};
    }
    void rotation(const char* name, Quat& turn) {
        turn = Quat(1, 0, 0, 0);
        if (!in_.contains(known(name))) return;
        const nlohmann::json& q = in_.at(name);
        turn = Quat(finite(q.at(0)), finite(q.at(1)), finite(q.at(2)), finite(q.at(3)));
        if (std::abs(turn.norm() - 1) > 1e-6) throw Damage{fmt::format("'{}' is no rotation", name)};
        turn.normalize();
    }
    template <class Entry>
    void pairs(const char* name, std::vector<Entry>& entries, double Entry::*first, double Entry::*second,
               std::optional<double> Entry::*third = nullptr) {
        entries.clear();
        for (const nlohmann::json& pair : in_.value(known(name), nlohmann::json::array())) {
            Entry entry;
            entry.*first = finite(pair.at(0));
            entry.*second = finite(pair.at(1));
            if (third && pair.size() > 2) entry.*third = finite(pair.at(2));
            entries.push_back(entry);
        }
    }
    template <class Entry>
    void list(const char* name, std::vector<Entry>& entries) {
        entries.clear();
        for (const nlohmann::json& one : in_.at(known(name))) entries.push_back(read<Entry>(one));
    }
    template <class Group>
    void group(const char* name, std::optional<Group>& group) {
        group.reset();
        if (in_.contains(known(name))) group = read<Group>(in_.at(name));
    }
    template <class Nested>
    void nested(const char* name, Nested& nested) {
        nested = read<Nested>(in_.at(known(name)));
    }
    /// What no field before this one took.
    void unknown(nlohmann::json& unknown) { unknown = unknown_fields(in_, known_); }

private:
    template <class Entry>
    static Entry read(const nlohmann::json& from) {
        Entry entry;
        ReadFields within(from);
        Entry::fields(entry, within);
        return entry;
    }
    template <class T>
    static T required(const std::optional<T>& found, const char* name) {
        if (!found) throw Damage{fmt::format("'{}' has an unknown word", name)};
        return *found;
    }
    const char* known(const char* name) {
        known_.insert(name);
        return name;
    }

    const nlohmann::json& in_;
    std::set<std::string> known_;
};

template <class Element>
nlohmann::json to_json(const Element& element) {
    WriteFields write;
    Element::fields(element, write);
    return std::move(write.out);
}

/// Throws `Damage` where the element could not be, and what `ReadFields` throws.
template <class Element>
Element from_json(const nlohmann::json& entry) {
    Element element;
    ReadFields read(entry);
    Element::fields(element, read);
    if (const auto damaged = element.damaged()) throw Damage{std::string(*damaged)};
    return element;
}

}  // namespace pivrak::fields
