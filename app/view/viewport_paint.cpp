// How pictures of the view are drawn: in full, or simpler while something moves.
#include <QElapsedTimer>
#include <QOpenGLFramebufferObject>

#include "app/view/viewport.h"

namespace pivrak {
namespace {

/// Where the processor draws, huge shapes are coarser by less than anybody sees.
constexpr double unseen_px = 0.15;
constexpr std::size_t many_triangles = 50000;
constexpr int samples_a_pixel = 4;

}  // namespace

void Viewport::initializeGL() {
    gl_ = std::make_unique<QOpenGLExtraFunctions>(context());
    gl_->initializeOpenGLFunctions();
    renderer_ = std::make_unique<SceneRenderer>(*gl_);
    // The free drivers that draw by the processor name themselves.
    const QByteArray who(reinterpret_cast<const char*>(gl_->glGetString(GL_RENDERER)));
    pace_.setByProcessor(who.contains("llvmpipe") || who.contains("softpipe") || who.contains("software"));
}

void Viewport::paintGL() {
    SceneRenderer::Options options;
    options.edges = edges_;
    options.pixel_ratio = devicePixelRatioF();
    options.grid_step_m = gridStep();
    options.passed = passed_;
    const bool full = pace_.isFull();
    if (pace_.isByProcessor()) {
        options.error_px = unseen_px;
        options.coarser_from = many_triangles;
    }
    full ? paintSmooth(options) : paintSimply(options);
    emit painted(full);
}

/// One sample for each pixel and coarser shapes; no lines and no shadow, and fewer pixels, where it still
/// takes long.
void Viewport::paintSimply(SceneRenderer::Options options) {
    QElapsedTimer timer;
    timer.start();
    const double share = pace_.pixelShare();
    options.edges = edges_ && pace_.hasLines();
    options.shadow = pace_.hasLines();
    options.error_px = 1;
    options.coarser_from = 0;
    const QSize whole = size() * devicePixelRatioF(),
                drawn(std::max(1, static_cast<int>(whole.width() * share)),
                      std::max(1, static_cast<int>(whole.height() * share)));
    if (share < 1) {
        if (!fewer_ || fewer_->size() != drawn)
            fewer_ = std::make_unique<QOpenGLFramebufferObject>(
                drawn, QOpenGLFramebufferObject::CombinedDepthStencil);
        fewer_->bind();
    }
    options.pixel_ratio *= share;
    renderer_->draw(scene_.items(camera_, person_), camera_, look_.theme(), options);
    if (share < 1) {
        gl_->glBindFramebuffer(GL_READ_FRAMEBUFFER, fewer_->handle());
        gl_->glBindFramebuffer(GL_DRAW_FRAMEBUFFER, defaultFramebufferObject());
        gl_->glBlitFramebuffer(0, 0, drawn.width(), drawn.height(), 0, 0, whole.width(), whole.height(),
                               GL_COLOR_BUFFER_BIT, GL_LINEAR);
        gl_->glBindFramebuffer(GL_FRAMEBUFFER, defaultFramebufferObject());
    }
    gl_->glFinish();
    pace_.tookSimple(static_cast<double>(timer.nsecsElapsed()) * 1e-6);
}

/// By several samples for each pixel, with all there is to see.
void Viewport::paintSmooth(const SceneRenderer::Options& options) {
    QElapsedTimer timer;
    timer.start();
    const QSize size = this->size() * devicePixelRatioF();
    if (!samples_ || samples_->size() != size) {
        QOpenGLFramebufferObjectFormat format;
        format.setSamples(samples_a_pixel);
        format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
        samples_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
    }
    samples_->bind();
    renderer_->draw(scene_.items(camera_, person_), camera_, look_.theme(), options);
    gl_->glBindFramebuffer(GL_READ_FRAMEBUFFER, samples_->handle());
    gl_->glBindFramebuffer(GL_DRAW_FRAMEBUFFER, defaultFramebufferObject());
    gl_->glBlitFramebuffer(0, 0, size.width(), size.height(), 0, 0, size.width(), size.height(),
                           GL_COLOR_BUFFER_BIT, GL_NEAREST);
    gl_->glBindFramebuffer(GL_FRAMEBUFFER, defaultFramebufferObject());
    gl_->glFinish();
    pace_.tookFull(static_cast<double>(timer.nsecsElapsed()) * 1e-6);
}

void Viewport::paintFully() {
    pace_.rest();
    update();
}

}  // namespace pivrak
