// Damages JSON as a tree most of the time, where single bytes would seldom get past the parser.
#include <cstdint>
#include <cstring>

#include "tests/fuzz/damage.h"

extern "C" std::size_t LLVMFuzzerMutate(std::uint8_t* data, std::size_t size, std::size_t most);

extern "C" std::size_t LLVMFuzzerCustomMutator(std::uint8_t* data, std::size_t size, std::size_t most,
                                               unsigned seed) {
    std::minstd_rand random(seed);
    nlohmann::json root = nlohmann::json::parse(data, data + size, nullptr, false);
    if (root.is_discarded() || random() % 8 == 0) return LLVMFuzzerMutate(data, size, most);
    for (unsigned n = 1 + random() % 3; n > 0; --n) pivrak::fuzz::damage(root, random);
    const std::string text = root.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
    if (text.size() > most) return size;
    std::memcpy(data, text.data(), text.size());
    return text.size();
}
