#pragma once

#include <QDialog>
#include <QListWidget>
#include <QScrollArea>
#include <QStackedWidget>

#include "app/session/session.h"

namespace pivrak {

class Player;

/// A page for each stage (what it is for, what to look at, three common mistakes) and the first machine. It
/// stays open beside the work and follows the stage.
class HelpWindow : public QDialog {
    Q_OBJECT

public:
    HelpWindow(Session& session, const Player& player, QWidget* parent);
    void showStage(Stage stage);
    void showFirstMachine();

signals:
    void cardAsked(Stage stage, const QString& tab);

private:
    QWidget* page(const QString& file, QWidget* below);
    void addPage(const QString& title, QWidget* page);
    QListWidget* pages_;
    QStackedWidget* shown_;
};

}  // namespace pivrak
