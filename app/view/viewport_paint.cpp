// How pictures of the view are drawn: in full, or simpler while something moves.
#include <QElapsedTimer>
#include <QOpenGLFramebufferObject>
#include <limits>

#include "app/view/viewport.h"

namespace pivrak {
namespace {

/// Where the processor draws, huge shapes are coarser by less than anybody sees.
constexpr double unseen_px = 0.15;
constexpr std::size_t many_triangles = 50000;
constexpr int samples_a_pixel = 4;

}  // namespace

void Viewport::begin(QOpenGLContext& context, bool by_processor) {
    gl_ = std::make_unique<QOpenGLExtraFunctions>(&context);
    gl_->initializeOpenGLFunctions();
    renderer_ = std::make_unique<SceneRenderer>(*gl_);
    pace_.setByProcessor(by_processor);
}

void Viewport::end() {
    samples_.reset();
    fewer_.reset();
    renderer_.reset();
    gl_.reset();
}

void Viewport::paint(GLuint target, QSize pixels) {
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
    full ? paintSmooth(options, target, pixels) : paintSimply(options, target, pixels);
    emit painted(full);
}

void Viewport::copyTo(GLuint target, QSize pixels, const QOpenGLFramebufferObject& from, GLenum filter) {
    gl_->glBindFramebuffer(GL_READ_FRAMEBUFFER, from.handle());
    gl_->glBindFramebuffer(GL_DRAW_FRAMEBUFFER, target);
    gl_->glBlitFramebuffer(0, 0, from.width(), from.height(), 0, 0, pixels.width(), pixels.height(),
                           GL_COLOR_BUFFER_BIT, filter);
    gl_->glBindFramebuffer(GL_FRAMEBUFFER, target);
}

/// One sample for each pixel and shapes that are coarser by as much as one; no lines and no shadow, and fewer
/// pixels, where it still takes long.
void Viewport::paintSimply(SceneRenderer::Options options, GLuint target, QSize pixels) {
    QElapsedTimer timer;
    timer.start();
    const double share = pace_.pixelShare();
    options.edges = edges_ && pace_.hasLines();
    options.shadow = pace_.hasLines();
    options.error_px = 1 / share;
    // Coarser shapes are made beside the pictures that follow, not beside the first one.
    options.coarser_from = pace_.opens() ? std::numeric_limits<std::size_t>::max() : 0;
    const QSize drawn(std::max(1, static_cast<int>(pixels.width() * share)),
                      std::max(1, static_cast<int>(pixels.height() * share)));
    if (share < 1) {
        if (!fewer_ || fewer_->size() != drawn)
            fewer_ = std::make_unique<QOpenGLFramebufferObject>(
                drawn, QOpenGLFramebufferObject::CombinedDepthStencil);
        fewer_->bind();
    }
    options.pixel_ratio *= share;
    renderer_->draw(scene_.items(camera_, person_), camera_, look_.theme(), options);
    if (share < 1) copyTo(target, pixels, *fewer_, GL_LINEAR);
    gl_->glFinish();
    pace_.tookSimple(static_cast<double>(timer.nsecsElapsed()) * 1e-6);
}

/// By several samples for each pixel, with all there is to see.
void Viewport::paintSmooth(const SceneRenderer::Options& options, GLuint target, QSize pixels) {
    QElapsedTimer timer;
    timer.start();
    if (!samples_ || samples_->size() != pixels) {
        QOpenGLFramebufferObjectFormat format;
        format.setSamples(samples_a_pixel);
        format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
        samples_ = std::make_unique<QOpenGLFramebufferObject>(pixels, format);
    }
    samples_->bind();
    renderer_->draw(scene_.items(camera_, person_), camera_, look_.theme(), options);
    copyTo(target, pixels, *samples_, GL_NEAREST);
    gl_->glFinish();
    pace_.tookFull(static_cast<double>(timer.nsecsElapsed()) * 1e-6);
}

void Viewport::paintFully() {
    pace_.rest();
    surface_->changed();
}

}  // namespace pivrak
