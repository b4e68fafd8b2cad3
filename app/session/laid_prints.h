#pragma once

#include <QObject>
#include <memory>
#include <vector>

#include "app/session/session.h"
#include "core/motion/print_strip.h"

namespace pivrak {

/// The printed tracks of what is shown, over the whole clip. They are laid off the interface thread whenever
/// something changes; until then those of before are shown.
class LaidPrints : public QObject {
    Q_OBJECT

public:
    /// Some rows of a strip as one mesh: what is far or out of sight is told block by block.
    struct Block {
        double to_m;                   ///< where it ends on the way
        std::uint32_t indices_before;  ///< of the strip
        std::shared_ptr<const Mesh> mesh;
    };
    struct Laid {
        PrintStrip strip;
        std::vector<Block> blocks;  ///< in the order in which they are printed
    };
    explicit LaidPrints(Session& session, QObject* parent = nullptr);
    const std::vector<Laid>& all() const { return laid_; }
    const Laid* find(PrintId print) const;
    bool isBusy() const { return worker_.isBusy(); }

signals:
    void changed();

private:
    void lay();

    Session& session_;
    std::vector<Laid> laid_;
    Background worker_;
};

}  // namespace pivrak
