#pragma once

#include <QOpenGLContext>
#include <QSize>

namespace pivrak {

/// Paints a scene with OpenGL. All calls with the same context current.
class ScenePainter {
public:
    virtual ~ScenePainter() = default;
    /// Once, before anything is painted.
    virtual void begin(QOpenGLContext& context, bool by_processor) = 0;
    /// Into a frame buffer of so many pixels, which is bound.
    virtual void paint(GLuint target, QSize pixels) = 0;
    /// Lets go of what it holds in the context.
    virtual void end() = 0;
};

}  // namespace pivrak
