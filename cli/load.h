#pragma once

#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak::cli {

struct Loaded {
    Document document;
    std::vector<std::string> messages;
};

/// A project, or any model that can be imported.
Result<Loaded> load(const std::string& file);

/// Tells an error, and answers the exit code that goes with it.
int fail(const Error& error, bool as_json = false);

}  // namespace pivrak::cli
