#include "app/film/offscreen_picture.h"

#include <QSurfaceFormat>

namespace pivrak {
namespace {

/// What was current before is current again at the end.
class Current {
public:
    Current(QOpenGLContext& context, QSurface& surface)
        : before_(QOpenGLContext::currentContext()), surface_(before_ ? before_->surface() : nullptr) {
        is_ = context.makeCurrent(&surface);
        context_ = &context;
    }
    ~Current() {
        context_->doneCurrent();
        if (before_ && surface_) before_->makeCurrent(surface_);
    }
    bool is() const { return is_; }

private:
    QOpenGLContext *before_, *context_;
    QSurface* surface_;
    bool is_ = false;
};

constexpr int film_samples = 4;

}  // namespace

Result<std::unique_ptr<OffscreenPicture>> OffscreenPicture::make(QSize size) {
    std::unique_ptr<OffscreenPicture> made(new OffscreenPicture);
    made->context_.setFormat(QSurfaceFormat::defaultFormat());
    made->surface_.setFormat(QSurfaceFormat::defaultFormat());
    made->surface_.create();
    const bool can = made->context_.create();
    const Error none{"film.no_opengl", "pictures cannot be drawn here: there is no OpenGL 3.3", ""};
    if (!can) return none;
    const Current current(made->context_, made->surface_);
    if (!current.is()) return none;
    made->gl_ = std::make_unique<QOpenGLExtraFunctions>(&made->context_);
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
    if (!context_.isValid()) return;
    const Current current(context_, surface_);
    samples_.reset();
    renderer_.reset();
}

QImage OffscreenPicture::draw(const std::vector<DrawItem>& items, const Camera& camera, const Theme& theme,
                              SceneRenderer::Options options) {
    const Current current(context_, surface_);
    samples_->bind();
    options.pixel_ratio = 1;
    renderer_->draw(items, camera, theme, options);
    // Reading resolves the samples.
    return samples_->toImage().convertToFormat(QImage::Format_RGB32);
}

}  // namespace pivrak
