#include "app/drive_map/map_window.h"

#include <QFile>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QSvgGenerator>
#include <QVBoxLayout>
#include <algorithm>

#include "app/stages/kit/card.h"

namespace pivrak {
namespace {

constexpr double least_zoom = 0.1, most_zoom = 4, margin = 16;
/// So many that do the same are one box.
constexpr std::size_t fold_from = 4;
/// Laying out more takes long.
constexpr std::size_t most_laid_out = 300;

}  // namespace

MapCanvas::MapCanvas(Session& session, Look& look) : session_(session), look_(look) {
    setObjectName(QStringLiteral("mapCanvas"));
    setMinimumSize(300, 200);
    setCursor(Qt::OpenHandCursor);
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
        map_ = std::move(map);
        layout_ = lay_out(map_, map_box_size);
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
    const QRectF box = layout_.boxes[static_cast<std::size_t>(found - map_.channels.begin())];
    return {box.topLeft() * zoom_ + shift_, box.size() * zoom_};
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
}

void MapCanvas::mousePressEvent(QMouseEvent* event) {
    pressed_ = last_ = event->position();
    drags_ = false;
}

void MapCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() == Qt::NoButton) return;
    if (!drags_ && (event->position() - pressed_).manhattanLength() < 4) return;
    drags_ = true;
    fitted_ = false;
    setCursor(Qt::ClosedHandCursor);
    shift_ += event->position() - last_;
    last_ = event->position();
    update();
}

void MapCanvas::mouseReleaseEvent(QMouseEvent* event) {
    setCursor(Qt::OpenHandCursor);
    if (drags_) return;
    if (const auto box = boxAt(layout_, onSheet(event->position())))
        pickBox(session_, map_, *box, event->modifiers() & Qt::ShiftModifier);
}

/// About the pointer.
void MapCanvas::wheelEvent(QWheelEvent* event) {
    const double before = zoom_;
    zoom_ = std::clamp(zoom_ * std::pow(1.0015, event->angleDelta().y()), least_zoom, most_zoom);
    shift_ = event->position() - (event->position() - shift_) * (zoom_ / before);
    fitted_ = false;
    update();
}

void MapCanvas::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (fitted_) fit();
}

// ---- the window about it

MapWindow::MapWindow(Session& session, Look& look, const Questions& questions, QWidget* parent)
    : QWidget(parent, Qt::Window),
      session_(session),
      questions_(questions),
      canvas_(new MapCanvas(session, look)),
      search_(new QLineEdit),
      fold_(new QCheckBox(tr("What does the same in one box"))),
      around_(new QCheckBox(tr("Only about what is picked"))),
      note_(new QLabel) {
    setObjectName(QStringLiteral("mapWindow"));
    setWindowTitle(tr("Drive map"));
    resize(1100, 700);
    search_->setObjectName(QStringLiteral("mapSearch"));
    search_->setPlaceholderText(tr("find a part"));
    search_->setMaximumWidth(220);
    fold_->setObjectName(QStringLiteral("mapFold"));
    fold_->setChecked(true);
    around_->setObjectName(QStringLiteral("mapAround"));
    note_->setProperty("role", "soft");
    auto* fit = makeButton(tr("Fit"), "mapFit");
    auto* save = makeButton(tr("Save drawing"), "saveMap");
    auto* row = new QHBoxLayout;
    row->addWidget(search_);
    row->addWidget(fold_);
    row->addWidget(around_);
    row->addWidget(note_, 1);
    row->addWidget(fit);
    row->addWidget(save);
    auto* layout = new QVBoxLayout(this);
    layout->addLayout(row);
    layout->addWidget(canvas_, 1);
    connect(search_, &QLineEdit::textChanged, canvas_, &MapCanvas::search);
    connect(fold_, &QCheckBox::toggled, this, &MapWindow::refresh);
    connect(around_, &QCheckBox::toggled, this, &MapWindow::refresh);
    connect(fit, &QPushButton::clicked, canvas_, &MapCanvas::fit);
    connect(save, &QPushButton::clicked, this, &MapWindow::save);
    for (auto signal : {&Session::documentChanged, &Session::projectChanged, &Session::selectionChanged})
        connect(&session, signal, this, &MapWindow::refresh);
}

void MapWindow::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
    canvas_->fit();
}

void MapWindow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return close(), void();
    QWidget::keyPressEvent(event);
}

void MapWindow::refresh() {
    if (!isVisible()) return;
    const DriveMap whole = drive_map(session_.document(), session_.clip());
    DriveMap map = around_->isChecked() ? around(whole, session_.selection()) : whole;
    if (fold_->isChecked()) map = folded(map, fold_from);
    const bool too_many = map.channels.size() > most_laid_out;
    note_->setText(too_many ? tr("%1 channels: pick a part, and look about it").arg(map.channels.size())
                            : tr("%1 channels").arg(whole.channels.size()));
    if (too_many) map = {};
    canvas_->setMap(std::move(map));
}

void MapWindow::save() {
    const QString file = questions_.save_file(this, tr("Save the drive map"), QStringLiteral("drive-map.svg"),
                                              tr("Drawing (*.svg);;Picture (*.png)"));
    if (file.isEmpty()) return;
    const auto saved = canvas_->save(file);
    emit session_.told(
        saved ? tr("drive map saved to %1").arg(file) : QString::fromStdString(saved.error().message),
        !saved.ok());
}

}  // namespace pivrak
