#include "app/stages/split_panel.h"

#include <QPixmap>

#include "app/shell/theme.h"

namespace pivrak {

SplitPanel::SplitPanel(Session& session, QWidget* parent)
    : StagePanel(session, Stage::Split,
                 tr("Still to come here: picking faces, cutting planes, crease angle, bolts that join what "
                    "they touch, finding repeats, recognising round parts."),
                 parent),
      by_(makeChoice("splitBy", {{tr("loose pieces"), "split.pieces"}, {tr("material"), "split.material"}})),
      weld_(makeNumber("splitWeld")),
      show_(makeButton(tr("Preview"), "previewSplit", true)),
      pieces_(new QListWidget) {
    weld_->setText(QStringLiteral("0.01 mm"));
    weld_->setToolTip(tr("Vertices this near count as one"));
    auto* card = new Card(tr("Break apart"));
    card->addRow(tr("By"), by_);
    card->addRow(tr("Weld within"), weld_);
    card->addButtons({show_});
    count_ = card->addReadout("splitCount");
    addCard(card);
    pieces_->setObjectName(QStringLiteral("pieceList"));
    pieces_->setMinimumHeight(210);
    pieces_card_ = new Card(tr("Pieces"));
    pieces_card_->addWidget(pieces_);
    addCard(pieces_card_);
    connect(show_, &QPushButton::clicked, this, &SplitPanel::preview);
    connect(weld_, &QLineEdit::returnPressed, this, &SplitPanel::preview);
    connect(by_, &QComboBox::activated, this, [this] {
        weld_->setEnabled(by_->currentIndex() == 0);
        if (this->session().previewed()) preview();
    });
    connect(pieces_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        this->session().select({PartId{item->data(Qt::UserRole).toULongLong()}});
    });
}

void SplitPanel::preview() {
    // Picks made among previewed pieces belong to the preview; what it was made from is asked again.
    nlohmann::json parts = session().previewed() ? session().previewed()->step["parts"] : selectedIds();
    nlohmann::json step{{"op", by_->currentData().toString().toStdString()}, {"parts", parts}};
    if (by_->currentIndex() == 0) step["weld"] = weld_->text().toStdString();
    session().preview(step);
}

void SplitPanel::refresh() {
    const StepPreview* preview = session().previewed();
    show_->setEnabled(!session().selection().empty() || preview);
    std::size_t shapes = 0;
    for (const PartId id : session().selection())
        if (const Part* part = session().shownDocument().parts.find(id); part && part->shape) ++shapes;
    setRole(count_, preview ? "good" : "soft");
    count_->setText(preview       ? tr("%1 pieces").arg(preview->outcome.created.size())
                    : shapes == 0 ? tr("Pick one or more parts with a shape.")
                                  : tr("%1 parts picked").arg(shapes));
    listPieces();
}

void SplitPanel::listPieces() {
    const StepPreview* preview = session().previewed();
    pieces_card_->setVisible(preview != nullptr);
    pieces_->clear();
    if (!preview) return;
    const Document& document = preview->outcome.document;
    for (std::size_t i = 0; i < preview->outcome.created.size(); ++i) {
        const Part& part = *document.parts.find(preview->outcome.created[i]);
        const Shape& shape = *document.shapes.find(part.shape);
        QPixmap swatch(12, 12);
        swatch.fill(pieceColor(i));
        auto* item =
            new QListWidgetItem(QIcon(swatch),
                                tr("%1   %L2 tris   %3")
                                    .arg(QString::fromStdString(part.name))
                                    .arg(shape.mesh->triangle_count())
                                    .arg(QString::fromStdString(format_length(shape.bounds.longest()))),
                                pieces_);
        item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(part.id.value));
    }
}

}  // namespace pivrak
