#pragma once

#include <QString>

class QWidget;

namespace pivrak {

/// Asks for a file to open, or to save as, in the look of the window; beside the folders stand those used
/// before. Nothing when the person changed their mind.
QString ask_for_file(QWidget* parent, const QString& title, const QString& filter);
QString ask_where_to_save(QWidget* parent, const QString& title, const QString& proposed,
                          const QString& filter);

}  // namespace pivrak
