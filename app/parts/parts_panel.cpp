#include "app/parts/parts_panel.h"

#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>
#include <unordered_map>

namespace pivrak {
namespace {

/// Kind glyph, name, channel mark, and an eye while the pointer is on the row.
class PartDelegate : public QStyledItemDelegate {
public:
    PartDelegate(Look& look, QObject* parent) : QStyledItemDelegate(parent), look_(look) {}

    /// Whether a row was painted with the mark that it has.
    bool showsMark(const QModelIndex& index) const {
        const auto shown = painted_.find(index.data(PartsModel::IdRole).toULongLong());
        return shown != painted_.end() && shown->second == index.data(PartsModel::MarkRole).toInt();
    }

    static QRect eyeRect(const QRect& row) { return {row.right() - 42, row.top(), 20, row.height()}; }
    static QRect lockRect(const QRect& row) { return {row.right() - 62, row.top(), 20, row.height()}; }

    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override {
        const Theme& theme = look_.theme();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        const bool selected = option.state & QStyle::State_Selected,
                   hovered = option.state & QStyle::State_MouseOver;
        if (selected) {
            painter->fillRect(option.rect, theme.raspberryTint);
            painter->fillRect(QRect(0, option.rect.top(), 3, option.rect.height()), theme.raspberry);
        } else if (hovered) {
            painter->fillRect(option.rect, theme.card);
        }
        const bool shown = index.data(PartsModel::ShownRole).toBool(),
                   locked = index.data(PartsModel::LockedRole).toBool();
        const QColor ink = shown ? theme.ink : theme.softInk;
        paintKind(*painter, QPointF(option.rect.left() + 8, option.rect.center().y() + 0.5), index,
                  shown ? theme.petrolLight : theme.softInk);
        const auto mark = static_cast<ChannelMark>(index.data(PartsModel::MarkRole).toInt());
        painted_[index.data(PartsModel::IdRole).toULongLong()] = static_cast<int>(mark);
        painter->setFont(Look::uiFont(12));
        painter->setPen(ink);
        const QRect text = option.rect.adjusted(19, 0,
                                                hovered || locked                     ? -64
                                                : mark != ChannelMark::None || !shown ? -44
                                                                                      : -4,
                                                0);
        painter->drawText(
            text, Qt::AlignVCenter,
            painter->fontMetrics().elidedText(index.data().toString(), Qt::ElideMiddle, text.width()));
        paintMark(*painter, QPointF(option.rect.right() - 14, option.rect.center().y() + 0.5), mark, theme);
        if (hovered || !shown)
            paintEye(*painter, QRectF(eyeRect(option.rect)).center(), shown, theme.softInk);
        if (hovered || locked)
            paintLock(*painter, QRectF(lockRect(option.rect)).center(), locked,
                      locked ? theme.ink : theme.softInk);
        painter->restore();
    }

    bool editorEvent(QEvent* event, QAbstractItemModel* model, const QStyleOptionViewItem& option,
                     const QModelIndex& index) override {
        const bool press = event->type() == QEvent::MouseButtonPress,
                   release = event->type() == QEvent::MouseButtonRelease;
        if (press || release) {
            const QPoint at = static_cast<QMouseEvent*>(event)->pos();
            for (const auto& [rect, role] : {std::pair(eyeRect(option.rect), PartsModel::ShownRole),
                                             std::pair(lockRect(option.rect), PartsModel::LockedRole)})
                if (rect.contains(at))
                    return press || model->setData(index, !index.data(role).toBool(), role);
        }
        return QStyledItemDelegate::editorEvent(event, model, option, index);
    }

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {120, 21}; }

private:
    /// A square for a shape, an open diamond for a datum, a ring with a bar for a control, a turning arrow
    /// for what moves.
    static void paintKind(QPainter& painter, const QPointF& at, const QModelIndex& index,
                          const QColor& color) {
        painter.setPen(QPen(color, 1.4));
        painter.setBrush(Qt::NoBrush);
        if (index.data(PartsModel::ControlRole).toBool()) {
            painter.drawEllipse(at, 4.4, 4.4);
            painter.drawLine(at + QPointF(-2, 0), at + QPointF(2, 0));
            painter.drawLine(at + QPointF(0, -2), at + QPointF(0, 2));
        } else if (index.data(PartsModel::HingeRole).toBool()) {
            painter.drawArc(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9), 50 * 16, 280 * 16);
            painter.setBrush(color);
            painter.drawEllipse(at, 1.4, 1.4);
            const QPointF tip(at.x() + 3.0, at.y() - 3.4);
            painter.drawLine(tip, tip + QPointF(2.6, -0.4));
            painter.drawLine(tip, tip + QPointF(0.4, -2.6));
        } else if (index.data(PartsModel::DatumRole).toBool()) {
            painter.drawPolygon(QPolygonF{at + QPointF(0, -4.5), at + QPointF(4.5, 0), at + QPointF(0, 4.5),
                                          at + QPointF(-4.5, 0)});
        } else {
            painter.setBrush(color);
            painter.drawRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7));
        }
    }

    static void paintEye(QPainter& painter, const QPointF& at, bool shown, const QColor& color) {
        painter.setPen(QPen(color, 1.2));
        painter.setBrush(Qt::NoBrush);
        QPainterPath lid(at + QPointF(-6, 0));
        lid.quadTo(at + QPointF(0, -6.5), at + QPointF(6, 0));
        lid.quadTo(at + QPointF(0, 6.5), at + QPointF(-6, 0));
        painter.drawPath(lid);
        painter.drawEllipse(at, 1.7, 1.7);
        if (!shown) painter.drawLine(at + QPointF(-5, 5), at + QPointF(5, -5));
    }

    static void paintLock(QPainter& painter, const QPointF& at, bool locked, const QColor& color) {
        painter.setPen(QPen(color, 1.2));
        painter.setBrush(locked ? QBrush(color) : QBrush(Qt::NoBrush));
        painter.drawRoundedRect(QRectF(at.x() - 4, at.y() - 0.5, 8, 6), 1, 1);
        painter.setBrush(Qt::NoBrush);
        painter.drawArc(QRectF(at.x() - 2.6 + (locked ? 0 : 2.2), at.y() - 5, 5.2, 8), 0, 180 * 16);
    }

    Look& look_;
    mutable std::unordered_map<qulonglong, int> painted_;  ///< marks, by part
};

}  // namespace

PartsPanel::PartsPanel(Session& session, Look& look, QWidget* parent)
    : QWidget(parent),
      session_(session),
      model_(session),
      filter_(new QLineEdit),
      tree_(new QTreeView),
      kinds_(new QToolButton) {
    auto* title = new QLabel(tr("Parts"));
    title->setProperty("role", "cardtitle");
    filter_->setObjectName(QStringLiteral("partsFilter"));
    filter_->setAccessibleName(tr("Filter of parts"));
    tree_->setAccessibleName(tr("Parts"));
    filter_->setPlaceholderText(tr("filter by name, kind or set"));
    filter_->setClearButtonEnabled(true);
    filtered_.setSourceModel(&model_);
    filtered_.setRecursiveFilteringEnabled(true);
    filtered_.setFilterRole(PartsModel::WordsRole);
    filtered_.setFilterCaseSensitivity(Qt::CaseInsensitive);
    tree_->setObjectName(QStringLiteral("partsTree"));
    tree_->setModel(&filtered_);
    auto* delegate = new PartDelegate(look, tree_);
    tree_->setItemDelegate(delegate);
    tree_->setHeaderHidden(true);
    tree_->setIndentation(14);
    tree_->setMouseTracking(true);
    tree_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    tree_->setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
    tree_->setDragDropMode(QAbstractItemView::InternalMove);
    tree_->setUniformRowHeights(true);
    tree_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 8, 0, 0);
    layout->setSpacing(5);
    auto* top = new QVBoxLayout;
    top->setContentsMargins(12, 0, 10, 2);
    top->addWidget(title);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    row->addWidget(filter_, 1);
    row->addWidget(kinds_);
    top->addLayout(row);
    makeKinds();
    layout->addLayout(top);
    layout->addWidget(tree_, 1);
    connect(filter_, &QLineEdit::textChanged, this, [this](const QString& text) {
        filtered_.setFilterFixedString(text);
        tree_->expandAll();
        foldLots();
        showSelection();
    });
    connect(&model_, &QAbstractItemModel::modelAboutToBeReset, this, &PartsPanel::keepOpen);
    connect(&model_, &QAbstractItemModel::modelReset, this, &PartsPanel::restoreOpen);
    connect(&model_, &PartsModel::marksChanged, this, [this, delegate] {
        const int end = tree_->viewport()->height();
        for (QModelIndex row = tree_->indexAt(QPoint(0, 0));
             row.isValid() && tree_->visualRect(row).top() < end; row = tree_->indexBelow(row))
            if (!delegate->showsMark(row)) tree_->update(row);
    });
    connect(&look, &Look::changed, tree_->viewport(), qOverload<>(&QWidget::update));
    connect(tree_->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            &PartsPanel::takeSelection);
    connect(&session_, &Session::selectionChanged, this, &PartsPanel::showSelection);
    tree_->expandAll();
    foldLots();
}

/// Rows for many are closed, but those that somebody opened; all while a filter looks into them.
void PartsPanel::foldLots() {
    if (!filter_->text().isEmpty()) return;
    for (const QModelIndex& lot : model_.lots())
        if (!open_lots_.contains(model_.partsOf(lot).front().value))
            tree_->collapse(filtered_.mapFromSource(lot));
}

/// Words to filter by and ways to sort, for those who do not know them yet.
void PartsPanel::makeKinds() {
    kinds_->setObjectName(QStringLiteral("partsKinds"));
    kinds_->setText(QStringLiteral("…"));
    kinds_->setToolTip(tr("Filter by kind, joint, state or set; sort"));
    kinds_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(kinds_);
    menu->setObjectName(QStringLiteral("partsKindsMenu"));
    kinds_->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        menu->addSection(tr("Show only"));
        QStringList words{tr("shape"),      tr("datum"),  tr("control"), tr("hinge"),  tr("slide"),
                          tr("cylinder"),   tr("ball"),   tr("free"),    tr("keyed"),  tr("driven"),
                          tr("at a limit"), tr("locked"), tr("hidden"),  tr("finding")};
        for (const PartSet& set : session_.document().sets) words << QString::fromStdString(set.name);
        for (const QString& word : words)
            connect(menu->addAction(word), &QAction::triggered, this,
                    [this, word] { filter_->setText(word); });
        menu->addSection(tr("Order"));
        connect(menu->addAction(tr("by name")), &QAction::triggered, this, [this] { filtered_.sort(0); });
        connect(menu->addAction(tr("as made")), &QAction::triggered, this, [this] { filtered_.sort(-1); });
    });
}

/// The row made current stands last, as the part picked last.
void PartsPanel::takeSelection() {
    if (showing_) return;
    std::vector<PartId> picked = session_.selection(), now;
    for (const QModelIndex& index : tree_->selectionModel()->selectedIndexes())
        for (const PartId part : model_.partsOf(filtered_.mapToSource(index))) now.push_back(part);
    const std::unordered_set<PartId> still(now.begin(), now.end());
    std::erase_if(picked, [&](PartId part) { return !still.contains(part); });
    for (const PartId part : now)
        if (!session_.isSelected(part)) picked.push_back(part);
    showing_ = true;
    session_.select(picked);
    showing_ = false;
}

void PartsPanel::showSelection() {
    if (showing_) return;
    showing_ = true;
    QItemSelection selection;
    // Many links of a chain do not open it; all of them are shown as its row.
    bool as_lot = false;
    constexpr std::ptrdiff_t many = 4;
    for (const QModelIndex& lot : model_.lots()) {
        const std::vector<PartId> links = model_.partsOf(lot);
        const QModelIndex row = filtered_.mapFromSource(lot);
        const auto picked =
            std::count_if(links.begin(), links.end(), [&](PartId link) { return session_.isSelected(link); });
        if (tree_->isExpanded(row) || picked < many) continue;
        if (picked == std::ssize(links)) selection.select(row, row);
        as_lot = as_lot || std::find(links.begin(), links.end(), session_.primary()) != links.end();
    }
    for (const PartId part : session_.selection()) {
        const QModelIndex index = filtered_.mapFromSource(model_.indexOf(part));
        if (index.isValid()) selection.select(index, index);
    }
    tree_->selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
    if (session_.primary() && !as_lot)
        tree_->scrollTo(filtered_.mapFromSource(model_.indexOf(session_.primary())));
    showing_ = false;
}

void PartsPanel::keepOpen() {
    for (const PartId part : Tree(session_.shownDocument()).all()) {
        const QModelIndex index = filtered_.mapFromSource(model_.indexOf(part));
        if (!index.isValid() || filtered_.rowCount(index) == 0) continue;
        if (tree_->isExpanded(index))
            closed_.erase(part.value);
        else
            closed_.insert(part.value);
    }
    if (!filter_->text().isEmpty()) return;
    for (const QModelIndex& lot : model_.lots()) {
        const std::uint64_t first = model_.partsOf(lot).front().value;
        if (tree_->isExpanded(filtered_.mapFromSource(lot)))
            open_lots_.insert(first);
        else
            open_lots_.erase(first);
    }
}

void PartsPanel::restoreOpen() {
    tree_->expandAll();
    for (const std::uint64_t part : closed_) {
        const QModelIndex index = filtered_.mapFromSource(model_.indexOf(PartId{part}));
        if (index.isValid()) tree_->collapse(index);
    }
    foldLots();
    showSelection();
}

QPoint PartsPanel::rowOf(PartId part) {
    const QModelIndex index = filtered_.mapFromSource(model_.indexOf(part));
    tree_->scrollTo(index);
    const QRect row = tree_->visualRect(index);
    return {row.left() + 40, row.center().y()};
}

}  // namespace pivrak
