#pragma once

#include <QAbstractItemModel>
#include <unordered_map>
#include <vector>

#include "app/parts/channel_mark.h"

namespace pivrak {

/// The tree of parts for item views: one column, ids under Qt::UserRole. The links of a long chain stand
/// below one row of their own, which is no part.
class PartsModel : public QAbstractItemModel {
    Q_OBJECT

public:
    static constexpr int IdRole = Qt::UserRole, MarkRole = Qt::UserRole + 1, ShownRole = Qt::UserRole + 2,
                         HingeRole = Qt::UserRole + 3, DatumRole = Qt::UserRole + 4,
                         LockedRole = Qt::UserRole + 5, WordsRole = Qt::UserRole + 6,
                         ControlRole = Qt::UserRole + 7;

    explicit PartsModel(Session& session, QObject* parent = nullptr);

    QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    QModelIndex parent(const QModelIndex& index) const override;
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& = {}) const override { return 1; }
    QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;
    bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                      const QModelIndex& parent) override;

    QModelIndex indexOf(PartId part) const;
    PartId partOf(const QModelIndex& index) const;
    /// The part of a row, or those that stand below one for many.
    std::vector<PartId> partsOf(const QModelIndex& index) const;
    /// Rows for many.
    std::vector<QModelIndex> lots() const;

signals:
    /// Only looks changed: marks and names, not the tree.
    void marksChanged();

private:
    struct Node {
        PartId part;
        int parent = -1;
        int row = 0;
        std::vector<int> children;
        QString title = {};  ///< of a row for many, which is no part
    };
    void rebuild();
    int addNode(PartId part, int above, const QString& title = {});
    QString words(const Part& part) const;

    Session& session_;
    std::vector<Node> nodes_;
    std::vector<int> roots_;
    std::unordered_map<PartId, int> node_of_;
};

}  // namespace pivrak
