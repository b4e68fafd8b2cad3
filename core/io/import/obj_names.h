#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace pivrak {

/// Names of objects and groups in an OBJ file, in their order. The general reader takes two of one name for
/// one, and a name for its first word; it reads a copy in which they are numbered.
class ObjNames {
public:
    struct Entry {
        bool is_group;
        std::string name;
    };
    /// Errors: `file.*`.
    static Result<ObjNames> read(const std::filesystem::path& path);

    /// Whether the file names nothing: then it can be read as it is.
    bool empty() const { return entries_.empty(); }
    /// The file with `o` and `g` naming "0", "1" ... in the order of the entries.
    const std::string& numbered() const { return numbered_; }
    /// What a name in the copy stands for; null for one that the reader made.
    const Entry* find(const std::string& number) const;

private:
    std::string numbered_;
    std::vector<Entry> entries_;
};

}  // namespace pivrak
