#include "app/stages/kit/stage_panel.h"
#include "app/session/words.h"
#include "app/stages/kit/pinned_button.h"

#include <algorithm>

namespace pivrak {
namespace {

constexpr std::size_t most_of_a_kind_shown = 50;

QString jointWords(const Part& part) {
    if (part.joint.kind == JointKind::Fixed)
        return part.is_datum() ? StagePanel::tr("datum, fixed") : StagePanel::tr("fixed");
    const QLatin1Char axis("XYZ"[part.joint.axis]);
    switch (part.joint.kind) {
        case JointKind::Slide:
            return StagePanel::tr("slide along its %1").arg(axis);
        case JointKind::Cylinder:
            return StagePanel::tr("cylinder on its %1").arg(axis);
        case JointKind::Ball:
            return StagePanel::tr("ball");
        case JointKind::Free:
            return StagePanel::tr("free");
        default:
            return StagePanel::tr("hinge about its %1").arg(axis);
    }
}

/// What cards stand on. When they have moved, the gaps that they leave are painted anew: beside a view drawn
/// by OpenGL, Qt keeps old pixels there.
class PanelBody : public QWidget {
protected:
    bool event(QEvent* event) override {
        const bool taken = QWidget::event(event);
        if (event->type() == QEvent::LayoutRequest) update();
        return taken;
    }
};

}  // namespace

StagePanel::StagePanel(Session& session, Stage stage, QWidget* parent)
    : QWidget(parent),
      session_(session),
      stage_(stage),
      title_(new QLabel),
      subtitle_(new QLabel),
      preview_(new QFrame),
      preview_text_(new QLabel),
      cards_(new QVBoxLayout),
      tabs_(new TabRows),
      findings_(new QFrame),
      finding_rows_(new QVBoxLayout),
      of_picked_(makeCheck(tr("of what is picked"), "findingsOfPicked")),
      clean_(new QLabel) {
    setObjectName(QStringLiteral("stagePanel%1").arg(static_cast<int>(stage) + 1));
    title_->setProperty("role", "title");
    title_->setObjectName(QStringLiteral("panelTitle"));
    subtitle_->setProperty("role", "soft");
    auto* head = new QHBoxLayout;
    head->addWidget(title_, 1);
    head->addWidget(subtitle_);

    preview_->setProperty("card", "true");
    preview_text_->setWordWrap(true);
    preview_text_->setObjectName(QStringLiteral("previewText"));
    auto* accept = makeButton(tr("Accept  ↵"), "acceptPreview", true);
    auto* leave = makeButton(tr("Discard  Esc"), "leavePreview");
    auto* preview_layout = new QVBoxLayout(preview_);
    preview_layout->setContentsMargins(12, 9, 12, 10);
    preview_layout->addWidget(preview_text_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(accept, 1);
    buttons->addWidget(leave, 1);
    preview_layout->addLayout(buttons);
    connect(accept, &QPushButton::clicked, &session_, &Session::acceptPreview);
    connect(leave, &QPushButton::clicked, &session_, &Session::leavePreview);

    findings_->setProperty("card", "problem");
    auto* finding_card = new QVBoxLayout(findings_);
    finding_card->setContentsMargins(12, 9, 12, 9);
    finding_card->setSpacing(4);
    finding_rows_->setSpacing(4);
    finding_card->addLayout(finding_rows_);
    finding_card->addWidget(of_picked_);
    connect(of_picked_, &QCheckBox::toggled, this, &StagePanel::refreshFindings);
    clean_->setProperty("role", "good");
    cards_->setSpacing(9);

    auto* body = new PanelBody;
    body_ = body;
    auto* layout = new QVBoxLayout(body);
    layout->setContentsMargins(14, 10, 12, 10);
    layout->setSpacing(9);
    layout->addLayout(head);
    layout->addWidget(tabs_);
    layout->addWidget(preview_);
    layout->addLayout(cards_);
    layout->addWidget(findings_);
    layout->addWidget(clean_);
    layout->addStretch(1);
    // Fields give way; a panel is never wider than its place.
    body->setMinimumWidth(240);
    auto* scroll = new QScrollArea;
    scroll->setObjectName(QStringLiteral("stageScroll"));
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(body);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll, 1);
    pinned_ = new PinnedButton(*scroll);
    auto* foot = new QHBoxLayout;
    // As wide as the cards beside their scroll bar.
    foot->setContentsMargins(14, 4, 21, 8);
    foot->addWidget(pinned_);
    outer->addLayout(foot);
    connect(&session_, &Session::changed, this, &StagePanel::refreshAll);
    connect(&session_, &Session::findingsChanged, this, [this] {
        if (isVisible()) refreshFindings();
    });
}

void StagePanel::place(QWidget* card, const QString& tab) {
    if (tab.isEmpty()) return cards_->addWidget(card);
    qsizetype index = tab_names_.indexOf(tab);
    if (index < 0) {
        index = tab_names_.size();
        tab_names_ << tab;
        auto* page = new QWidget;
        auto* rows = new QVBoxLayout(page);
        rows->setContentsMargins(0, 0, 0, 0);
        rows->setSpacing(9);
        page->setVisible(index == 0);
        tab_pages_.push_back(page);
        cards_->addWidget(page);
        QPushButton* button = tabs_->add(tab);
        connect(button, &QPushButton::clicked, this, [this, tab] { showTab(tab); });
    }
    static_cast<QVBoxLayout*>(tab_pages_[static_cast<std::size_t>(index)]->layout())->addWidget(card);
}

void StagePanel::showTab(const QString& tab) {
    for (std::size_t i = 0; i < tab_pages_.size(); ++i) {
        const bool shown = tab_names_[static_cast<qsizetype>(i)] == tab;
        tab_pages_[i]->setVisible(shown);
        tabs_->buttons()[i]->setChecked(shown);
    }
    refreshAll();
}

QString StagePanel::tabOf(const QWidget& widget) const {
    for (std::size_t i = 0; i < tab_pages_.size(); ++i)
        if (tab_pages_[i]->isAncestorOf(&widget)) return tab_names_[static_cast<qsizetype>(i)];
    return {};
}

QString StagePanel::shownTab() const {
    for (std::size_t i = 0; i < tabs_->buttons().size(); ++i)
        if (tabs_->buttons()[i]->isChecked()) return tab_names_[static_cast<qsizetype>(i)];
    return {};
}

void StagePanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refreshAll();
}

void StagePanel::refreshAll() {
    if (!isVisible()) return;
    refreshHead();
    refreshPreview();
    refreshFindings();
    refresh();
    const QString tab = shownTab();
    for (const Refreshed& one : refreshed_)
        if (one.tab.isEmpty() || one.tab == tab) one.act();
    pinned_->follow();
}

void StagePanel::refreshHead() {
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    const std::size_t count = session_.selection().size();
    title_->setText(!part       ? QString::fromUtf8(stage_name(stage_).data())
                    : count > 1 ? tr("%1 parts").arg(count)
                                : QString::fromStdString(part->name));
    subtitle_->setText(!part       ? tr("nothing picked")
                       : count > 1 ? tr("last: %1").arg(QString::fromStdString(part->name))
                                   : jointWords(*part));
}

void StagePanel::refreshPreview() {
    const StepPreview* preview = session_.previewed();
    preview_->setVisible(preview != nullptr);
    if (!preview) return;
    QStringList lines{preview->title};
    for (const std::string& message : preview->outcome.messages) {
        if (lines.size() == 8) {
            lines << tr("…");
            break;
        }
        lines << QString::fromStdString(message);
    }
    preview_text_->setText(lines.join(QLatin1Char('\n')));
}

/// One row for each kind, in the order in which they are found; it opens to all of its kind.
void StagePanel::refreshFindings() {
    while (QLayoutItem* item = finding_rows_->takeAt(0)) {
        if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
        delete item;
    }
    std::vector<std::vector<Finding>> kinds;
    std::size_t all = 0, shown = 0;
    const auto is_asked = [&](const Finding& f) {
        return !of_picked_->isChecked() || (f.part && session_.isSelected(f.part));
    };
    for (const Finding& finding : session_.findings()) {
        if (finding.stage != stage_) continue;
        ++all;
        if (!is_asked(finding)) continue;
        ++shown;
        const auto kind = std::ranges::find_if(
            kinds, [&](const std::vector<Finding>& alike) { return alike.front().code == finding.code; });
        if (kind == kinds.end())
            kinds.push_back({finding});
        else
            kind->push_back(finding);
    }
    findings_->setVisible(all > 0);
    of_picked_->setVisible(all > 1);
    clean_->setVisible(all == 0 && !document().shapes.empty());
    clean_->setText(tr("✓ No findings in this stage"));
    if (all == 0) return;
    auto* title =
        new QLabel(shown < all ? tr("%1 of %2 in this stage").arg(shown).arg(countWords(all, "finding"))
                               : tr("%1 in this stage").arg(countWords(all, "finding")));
    title->setProperty("role", "bad");
    finding_rows_->addWidget(title);
    for (const std::vector<Finding>& alike : kinds) addFindings(alike);
}

void StagePanel::addFindings(const std::vector<Finding>& alike) {
    const std::string& code = alike.front().code;
    const bool is_open = open_findings_.contains(code);
    addFinding(alike.front());
    if (alike.size() == 1) return;
    if (is_open)
        for (std::size_t i = 1; i < std::min(alike.size(), most_of_a_kind_shown); ++i) addFinding(alike[i]);
    auto* more = makeButton(
        is_open ? tr("fewer of these") : tr("%n more of these", nullptr, static_cast<int>(alike.size()) - 1),
        "moreFindings");
    more->setProperty("link", true);
    connect(more, &QPushButton::clicked, this, [this, code, is_open] {
        is_open ? (void)open_findings_.erase(code) : (void)open_findings_.insert(code);
        refreshFindings();
    });
    finding_rows_->addWidget(more, 0, Qt::AlignLeft);
    if (is_open && alike.size() > most_of_a_kind_shown)
        finding_rows_->addWidget(new QLabel(tr("and %1 more").arg(alike.size() - most_of_a_kind_shown)));
}

void StagePanel::addFinding(const Finding& finding) {
    auto* text = new QLabel(QString::fromStdString(finding.message));
    text->setObjectName(QStringLiteral("findingText"));
    text->setWordWrap(true);
    finding_rows_->addWidget(text);
    auto* links = new QHBoxLayout;
    links->setContentsMargins(0, 0, 0, 0);
    links->addStretch(1);
    if (finding.fix.is_object()) {
        auto* fix = makeButton(QString::fromStdString(finding.fix_title), "fixFinding");
        fix->setProperty("link", true);
        if (const Operation* does = session_.registry().find(finding.fix.value("op", "")))
            fix->setToolTip(QString::fromStdString(does->summary));
        connect(fix, &QPushButton::clicked, this, [this, finding] { session_.applyFix(finding); });
        links->addWidget(fix);
    }
    if (finding.part) {
        auto* show = makeButton(tr("show me"), "showFinding");
        show->setProperty("link", true);
        connect(show, &QPushButton::clicked, this, [this, part = finding.part] { session_.select({part}); });
        links->addWidget(show);
    }
    auto* row = new QWidget;
    row->setLayout(links);
    finding_rows_->addWidget(row);
}

}  // namespace pivrak
