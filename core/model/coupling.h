#pragma once

#include <optional>
#include <variant>

#define PIVRAK_KIND_HEADERS
#include "core/elements/kinds.def"
#undef PIVRAK_KIND_HEADERS

namespace pivrak {

template <class First, class... Kinds>
struct VariantAfter {
    using type = std::variant<Kinds...>;
};
/// Any kind of coupling.
#define PIVRAK_COUPLING(Type) , Type
using AnyCoupling = VariantAfter<void
#include "core/elements/kinds.def"
                                 >::type;

/// A channel moved by others.
struct Coupling {
    CouplingId id;
    AnyCoupling what;
    bool operator==(const Coupling&) const = default;

    /// Itself as a kind, or null.
    template <class Kind>
    const Kind* as() const {
        return std::get_if<Kind>(&what);
    }
    template <class Kind>
    Kind* as() {
        return std::get_if<Kind>(&what);
    }
    ChannelRef driven() const {
        return std::visit([](const auto& kind) { return kind.driven; }, what);
    }
    /// Whether it was switched off: it stays, and moves nothing.
    bool is_off() const {
        return std::visit(
            [](const auto& kind) {
                if constexpr (requires { kind.off; })
                    return kind.off;
                else
                    return false;
            },
            what);
    }
    /// Whether it moves a channel: the one it is named by, or another one along with it. What adds to what
    /// keys and hands ask leaves it to them.
    bool drives(ChannelRef channel) const {
        if (is_off() || std::visit(
                            [](const auto& kind) {
                                return requires {
                                    kind.adds_to_asked;
                                };
                            },
                            what))
            return false;
        return channel == driven() || std::visit(
                                          [&](const auto& kind) {
                                              if constexpr (requires { kind.also_drives(channel); })
                                                  return kind.also_drives(channel);
                                              else
                                                  return false;
                                          },
                                          what);
    }
    /// The channel that drives it; a wheel that rolls by any motion, or leans, has none.
    std::optional<ChannelRef> driver() const {
        return std::visit([](const auto& kind) { return kind.moved_by(); }, what);
    }
};

}  // namespace pivrak
