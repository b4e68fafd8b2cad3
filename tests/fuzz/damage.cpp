#include "tests/fuzz/damage.h"

#include <cstdint>
#include <cstring>
#include <vector>

namespace pivrak::fuzz {

using nlohmann::json;

namespace {

void gather(json& node, std::vector<json*>& all) {
    all.push_back(&node);
    if (node.is_structured())
        for (json& below : node) gather(below, all);
}

json telling_value(std::minstd_rand& random) {
    static const json values = {0,
                                1,
                                -1,
                                2,
                                7,
                                65535,
                                1e12,
                                -1e12,
                                1e30,
                                1e300,
                                1e-30,
                                0.5,
                                2147483647,
                                4294967295u,
                                -7.5,
                                nullptr,
                                true,
                                false,
                                "",
                                "x",
                                "1e30 turn",
                                "-1 m",
                                "nan m",
                                json::array(),
                                json::object(),
                                json::array({0, 0, 0}),
                                json::array({nullptr}),
                                1e-320};
    return values[random() % values.size()];
}

void change_number(json& node, std::minstd_rand& random) {
    const double value = node.get<double>();
    const double changed[] = {value + 1, value - 1, -value, 10 * value, 0.1 * value, value * 1e9};
    const double picked = changed[random() % std::size(changed)];
    if (node.is_number_integer() && std::abs(picked) < 1e15)
        node = static_cast<std::int64_t>(picked);
    else
        node = picked;
}

void change_entries(json& node, std::minstd_rand& random) {
    if (node.empty()) {
        node.is_array() ? node.push_back(telling_value(random)) : (node["x"] = telling_value(random), void());
        return;
    }
    const std::size_t at = random() % node.size();
    const auto entry = std::next(node.begin(), static_cast<std::ptrdiff_t>(at));
    switch (random() % 3) {
        case 0:
            node.erase(entry);
            return;
        case 1:
            if (node.is_array())
                node.push_back(json(*entry));
            else
                node[entry.key() + "x"] = json(*entry);
            return;
        default:
            std::swap(*entry, *std::next(node.begin(), static_cast<std::ptrdiff_t>(random() % node.size())));
    }
}

std::uint32_t number_at(const std::string& bytes, std::size_t at) {
    std::uint32_t value = 0;
    std::memcpy(&value, bytes.data() + at, 4);
    return value;
}

void put(std::string& bytes, std::uint32_t value) {
    bytes.append(reinterpret_cast<const char*>(&value), 4);
}

}  // namespace

void damage(json& root, std::minstd_rand& random) {
    std::vector<json*> all;
    gather(root, all);
    json& node = *all[random() % all.size()];
    switch (random() % 4) {
        case 0:
            node = telling_value(random);
            return;
        case 1: {
            const json other = *all[random() % all.size()];
            if (other.dump(-1, ' ', false, json::error_handler_t::replace).size() < 4000) node = other;
            return;
        }
        default:
            if (node.is_number())
                change_number(node, random);
            else if (node.is_structured())
                change_entries(node, random);
            else
                node = telling_value(random);
    }
}

Glb split_glb(const std::string& bytes) {
    if (bytes.size() < 20 || bytes.compare(0, 4, "glTF") != 0) return {};
    const std::size_t length = number_at(bytes, 12);
    if (length > bytes.size() - 20) return {};
    return {bytes.substr(20, length), bytes.substr(20 + length)};
}

std::string join_glb(const Glb& glb) {
    std::string text = glb.text;
    while (text.size() % 4) text += ' ';
    std::string out = "glTF";
    put(out, 2);
    put(out, static_cast<std::uint32_t>(20 + text.size() + glb.rest.size()));
    put(out, static_cast<std::uint32_t>(text.size()));
    return out + "JSON" + text + glb.rest;
}

}  // namespace pivrak::fuzz
