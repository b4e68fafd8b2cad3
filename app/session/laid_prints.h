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
    struct Laid {
        PrintStrip strip;
        std::shared_ptr<const Mesh> whole;
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
