#include "app/help/help_window.h"

#include <QFile>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/help/first_machine.h"

namespace pivrak {

HelpWindow::HelpWindow(Session& session, const Player& player, QWidget* parent)
    : QDialog(parent), pages_(new QListWidget), shown_(new QStackedWidget) {
    setObjectName(QStringLiteral("helpWindow"));
    setWindowTitle(tr("Help"));
    resize(680, 560);
    pages_->setObjectName(QStringLiteral("helpPages"));
    pages_->setAccessibleName(tr("Pages of help"));
    pages_->setFixedWidth(130);
    for (int i = 0; i < stage_count; ++i) {
        const QString name = QString::fromUtf8(stage_name(static_cast<Stage>(i)).data());
        addPage(name, page(name.toLower(), nullptr));
    }
    auto* first = new FirstMachine(session, player);
    connect(first, &FirstMachine::cardAsked, this, &HelpWindow::cardAsked);
    addPage(tr("First machine"), page(QStringLiteral("first-machine"), first));
    auto* row = new QHBoxLayout(this);
    row->addWidget(pages_);
    row->addWidget(shown_, 1);
    connect(pages_, &QListWidget::currentRowChanged, shown_, &QStackedWidget::setCurrentIndex);
    connect(&session, &Session::stageChanged, this, [this, &session] {
        // Whoever follows the first machine goes through all stages.
        if (pages_->currentRow() < stage_count) showStage(session.stage());
    });
    showStage(session.stage());
}

QWidget* HelpWindow::page(const QString& file, QWidget* below) {
    QFile source(QStringLiteral(":/help/%1.md").arg(file));
    const bool opened = source.open(QIODevice::ReadOnly);
    auto* text = new QLabel(opened ? QString::fromUtf8(source.readAll()) : QString());
    text->setObjectName(QStringLiteral("helpText"));
    text->setTextFormat(Qt::MarkdownText);
    text->setWordWrap(true);
    text->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    text->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    auto* inside = new QWidget;
    auto* column = new QVBoxLayout(inside);
    column->addWidget(text);
    if (below) column->addWidget(below);
    column->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(inside);
    return scroll;
}

void HelpWindow::addPage(const QString& title, QWidget* page) {
    pages_->addItem(title);
    shown_->addWidget(page);
}

void HelpWindow::showStage(Stage stage) {
    pages_->setCurrentRow(static_cast<int>(stage));
}

void HelpWindow::showFirstMachine() {
    pages_->setCurrentRow(pages_->count() - 1);
}

}  // namespace pivrak
