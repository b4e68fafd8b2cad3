#include "core/model/element_channels.h"

#include <fmt/format.h>

#include <algorithm>
#include <type_traits>

#include "core/model/field.h"

namespace pivrak {
namespace {

/// `act(kind, channel)` for the channels that an element has.
template <class Element, class Act>
struct OwnChannels : NoFields {
    const Element& element;
    Act act;
    OwnChannels(const Element& of, Act what) : element(of), act(std::move(what)) {}

    template <class Value>
    void own(const char*, ChannelKind kind, Value& channel, NumberField = {}) {
        if constexpr (requires { element.has(kind); })
            if (!element.has(kind)) return;
        act(kind, channel);
    }
};

template <class Element, class Act>
void each_own(Element& element, Act act) {
    OwnChannels<Element, Act> visit(element, std::move(act));
    std::remove_const_t<Element>::fields(element, visit);
}
/// `act(id, element)` for every coupling and every entry of a table.
template <class Act>
void each_owner(const Document& document, Act act) {
    for (const Coupling& coupling : document.couplings)
        std::visit([&](const auto& kind) { act(OwnerId(coupling.id), kind); }, coupling.what);
#define PIVRAK_TABLE(Type, table) \
    for (const Type& element : document.table) act(OwnerId(element.id), element);
#include "core/elements/kinds.def"
}

/// `act(element)` for the element of an id; whether there is one.
template <class Act>
bool with_element(const Document& document, OwnerId owner, Act act) {
    if (const Coupling* coupling = document.couplings.find(CouplingId{owner.value})) {
        std::visit(act, coupling->what);
        return true;
    }
#define PIVRAK_TABLE(Type, table)                                                              \
    if (const Type* element = document.table.find(decltype(Type::id){owner.value}); element) { \
        act(*element);                                                                         \
        return true;                                                                           \
    }
#include "core/elements/kinds.def"
    return false;
}

template <class Element>
PartId home(const Element& element) {
    if constexpr (requires { element.home(); })
        return element.home();
    else if constexpr (requires { element.driven; })
        return element.driven.part();
    else
        return {};
}

/// Whether an element names a channel of an owner that is not there.
struct NamesMissing : NoFields {
    const Document& document;
    bool found = false;
    explicit NamesMissing(const Document& whole) : document(whole) {}
    void channel(const char*, const ChannelRef& channel, Role) {
        found |= !has_owner(document, channel.owner);
    }
    template <class Entry>
    void list(const char*, const std::vector<Entry>& entries) {
        for (const Entry& entry : entries) Entry::fields(entry, *this);
    }
};

}  // namespace

bool has_owner(const Document& document, OwnerId owner) {
    return document.parts.contains(PartId{owner.value}) || with_element(document, owner, [](const auto&) {});
}

Result<OwnerId> find_element(const Document& document, std::string_view name) {
    std::vector<OwnerId> found;
    each_owner(document, [&](OwnerId owner, const auto&) {
        if (owner_name(document, owner) == name) found.push_back(owner);
    });
    if (found.size() == 1) return found.front();
    const std::string text(name);
    if (found.empty())
        return Error{"element.unknown", fmt::format("there is no element of the rig called '{}'", text),
                     text};
    return Error{"element.ambiguous",
                 fmt::format("{} elements of the rig are called '{}'; give its id", found.size(), text),
                 text};
}

std::string owner_name(const Document& document, OwnerId owner) {
    if (const Part* part = document.parts.find(PartId{owner.value})) return part->name;
    std::string name;
    const bool there = with_element(document, owner, [&](const auto& element) {
        if constexpr (requires { element.name; })
            name = element.name;
        else
            name = channel_name(document, element.driven);
    });
    return there ? name : fmt::format("missing part {}", owner.value);
}

PartId home_of(const Document& document, OwnerId owner) {
    PartId part{owner.value};
    if (document.parts.contains(part)) return part;
    part = {};
    with_element(document, owner, [&](const auto& element) { part = home(element); });
    return part;
}

std::optional<Channel> find_channel(const Document& document, ChannelRef channel) {
    if (const Part* part = document.parts.find(channel.part()))
        return part->has(channel.kind) ? std::optional(part->joint.channel(channel.kind)) : std::nullopt;
    std::optional<Channel> found;
    with_element(document, channel.owner, [&](const auto& element) {
        each_own(element, [&](ChannelKind kind, const Channel& one) {
            if (kind == channel.kind) found = one;
        });
    });
    return found;
}

double within_limits(const Document& document, ChannelRef channel, double value) {
    const auto found = find_channel(document, channel);
    if (found && found->limits) return found->limits->clamp(value);
    return value;
}

void put_channel(Document& document, ChannelRef channel, const Channel& value) {
    if (const Part* found = document.parts.find(channel.part())) {
        Part part = *found;
        part.joint.set_channel(channel.kind, value);
        document.parts.set(part);
        return;
    }
    const auto put = [&](ChannelKind kind, Channel& one) {
        if (kind == channel.kind) one = value;
    };
    if (const Coupling* found = document.couplings.find(CouplingId{channel.owner.value})) {
        Coupling coupling = *found;
        std::visit([&](auto& kind) { each_own(kind, put); }, coupling.what);
        document.couplings.set(coupling);
    }
#define PIVRAK_TABLE(Type, table)                                                                  \
    if (const Type* found = document.table.find(decltype(Type::id){channel.owner.value}); found) { \
        Type element = *found;                                                                     \
        each_own(element, put);                                                                    \
        document.table.set(element);                                                               \
    }
#include "core/elements/kinds.def"
}

void each_own_channel(const Document& document, const std::function<void(ChannelRef, const Channel&)>& act) {
    each_owner(document, [&](OwnerId owner, const auto& element) {
        each_own(element, [&](ChannelKind kind, const Channel& channel) { act({owner, kind}, channel); });
    });
}

std::vector<ChannelRef> channels_of(const Document& document, OwnerId owner) {
    std::vector<ChannelRef> channels;
    if (const Part* part = document.parts.find(PartId{owner.value}))
        for (const ChannelKind kind : part->channels()) channels.push_back({owner, kind});
    else
        with_element(document, owner, [&](const auto& element) {
            each_own(element, [&](ChannelKind kind, const Channel&) { channels.push_back({owner, kind}); });
        });
    return channels;
}

std::vector<ChannelRef> channels_at(const Document& document, PartId part) {
    std::vector<ChannelRef> channels = channels_of(document, OwnerId(part));
    each_owner(document, [&](OwnerId owner, const auto& element) {
        if (part && home(element) == part)
            each_own(element, [&](ChannelKind kind, const Channel&) { channels.push_back({owner, kind}); });
    });
    return channels;
}

bool names_missing_owner(const Document& document) {
    NamesMissing names(document);
    for (const Coupling& coupling : document.couplings)
        std::visit([&](const auto& kind) { std::decay_t<decltype(kind)>::fields(kind, names); },
                   coupling.what);
    return names.found;
}

Ownerless drop_ownerless(Document& document) {
    Ownerless gone;
    const SharedTable<Clip> clips = document.clips;
    for (const Clip& clip : clips) {
        Clip kept = clip;
        const std::size_t count = std::erase_if(
            kept.tracks, [&](const Track& track) { return !has_owner(document, track.channel.owner); });
        if (count) document.clips.set(kept);
        gone.tracks += count;
    }
    // Only couplings name channels; one that goes may leave others behind.
    for (bool more = true; more;) {
        more = false;
        const SharedTable<Coupling> couplings = document.couplings;
        for (const Coupling& coupling : couplings) {
            NamesMissing names(document);
            std::visit([&](const auto& kind) { std::decay_t<decltype(kind)>::fields(kind, names); },
                       coupling.what);
            if (!names.found) continue;
            document.couplings.erase(coupling.id);
            ++gone.couplings;
            more = true;
        }
    }
    return gone;
}

}  // namespace pivrak
