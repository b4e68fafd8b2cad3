#pragma once

#include <string>

namespace pivrak::cli {

/// What `render` was asked for; empty and 0 mean as the clip has it.
struct RenderCommand {
    std::string file, out, clip, camera, as = "pictures";
    double from = 0, to = 0, every = 1;
    bool has_from = false, has_to = false, no_edges = false, night = false;
    int width = 1280, height = 720, columns = 4;
};

/// Draws a clip without a window. Where there is no display it starts itself again on a virtual one.
int render(const RenderCommand& command, int argc, char** argv);

}  // namespace pivrak::cli
