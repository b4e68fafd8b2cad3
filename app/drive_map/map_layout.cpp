#include "app/drive_map/map_layout.h"

#include <graphviz/gvc.h>

#include <algorithm>
#include <map>
#include <memory>
#include <string>

namespace pivrak {
namespace {

constexpr double px_per_inch = 72;

/// The library takes texts it may change.
char* text(std::string& of) {
    return of.data();
}

void set_default(Agraph_t* graph, int kind, std::string name, std::string value) {
    agattr(graph, kind, text(name), text(value));
}

std::string inches(double px) {
    return std::to_string(px / px_per_inch);
}

QPolygonF line_of(Agedge_t* edge, double height) {
    QPolygonF line;
    const splines* way = ED_spl(edge);
    if (!way || way->size == 0) return line;
    const bezier& b = way->list[0];
    // Straight pieces come as curves whose handles lie on them.
    for (std::size_t i = 0; i < static_cast<std::size_t>(b.size); i += 3)
        line << QPointF(b.list[i].x, height - b.list[i].y);
    if (b.eflag != 0) line << QPointF(b.ep.x, height - b.ep.y);
    return line;
}

}  // namespace

MapLayout lay_out(const DriveMap& map, const QSizeF& box) {
    MapLayout out;
    const std::unique_ptr<GVC_t, int (*)(GVC_t*)> context(gvContext(), gvFreeContext);
    std::string name = "drive map";
    const std::unique_ptr<Agraph_t, int (*)(Agraph_t*)> graph(agopen(text(name), Agdirected, nullptr),
                                                              agclose);
    set_default(graph.get(), AGRAPH, "rankdir", "LR");
    set_default(graph.get(), AGRAPH, "splines", "ortho");
    // Labels stand between two boxes.
    std::size_t longest = 0;
    for (const DriveEdge& edge : map.edges) longest = std::max(longest, edge.label.size());
    set_default(graph.get(), AGRAPH, "ranksep",
                inches(std::clamp(6.2 * static_cast<double>(longest) + 26, 72.0, 200.0)));
    set_default(graph.get(), AGRAPH, "nodesep", inches(10));
    set_default(graph.get(), AGNODE, "shape", "box");
    set_default(graph.get(), AGNODE, "fixedsize", "true");
    set_default(graph.get(), AGNODE, "label", "");
    set_default(graph.get(), AGNODE, "width", inches(box.width()));
    set_default(graph.get(), AGNODE, "height", inches(box.height()));
    std::map<ChannelRef, Agnode_t*> node_of;
    std::vector<Agnode_t*> nodes;
    for (const ChannelRef channel : map.channels) {
        std::string number = std::to_string(nodes.size());
        nodes.push_back(agnode(graph.get(), text(number), 1));
        node_of[channel] = nodes.back();
    }
    std::vector<Agedge_t*> edges;
    for (const DriveEdge& edge : map.edges) {
        std::string number = std::to_string(edges.size());
        edges.push_back(agedge(graph.get(), node_of.at(edge.from), node_of.at(edge.to), text(number), 1));
    }
    if (gvLayout(context.get(), graph.get(), "dot") != 0) return out;
    const boxf bounds = GD_bb(graph.get());
    out.size = QSizeF(bounds.UR.x, bounds.UR.y);
    for (Agnode_t* node : nodes) {
        const pointf at = ND_coord(node);
        out.boxes.emplace_back(at.x - box.width() / 2, bounds.UR.y - at.y - box.height() / 2, box.width(),
                               box.height());
    }
    for (Agedge_t* edge : edges) out.lines.push_back(line_of(edge, bounds.UR.y));
    gvFreeLayout(context.get(), graph.get());
    return out;
}

}  // namespace pivrak
