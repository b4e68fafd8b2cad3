#pragma once

#include <QString>
#include <functional>
#include <vector>

#include "app/session/session.h"

class QMainWindow;

namespace pivrak {

class StagePanels;

/// Something that the finder finds besides actions and what cards do, and how to get there.
struct FinderPlace {
    QString line;   ///< what it is and where it lives
    QString words;  ///< by which it is found
    std::function<void()> go;
};

/// Buttons and fields of all panels and of the window, then findings, sets, clips and parts, as they are now.
std::vector<FinderPlace> finder_places(Session& session, StagePanels& panels, QMainWindow& window);

/// Whether each of the words asked for is among some words, or another word for it is: people say axle, axis
/// and pivot.
bool finder_fits(const QString& asked, const QString& words);

}  // namespace pivrak
