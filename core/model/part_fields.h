#pragma once

#include <unordered_map>
#include <unordered_set>
#include <utility>

#include "core/model/field.h"

namespace pivrak {

// Visitors of an element's fields that are about the parts it names.

/// Goes into lists, groups and nested entries as into the element itself.
template <class Visitor>
struct DeepFields : NoFields {
    template <class Entry>
    void list(const char*, std::vector<Entry>& entries) {
        for (Entry& entry : entries) Entry::fields(entry, visitor());
    }
    template <class Group>
    void group(const char*, std::optional<Group>& group) {
        if (group) Group::fields(*group, visitor());
    }
    template <class Nested>
    void nested(const char*, Nested& nested) {
        Nested::fields(nested, visitor());
    }

private:
    Visitor& visitor() { return static_cast<Visitor&>(*this); }
};

/// `change(PartId&)` for every part that is named.
template <class Change>
struct EachPart : DeepFields<EachPart<Change>> {
    Change change;
    explicit EachPart(Change act) : change(std::move(act)) {}

    void channel(const char*, ChannelRef& channel, Role) {
        if (!is_of_part(channel.kind)) return;
        PartId part = channel.part();
        named(part);
        channel.owner = part;
    }
    void part(const char*, PartId& part, Role) { named(part); }
    void part_if(const char*, PartId& part, Role) { named(part); }
    void parts(const char*, std::vector<PartId>& parts, Role) {
        for (PartId& part : parts) named(part);
    }

private:
    void named(PartId& part) {
        if (part) change(part);
    }
};

/// Takes parts out; `lost` tells that the element cannot be without them. Entries of lists and groups go by
/// themselves.
struct DropParts : NoFields {
    const std::unordered_set<PartId>& gone;
    bool lost = false;
    explicit DropParts(const std::unordered_set<PartId>& parts) : gone(parts) {}

    void channel(const char*, ChannelRef& channel, Role) { lost |= gone.contains(channel.part()); }
    void part(const char*, PartId& part, Role role) {
        if (!gone.contains(part)) return;
        if (role == Role::Outside)
            part = {};
        else
            lost = true;
    }
    void part_if(const char* name, PartId& part, Role role) { this->part(name, part, role); }
    void parts(const char*, std::vector<PartId>& parts, Role) {
        std::erase_if(parts, [&](PartId part) { return gone.contains(part); });
    }
    template <class Entry>
    void list(const char*, std::vector<Entry>& entries) {
        std::erase_if(entries, [&](Entry& entry) { return loses(entry); });
    }
    template <class Group>
    void group(const char*, std::optional<Group>& group) {
        if (group && loses(*group)) group.reset();
    }
    template <class Nested>
    void nested(const char*, Nested& nested) {
        lost |= loses(nested);
    }

private:
    template <class Entry>
    bool loses(Entry& entry) const {
        DropParts within(gone);
        Entry::fields(entry, within);
        return within.lost;
    }
};

using CopyOf = std::unordered_map<PartId, PartId>;

/// Names copies in place of originals; `whole` tells whether all were copied that a copy needs.
struct TakeOver : DeepFields<TakeOver> {
    const CopyOf& copy_of;
    bool whole = true;
    explicit TakeOver(const CopyOf& copies) : copy_of(copies) {}

    void channel(const char*, ChannelRef& channel, Role role) {
        PartId part = channel.part();
        take(part, role);
        channel.owner = part;
    }
    void part(const char*, PartId& part, Role role) { take(part, role); }
    void part_if(const char*, PartId& part, Role role) {
        if (part) take(part, role);
    }
    void parts(const char*, std::vector<PartId>& parts, Role role) {
        for (PartId& part : parts) take(part, role);
    }

private:
    void take(PartId& part, Role role) {
        const auto copy = copy_of.find(part);
        if (copy != copy_of.end())
            part = copy->second;
        else
            whole &= role == Role::Held || role == Role::Outside;
    }
};

/// Names copies of elements where their channels are taken.
struct TakeCopiedChannels : DeepFields<TakeCopiedChannels> {
    const std::unordered_map<OwnerId, OwnerId>& copy_of;
    explicit TakeCopiedChannels(const std::unordered_map<OwnerId, OwnerId>& copies) : copy_of(copies) {}

    void channel(const char*, ChannelRef& channel, Role) {
        if (is_of_part(channel.kind)) return;
        if (const auto copy = copy_of.find(channel.owner); copy != copy_of.end())
            channel.owner = copy->second;
    }
};

/// The numbers of a mirror image; `driven_sign` is how the channel that the element drives counts there.
struct MirrorFields : DeepFields<MirrorFields> {
    double driven_sign = 1;
    explicit MirrorFields(double sign) : driven_sign(sign) {}

    void number(const char*, double& value, NumberField field = {}) { value *= sign(field); }
    void own(const char*, ChannelKind kind, Channel& channel, NumberField field = {}) {
        if (sign(field) < 0) {
            channel.value = -channel.value;
            if (channel.limits) channel.limits = Limits{-channel.limits->max, -channel.limits->min};
            flipped.push_back(kind);
        }
    }
    void handed(const char*, bool& left) { left = !left; }

    std::vector<ChannelKind> flipped;  ///< own channels whose keys change their sign

private:
    double sign(const NumberField& field) const {
        return field.in_mirror == InMirror::Flips      ? -1
               : field.in_mirror == InMirror::AsDriven ? driven_sign
                                                       : 1;
    }
};

/// Whether an element goes with parts: it names some that it drives or cannot be without, and all of those
/// are among them.
struct GoesWith : DeepFields<GoesWith> {
    const std::unordered_set<PartId>& parts_in;
    bool some = false, all = true;
    explicit GoesWith(const std::unordered_set<PartId>& among) : parts_in(among) {}

    void channel(const char*, const ChannelRef& channel, Role role) { look(channel.part(), role); }
    void part(const char*, const PartId& part, Role role) { look(part, role); }
    void part_if(const char*, const PartId& part, Role role) {
        if (part) look(part, role);
    }
    void parts(const char*, const std::vector<PartId>& named, Role role) {
        for (const PartId part : named) look(part, role);
    }

private:
    void look(PartId part, Role role) {
        if (role == Role::Held || role == Role::Outside) return;
        some = true;
        all &= parts_in.contains(part);
    }
};

/// The lengths of an element that is made larger.
struct ScaleLengths : DeepFields<ScaleLengths> {
    double factor;
    explicit ScaleLengths(double by) : factor(by) {}

    void number(const char*, double& value, NumberField field = {}) {
        if (field.dimension == Dimension::Length) value *= factor;
    }
    void own(const char*, ChannelKind, Channel& channel, NumberField field = {}) {
        if (field.dimension != Dimension::Length) return;
        channel.value *= factor;
        if (channel.limits)
            channel.limits = Limits{channel.limits->min * factor, channel.limits->max * factor};
    }
    template <class... Usual>
    void vector(const char*, Vec3& place, const Usual&...) {
        place *= factor;
    }
    /// The first of each pair is how far along something it stands.
    template <class Entry, class... More>
    void pairs(const char*, std::vector<Entry>& entries, double Entry::*first, const More&...) {
        for (Entry& entry : entries) entry.*first *= factor;
    }
};

}  // namespace pivrak
