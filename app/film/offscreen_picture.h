#pragma once

#include <QImage>
#include <QOpenGLExtraFunctions>
#include <QOpenGLFramebufferObject>
#include <memory>

#include "app/view/off_screen.h"
#include "app/view/scene_renderer.h"
#include "core/base/result.h"

namespace pivrak {

/// Draws the scene without a window, several samples a pixel. It leaves the context that was current current.
class OffscreenPicture {
public:
    /// Errors: `film.no_opengl` where nothing can draw.
    static Result<std::unique_ptr<OffscreenPicture>> make(QSize size);
    ~OffscreenPicture();

    QImage draw(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme,
                SceneRenderer::Options options);

private:
    OffscreenPicture() = default;

    OffScreen off_screen_;
    std::unique_ptr<QOpenGLExtraFunctions> gl_;
    std::unique_ptr<SceneRenderer> renderer_;
    std::unique_ptr<QOpenGLFramebufferObject> samples_;
};

}  // namespace pivrak
