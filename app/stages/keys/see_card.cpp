#include "app/stages/keys/see_card.h"

#include "app/stages/kit/length_text.h"
namespace pivrak {

using nlohmann::json;

namespace {

QSpinBox* poses(const char* name) {
    auto* box = new QSpinBox;
    box->setObjectName(QLatin1String(name));
    box->setRange(0, 8);
    box->setAlignment(Qt::AlignRight);
    return box;
}

}  // namespace

SeeCard::SeeCard(Session& session, Look& look)
    : Card(tr("See the motion")),
      session_(session),
      path_(makeCheck(tr("way of the picked part"), "seePath")),
      click_(new PlaceButton(session, "seeClickPlace")),
      before_(poses("paleBefore")),
      after_(poses("paleAfter")),
      step_(makeNumber("paleStep")),
      speed_(new FormulaPlot(look, "seeSpeed")),
      measure_(makeButton(tr("Least clearance"), "seeClearance")),
      to_nearest_(makeButton(tr("Go there"), "toNearest")) {
    path_->setToolTip(
        tr("The way of its pivot, or of a place clicked on it, over the clip; the squares on it "
           "are keys to drag"));
    addWidget(path_);
    addButtons({click_});
    connect(&session, &Session::picksChanged, this, &SeeCard::takeClicked);
    facts_ = addReadout("seeFacts");
    addWidget(speed_);
    addRow(tr("Pale poses before"), before_);
    addRow(tr("Pale poses after"), after_);
    addRow(tr("Frames apart"), step_);
    step_->setText(QStringLiteral("4"));
    gap_ = addReadout("seeGap");
    addButtons({measure_, to_nearest_});
    courses_ = new Trial<PlaceCourse>(
        session, [this](const PlaceCourse& course) { tell(course); }, this);
    gaps_ = new Trial<Result<LeastClearance>>(
        session,
        [this](const Result<LeastClearance>& least) {
            gap_->setText(!least ? QString::fromStdString(least.error().message)
                          : least->clearance_m <= 0
                              ? tr("They touch at frame %1.").arg(least->frame)
                              : tr("Nearest at frame %1: %2.")
                                    .arg(least->frame)
                                    .arg(length(least->clearance_m, session_.document())));
            to_nearest_->setEnabled(least.ok());
        },
        this);
    connect(path_, &QCheckBox::clicked, this, &SeeCard::see);
    for (QSpinBox* box : {before_, after_}) connect(box, &QSpinBox::valueChanged, this, &SeeCard::see);
    connect(step_, &QLineEdit::returnPressed, this, &SeeCard::see);
    connect(measure_, &QPushButton::clicked, this, &SeeCard::askClearance);
    connect(to_nearest_, &QPushButton::clicked, this, [this] {
        if (const auto* least = gaps_->answer(); least && *least) session_.setFrame((*least)->frame);
    });
    connect(&session, &Session::changed, this, [this] { ask(); });
}

void SeeCard::see() {
    Seeing seeing = session_.seeing();
    seeing.path = path_->isChecked();
    seeing.before = before_->value();
    seeing.after = after_->value();
    if (const auto step = parse_quantity(step_->text().toStdString(), Dimension::None); step && *step > 0)
        seeing.step = *step;
    else
        emit session_.told(tr("'%1' is no number of frames").arg(step_->text()), true);
    session_.setSeeing(seeing);
    ask();
    refresh();
}

/// Of the part picked last, in its own frame: the place clicked last, or its pivot.
Vec3 SeeCard::place() const {
    const auto& places = session_.picks().places;
    if (places.empty() || places.back().part != session_.primary()) return Vec3(0, 0, 0);
    return place_in_world(session_.document(), places.back(), Frame{}).value_or(Vec3(0, 0, 0));
}

/// A place on another part makes that the picked one.
void SeeCard::takeClicked() {
    if (!isVisible() || !session_.seeing().path) return;
    const auto& places = session_.picks().places;
    if (click_->isChecked() && !places.empty() && places.back().part &&
        places.back().part != session_.primary())
        session_.select({places.back().part});
    ask();
    refresh();
}

/// The way of the part picked last, when it is to be seen.
void SeeCard::ask() {
    const PartId part = session_.primary();
    if (!session_.seeing().path || !part || session_.previewed()) return courses_->forget();
    const Vec3 at = place();
    courses_->ask(json::array({session_.clip().name, part.value, at.x(), at.y(), at.z()}),
                  [part, at, clip = session_.clip().id](const Document& document, const Progress& progress) {
                      auto course = place_course(document, clip, part, at, progress);
                      return course ? *course : PlaceCourse{};
                  });
}

void SeeCard::tell(const PlaceCourse& course) {
    Seeing seeing = session_.seeing();
    seeing.of = session_.primary();
    seeing.place = place();
    seeing.course = std::make_shared<const PlaceCourse>(course);
    session_.setSeeing(seeing);
    refresh();
}

void SeeCard::askClearance() {
    const auto& picked = session_.selection();
    if (picked.size() != 2) {
        gap_->setText(tr("Pick the two parts first."));
        return;
    }
    gap_->setText(tr("measuring …"));
    gaps_->ask(json::array({session_.clip().name, picked[0].value, picked[1].value}),
               [a = picked[0], b = picked[1], clip = session_.clip().id](const Document& document,
                                                                         const Progress& progress) {
                   return least_clearance(document, clip, a, b, progress);
               });
}

void SeeCard::refresh() {
    const Seeing& seeing = session_.seeing();
    click_->refresh();
    click_->setEnabled(seeing.path);
    const bool known =
        seeing.path && seeing.course && seeing.of == session_.primary() && seeing.course->places.size() > 1;
    speed_->setVisible(known);
    facts_->setText(!seeing.path          ? tr("Ways are not shown.")
                    : !session_.primary() ? tr("Pick a part to see its way.")
                    : !known              ? tr("working it out …")
                                          : QString());
    if (const auto* least = gaps_->answer(); !least) {
        to_nearest_->setEnabled(false);
        if (gap_->text().isEmpty()) gap_->setText(tr("With two parts picked: their least clearance."));
    }
    if (!known) return;
    const PlaceCourse& course = *seeing.course;
    std::vector<FormulaPlot::Sample> samples;
    for (std::size_t i = 0; i < course.frames.size(); ++i)
        samples.push_back({course.frames[i], course.speeds_m_s[i]});
    speed_->setCurve(std::move(samples), ChannelKind::Speed, session_.document().settings.length_unit);
    speed_->setFrame(session_.frame());
    const std::size_t fastest = course.fastest();
    facts_->setText(tr("Goes %1; fastest %2 at frame %3.")
                        .arg(length(course.way_m(), session_.document()))
                        .arg(toldValue(session_.document(), ChannelKind::Speed, course.speeds_m_s[fastest]))
                        .arg(course.frames[fastest]));
}

}  // namespace pivrak
