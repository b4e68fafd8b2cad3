#pragma once

#include <QOffscreenSurface>
#include <QOpenGLContext>

namespace pivrak {

/// A context with nothing in the window.
struct OffScreen {
    QOffscreenSurface surface;
    QOpenGLContext context;

    /// False where nothing can draw.
    bool create() {
        surface.setFormat(QSurfaceFormat::defaultFormat());
        surface.create();
        context.setFormat(QSurfaceFormat::defaultFormat());
        return context.create();
    }
    bool make_current() { return context.makeCurrent(&surface); }
};

}  // namespace pivrak
