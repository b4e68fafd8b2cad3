#include "app/drive_map/map_window.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>

#include "app/stages/kit/card.h"

namespace pivrak {
namespace {

/// Laying out more takes long.
constexpr std::size_t most_laid_out = 300;

/// Picked parts that can move, and are in no map yet: to be coupled there.
void add_picked(DriveMap& map, const Document& document, const std::vector<PartId>& picked) {
    constexpr std::size_t most = 12;
    if (picked.size() > most) return;
    for (const PartId id : picked) {
        const Part* part = document.parts.find(id);
        const bool is_there = std::any_of(map.channels.begin(), map.channels.end(), [&](ChannelRef channel) {
            if (channel.part() == id) return true;
            const auto others = map.folded.find(channel);
            return others != map.folded.end() &&
                   std::any_of(others->second.begin(), others->second.end(),
                               [&](ChannelRef other) { return other.part() == id; });
        });
        if (part && !is_there && !part->channels().empty())
            map.channels.push_back({id, part->channels().front()});
    }
}

}  // namespace

MapWindow::MapWindow(Session& session, Look& look, const Questions& questions, QWidget* parent)
    : QWidget(parent, Qt::Window),
      session_(session),
      questions_(questions),
      canvas_(new MapCanvas(session, look)),
      search_(new QLineEdit),
      fold_(new QComboBox),
      around_(new QCheckBox(tr("Only about what is picked"))),
      note_(new QLabel),
      offer_(new QLabel),
      take_(makeButton(tr("Couple so"), "mapTake", true)),
      leave_(makeButton(tr("Leave it"), "mapLeave")) {
    setObjectName(QStringLiteral("mapWindow"));
    setWindowTitle(tr("Drive map"));
    resize(1100, 700);
    search_->setObjectName(QStringLiteral("mapSearch"));
    search_->setPlaceholderText(tr("find a part"));
    search_->setMaximumWidth(220);
    fold_->setObjectName(QStringLiteral("mapFold"));
    for (const auto& [words, how] : {std::pair(tr("One box: what does the same"), "same"),
                                     {tr("One box: each branch"), "branch"},
                                     {tr("One box: each set"), "set"},
                                     {tr("A box each"), "none"}})
        fold_->addItem(words, QLatin1String(how));
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
    auto* offers = new QHBoxLayout;
    offers->addWidget(offer_, 1);
    offers->addWidget(leave_);
    offers->addWidget(take_);
    offer_->setObjectName(QStringLiteral("mapOffer"));
    offer_->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->addLayout(row);
    layout->addWidget(canvas_, 1);
    layout->addLayout(offers);
    likely_ = new Trial<Result<LikelyCoupling>>(
        session_,
        [this](const Result<LikelyCoupling>& likely) {
            if (likely) return session_.preview(likely->step);
            emit session_.told(QString::fromStdString(likely.error().message), true);
            offer_->setText(QString::fromStdString(likely.error().message));
        },
        this);
    connect(canvas_, &MapCanvas::couplingAsked, this, &MapWindow::couple);
    connect(take_, &QPushButton::clicked, &session_, &Session::acceptPreview);
    connect(leave_, &QPushButton::clicked, &session_, &Session::leavePreview);
    connect(&session_, &Session::previewChanged, this, [this] {
        refresh();
        showOffer();
    });
    showOffer();
    connect(search_, &QLineEdit::textChanged, canvas_, &MapCanvas::search);
    connect(fold_, &QComboBox::currentIndexChanged, this, &MapWindow::refresh);
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
    if (session_.previewed() && event->key() == Qt::Key_Escape) return session_.leavePreview();
    if (event->key() == Qt::Key_Escape) return close(), void();
    QWidget::keyPressEvent(event);
}

DriveMap MapWindow::arranged(const DriveMap& whole) const {
    const QString how = fold_->currentData().toString();
    DriveMap map = around_->isChecked() ? around(whole, session_.selection()) : whole;
    if (how == "same") map = folded(map, one_box_from);
    if (how == "branch") map = by_branch(map, session_.shownDocument());
    if (how == "set") map = by_set(map, session_.shownDocument());
    add_picked(map, session_.shownDocument(), session_.selection());
    return map;
}

void MapWindow::refresh() {
    if (!isVisible()) return;
    const DriveMap whole = drive_map(session_.shownDocument(), session_.clip());
    DriveMap map = arranged(whole);
    const bool too_many = map.channels.size() > most_laid_out;
    QString words = too_many ? tr("%1 channels: pick a part, and look about it").arg(map.channels.size())
                             : tr("%1 channels").arg(whole.channels.size());
    if (!whole.clashes.empty())
        words += tr(", %n of them against each other", nullptr, static_cast<int>(whole.clashes.size()));
    note_->setText(words);
    if (too_many) map = {};
    canvas_->setMap(std::move(map));
}

void MapWindow::couple(ChannelRef driver, ChannelRef driven) {
    likely_->ask(
        {{"driver", channel_name(session_.document(), driver)},
         {"driven", channel_name(session_.document(), driven)},
         {"ids", {driver.owner.value, driven.owner.value}}},
        [&registry = session_.registry(), driver, driven](const Document& document, const Progress&) {
            return likely_coupling(registry, document, driver, driven);
        });
}

void MapWindow::showOffer() {
    const StepPreview* shown = session_.previewed();
    for (QPushButton* button : {take_, leave_}) button->setVisible(shown);
    if (!shown)
        return offer_->setText(
            tr("Drag from box to box: the first drives the second. Click the words "
               "of an arrow to change its number."));
    QStringList words;
    for (const std::string& message : shown->outcome.messages) words << QString::fromStdString(message);
    offer_->setText(words.join(QStringLiteral(" · ")));
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
