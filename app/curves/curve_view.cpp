#include "app/curves/curve_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <cmath>

#include "app/session/shown_value.h"
#include "app/stages/kit/card.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"

namespace pivrak {

using nlohmann::json;

CurveView::CurveView(Session& session, Look& look, QWidget* parent)
    : QWidget(parent),
      session_(session),
      sheet_(new CurveSheet(session, look)),
      one_scale_(new QCheckBox(tr("one scale"))) {
    courses_ = new Trial<std::vector<DrivenCurve>>(
        session_, [this](const std::vector<DrivenCurve>& driven) { sheet_->setDriven(driven); }, this);
    auto* contents = new QWidget;
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    for (const auto& [words, runs, name] : {std::tuple(tr("Straight"), "linear", "runsLinear"),
                                            {tr("Bent"), "smooth", "runsSmooth"},
                                            {tr("Stays"), "stepped", "runsStepped"},
                                            {tr("Level"), "flat", "runsFlat"},
                                            {tr("Own"), "own", "runsOwn"}}) {
        auto* button = makeButton(words, name);
        connect(button, &QPushButton::clicked, this, [this, runs = runs] { shape(runs); });
        row->addWidget(button);
        runs_.push_back(button);
    }
    row->addStretch(1);
    auto* layout = new QVBoxLayout(contents);
    layout->setContentsMargins(8, 0, 8, 4);
    layout->setSpacing(4);
    layout->addLayout(row);
    layout->addWidget(sheet_, 1);
    area_ = new LowerArea(tr("Curves"), contents);
    const auto field = [&](QLineEdit*& edit, const QString& label, int wide, const char* name,
                           const QString& tip) {
        edit = new QLineEdit;
        edit->setObjectName(QLatin1String(name));
        edit->setProperty("number", true);
        edit->setFixedWidth(wide);
        edit->setToolTip(tip);
        connect(edit, &QLineEdit::returnPressed, this, [this, edit] { typed(edit); });
        auto* words = new QLabel(label);
        words->setBuddy(edit);
        words->setProperty("role", "soft");
        if (&edit == &frame_) words->setContentsMargins(8, 0, 0, 0);
        area_->addButton(words);
        area_->addButton(edit);
    };
    field(frame_, tr("frame"), 58, "curveFrame", tr("Where the picked key stands"));
    field(value_, tr("value"), 88, "curveValue", tr("Of the picked key, with its unit"));
    field(slope_, tr("slope"), 88, "curveSlope", tr("Of its tangent, a second"));
    field(weight_, tr("weight"), 52, "curveWeight",
          tr("How far its tangent reaches towards the next key, 0 to 1"));
    auto* fit = makeButton(tr("Fit"), "fitCurves");
    one_scale_->setObjectName(QStringLiteral("curvesOneScale"));
    one_scale_->setToolTip(tr("All that count in the same unit on one scale, instead of each on its own"));
    auto* speeds = makeCheck(tr("speed below"), "curvesSpeeds");
    speeds->setToolTip(tr("How fast each goes, and how that changes"));
    connect(speeds, &QCheckBox::toggled, sheet_, &CurveSheet::setSpeeds);
    row->addWidget(speeds);
    row->addWidget(one_scale_);
    row->addWidget(fit);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(area_);
    connect(fit, &QPushButton::clicked, sheet_, &CurveSheet::fit);
    connect(one_scale_, &QCheckBox::toggled, sheet_, &CurveSheet::setOneScale);
    connect(&session.keyPicks(), &KeyPicks::changed, this, &CurveView::showPicked);
    for (auto signal : {&Session::documentChanged, &Session::projectChanged, &Session::selectionChanged,
                        &Session::previewChanged})
        connect(&session, signal, this, &CurveView::refresh);
    connect(&session, &Session::poseChanged, this, [this] {
        // Another clip is told as another pose.
        if (isVisible() && session_.clip().name != shown_clip_) refresh();
    });
    showPicked();
}

void CurveView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void CurveView::refresh() {
    if (!isVisible()) return;
    shown_clip_ = session_.clip().name;
    sheet_->refresh();
    QStringList names;
    for (const ChannelRef channel : sheet_->channels())
        names << QString::fromStdString(channel_name(session_.shownDocument(), channel));
    if (names.size() > 2) {
        const auto more = static_cast<int>(names.size()) - 2;
        names.resize(2);
        names << tr("%n more", nullptr, more);
    }
    askDriven();
    area_->setNote(names.join(QStringLiteral(", ")));
    showPicked();
}

/// What drives the picked parts' channels is shown as it runs, worked out beside.
void CurveView::askDriven() {
    constexpr std::size_t most = 4;
    std::vector<DrivenCurve> asked;
    json question = json::array({session_.clip().name});
    for (const PartId part : session_.selection())
        for (const ChannelRef channel : channels_at(session_.document(), part)) {
            const auto by = session_.drivers().name(channel);
            if (!by || asked.size() >= most) continue;
            asked.push_back({channel, *by});
            question.push_back({channel.owner.value, word(channel.kind)});
        }
    if (asked.empty() || session_.previewed()) {
        courses_->forget();
        return sheet_->setDriven({});
    }
    courses_->ask(question,
                  [asked, clip = session_.clip().id](const Document& document, const Progress& progress) {
                      std::vector<ChannelRef> channels;
                      for (const DrivenCurve& one : asked) channels.push_back(one.channel);
                      const auto courses = channel_courses(document, clip, channels, progress);
                      std::vector<DrivenCurve> driven = asked;
                      for (std::size_t i = 0; i < driven.size(); ++i) driven[i].samples = courses[i];
                      return driven;
                  });
}

/// Numbers of the one key that is picked.
void CurveView::showPicked() {
    const auto& picked = session_.keyPicks().frames();
    const bool can = !picked.empty() && !session_.previewed();
    for (QPushButton* button : runs_) button->setEnabled(can);
    const bool one = can && picked.size() == 1 && picked.begin()->second.size() == 1;
    for (QLineEdit* field : {frame_, value_, slope_, weight_}) {
        field->setEnabled(one);
        if (!one) field->clear();
    }
    if (!one) return;
    const ChannelRef channel = picked.begin()->first;
    const Track* track = session_.clip().track(channel);
    const Key* key = track ? track->key_at(*picked.begin()->second.begin()) : nullptr;
    if (!key) return;
    const CurveKey now = compile_curve(track->keys, track->before,
                                       track->after)[static_cast<std::size_t>(key - track->keys.data())];
    frame_->setText(QString::number(key->frame));
    value_->setText(shownValue(session_.document(), channel.kind, key->value));
    slope_->setText(shownValue(session_.document(), channel.kind,
                               now.out * frame_rate_of(session_.document(), session_.clip())));
    weight_->setText(QString::number(now.weight_out, 'g', 3));
    for (QLineEdit* edit : {frame_, value_, slope_, weight_}) edit->setCursorPosition(0);
}

void CurveView::shape(const char* runs) {
    session_.run({{"op", "key.shape"},
                  {"keys", session_.keyPicks().argument()},
                  {"clip", session_.clip().name},
                  {"runs", runs}});
}

void CurveView::typed(const QLineEdit* field) {
    if (!field->isModified() || session_.keyPicks().frames().empty()) return;
    const ChannelRef channel = session_.keyPicks().frames().begin()->first;
    const double frame = *session_.keyPicks().frames().begin()->second.begin();
    json step{{"op", "key.move"}, {"keys", session_.keyPicks().argument()}, {"clip", session_.clip().name}};
    const std::string text = field->text().toStdString();
    if (field == frame_ || field == value_) {
        const auto value =
            parse_quantity(text, field == frame_ ? Dimension::None : dimension_of(channel.kind),
                           session_.document().settings.length_unit);
        if (!value) {
            emit session_.told(QString::fromStdString(value.error().message), true);
            return;
        }
        if (field == frame_)
            step["frames"] = *value - frame;
        else
            step["value"] = *value - session_.clip().track(channel)->key_at(frame)->value;
    } else {
        step["op"] = "key.shape";
        step[field == slope_ ? "slope" : "weight"] = text;
        if (field == weight_) step["weight"] = field->text().toDouble();
    }
    // It stays picked where it stands then.
    const KeyPicks::Frames before = session_.keyPicks().frames();
    if (field == frame_) session_.keyPicks().move(step["frames"].get<double>());
    if (!session_.run(step)) session_.keyPicks().set(before);
    refresh();
}

}  // namespace pivrak
