#pragma once

namespace pivrak {

class Viewport;

/// Asks for OpenGL 3.3 core with four samples a pixel. Before the application is made.
void setSurfaceFormat();

/// Ends the program once the view has drawn a full picture; prints the seconds since the process began, to
/// the first picture and to that one. For measuring.
void quitAfterFirstFrame(Viewport& view);

}  // namespace pivrak
