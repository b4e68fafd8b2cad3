// Damages binary glTF files in their JSON most of the time, where single bytes would seldom get past the
// parser.
#include <cstdint>
#include <cstring>

#include "tests/fuzz/damage.h"

extern "C" std::size_t LLVMFuzzerMutate(std::uint8_t* data, std::size_t size, std::size_t most);

extern "C" std::size_t LLVMFuzzerCustomMutator(std::uint8_t* data, std::size_t size, std::size_t most,
                                               unsigned seed) {
    using namespace pivrak::fuzz;
    std::minstd_rand random(seed);
    if (random() % 8 == 0) return LLVMFuzzerMutate(data, size, most);
    Glb glb = split_glb(std::string(reinterpret_cast<const char*>(data), size));
    nlohmann::json root = nlohmann::json::parse(glb.text, nullptr, false);
    if (root.is_discarded()) return LLVMFuzzerMutate(data, size, most);
    for (unsigned n = 1 + random() % 3; n > 0; --n) damage(root, random);
    glb.text = root.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
    const std::string bytes = join_glb(glb);
    if (bytes.size() > most) return size;
    std::memcpy(data, bytes.data(), bytes.size());
    return bytes.size();
}
