#include "app/view/view_corner.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/view/compass_dial.h"
#include "app/view/viewport.h"

namespace pivrak {
namespace {

constexpr int margin_px = 10, spacing_px = 4;
constexpr int scale_label_px = 100;  ///< the grid's spacing stands in the other corner

QToolButton* chipButton(const QString& text, const char* name, bool checked) {
    auto* button = new QToolButton;
    button->setText(text);
    button->setObjectName(QLatin1String(name));
    button->setCheckable(true);
    button->setChecked(checked);
    button->setFocusPolicy(Qt::TabFocus);
    return button;
}

}  // namespace

ViewCorner::ViewCorner(Viewport& view, Look& look)
    : QObject(&view),
      view_(view),
      look_(look),
      dial_(new CompassDial(view, look, &view)),
      chip_(new QFrame(&view)) {
    auto* perspective = chipButton(tr("Perspective"), "viewPerspective", true);
    auto* edges = chipButton(tr("Edges"), "viewEdges", true);
    auto* frames = chipButton(tr("Frames"), "viewFrames", false);
    auto* person = chipButton(tr("Scale figure"), "viewPerson", true);
    person->setToolTip(tr("A person of 1.75 m beside the model, in Intake"));
    auto* hands_off = chipButton(tr("Controls only"), "viewHandsOff", view.session().handsOff());
    hands_off->setToolTip(tr("Only controls can be picked"));
    auto* cameras = chipButton(tr("Camera"), "viewCameras", false);
    cameras->setCheckable(false);
    cameras->setToolTip(tr("Look through a camera, or make one here"));
    cameras->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(cameras);
    menu->setObjectName(QStringLiteral("cameraMenu"));
    cameras->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillCameras(*menu); });
    buttons_ = {perspective, edges, frames, person, hands_off, cameras};
    auto* layout = new QVBoxLayout(chip_);
    layout->setContentsMargins(margin_px, 1, margin_px, 1);
    layout->setSpacing(0);
    for (QHBoxLayout*& row : rows_) {
        row = new QHBoxLayout;
        row->setSpacing(spacing_px);
        row->addStretch();
        layout->addLayout(row);
    }
    connect(perspective, &QToolButton::toggled, &view_, &Viewport::setPerspective);
    connect(edges, &QToolButton::toggled, &view_, &Viewport::setEdges);
    connect(frames, &QToolButton::toggled, &view_, &Viewport::setFrames);
    connect(person, &QToolButton::toggled, &view_, &Viewport::setPerson);
    connect(hands_off, &QToolButton::toggled, &view_.session(), &Session::setHandsOff);
    connect(&view_.session(), &Session::handsOffChanged, hands_off,
            [this, hands_off] { hands_off->setChecked(view_.session().handsOff()); });
    connect(&look_, &Look::changed, this, &ViewCorner::restyle);
    view_.installEventFilter(this);
    chip_->installEventFilter(this);
    restyle();
}

/// The view itself, each camera of the project, and a new one where the view stands.
void ViewCorner::fillCameras(QMenu& menu) {
    menu.clear();
    const auto add = [&](const QString& words, PartId camera) {
        QAction* action = menu.addAction(words, &view_, [this, camera] { view_.lookThrough(camera); });
        action->setCheckable(true);
        action->setChecked(view_.through() == camera);
    };
    add(tr("The view itself"), {});
    for (const Part& part : view_.session().document().parts)
        if (part.lens) add(QString::fromStdString(part.name), part.id);
    menu.addSeparator();
    QAction* make = menu.addAction(tr("New camera here"), this, [this] {
        const Camera& camera = view_.camera();
        const Vec3 at = camera.eye(), to = camera.target;
        view_.session().run({{"op", "camera.add"},
                             {"name", "camera"},
                             {"at", {at.x(), at.y(), at.z()}},
                             {"to", {to.x(), to.y(), to.z()}},
                             {"field", camera.field_rad()}});
    });
    make->setObjectName(QStringLiteral("newCamera"));
    make->setEnabled(!view_.session().previewed());
}

void ViewCorner::restyle() {
    const Theme& t = look_.theme();
    chip_->setStyleSheet(
        QStringLiteral("QFrame { background: %1; border: 1px solid %2; border-radius: 12px; }"
                       "QToolButton { border: none; background: transparent; padding: 1px 8px; color: %3; "
                       "border-radius: 8px; }"
                       "QToolButton::menu-indicator { image: none; }"
                       "QToolButton:checked { color: %4; background: %5; font-weight: bold; }")
            .arg(t.card.name(), t.line.name(), t.softInk.name(), t.ink.name(), t.paper.name()));
    place();
}

void ViewCorner::arrange(int room) {
    int needed = 2 * margin_px;
    for (const QToolButton* button : buttons_) needed += button->sizeHint().width() + spacing_px;
    const std::size_t in_first = needed <= room ? buttons_.size() : (buttons_.size() + 1) / 2;
    // Each row ends in what it leaves free.
    if (rows_[0]->count() == static_cast<int>(in_first) + 1) return;
    for (std::size_t i = 0; i < buttons_.size(); ++i) {
        QHBoxLayout* row = rows_[i < in_first ? 0 : 1];
        row->insertWidget(row->count() - 1, buttons_[i]);
    }
}

void ViewCorner::place() {
    dial_->move(12, view_.height() - dial_->height() - 10);
    const int left = 12 + dial_->width() + 8;
    arrange(view_.width() - left - scale_label_px);
    chip_->layout()->activate();
    chip_->resize(chip_->sizeHint());
    chip_->move(left, view_.height() - chip_->height() - 12);
}

bool ViewCorner::eventFilter(QObject* watched, QEvent* event) {
    // Sizes of the buttons are known once they are shown, and change with their style.
    if (event->type() == QEvent::Resize || event->type() == QEvent::Show ||
        (watched == chip_ && event->type() == QEvent::LayoutRequest))
        place();
    return QObject::eventFilter(watched, event);
}

}  // namespace pivrak
