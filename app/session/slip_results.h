#pragma once

#include <QObject>
#include <optional>

#include "app/session/session.h"
#include "core/checks/travel/slip_check.h"

namespace pivrak {

/// Owner of the last slip check; told to be of before when the project has changed since.
class SlipResults : public QObject {
    Q_OBJECT

public:
    explicit SlipResults(Session& session, QObject* parent = nullptr);
    const std::optional<SlipCheck>& check() const { return check_; }
    bool isStale() const { return stale_; }
    /// Measures off the interface thread, with progress.
    void measure();

signals:
    void changed();

private:
    Session& session_;
    std::optional<SlipCheck> check_;
    bool stale_ = false;
    int project_ = 0;  ///< counts those that were opened
};

}  // namespace pivrak
