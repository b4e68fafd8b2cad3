#pragma once

#include <string>
#include <vector>

namespace pivrak::cli {

/// Each command prints to standard output, its errors to standard error, and answers the exit code:
/// 0 done, 1 refused or failed. `check` answers 1 when there are findings.
int info(const std::string& file, bool as_json);
int list_operations(bool as_json);
int run(const std::string& job_file, bool as_json);
/// The job's steps on each model of a folder, each saved beside itself.
int run_over(const std::string& job_file, const std::string& folder, bool as_json);
int bake(const std::string& file, const std::string& clip, const std::string& csv_file, int per_frame);
int check(const std::string& file, bool as_json);
/// Run-out and tilt of every round part that turns, or of one part.
int spin(const std::string& file, const std::string& part, bool as_json);
/// Clearance of a part through a range of its joint, and first contacts. `from` and `to` are texts with a
/// unit, degrees or metres without one. With a second part, clearance for all pairs of both joints' values.
struct SwingCommand {
    std::string file, part, from, to;
    std::string with, with_from, with_to;
    int steps = 180;
    bool as_json = false;
};
int swing(const SwingCommand& command);
/// Slip of every rolling wheel over a clip, and its gap to the ground.
int slip(const std::string& file, const std::string& clip, bool as_json);
/// Runs every channel through its range; answers 1 when something goes wrong on the way. `reports` are files
/// that end in .html or .csv.
struct ExerciseCommand {
    std::string file;
    std::vector<std::string> parts, reports;
    std::size_t pairs = 24;
    std::uint32_t seed = 1;
    bool without_contacts = false, as_json = false;
};
int exercise(const ExerciseCommand& command);
/// How deep teeth of every gear pair stand in each other over a turn.
int teeth(const std::string& file, int steps, bool as_json);

/// Who moves whom, with ratios, and values at a frame of the first clip.
int map(const std::string& file, double frame, bool as_json);

/// What becomes of every shaft of every gear train; answers 1 when drivers clash.
int train(const std::string& file, bool as_json);
/// Links, slack and remedies of every chain, and how it fares over the first clip.
int chain(const std::string& file, bool as_json);
/// Tooth counts for a wanted ratio.
struct GearsCommand {
    double ratio = 1;
    int stages = 1, least = 12, most = 100, teeth_in_pair = 0, answers = 12;
    bool as_json = false;
};
int gears(const GearsCommand& command);
/// Writes a path as .svg or .obj.
int path(const std::string& file, const std::string& name, const std::string& out);

}  // namespace pivrak::cli
