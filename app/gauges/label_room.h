#pragma once

#include <QRectF>
#include <algorithm>
#include <vector>

namespace pivrak {

/// Where words may still be written over the picture. What is written, or gripped, keeps its place; who comes
/// later goes elsewhere or is left out.
struct LabelRoom {
    QRectF view;
    std::vector<QRectF> taken = {};

    bool isFree(const QRectF& box) const {
        return view.contains(box) && std::none_of(taken.begin(), taken.end(),
                                                  [&](const QRectF& other) { return other.intersects(box); });
    }
    /// Takes a place when it is free; answers whether it was.
    bool take(const QRectF& box) {
        if (!isFree(box)) return false;
        taken.push_back(box);
        return true;
    }
};

}  // namespace pivrak
