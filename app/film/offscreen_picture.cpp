#include "app/film/offscreen_picture.h"

namespace pivrak {
namespace {

/// What was current before is current again at the end.
class Current {
public:
    explicit Current(OffScreen& off_screen)
        : before_(QOpenGLContext::currentContext()),
          surface_(before_ ? before_->surface() : nullptr),
          off_screen_(off_screen),
          is_(off_screen.make_current()) {}
    ~Current() {
        off_screen_.context.doneCurrent();
        if (before_ && surface_) before_->makeCurrent(surface_);
    }
    bool is() const { return is_; }

private:
    QOpenGLContext* before_;
    QSurface* surface_;
    OffScreen& off_screen_;
    bool is_;
};

constexpr int film_samples = 4;

}  // namespace

Result<std::unique_ptr<OffscreenPicture>> OffscreenPicture::make(QSize size) {
    std::unique_ptr<OffscreenPicture> made(new OffscreenPicture);
    const Error none{"film.no_opengl", "pictures cannot be drawn here: there is no OpenGL 3.3", ""};
    if (!made->off_screen_.create()) return none;
    const Current current(made->off_screen_);
    if (!current.is()) return none;
    made->gl_ = std::make_unique<QOpenGLExtraFunctions>(&made->off_screen_.context);
    made->gl_->initializeOpenGLFunctions();
    made->renderer_ = std::make_unique<SceneRenderer>(*made->gl_);
    QOpenGLFramebufferObjectFormat format;
    format.setSamples(film_samples);
    format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
    made->samples_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
    if (!made->samples_->isValid()) return none;
    return made;
}

OffscreenPicture::~OffscreenPicture() {
    if (!off_screen_.context.isValid()) return;
    const Current current(off_screen_);
    samples_.reset();
    renderer_.reset();
}

QImage OffscreenPicture::draw(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme,
                              SceneRenderer::Options options) {
    const Current current(off_screen_);
    samples_->bind();
    options.pixel_ratio = 1;
    renderer_->draw(items, camera, theme, options);
    // Reading resolves the samples.
    return samples_->toImage().convertToFormat(QImage::Format_RGB32);
}

}  // namespace pivrak
