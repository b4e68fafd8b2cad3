#pragma once

#include <QPainter>
#include <QProcess>
#include <QTemporaryDir>
#include <QTimer>
#include <filesystem>
#include <memory>

#include "app/film/offscreen_picture.h"
#include "app/session/laid_prints.h"
#include "app/view/drawn_scene.h"

namespace pivrak {

/// What a film of a clip shall be.
struct FilmWish {
    enum class Form { Pictures, Sheet, Movie };
    Form form = Form::Pictures;
    std::filesystem::path
        path;          ///< pictures: `run.png` gives `run-0000.png` and so on; a sheet `.png`; a movie
                       ///< `.webm` or `.mp4`
    std::string clip;  ///< the first one when empty
    std::optional<double> from = {}, to = {};  ///< frames; the clip's when left out
    double every = 1;                          ///< frames from picture to picture
    QSize size{1280, 720};
    int columns = 4;  ///< of a sheet
    /// Where from: through a camera of the project by its name, else as given, else all is seen from aside.
    std::string camera;
    std::optional<Camera> view = {};
    bool edges = true;
};

struct FilmReport {
    std::size_t pictures = 0;
    std::vector<std::filesystem::path> files;
};

/// Makes pictures, a contact sheet or a movie of a clip, a picture at a time, so that whoever waits sees how
/// far it is and can stop it. It works on a copy of the document. Of a clip that loops, the last frame stands
/// where the first one does and is left out.
class Film : public QObject {
    Q_OBJECT

public:
    Film(const Document& document, FilmWish wish, Look& look, QObject* parent = nullptr);
    ~Film() override;

    void start();
    /// Nothing of it stays.
    void cancel();

    /// Whether a movie can be made here: whether its encoder is installed.
    static bool canMakeMovies();

signals:
    void advanced(double share, const QString& what);
    /// At the end, or when it cannot be made.
    void finished(const Result<FilmReport>& report);

private:
    Result<void> prepare();
    Result<void> startEncoder();
    std::optional<Error> step();
    Result<void> take(const QImage& picture, double frame);
    Result<void> end();
    void fail(const Error& error);
    Result<void> keep();
    QString making(const std::filesystem::path& file) const;
    void removeAll();
    Camera cameraNow() const;
    Camera wholeView() const;

    FilmWish wish_;
    Look& look_;
    Session session_;
    std::unique_ptr<LaidPrints> prints_;
    std::unique_ptr<DrawnScene> scene_;
    std::unique_ptr<OffscreenPicture> picture_;
    std::vector<double> frames_;
    std::size_t next_ = 0;
    QImage sheet_;
    std::unique_ptr<QProcess> encoder_;
    FilmReport report_;
    QTimer timer_;
    std::unique_ptr<QTemporaryDir> made_in_;
};

}  // namespace pivrak
