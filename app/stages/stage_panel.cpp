#include "app/stages/stage_panel.h"

#include <algorithm>

namespace pivrak {
namespace {

constexpr std::size_t most_findings_shown = 4;

QString jointWords(const Part& part) {
    if (part.joint.kind == JointKind::Fixed)
        return part.is_datum() ? StagePanel::tr("datum, fixed") : StagePanel::tr("fixed");
    return StagePanel::tr("hinge about its %1").arg(QLatin1Char("XYZ"[part.joint.axis]));
}

}  // namespace

StagePanel::StagePanel(Session& session, Stage stage, const QString& later, QWidget* parent)
    : QWidget(parent),
      session_(session),
      stage_(stage),
      title_(new QLabel),
      subtitle_(new QLabel),
      preview_(new QFrame),
      preview_text_(new QLabel),
      cards_(new QVBoxLayout),
      findings_(new QFrame),
      finding_rows_(new QVBoxLayout(findings_)),
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
    auto* leave = makeButton(tr("Leave  Esc"), "leavePreview");
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
    finding_rows_->setContentsMargins(12, 9, 12, 9);
    finding_rows_->setSpacing(4);
    clean_->setProperty("role", "good");
    auto* later_label = new QLabel(later);
    later_label->setProperty("role", "soft");
    later_label->setWordWrap(true);
    cards_->setSpacing(9);

    auto* body = new QWidget;
    auto* layout = new QVBoxLayout(body);
    layout->setContentsMargins(14, 10, 12, 10);
    layout->setSpacing(9);
    layout->addLayout(head);
    layout->addWidget(preview_);
    layout->addLayout(cards_);
    layout->addWidget(findings_);
    layout->addWidget(clean_);
    layout->addStretch(1);
    if (!later.isEmpty()) layout->addWidget(later_label);
    // Fields give way; a panel is never wider than its place.
    body->setMinimumWidth(240);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(body);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll);
    for (auto signal : {&Session::documentChanged, &Session::selectionChanged, &Session::previewChanged,
                        &Session::findingsChanged})
        connect(&session_, signal, this, &StagePanel::refreshAll);
}

void StagePanel::addCard(QWidget* card) {
    cards_->addWidget(card);
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

void StagePanel::refreshFindings() {
    while (QLayoutItem* item = finding_rows_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    std::vector<Finding> mine;
    std::copy_if(session_.findings().begin(), session_.findings().end(), std::back_inserter(mine),
                 [&](const Finding& f) { return f.stage == stage_; });
    findings_->setVisible(!mine.empty());
    clean_->setVisible(mine.empty() && !document().shapes.empty());
    clean_->setText(tr("✓ No findings in this stage"));
    if (mine.empty()) return;
    auto* title = new QLabel(mine.size() == 1 ? tr("1 finding in this stage")
                                              : tr("%1 findings in this stage").arg(mine.size()));
    title->setProperty("role", "bad");
    finding_rows_->addWidget(title);
    for (std::size_t i = 0; i < std::min(mine.size(), most_findings_shown); ++i) {
        auto* text = new QLabel(QString::fromStdString(mine[i].message));
        text->setWordWrap(true);
        finding_rows_->addWidget(text);
        if (!mine[i].part) continue;
        auto* show = makeButton(tr("show me"), "showFinding");
        show->setProperty("link", true);
        connect(show, &QPushButton::clicked, this, [this, part = mine[i].part] { session_.select({part}); });
        finding_rows_->addWidget(show);
    }
    if (mine.size() > most_findings_shown)
        finding_rows_->addWidget(new QLabel(tr("and %1 more").arg(mine.size() - most_findings_shown)));
}

}  // namespace pivrak
