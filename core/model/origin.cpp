#include "core/model/origin.h"

#include <iterator>

namespace pivrak {

std::vector<Origin> origins_of(const Origin& origin) {
    std::vector<Origin> all{origin};
    all.front().joined.clear();
    all.insert(all.end(), origin.joined.begin(), origin.joined.end());
    return all;
}

Origin joined_origin(std::vector<Origin> origins) {
    Origin own = std::move(origins.front());
    own.joined.assign(std::make_move_iterator(origins.begin() + 1), std::make_move_iterator(origins.end()));
    return own;
}

void rehang_origin(Origin& origin, const Frame& old_from_new) {
    origin.node_from_shape = (origin.node_from_shape * old_from_new).normalized();
    for (Origin& joined : origin.joined) rehang_origin(joined, old_from_new);
}

void scale_origin(Origin& origin, double factor) {
    origin.scale *= factor;
    origin.node_from_shape.translation *= factor;
    for (Origin& joined : origin.joined) scale_origin(joined, factor);
}

}  // namespace pivrak
