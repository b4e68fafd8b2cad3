#include "core/motion/bake.h"

#include <fmt/format.h>

namespace pivrak {

std::vector<double> clip_frames(const Clip& clip, int per_frame) {
    std::vector<double> frames;
    for (double step = 0; clip.first_frame + step / per_frame < clip.last_frame - 1e-9; step += 1)
        frames.push_back(clip.first_frame + step / per_frame);
    frames.push_back(clip.last_frame);
    return frames;
}

Result<Bake> bake_clip(const Document& document, ClipId clip_id, const Progress& progress, int per_frame) {
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip_id));
    const Clip& clip = clip_or_first(document, clip_id);
    Bake bake{evaluator.parts(), clip_frames(clip, per_frame), {}};
    bake.world_from_part.reserve(bake.frames.size() * bake.parts.size());
    Pose pose = evaluator.make_pose();
    for (std::size_t i = 0; i < bake.frames.size(); ++i) {
        if (!progress.go_on(static_cast<double>(i) / static_cast<double>(bake.frames.size()),
                            "evaluating frames"))
            return Error{"bake.cancelled", "cancelled; nothing was written", clip.name};
        evaluator.evaluate(bake.frames[i], pose);
        const auto parts = frames_of_parts(evaluator, pose);
        bake.world_from_part.insert(bake.world_from_part.end(), parts.begin(), parts.end());
    }
    return bake;
}

namespace {

std::string csv_field(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
    std::string quoted = "\"";
    for (const char c : text) quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    return quoted + '"';
}

}  // namespace

std::string bake_csv(const Document& document, const Bake& bake) {
    std::string csv = "frame,part";
    for (int row = 0; row < 4; ++row)
        for (int column = 0; column < 4; ++column) csv += fmt::format(",m{}{}", row, column);
    csv += '\n';
    for (std::size_t f = 0; f < bake.frames.size(); ++f)
        for (std::size_t p = 0; p < bake.parts.size(); ++p) {
            csv += fmt::format("{},{}", bake.frames[f], csv_field(part_path(document, bake.parts[p])));
            const Mat4 m = bake.at(f, p).matrix();
            for (int row = 0; row < 4; ++row)
                for (int column = 0; column < 4; ++column) csv += fmt::format(",{:.17g}", m(row, column));
            csv += '\n';
        }
    return csv;
}

}  // namespace pivrak
