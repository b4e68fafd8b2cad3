#include "app/stages/kit/piece_table.h"
#include "app/session/words.h"

#include <QHeaderView>

namespace pivrak {
namespace {

constexpr std::size_t most_rows = 2000;

/// Sorts by its number, shows a text.
class NumberItem : public QTableWidgetItem {
public:
    NumberItem(const QString& text, double number) : QTableWidgetItem(text), number_(number) {
        setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
    bool operator<(const QTableWidgetItem& other) const override {
        const auto* one = dynamic_cast<const NumberItem*>(&other);
        return one ? number_ < one->number_ : QTableWidgetItem::operator<(other);
    }

private:
    double number_;
};

}  // namespace

PieceTable::PieceTable(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), table_(new QTableWidget(0, 5)) {
    table_->setObjectName(QStringLiteral("pieceTable"));
    table_->setAccessibleName(tr("Pieces"));
    table_->setHorizontalHeaderLabels(
        {tr("part"), tr("triangles"), tr("longest side"), tr("size"), tr("material")});
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->horizontalHeader()->setHighlightSections(false);
    // Names keep room in a narrow window; the rest is scrolled to.
    table_->horizontalHeader()->setMinimumSectionSize(100);
    for (int column = 0; column < table_->columnCount(); ++column)
        table_->horizontalHeaderItem(column)->setTextAlignment(
            (column == 0 || column == 4 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(22);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setShowGrid(false);
    table_->setSortingEnabled(true);
    table_->horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder);
    area_ = new LowerArea(tr("Pieces"), table_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(area_);
    for (auto signal : {&Session::documentChanged, &Session::previewChanged, &Session::selectionChanged})
        connect(&session_, signal, this, &PieceTable::refresh);
    connect(table_, &QTableWidget::itemSelectionChanged, this, [this] {
        if (filling_) return;
        std::vector<PartId> picked;
        for (const QModelIndex& index : table_->selectionModel()->selectedRows())
            picked.push_back(PartId{index.data(Qt::UserRole).toULongLong()});
        filling_ = true;
        session_.select(picked);
        filling_ = false;
    });
}

void PieceTable::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

std::vector<PartId> PieceTable::listed() const {
    if (session_.previewed()) return session_.previewed()->outcome.created;
    const Document& document = session_.document();
    const Tree tree(document);
    std::vector<PartId> parts;
    for (const PartId top : session_.selection())
        for (const PartId part : tree.branch(top)) parts.push_back(part);
    if (session_.selection().empty()) parts = tree.all();
    std::erase_if(parts, [&](PartId part) { return !document.parts.find(part)->shape; });
    return parts;
}

void PieceTable::addRow(int row, std::size_t number, PartId id) {
    const Document& document = session_.shownDocument();
    const Part& part = *document.parts.find(id);
    const auto* shape = document.shapes.find(part.shape);
    auto* name = new QTableWidgetItem(QString::fromStdString(part.name));
    name->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(id.value));
    if (session_.previewed() && session_.previewed()->colours_pieces()) {
        QPixmap swatch(11, 11);
        swatch.fill(pieceColor(number));
        name->setIcon(QIcon(swatch));
    }
    table_->setItem(row, 0, name);
    if (!shape) return;
    const LengthUnit unit = document.settings.length_unit;
    const int decimals = unit == LengthUnit::Metre ? 3 : 1;
    const Vec3 size = shape->bounds.size();
    const auto length = [&](double v) { return QString::fromStdString(format_length(v, unit, decimals)); };
    const auto bare = [&](double v) { return QString::number(v / metres_per(unit), 'f', decimals); };
    table_->setItem(row, 1,
                    new NumberItem(QStringLiteral("%L1").arg(shape->mesh->triangle_count()),
                                   static_cast<double>(shape->mesh->triangle_count())));
    table_->setItem(row, 2, new NumberItem(length(size.maxCoeff()), size.maxCoeff()));
    table_->setItem(
        row, 3,
        new NumberItem(QStringLiteral("%1 × %2 × %3").arg(bare(size.x()), bare(size.y()), length(size.z())),
                       size.norm()));
    const Material* material = shape->mesh->submeshes.empty()
                                   ? nullptr
                                   : document.materials.find(shape->mesh->submeshes.front().material);
    const QString more = shape->mesh->submeshes.size() > 1
                             ? tr(" and %1 more").arg(shape->mesh->submeshes.size() - 1)
                             : QString();
    table_->setItem(
        row, 4,
        new QTableWidgetItem((material ? QString::fromStdString(material->name) : tr("none")) + more));
}

void PieceTable::refresh() {
    if (filling_ || !isVisible()) return;
    filling_ = true;
    const std::vector<PartId> parts = listed();
    const auto rows = static_cast<int>(std::min(parts.size(), most_rows));
    table_->setSortingEnabled(false);
    table_->setRowCount(rows);
    for (int row = 0; row < rows; ++row)
        addRow(row, static_cast<std::size_t>(row), parts[static_cast<std::size_t>(row)]);
    table_->setSortingEnabled(true);
    if (rows > 0) table_->resizeColumnsToContents();
    for (int column = 1; column < table_->columnCount(); ++column)
        table_->setColumnWidth(column, table_->columnWidth(column) + 16);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    area_->setNote(session_.previewed() ? tr("%1 as the preview would make them").arg(parts.size())
                   : session_.selection().empty()
                       ? tr("%1 with a shape").arg(countWords(parts.size(), "part"))
                       : tr("%1 among the picked parts").arg(parts.size()));
    filling_ = false;
}

}  // namespace pivrak
