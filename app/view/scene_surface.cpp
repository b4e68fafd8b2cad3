#include "app/view/scene_surface.h"

#include <QOpenGLExtraFunctions>
#include <QOpenGLFramebufferObject>
#include <QOpenGLWidget>
#include <QPainter>
#include <cstring>

#include "app/view/off_screen.h"

namespace pivrak {
namespace {

/// The free drivers that draw by the processor name themselves.
bool draws_by_processor(QOpenGLContext& context) {
    const QByteArray who(reinterpret_cast<const char*>(context.functions()->glGetString(GL_RENDERER)));
    return who.contains("llvmpipe") || who.contains("softpipe") || who.contains("software");
}

QSize pixels_of(const QWidget& widget) {
    return widget.size() * widget.devicePixelRatioF();
}

/// Painted by a graphics card, straight into the window.
class CardSurface final : public QOpenGLWidget, public SceneSurface {
public:
    CardSurface(ScenePainter& painter, QWidget& parent) : QOpenGLWidget(&parent), painter_(painter) {}
    QWidget& widget() override { return *this; }
    void changed() override { update(); }
    QImage picture() override { return grabFramebuffer(); }
    void finish() override {
        makeCurrent();
        if (context()) context()->functions()->glFinish();
    }
    void end() override {
        makeCurrent();
        if (begun_) painter_.end();
        begun_ = false;
        doneCurrent();
    }

protected:
    void initializeGL() override {
        painter_.begin(*context(), draws_by_processor(*context()));
        begun_ = true;
    }
    void paintGL() override {
        if (begun_) painter_.paint(defaultFramebufferObject(), pixels_of(*this));
    }

private:
    ScenePainter& painter_;
    bool begun_ = false;
};

/// Drawn off screen and painted as a picture.
class ProcessorSurface final : public QWidget, public SceneSurface {
public:
    ProcessorSurface(ScenePainter& painter, std::unique_ptr<OffScreen> off_screen, QWidget& parent)
        : QWidget(&parent), painter_(painter), off_screen_(std::move(off_screen)) {
        setAttribute(Qt::WA_OpaquePaintEvent);
    }
    QWidget& widget() override { return *this; }
    void changed() override {
        stale_ = true;
        update();
    }
    QImage picture() override {
        draw();
        return picture_.copy();
    }
    void finish() override {
        if (gl_ && current()) gl_->glFinish();
    }
    void end() override {
        if (gl_ && current()) painter_.end();
        target_.reset();
        gl_.reset();
        off_screen_.reset();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        if (stale_ || picture_.size() != pixels_of(*this)) draw();
        QPainter(this).drawImage(QPointF(0, 0), picture_);
    }

private:
    bool current() { return off_screen_ && off_screen_->make_current(); }

    void begin() {
        gl_ = std::make_unique<QOpenGLExtraFunctions>(&off_screen_->context);
        gl_->initializeOpenGLFunctions();
        painter_.begin(off_screen_->context, true);
    }

    void draw() {
        const QSize pixels = pixels_of(*this);
        if (pixels.isEmpty() || !current()) return;
        stale_ = false;
        if (!gl_) begin();
        if (!target_ || target_->size() != pixels) {
            target_ = std::make_unique<QOpenGLFramebufferObject>(
                pixels, QOpenGLFramebufferObject::CombinedDepthStencil);
            picture_ = QImage(pixels, QImage::Format_RGB32);
            upside_down_.resize(static_cast<std::size_t>(picture_.sizeInBytes()));
        }
        target_->bind();
        painter_.paint(target_->handle(), pixels);
        target_->bind();
        gl_->glReadPixels(0, 0, pixels.width(), pixels.height(), GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV,
                          upside_down_.data());
        // OpenGL counts rows from below.
        const auto row = static_cast<std::size_t>(picture_.bytesPerLine());
        for (int y = 0; y < pixels.height(); ++y)
            std::memcpy(picture_.scanLine(y),
                        upside_down_.data() + row * static_cast<std::size_t>(pixels.height() - 1 - y), row);
        picture_.setDevicePixelRatio(devicePixelRatioF());
    }

    ScenePainter& painter_;
    std::unique_ptr<OffScreen> off_screen_;
    std::unique_ptr<QOpenGLExtraFunctions> gl_;
    std::unique_ptr<QOpenGLFramebufferObject> target_;
    std::vector<uchar> upside_down_;
    QImage picture_;
    bool stale_ = true;
};

}  // namespace

SceneSurface* make_card_surface(ScenePainter& painter, QWidget& parent) {
    return new CardSurface(painter, parent);
}

SceneSurface* make_processor_surface(ScenePainter& painter, QWidget& parent) {
    auto off_screen = std::make_unique<OffScreen>();
    return off_screen->create() ? new ProcessorSurface(painter, std::move(off_screen), parent) : nullptr;
}

SceneSurface* make_scene_surface(ScenePainter& painter, QWidget& parent) {
    auto off_screen = std::make_unique<OffScreen>();
    if (off_screen->create() && off_screen->make_current() && draws_by_processor(off_screen->context))
        return new ProcessorSurface(painter, std::move(off_screen), parent);
    return make_card_surface(painter, parent);
}

}  // namespace pivrak
