#include "app/shell/gauge_bar.h"
#include "app/session/words.h"

#include <QHBoxLayout>
#include <QPainter>

namespace pivrak {

GaugeBar::GaugeBar(Session& session, Look& look, QWidget* parent)
    : QWidget(parent), session_(session), look_(look), message_(new QLabel), counts_(new QLabel) {
    setObjectName(QStringLiteral("gaugeBar"));
    setFixedHeight(26);
    message_->setObjectName(QStringLiteral("message"));
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    counts_->setObjectName(QStringLiteral("counts"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 0, 12, 0);
    layout->addWidget(message_, 1);
    watch(session_.edits(), "Work", tr("Cancelled; the project is as it was"));
    watch(session_.deliveries(), "Delivery", tr("Cancelled; nothing was written"));
    watch(session_.measuring(), "Measuring", tr("Cancelled; nothing was measured"));
    layout->addWidget(counts_);
    message_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);

    fade_.setSingleShot(true);
    fade_.setInterval(9000);
    connect(&fade_, &QTimer::timeout, this, &GaugeBar::expect);
    connect(&session_, &Session::told, this, &GaugeBar::tell);
    for (auto signal : {&Session::documentChanged, &Session::selectionChanged, &Session::previewChanged})
        connect(&session_, signal, this, &GaugeBar::count);
    connect(&session_, &Session::poseChanged, this, &GaugeBar::showCounts);
    for (auto signal : {&Session::selectionChanged, &Session::stageChanged, &Session::previewChanged,
                        &Session::pickSettingsChanged, &Session::toolPlaneChanged, &Session::placingChanged})
        connect(&session_, signal, this, &GaugeBar::expect);
    connect(&look_, &Look::changed, this, &GaugeBar::style);
    style();
    count();
    expect();
}

/// Work that takes over half a second shows how far it is, and a button that ends it.
void GaugeBar::watch(Background& work, const char* name, const QString& when_cancelled) {
    auto* progress = new QProgressBar;
    progress->setObjectName(QStringLiteral("progress") + QLatin1String(name));
    progress->setRange(0, 1000);
    progress->setFixedWidth(150);
    auto* cancel = new QToolButton;
    cancel->setObjectName(QStringLiteral("cancel") + QLatin1String(name));
    cancel->setText(tr("Cancel"));
    for (QWidget* widget : std::initializer_list<QWidget*>{progress, cancel}) {
        widget->hide();
        layout()->addWidget(widget);
    }
    auto* patience = new QTimer(this);
    patience->setSingleShot(true);
    patience->setInterval(500);
    connect(patience, &QTimer::timeout, this, [progress, cancel] {
        progress->show();
        cancel->show();
    });
    connect(&work, &Background::started, this, [progress, cancel, patience](const QString& title) {
        progress->setValue(0);
        progress->setFormat(title);
        cancel->setToolTip(GaugeBar::tr("Cancel: %1").arg(title));
        patience->start();
    });
    connect(&work, &Background::advanced, this, [progress](double fraction, const QString&) {
        progress->setValue(static_cast<int>(1000 * fraction));
    });
    connect(&work, &Background::finished, this, [progress, cancel, patience] {
        patience->stop();
        progress->hide();
        cancel->hide();
    });
    connect(cancel, &QToolButton::clicked, this, [this, &work, when_cancelled] {
        work.cancel();
        tell(when_cancelled, false);
    });
}

void GaugeBar::style() {
    counts_->setFont(Look::uiFont(12));
    counts_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.theme().railText.name()));
    message_->setStyleSheet(QStringLiteral("color: %1;")
                                .arg(refused_ ? QStringLiteral("#FFC9A8") : look_.theme().railText.name()));
    update();
}

void GaugeBar::paintEvent(QPaintEvent*) {
    QPainter(this).fillRect(rect(), look_.theme().petrol);
}

void GaugeBar::tell(const QString& text, bool refused) {
    refused_ = refused;
    message_->setText(refused ? tr("⚠ %1").arg(text) : text);
    message_->setToolTip(text);
    style();
    fade_.start();
}

void GaugeBar::hint(const QString& text) {
    refused_ = false;
    message_->setText(text);
    style();
    fade_.start();
}

/// What can be done in Rig with the part picked last.
QString GaugeBar::expectedOf(const Part& part) const {
    if (const std::size_t picked = session_.selection().size(); picked > 1)
        return tr("%1 picked: a card takes them in the order of picking; the last one is %2")
            .arg(countWords(picked, "part"), QString::fromStdString(part.name));
    if (part.ride && session_.mayMove({part.id, ChannelKind::Along}))
        return tr("Drag the diamond of %1 along its path, or type how far; K keys it")
            .arg(QString::fromStdString(part.name));
    const auto channels = part.channels();
    const ChannelKind first = channels.empty() ? ChannelKind::Turn : channels.front();
    if (const auto may = session_.mayMove({part.id, first}); !may)
        return QString::fromStdString(may.error().message);
    return tr("Drag the knob to move %1, or type a value. Shift steps, Ctrl moves finely")
        .arg(QString::fromStdString(part.name));
}

/// What the present stage waits for, in one sentence.
void GaugeBar::expect() {
    fade_.stop();
    refused_ = false;
    const auto text = [this]() -> QString {
        if (session_.previewed()) return tr("Preview: Enter accepts, Esc leaves everything as it was");
        if (session_.document().shapes.empty()) return tr("Open a model: Ctrl+I, or File, Examples");
        const Part* part = session_.document().parts.find(session_.primary());
        switch (session_.stage()) {
            case Stage::Intake:
                if (session_.pickSettings().kind == PickKind::Points)
                    return tr(
                        "Click one corner of the model, then with Shift another: their distance is measured");
                return tr("Check size, up and front under Stand, tidy the tree, then go on to Split (2)");
            case Stage::Split:
                if (session_.toolPlane())
                    return tr("Drag the knob to move the plane, the marks at its edges to tilt and turn it");
                if (session_.pickSettings().kind == PickKind::Faces)
                    return tr(
                        "Click faces, Shift adds, Ctrl takes away; drag draws an outline; grow the picking "
                        "under Pick");
                return part ? tr("Preview how the selection breaks apart, then accept")
                            : tr("Pick the lumps to break apart, or let Find recognise parts and repeats");
            case Stage::Pivots:
                if (session_.pickSettings().kind == PickKind::Places)
                    return tr(
                        "Click corners, edges, rims, flat sides, pivots or grid crossings: two make a hinge "
                        "line");
                return part ? tr("Fit a cylinder to round parts, or take the middle of the bounds")
                            : tr("Pick the parts whose pivot is off");
            case Stage::Tree:
                if (session_.isPlacing())
                    return part ? tr("Drag a knob to move %1 at rest, or type how far. M: next rule, T: next "
                                     "dial")
                                      .arg(QString::fromStdString(part->name))
                                : tr("Pick the parts to move");
                return part ? tr("Say what carries the selection and how it may move")
                            : tr("Pick parts; the last one picked carries the others (U)");
            case Stage::Rig:
                if (session_.pathTool().drawing)
                    return tr("Click the points of the path; Enter ends it, Esc leaves");
                return part ? expectedOf(*part)
                            : tr("Couple gears, lay a chain, draw a path and let parts ride it, or rig a "
                                 "vehicle");
            case Stage::Keys:
                return tr("Go to a frame, move something, press K. Space plays");
            case Stage::Handover:
                return tr("Choose a file and deliver; it is read back and compared");
        }
        return {};
    };
    message_->setText(text());
    message_->setToolTip(message_->text());
    style();
}

void GaugeBar::count() {
    const Document& document = session_.shownDocument();
    std::size_t triangles = 0;
    const bool some = !session_.selection().empty();
    const auto add = [&](const Part* part) {
        if (const Shape* shape = part ? document.shapes.find(part->shape) : nullptr)
            triangles += shape->mesh->triangle_count();
    };
    if (some)
        for (const PartId id : session_.selection()) add(document.parts.find(id));
    else
        for (const Part& part : document.parts) add(&part);
    const std::size_t parts = some ? session_.selection().size() : document.parts.size();
    counted_ = tr("%1%2 · %3 · %4")
                   .arg(countWords(parts, "part"), some ? tr(" picked") : QString(),
                        countWords(triangles, "triangle"))
                   .arg(QString::fromUtf8(symbol(document.settings.length_unit).data()));
    showCounts();
}

void GaugeBar::showCounts() {
    counts_->setText(tr("%1 · frame %2").arg(counted_).arg(session_.frame()));
}

}  // namespace pivrak
