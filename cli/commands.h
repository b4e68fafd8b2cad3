#pragma once

#include <string>

namespace pivrak::cli {

/// Each command prints to standard output, its errors to standard error, and answers the exit code:
/// 0 done, 1 refused or failed. `check` answers 1 when there are findings.
int info(const std::string& file, bool as_json);
int list_operations(bool as_json);
int run(const std::string& job_file, bool as_json);
int bake(const std::string& file, const std::string& clip, const std::string& csv_file);
int check(const std::string& file, bool as_json);

}  // namespace pivrak::cli
