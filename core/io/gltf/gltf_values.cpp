#include "core/io/gltf/gltf_values.h"

namespace pivrak {

using nlohmann::json;

tinygltf::Value to_value(const nlohmann::json& j) {
    switch (j.type()) {
        case json::value_t::object: {
            tinygltf::Value::Object object;
            for (const auto& [key, value] : j.items()) object[key] = to_value(value);
            return tinygltf::Value(std::move(object));
        }
        case json::value_t::array: {
            tinygltf::Value::Array array;
            for (const json& value : j) array.push_back(to_value(value));
            return tinygltf::Value(std::move(array));
        }
        case json::value_t::string:
            return tinygltf::Value(j.get<std::string>());
        case json::value_t::boolean:
            return tinygltf::Value(j.get<bool>());
        case json::value_t::number_integer:
        case json::value_t::number_unsigned: {
            const auto whole = j.get<std::int64_t>();
            if (whole >= INT32_MIN && whole <= INT32_MAX) return tinygltf::Value(static_cast<int>(whole));
            return tinygltf::Value(static_cast<double>(whole));
        }
        case json::value_t::number_float:
            return tinygltf::Value(j.get<double>());
        default:
            return {};
    }
}

}  // namespace pivrak
