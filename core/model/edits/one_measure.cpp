#include "core/model/edits/one_measure.h"

#include "core/model/each_element.h"
#include "core/model/part_fields.h"

namespace pivrak {
namespace {

/// Whether some of the parts that an element is made of are among others, and some are not.
struct PartsApart : DeepFields<PartsApart> {
    const std::unordered_set<PartId>& among;
    bool some = false, all = true;
    explicit PartsApart(const std::unordered_set<PartId>& in) : among(in) {}

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
        if (role == Role::Outside) return;
        (among.contains(part) ? some : all) = among.contains(part);
    }
};

template <class Element>
std::string called(const Document& document, const Element& element) {
    if constexpr (requires { element.name; })
        return element.name;
    else
        return channel_name(document, element.driven);
}

/// A row of joints is measured from its first one on, which grows what follows.
template <class Element>
bool begins_at(const Element& element, PartId part) {
    if constexpr (requires { element.root, element.tip; })
        return element.root == part;
    else
        return false;
}

}  // namespace

std::optional<std::string> measured_across(const Document& document, PartId sized) {
    const auto below = Tree(document).branch(sized);
    const std::unordered_set<PartId> branch(below.begin(), below.end());
    std::optional<std::string> found;
    each_element(document, [&](const auto& element, const auto&...) {
        using Element = std::decay_t<decltype(element)>;
        if constexpr (requires { Element::one_measure; }) {
            PartsApart parts(branch);
            Element named = element;
            Element::fields(named, parts);
            if (!found && ((parts.some && !parts.all) || begins_at(element, sized)))
                found = called(document, element);
        }
    });
    return found;
}

}  // namespace pivrak
