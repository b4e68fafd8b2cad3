#include "app/stages/intake/stand_card.h"

#include <algorithm>

#include "core/model/edits/branch_bounds.h"
#include "core/model/edits/stand.h"

namespace pivrak {
namespace {

QList<std::pair<QString, QString>> directions() {
    QList<std::pair<QString, QString>> list;
    for (int d = 0; d < 6; ++d) {
        const QString word = QString::fromUtf8(direction_word(d).data());
        list.push_back({QString(word).toUpper().replace(QLatin1Char('-'), QChar(0x2212)), word});
    }
    return list;
}

}  // namespace

StandCard::StandCard(Session& session, QWidget* parent)
    : Card(tr("Stand it up"), parent),
      session_(session),
      what_(makeChoice("standWhat", {})),
      up_(makeChoice("standUp", directions())),
      front_(makeChoice("standFront", directions())),
      side_(makeChoice("standSide", {{tr("length, along X"), "x"},
                                     {tr("width, along Y"), "y"},
                                     {tr("height, along Z"), "z"},
                                     {tr("two picked points"), "points"}})),
      length_(makeNumber("standLength")),
      points_(makeButton(tr("Pick two points in the view"), "standPoints")),
      guess_(makeButton(QString(), "standGuess")),
      show_(makeButton(tr("Preview"), "previewStand", true)),
      ground_(makeCheck(tr("lowest point on the floor"), "standGround", true)),
      touching_(makeCheck(tr("the picked parts touch the floor"), "standTouching")),
      centre_(makeCheck(tr("centred above the origin"), "standCentre", true)) {
    up_->setCurrentIndex(up_->findData(QStringLiteral("+z")));
    length_->setPlaceholderText(tr("as it is"));
    length_->setToolTip(tr("The true length of that side: 8.40 m, 3*25.4 mm"));
    what_row_ = addOptionalRow(tr("Of"), what_);
    addRow(tr("Up is now"), up_);
    addRow(tr("Front is now"), front_);
    addRow(tr("Measure"), side_);
    addRow(tr("Make it"), length_);
    addButtons({points_});
    distance_ = addReadout("standDistance");
    reason_ = addReadout("standReason", "bad");
    addButtons({guess_});
    addWidget(ground_);
    addWidget(touching_);
    addWidget(centre_);
    addButtons({show_});
    soon_.setSingleShot(true);
    soon_.setInterval(120);
    connect(&soon_, &QTimer::timeout, this, &StandCard::show);
    connect(what_, &QComboBox::activated, this, [this] {
        // One of several stays where it is among them.
        centre_->setChecked(what_->currentIndex() == 0);
        if (session_.previewed()) soon_.start();
        refresh();
    });
    for (QComboBox* box : {up_, front_, side_})
        connect(box, &QComboBox::activated, this, [this] { soon_.start(); });
    for (QCheckBox* box : {ground_, touching_, centre_})
        connect(box, &QCheckBox::clicked, this, [this] { soon_.start(); });
    connect(length_, &QLineEdit::returnPressed, this, &StandCard::show);
    connect(show_, &QPushButton::clicked, this, &StandCard::show);
    points_->setCheckable(true);
    connect(points_, &QPushButton::clicked, this, [this](bool on) {
        PickSettings settings = session_.pickSettings();
        settings.kind = on ? PickKind::Points : PickKind::Parts;
        session_.setPickSettings(settings);
        if (on) side_->setCurrentIndex(side_->findData(QStringLiteral("points")));
    });
    connect(guess_, &QPushButton::clicked, this, [this] {
        nlohmann::json step{{"op", "model.stand"}, {"scale", guessed_}, {"ground", true}};
        if (const auto one = what_->currentData().toULongLong()) step["parts"] = {one};
        session_.preview(step);
    });
    connect(&session_, &Session::picksChanged, this, [this] {
        if (isVisible()) refresh();
    });
}

std::optional<std::pair<Vec3, Vec3>> StandCard::pickedPoints() const {
    const auto& points = session_.picks().points;
    if (points.size() < 2) return std::nullopt;
    const auto place = [&](const PickedPoint& point) {
        return picked_place(session_.document(), point, world_from_rest(session_.document(), point.part));
    };
    return std::pair(place(points[points.size() - 2]), place(points.back()));
}

nlohmann::json StandCard::step() const {
    nlohmann::json step{{"op", "model.stand"},
                        {"up", chosen(up_)},
                        {"front", chosen(front_)},
                        {"ground", ground_->isChecked()},
                        {"centre", centre_->isChecked()}};
    if (const auto one = what_->currentData().toULongLong()) step["parts"] = {one};
    if (touching_->isChecked() && !session_.selection().empty()) step["touching"] = session_.selectedIds();
    if (length_->text().trimmed().isEmpty()) return step;
    step["length"] = length_->text().toStdString();
    if (chosen(side_) != "points") {
        step["side"] = chosen(side_);
    } else if (const auto points = pickedPoints()) {
        const auto triple = [](const Vec3& v) { return nlohmann::json{v.x(), v.y(), v.z()}; };
        step["measure_from"] = triple(points->first);
        step["measure_to"] = triple(points->second);
    }
    return step;
}

void StandCard::show() {
    soon_.stop();
    if (session_.document().shapes.empty()) return;
    session_.preview(step());
}

/// Everything, or one of several models.
void StandCard::fillModels() {
    const Tree tree(session_.document());
    const QVariant before = what_->currentData();
    const QSignalBlocker quiet(what_);
    what_->clear();
    what_->addItem(tr("everything"), QVariant::fromValue<qulonglong>(0));
    for (const PartId root : tree.roots())
        if (!branch_bounds(session_.document(), tree, {root}).empty())
            what_->addItem(QString::fromStdString(session_.document().parts.find(root)->name),
                           QVariant::fromValue<qulonglong>(root.value));
    what_->setCurrentIndex(std::max(0, what_->findData(before)));
    what_row_->setVisible(what_->count() > 2);
    if (what_->count() <= 2) what_->setCurrentIndex(0);
}

void StandCard::showGuess() {
    const PartId one{what_->currentData().toULongLong()};
    const Bounds bounds =
        one ? branch_bounds(session_.document(), {one}) : document_bounds(session_.document());
    const auto guess = guess_unit(bounds.longest(), session_.document().settings.length_unit);
    reason_->setVisible(guess.has_value());
    guess_->setVisible(guess.has_value());
    if (!guess) return;
    guessed_ = guess->factor;
    reason_->setText(QString::fromStdString(guess->reason));
    guess_->setText(guess->factor < 1 ? tr("Make it %1 times smaller").arg(1 / guess->factor)
                                      : tr("Make it %1 times larger").arg(guess->factor));
}

void StandCard::refresh() {
    setEnabled(!session_.document().shapes.empty());
    if (!session_.previewed()) fillModels();
    const auto points = pickedPoints();
    const bool by_points = chosen(side_) == "points";
    points_->setChecked(session_.pickSettings().kind == PickKind::Points);
    distance_->setVisible(by_points);
    const LengthUnit unit = session_.document().settings.length_unit;
    distance_->setText(points ? tr("now %1 apart")
                                    .arg(QString::fromStdString(
                                        format_length((points->second - points->first).norm(), unit, 4)))
                              : tr("click one corner, then Shift and the other"));
    touching_->setEnabled(!session_.selection().empty());
    // A turn that was taken is the present state: up and front stand at rest again.
    if (!session_.previewed() && !soon_.isActive()) {
        up_->setCurrentIndex(up_->findData(QStringLiteral("+z")));
        front_->setCurrentIndex(front_->findData(QStringLiteral("+x")));
        if (!length_->hasFocus()) length_->clear();
    }
    showGuess();
}

}  // namespace pivrak
