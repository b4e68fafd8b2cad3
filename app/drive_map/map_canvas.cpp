#include "app/drive_map/map_canvas.h"

#include <QFile>
#include <QKeyEvent>
#include <QPainter>
#include <QSvgGenerator>
#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

constexpr double least_zoom = 0.1, most_zoom = 4, margin = 16;

}  // namespace

MapCanvas::MapCanvas(Session& session, Look& look)
    : session_(session), look_(look), entry_(new QLineEdit(this)) {
    setObjectName(QStringLiteral("mapCanvas"));
    setMinimumSize(300, 200);
    setCursor(Qt::OpenHandCursor);
    setMouseTracking(true);
    entry_->setObjectName(QStringLiteral("mapNumber"));
    entry_->setAlignment(Qt::AlignCenter);
    entry_->hide();
    connect(entry_, &QLineEdit::returnPressed, this, &MapCanvas::take);
    connect(entry_, &QLineEdit::editingFinished, this, [this] {
        if (!entry_->hasFocus()) leave();
    });
    connect(&session, &Session::poseChanged, this, [this] {
        if (!isVisible()) return;
        moving_.look(session_, map_);
        update();
    });
    connect(&session, &Session::selectionChanged, this, qOverload<>(&QWidget::update));
    connect(&look, &Look::changed, this, qOverload<>(&QWidget::update));
}

void MapCanvas::setMap(DriveMap map) {
    if (!(map == map_)) {
        leave();
        from_.reset();
        map_ = std::move(map);
        layout_ = lay_out(map_, map_box_size);
        plates_ = labelPlates(map_, layout_);
        moving_.look(session_, map_);
        if (fitted_) fit();
    }
    update();
}

void MapCanvas::search(const QString& name) {
    searched_ = name.trimmed();
    for (std::size_t i = 0; i < map_.channels.size() && !searched_.isEmpty(); ++i)
        if (boxName(session_, map_, i).contains(searched_, Qt::CaseInsensitive)) {
            const QPointF seen = layout_.boxes[i].center() * zoom_ + shift_;
            if (!QRectF(rect()).adjusted(20, 20, -20, -20).contains(seen))
                shift_ += QRectF(rect()).center() - seen;
            break;
        }
    update();
}

void MapCanvas::fit() {
    fitted_ = true;
    if (layout_.size.isEmpty()) return;
    zoom_ = std::clamp(std::min((width() - 2 * margin) / layout_.size.width(),
                                (height() - 2 * margin) / layout_.size.height()),
                       least_zoom, 1.5);
    shift_ = 0.5 * QPointF(width() - zoom_ * layout_.size.width(), height() - zoom_ * layout_.size.height());
    update();
}

QRectF MapCanvas::boxOf(ChannelRef channel) const {
    const auto found = std::find(map_.channels.begin(), map_.channels.end(), channel);
    if (found == map_.channels.end()) return {};
    return seen(layout_.boxes[static_cast<std::size_t>(found - map_.channels.begin())]);
}

QRectF MapCanvas::labelOf(std::size_t edge) const {
    return edge < plates_.size() ? seen(plates_[edge]) : QRectF();
}

MapPicture MapCanvas::picture() const {
    return {session_, look_.theme(), map_, layout_, moving_, searched_};
}

Result<void> MapCanvas::save(const QString& file) const {
    const QSizeF whole = layout_.size + QSizeF(2 * margin, 2 * margin);
    const auto paint = [&](QPaintDevice& device, double scale) {
        QPainter painter(&device);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.scale(scale, scale);
        painter.fillRect(QRectF(QPointF(0, 0), whole), look_.theme().card);
        painter.translate(margin, margin);
        MapPicture plain = picture();
        plain.searched.clear();
        paintMap(painter, plain);
    };
    const Error unwritten{"file.write", "'" + file.toStdString() + "' cannot be written", file.toStdString()};
    if (file.endsWith(QStringLiteral(".svg"), Qt::CaseInsensitive)) {
        QFile device(file);
        if (!device.open(QIODevice::WriteOnly)) return unwritten;
        QSvgGenerator generator;
        generator.setOutputDevice(&device);
        generator.setSize(whole.toSize());
        generator.setViewBox(QRectF(QPointF(0, 0), whole));
        generator.setTitle(tr("Drive map"));
        paint(generator, 1);
        return {};
    }
    constexpr double sharp = 2;
    QImage image((whole * sharp).toSize(), QImage::Format_RGB32);
    if (image.isNull()) return unwritten;
    paint(image, sharp);
    return image.save(file) ? Result<void>{} : unwritten;
}

void MapCanvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), look_.theme().card);
    painter.translate(shift_);
    painter.scale(zoom_, zoom_);
    paintMap(painter, picture());
    if (from_ && drags_) paintPulled(painter);
}

/// A coupling that is being pulled: from its box to the pointer, and who would drive whom.
void MapCanvas::paintPulled(QPainter& painter) const {
    const Theme& theme = look_.theme();
    const QPointF at = onSheet(last_);
    const QRectF& box = layout_.boxes[*from_];
    painter.setPen(QPen(theme.petrol, 2, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawLine(QPointF(at.x() < box.center().x() ? box.left() : box.right(), box.center().y()), at);
    const auto to = boxAt(layout_, at);
    if (!to || to == from_) return;
    painter.drawRoundedRect(layout_.boxes[*to].adjusted(-3, -3, 3, 3), 6, 6);
    const QString words =
        tr("%1 drives %2").arg(boxName(session_, map_, *from_), boxName(session_, map_, *to));
    painter.setFont(Look::uiFont(11));
    const QSizeF room(painter.fontMetrics().horizontalAdvance(words) + 14, 20);
    const QRectF plate(layout_.boxes[*to].center().x() - room.width() / 2,
                       layout_.boxes[*to].top() - room.height() - 6, room.width(), room.height());
    painter.setPen(QPen(theme.petrol, 1));
    painter.setBrush(theme.card);
    painter.drawRoundedRect(plate, 4, 4);
    painter.setPen(theme.ink);
    painter.drawText(plate, Qt::AlignCenter, words);
}

void MapCanvas::mousePressEvent(QMouseEvent* event) {
    pressed_ = last_ = event->position();
    drags_ = false;
    from_ = boxAt(layout_, onSheet(pressed_));
    setFocus();
}

/// What a click would do here.
void MapCanvas::hover(const QPointF& at) {
    const auto label = labelAt(plates_, onSheet(at));
    QString why;
    const bool can = label && arrowNumber(session_.document(), map_, map_.edges[*label], why);
    setCursor(can                           ? Qt::IBeamCursor
              : boxAt(layout_, onSheet(at)) ? Qt::PointingHandCursor
                                            : Qt::OpenHandCursor);
    setToolTip(can     ? tr("Click to type another number")
               : label ? why
                       : tr("Drag from box to box: the first drives the second"));
}

void MapCanvas::edit(std::size_t edge) {
    QString why;
    number_ = arrowNumber(session_.document(), map_, map_.edges[edge], why);
    if (!number_) {
        emit session_.told(why, false);
        return;
    }
    entry_->setText(number_->now);
    entry_->setPlaceholderText(number_->what);
    entry_->setToolTip(number_->what);
    QRect place = labelOf(edge).toAlignedRect();
    const QPoint middle = place.center();
    place.setSize(QSize(std::max(place.width(), 110), 24));
    place.moveCenter(middle);
    entry_->setGeometry(place);
    entry_->show();
    entry_->setFocus();
    entry_->selectAll();
}

void MapCanvas::take() {
    if (!number_) return;
    if (!entry_->isModified()) return leave();
    const Result<nlohmann::json> step = number_->step(entry_->text().toStdString());
    if (!step) {
        emit session_.told(QString::fromStdString(step.error().message), true);
        return;
    }
    leave();
    session_.run(*step);
}

void MapCanvas::leave() {
    number_.reset();
    entry_->hide();
}

void MapCanvas::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Escape || (!number_ && !from_)) return QWidget::keyPressEvent(event);
    leave();
    from_.reset();
    update();
}

void MapCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() == Qt::NoButton) return hover(event->position());
    if (!drags_ && (event->position() - pressed_).manhattanLength() < 4) return;
    drags_ = true;
    setCursor(from_ ? Qt::CrossCursor : Qt::ClosedHandCursor);
    if (!from_) {
        fitted_ = false;
        shift_ += event->position() - last_;
        leave();
    }
    last_ = event->position();
    update();
}

void MapCanvas::mouseReleaseEvent(QMouseEvent* event) {
    const auto from = std::exchange(from_, std::nullopt);
    const auto box = boxAt(layout_, onSheet(event->position()));
    hover(event->position());
    update();
    if (drags_) {
        if (from && box && from != box) emit couplingAsked(map_.channels[*from], map_.channels[*box]);
        return;
    }
    if (box)
        pickBox(session_, map_, *box, event->modifiers() & Qt::ShiftModifier);
    else if (const auto label = labelAt(plates_, onSheet(event->position())))
        edit(*label);
}

/// About the pointer.
void MapCanvas::wheelEvent(QWheelEvent* event) {
    const double before = zoom_;
    zoom_ = std::clamp(zoom_ * std::pow(1.0015, event->angleDelta().y()), least_zoom, most_zoom);
    shift_ = event->position() - (event->position() - shift_) * (zoom_ / before);
    fitted_ = false;
    leave();
    update();
}

void MapCanvas::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (fitted_) fit();
}

}  // namespace pivrak
