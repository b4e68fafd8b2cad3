#include "app/stages/handover_panel.h"
#include "app/session/words.h"

namespace pivrak {
namespace {
// What a delivery is held to: a hundredth of a millimetre and a thousandth of a degree.
constexpr double allowed_m = 1e-5, allowed_rad = 0.001 * rad_per_deg;
constexpr double allowed_print_m = 1e-3;
}  // namespace

HandoverPanel::HandoverPanel(Session& session, QWidget* parent)
    : StagePanel(session, Stage::Handover,
                 tr("Still to come here: other formats, units and axes, chosen parts, recipes, rehearsal of "
                    "triggers."),
                 parent),
      path_(new QLineEdit),
      deliver_(makeButton(tr("Deliver and read back"), "deliver", true)),
      report_(new Card(tr("Last delivery"))) {
    path_->setObjectName(QStringLiteral("deliveryPath"));
    path_->setPlaceholderText(tr("a .glb file"));
    auto* choose = makeButton(tr("Choose…"), "chooseDelivery");
    auto* card = new Card(tr("glTF binary"));
    card->addRow(tr("File"), path_);
    controls_ = makeCheck(tr("with controls, as nodes without a shape"), "deliverControls");
    card->addWidget(controls_);
    clips_ = card->addReadout("deliveryClips");
    card->addButtons({choose, deliver_});
    addCard(card);
    file_ = report_->addReadout("deliveryFile");
    errors_ = report_->addReadout("deliveryErrors", "number");
    verdict_ = report_->addReadout("deliveryVerdict", "good");
    addCard(report_);
    connect(choose, &QPushButton::clicked, this, [this] { emit pathAsked(path_); });
    connect(path_, &QLineEdit::textChanged, this,
            [this] { deliver_->setEnabled(!path_->text().trimmed().isEmpty()); });
    const auto go = [this] {
        DeliveryOptions options;
        options.with_controls = controls_->isChecked();
        this->session().deliverTo(path_->text().trimmed().toStdString(), options);
    };
    connect(path_, &QLineEdit::returnPressed, this, go);
    connect(deliver_, &QPushButton::clicked, this, go);
    connect(&session, &Session::delivered, this, [this] { refresh(); });
}

void HandoverPanel::refresh() {
    controls_->setVisible(std::any_of(document().parts.begin(), document().parts.end(),
                                      [](const Part& part) { return part.is_control(); }));
    deliver_->setEnabled(!path_->text().trimmed().isEmpty());
    QStringList clips;
    for (const Clip& clip : document().clips)
        if (!clip.tracks.empty())
            clips << tr("%1 (frames %2 to %3)")
                         .arg(QString::fromStdString(clip.name))
                         .arg(clip.first_frame)
                         .arg(clip.last_frame);
    clips_->setText(clips.isEmpty() ? tr("No clip has keys: the model goes out at rest.")
                                    : tr("Clips: %1. Metres, Y up.").arg(clips.join(QStringLiteral(", "))));
    const auto& last = session().lastDelivery();
    report_->setVisible(last.has_value());
    if (!last) return;
    file_->setText(tr("%1: %2, %3, %4, %5 of %6 samples kept, %L7 KB")
                       .arg(QString::fromStdString(last->path.filename().string()),
                            countWords(last->parts, "part"), countWords(last->triangles, "triangle"),
                            countWords(last->clips, "clip"))
                       .arg(last->kept_samples)
                       .arg(last->samples)
                       .arg(last->bytes / 1024));
    const ReadBack& r = last->read_back;
    errors_->setText(tr("largest error %1 mm\nlargest error %2°")
                         .arg(r.largest_error_m * 1e3, 0, 'f', 6)
                         .arg(r.largest_error_rad * deg_per_rad, 0, 'f', 6));
    if (last->prints > 0)
        errors_->setText(errors_->text() +
                         tr("\nprinted tracks off by %1 mm").arg(r.print_error_m * 1e3, 0, 'f', 3));
    const bool good = r.largest_error_m <= allowed_m && r.largest_error_rad <= allowed_rad &&
                      r.print_error_m <= allowed_print_m;
    setRole(verdict_, good ? "good" : "bad");
    verdict_->setText(
        good
            ? tr("✓ read back over %1 frames, %2 parts: within 0.01 mm and 0.001°").arg(r.frames).arg(r.parts)
            : tr("worst at '%1', frame %2, and '%3', frame %4")
                  .arg(QString::fromStdString(r.part_m))
                  .arg(r.frame_m)
                  .arg(QString::fromStdString(r.part_rad))
                  .arg(r.frame_rad));
}

}  // namespace pivrak
