// A model of a file is imported or refused in words. PIVRAK_FUZZ_OBJ tells which reader is meant.
#include "core/io/import/import_model.h"
#include "core/io/project/project_file.h"
#include "tests/fuzz/sound.h"
#include "tests/support/temp_folder.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace pivrak;
    static const test::TempFolder folder;
#ifdef PIVRAK_FUZZ_OBJ
    const char* name = "model.obj";
#else
    const bool binary = size > 4 && std::equal(data, data + 4, "glTF");
    const char* name = binary ? "model.glb" : "model.gltf";
#endif
    const auto path = folder.write(name, {reinterpret_cast<const char*>(data), size});
    const auto imported = import_model(empty_document(), path, {}, fuzz::patience());
    if (!imported) {
        if (imported.error().message.empty()) fuzz::report("a refusal without words");
        return 0;
    }
    fuzz::check_motion(imported->document);
    const auto saved = project_bytes(imported->document);
    if (saved && !project_from_bytes(*saved, "saved.pivrak.glb"))
        fuzz::report("what was imported does not open again");
    return 0;
}
