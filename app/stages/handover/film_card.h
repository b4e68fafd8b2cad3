#pragma once

#include <QProgressBar>

#include "app/film/film.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Pictures, a contact sheet or a movie of the present clip, from where the view looks.
class FilmCard : public Card {
    Q_OBJECT

public:
    FilmCard(Session& session, Look& look);
    void refresh();
    /// Where the view stands, asked for when a film begins.
    void setView(std::function<Camera()> view) { view_ = std::move(view); }

signals:
    void pathAsked(QLineEdit* into);

private:
    void make();
    void showForm();

    Session& session_;
    Look& look_;
    void listCameras();

    QComboBox *form_, *camera_;
    QLineEdit *path_, *from_, *to_, *every_, *wide_, *high_, *columns_;
    QWidget* columns_row_;
    QPushButton *choose_, *make_;
    QProgressBar* progress_;
    QLabel* facts_;
    std::unique_ptr<Film> film_;
    std::function<Camera()> view_;
};

}  // namespace pivrak
