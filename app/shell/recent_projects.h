#pragma once

#include <QMenu>
#include <functional>

#include "app/session/session.h"

namespace pivrak {

/// A menu of the projects that were opened or saved last, the latest first. What is no longer there is left
/// out.
class RecentProjects : public QMenu {
    Q_OBJECT

public:
    /// `open` is called with the path of the one that is chosen.
    RecentProjects(Session& session, std::function<void(const QString&)> open, QWidget* parent);

private:
    void note();
    void fill();

    Session& session_;
    std::function<void(const QString&)> open_;
};

}  // namespace pivrak
