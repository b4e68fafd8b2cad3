#include "app/stages/handover/handover_panel.h"
#include "app/session/words.h"

namespace pivrak {
namespace {
// What a delivery is held to: a hundredth of a millimetre and a thousandth of a degree.
constexpr double allowed_m = 1e-5, allowed_rad = 0.001 * rad_per_deg;
constexpr double allowed_print_m = 1e-3;
}  // namespace

HandoverPanel::HandoverPanel(Session& session, Look& look, QWidget* parent)
    : StagePanel(session, Stage::Handover, parent),
      path_(new QLineEdit),
      tolerance_(makeNumber("deliverTolerance")),
      deliver_(makeButton(tr("Deliver and read back"), "deliver", true)),
      report_(new Card(tr("Last delivery"))),
      film_(new FilmCard(session, look)) {
    path_->setObjectName(QStringLiteral("deliveryPath"));
    path_->setPlaceholderText(tr("a .glb file"));
    auto* choose = makeButton(tr("Choose…"), "chooseDelivery");
    auto* card = new Card(tr("glTF binary"));
    card->addRow(tr("File"), path_);
    controls_ = makeCheck(tr("with controls, as nodes without a shape"), "deliverControls");
    card->addWidget(controls_);
    samples_ = makeChoice("deliverSamples", {{tr("one a frame"), QStringLiteral("1")},
                                             {tr("2 a frame"), QStringLiteral("2")},
                                             {tr("4 a frame"), QStringLiteral("4")},
                                             {tr("within a tolerance"), QStringLiteral("0")}});
    samples_->setToolTip(
        tr("A player goes straight from sample to sample. Fast turns get as many as they need."));
    tolerance_->setText(QStringLiteral("0.1 mm"));
    card->addRow(tr("Samples"), samples_);
    QWidget* within = card->addOptionalRow(tr("Off by at most"), tolerance_);
    within->hide();
    connect(samples_, &QComboBox::currentIndexChanged, this,
            [this, within] { within->setVisible(samples_->currentData().toInt() == 0); });
    clips_ = card->addReadout("deliveryClips");
    card->addButtons({choose, deliver_});
    addCard(card);
    file_ = report_->addReadout("deliveryFile");
    errors_ = report_->addReadout("deliveryErrors", "number");
    verdict_ = report_->addReadout("deliveryVerdict", "good");
    addCard(report_);
    addCard(film_);
    connect(choose, &QPushButton::clicked, this, [this] { emit pathAsked(path_); });
    connect(path_, &QLineEdit::textChanged, this,
            [this] { deliver_->setEnabled(!path_->text().trimmed().isEmpty()); });
    const auto go = [this] {
        DeliveryOptions options;
        options.with_controls = controls_->isChecked();
        const int per_frame = samples_->currentData().toInt();
        options.sampling.per_frame = std::max(per_frame, 1);
        if (per_frame == 0) {
            const auto tolerance = parse_quantity(tolerance_->text().toStdString(), Dimension::Length,
                                                  document().settings.length_unit);
            if (!tolerance || !(*tolerance > 0)) {
                emit this->session().told(tolerance ? tr("a tolerance is a length above zero")
                                                    : QString::fromStdString(tolerance.error().message),
                                          true);
                return;
            }
            options.sampling.tolerance_m = *tolerance;
        }
        this->session().deliverTo(path_->text().trimmed().toStdString(), options);
    };
    connect(path_, &QLineEdit::returnPressed, this, go);
    connect(deliver_, &QPushButton::clicked, this, go);
    connect(&session, &Session::delivered, this, [this] { refresh(); });
}

void HandoverPanel::refresh() {
    film_->refresh();
    controls_->setVisible(std::any_of(document().parts.begin(), document().parts.end(),
                                      [](const Part& part) { return part.is_control(); }));
    deliver_->setEnabled(!path_->text().trimmed().isEmpty());
    QStringList clips;
    for (const Clip& clip : document().clips)
        if (!clip.tracks.empty() || !clip.layers.empty())
            clips << tr("%1 (frames %2 to %3)")
                         .arg(QString::fromStdString(clip.name))
                         .arg(clip.first_frame)
                         .arg(clip.last_frame);
    clips_->setText(clips.isEmpty() ? tr("No clip has keys: the model goes out at rest.")
                                    : tr("Clips: %1. Metres, Y up.").arg(clips.join(QStringLiteral(", "))));
    const auto& last = session().lastDelivery();
    report_->setVisible(last.has_value());
    if (!last) return;
    file_->setText(tr("%1: %2, %3, %4, %L5 of %L6 samples kept, %L7 KB")
                       .arg(QString::fromStdString(last->path.filename().string()),
                            countWords(last->parts, "part"), countWords(last->triangles, "triangle"),
                            countWords(last->clips, "clip"))
                       .arg(last->kept_samples)
                       .arg(last->samples)
                       .arg(last->bytes / 1024));
    const ReadBack& r = last->read_back;
    errors_->setText(tr("at frames %1 mm, %2°\nbetween frames %3 mm, %4°")
                         .arg(r.at_frames.largest_m * 1e3, 0, 'f', 6)
                         .arg(r.at_frames.largest_rad * deg_per_rad, 0, 'f', 6)
                         .arg(r.between.largest_m * 1e3, 0, 'f', 3)
                         .arg(r.between.largest_rad * deg_per_rad, 0, 'f', 4));
    if (last->prints > 0)
        errors_->setText(errors_->text() +
                         tr("\nprinted tracks off by %1 mm").arg(r.print_error_m * 1e3, 0, 'f', 3));
    const bool good = r.at_frames.largest_m <= allowed_m && r.at_frames.largest_rad <= allowed_rad &&
                      r.print_error_m <= allowed_print_m;
    setRole(verdict_, good ? "good" : "bad");
    verdict_->setText(good ? tr("✓ read back at %1 frames, %2 parts: within 0.01 mm and 0.001° there. "
                                "Between frames a player goes straight; "
                                "more samples bring it nearer.")
                                 .arg(r.frames)
                                 .arg(r.parts)
                           : tr("worst at '%1', frame %2, and '%3', frame %4")
                                 .arg(QString::fromStdString(r.at_frames.part_m))
                                 .arg(r.at_frames.frame_m)
                                 .arg(QString::fromStdString(r.at_frames.part_rad))
                                 .arg(r.at_frames.frame_rad));
}

}  // namespace pivrak
