#pragma once

namespace pivrak {

class Viewport;

/// Asks for OpenGL 3.3 core with four samples a pixel. Before the application is made.
void setSurfaceFormat();

/// Ends the program once the view has drawn, and prints the seconds since the process began; for measuring.
void quitAfterFirstFrame(Viewport& view);

}  // namespace pivrak
