#include "app/parts/parts_model.h"

#include <QMimeData>
#include <algorithm>
#include <map>
#include <unordered_map>

#include "core/io/project/project_json.h"

namespace pivrak {
namespace {
const QString part_mime = QStringLiteral("application/x-pivrak-parts");
constexpr std::size_t many_links = 12;

/// The chain of each link of those that have many.
std::unordered_map<PartId, const Chain*> chains_of_links(const Document& document) {
    std::unordered_map<PartId, const Chain*> chain_of;
    for (const Chain& chain : document.chains)
        if (chain.links.size() >= many_links)
            for (const PartId link : chain.links) chain_of[link] = &chain;
    return chain_of;
}

}  // namespace

PartsModel::PartsModel(Session& session, QObject* parent) : QAbstractItemModel(parent), session_(session) {
    connect(&session_, &Session::documentChanged, this, &PartsModel::rebuild);
    connect(&session_, &Session::previewChanged, this, &PartsModel::rebuild);
    connect(&session_, &Session::poseChanged, this, &PartsModel::marksChanged);
    rebuild();
}

void PartsModel::rebuild() {
    beginResetModel();
    nodes_.clear();
    roots_.clear();
    node_of_.clear();
    const Document& document = session_.shownDocument();
    const auto chain_of = chains_of_links(document);
    std::map<std::pair<const Chain*, int>, int> lot_of;
    for (const PartId id : Tree(document).all()) {
        const Part& part = *document.parts.find(id);
        int above = part.parent ? node_of_.at(part.parent) : -1;
        if (const auto chain = chain_of.find(id); chain != chain_of.end()) {
            const auto [lot, fresh] = lot_of.try_emplace({chain->second, above}, 0);
            if (fresh)
                lot->second = addNode({}, above,
                                      tr("%1: %2 links")
                                          .arg(QString::fromStdString(chain->second->name))
                                          .arg(chain->second->links.size()));
            above = lot->second;
        }
        node_of_[id] = addNode(id, above);
    }
    endResetModel();
}

int PartsModel::addNode(PartId part, int above, const QString& title) {
    const int self = static_cast<int>(nodes_.size());
    std::vector<int>& siblings = above < 0 ? roots_ : nodes_[static_cast<std::size_t>(above)].children;
    const int row = static_cast<int>(siblings.size());
    siblings.push_back(self);
    nodes_.push_back({part, above, row, {}, title});
    return self;
}

std::vector<PartId> PartsModel::partsOf(const QModelIndex& index) const {
    if (!index.isValid()) return {};
    const Node& node = nodes_[index.internalId()];
    if (node.part) return {node.part};
    std::vector<PartId> parts;
    for (const int child : node.children) parts.push_back(nodes_[static_cast<std::size_t>(child)].part);
    return parts;
}

std::vector<QModelIndex> PartsModel::lots() const {
    std::vector<QModelIndex> found;
    for (std::size_t i = 0; i < nodes_.size(); ++i)
        if (!nodes_[i].title.isEmpty())
            found.push_back(createIndex(nodes_[i].row, 0, static_cast<quintptr>(i)));
    return found;
}

QModelIndex PartsModel::index(int row, int column, const QModelIndex& parent) const {
    const std::vector<int>& siblings = parent.isValid() ? nodes_[parent.internalId()].children : roots_;
    if (column != 0 || row < 0 || static_cast<std::size_t>(row) >= siblings.size()) return {};
    return createIndex(row, 0, static_cast<quintptr>(siblings[static_cast<std::size_t>(row)]));
}

QModelIndex PartsModel::parent(const QModelIndex& index) const {
    if (!index.isValid()) return {};
    const int above = nodes_[index.internalId()].parent;
    return above < 0
               ? QModelIndex()
               : createIndex(nodes_[static_cast<std::size_t>(above)].row, 0, static_cast<quintptr>(above));
}

int PartsModel::rowCount(const QModelIndex& parent) const {
    return static_cast<int>(parent.isValid() ? nodes_[parent.internalId()].children.size() : roots_.size());
}

PartId PartsModel::partOf(const QModelIndex& index) const {
    return index.isValid() ? nodes_[index.internalId()].part : PartId{};
}

QModelIndex PartsModel::indexOf(PartId part) const {
    const auto found = node_of_.find(part);
    return found == node_of_.end() ? QModelIndex()
                                   : createIndex(nodes_[static_cast<std::size_t>(found->second)].row, 0,
                                                 static_cast<quintptr>(found->second));
}

QVariant PartsModel::data(const QModelIndex& index, int role) const {
    if (index.isValid() && !nodes_[index.internalId()].title.isEmpty()) {
        const std::vector<PartId> links = partsOf(index);
        const Part* first = session_.shownDocument().parts.find(links.front());
        switch (role) {
            case Qt::DisplayRole:
            case Qt::ToolTipRole:
            case WordsRole:
                return nodes_[index.internalId()].title;
            case ShownRole:
                return first && first->shown;
            case LockedRole:
                return first && first->locked;
            default:
                return {};
        }
    }
    const Part* part = session_.shownDocument().parts.find(partOf(index));
    if (!part) return {};
    switch (role) {
        case Qt::DisplayRole:
        case Qt::EditRole:
            return QString::fromStdString(part->name);
        case Qt::ToolTipRole:
            return QString::fromStdString(part_path(session_.shownDocument(), part->id));
        case IdRole:
            return QVariant::fromValue<qulonglong>(part->id.value);
        case MarkRole:
            return static_cast<int>(channelMark(session_, part->id));
        case ShownRole:
            return part->shown;
        case HingeRole:
            return part->joint.kind != JointKind::Fixed;
        case DatumRole:
            return part->is_datum();
        case ControlRole:
            return part->is_control();
        case LockedRole:
            return part->locked;
        case WordsRole:
            return words(*part);
        default:
            return {};
    }
}

/// What the filter looks in: name, kind, and the sets it is in.
QString PartsModel::words(const Part& part) const {
    QStringList words{QString::fromStdString(part.name), part.is_datum() ? tr("datum") : tr("shape"),
                      QString::fromUtf8(word(part.joint.kind).data())};
    for (const PartSet& set : session_.shownDocument().sets)
        if (std::binary_search(set.parts.begin(), set.parts.end(), part.id))
            words << QString::fromStdString(set.name);
    if (part.is_control()) words << tr("control");
    switch (channelMark(session_, part.id)) {
        case ChannelMark::Keyed:
            words << tr("keyed");
            break;
        case ChannelMark::Driven:
            words << tr("driven");
            break;
        case ChannelMark::AtLimit:
            words << tr("at a limit");
            break;
        default:
            break;
    }
    for (const Finding& finding : session_.findings())
        if (finding.part == part.id) {
            words << tr("finding");
            break;
        }
    if (part.locked) words << tr("locked");
    if (!part.shown) words << tr("hidden");
    return words.join(QLatin1Char('\n'));
}

bool PartsModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    nlohmann::json parts = nlohmann::json::array();
    for (const PartId part : partsOf(index)) parts.push_back(part.value);
    if (role == ShownRole)
        return session_.run({{"op", "part.show"}, {"parts", parts}, {"shown", value.toBool()}});
    if (role == LockedRole)
        return session_.run({{"op", "part.lock"}, {"parts", parts}, {"locked", value.toBool()}});
    if (role != Qt::EditRole || !partOf(index)) return false;
    return session_.run(
        {{"op", "part.rename"}, {"part", partOf(index).value}, {"name", value.toString().toStdString()}});
}

Qt::ItemFlags PartsModel::flags(const QModelIndex& index) const {
    if (index.isValid() && !partOf(index)) return QAbstractItemModel::flags(index);
    const Qt::ItemFlags base = QAbstractItemModel::flags(index) | Qt::ItemIsDropEnabled;
    return index.isValid() ? base | Qt::ItemIsDragEnabled | Qt::ItemIsEditable : base;
}

QStringList PartsModel::mimeTypes() const {
    return {part_mime};
}

QMimeData* PartsModel::mimeData(const QModelIndexList& indexes) const {
    QStringList ids;
    for (const QModelIndex& index : indexes) ids << QString::number(partOf(index).value);
    auto* data = new QMimeData;
    data->setData(part_mime, ids.join(QLatin1Char(' ')).toUtf8());
    return data;
}

bool PartsModel::dropMimeData(const QMimeData* data, Qt::DropAction, int, int, const QModelIndex& parent) {
    if (!data->hasFormat(part_mime)) return false;
    nlohmann::json parts = nlohmann::json::array();
    for (const QByteArray& id : data->data(part_mime).split(' ')) parts.push_back(id.toULongLong());
    if (const PartId under = partOf(parent))
        session_.run({{"op", "tree.parent"}, {"parts", parts}, {"under", under.value}});
    else
        session_.run({{"op", "tree.release"}, {"parts", parts}});
    // The document is already as it should be; the view must not remove rows on its own.
    return false;
}

}  // namespace pivrak
