#include "app/film/film.h"

#include <fmt/format.h>

#include <QStandardPaths>
#include <cmath>

namespace pivrak {
namespace {

constexpr const char* encoder = "ffmpeg";
constexpr std::size_t most_pictures = 100000;

std::string lower_ending(const std::filesystem::path& path) {
    return QString::fromStdString(path.extension().string()).toLower().toStdString();
}

/// Ending and size, before anything is drawn. Errors: `film.*`.
Result<void> check_wish(const FilmWish& wish) {
    const std::string ending = lower_ending(wish.path);
    if (wish.form == FilmWish::Form::Movie) {
        if (ending != ".webm" && ending != ".mp4")
            return Error{"film.ending", fmt::format("a movie ends in .webm or .mp4, not in '{}'", ending),
                         ending};
        if (!Film::canMakeMovies())
            return Error{
                "film.no_encoder",
                fmt::format("movies need the program '{}', which is not installed; pictures and sheets "
                            "do not",
                            encoder),
                encoder};
    } else if (ending != ".png") {
        return Error{"film.ending", fmt::format("pictures end in .png, not in '{}'", ending), ending};
    }
    if (wish.size.width() < 16 || wish.size.height() < 16 || wish.size.width() > 8192 ||
        wish.size.height() > 8192)
        return Error{"film.size",
                     fmt::format("a picture of {} x {} is out of range: 16 to 8192", wish.size.width(),
                                 wish.size.height()),
                     "size"};
    if (!(wish.every > 0)) return Error{"film.every", "pictures are some frames apart, not none", "every"};
    if (wish.columns < 1 || wish.columns > 50)
        return Error{"film.columns", "a sheet has 1 to 50 columns", "columns"};
    const auto folder = wish.path.parent_path();
    if (!folder.empty() && !std::filesystem::is_directory(folder))
        return Error{"film.folder", fmt::format("there is no folder '{}'", folder.string()), folder.string()};
    return {};
}

}  // namespace

bool Film::canMakeMovies() {
    return !QStandardPaths::findExecutable(QLatin1String(encoder)).isEmpty();
}

Film::Film(const Document& document, FilmWish wish, Look& look, QObject* parent)
    : QObject(parent), wish_(std::move(wish)), look_(look) {
    session_.startWith(document);
    timer_.setInterval(0);
    connect(&timer_, &QTimer::timeout, this, [this] {
        if (const auto error = step()) fail(*error);
    });
}

Film::~Film() {
    if (encoder_) encoder_->kill();
}

void Film::start() {
    if (const auto ready = prepare(); !ready) return fail(ready.error());
    timer_.start();
}

Result<void> Film::prepare() {
    PIVRAK_CHECK(check_wish(wish_));
    if (!wish_.clip.empty()) {
        ClipId meant;
        for (const Clip& clip : session_.document().clips)
            if (clip.name == wish_.clip) meant = clip.id;
        if (!meant) return Error{"clip.unknown", fmt::format("there is no clip '{}'", wish_.clip), "clip"};
        session_.setClip(meant);
    }
    const Clip& clip = session_.clip();
    const double from = wish_.from.value_or(clip.first_frame), to = wish_.to.value_or(clip.last_frame);
    if (to < from || (to - from) / wish_.every > static_cast<double>(most_pictures))
        return Error{"film.range",
                     fmt::format("from frame {:g} to {:g} there is nothing to show, or more than {} pictures",
                                 from, to, most_pictures),
                     "from"};
    // The end of a loop is its beginning.
    const bool whole_loop = clip.loop && !wish_.to;
    for (std::size_t i = 0; from + static_cast<double>(i) * wish_.every <= to + 1e-9; ++i) {
        const double frame = from + static_cast<double>(i) * wish_.every;
        if (!whole_loop || frame < to - 1e-9) frames_.push_back(frame);
    }
    prints_ = std::make_unique<LaidPrints>(session_);
    scene_ = std::make_unique<DrawnScene>(session_, *prints_, look_);
    if (!wish_.camera.empty()) {
        PIVRAK_TRY(through, find_part(session_.document(), wish_.camera));
        if (!session_.document().parts.find(through)->lens)
            return Error{"camera.none", fmt::format("'{}' is no camera", wish_.camera), wish_.camera};
    }
    PIVRAK_TRY(picture, OffscreenPicture::make(wish_.size));
    picture_ = std::move(picture);
    const auto folder =
        wish_.path.parent_path().empty() ? std::filesystem::path(".") : wish_.path.parent_path();
    made_in_ = std::make_unique<QTemporaryDir>(QString::fromStdString((folder / "film-XXXXXX").string()));
    if (!made_in_->isValid())
        return Error{"film.write", fmt::format("nothing can be written in '{}'", folder.string()),
                     folder.string()};
    if (wish_.form == FilmWish::Form::Movie) return startEncoder();
    return {};
}

/// Where a file is made before it takes its place.
QString Film::making(const std::filesystem::path& file) const {
    return made_in_->filePath(QString::fromStdString(file.filename().string()));
}

Result<void> Film::startEncoder() {
    encoder_ = std::make_unique<QProcess>();
    const double rate = frame_rate_of(session_.document(), session_.clip()) / wish_.every;
    const bool webm = lower_ending(wish_.path) == ".webm";
    encoder_->start(QLatin1String(encoder),
                    {QStringLiteral("-y"),
                     QStringLiteral("-loglevel"),
                     QStringLiteral("error"),
                     QStringLiteral("-f"),
                     QStringLiteral("rawvideo"),
                     QStringLiteral("-pix_fmt"),
                     QStringLiteral("bgra"),
                     QStringLiteral("-s"),
                     QStringLiteral("%1x%2").arg(wish_.size.width()).arg(wish_.size.height()),
                     QStringLiteral("-r"),
                     QString::number(rate, 'g', 12),
                     QStringLiteral("-i"),
                     QStringLiteral("-"),
                     QStringLiteral("-vf"),
                     QStringLiteral("pad=ceil(iw/2)*2:ceil(ih/2)*2"),
                     QStringLiteral("-c:v"),
                     webm ? QStringLiteral("libvpx-vp9") : QStringLiteral("libx264"),
                     QStringLiteral("-pix_fmt"),
                     QStringLiteral("yuv420p"),
                     making(wish_.path)});
    if (encoder_->waitForStarted(5000)) return {};
    return Error{"film.no_encoder", fmt::format("'{}' does not start", encoder), encoder};
}

Camera Film::cameraNow() const {
    Camera camera;
    camera.resize(wish_.size.width(), wish_.size.height());
    if (!wish_.camera.empty()) {
        const auto through = find_part(session_.document(), wish_.camera);
        camera.distance = wish_.view->distance;
        camera.look_through(session_.worldFromPart(*through),
                            session_.document().parts.find(*through)->lens->field_rad);
    } else {
        camera = *wish_.view;
        camera.resize(wish_.size.width(), wish_.size.height());
    }
    return camera;
}

/// All is seen as it stands at the first picture; worked out once, for it looks at every corner.
Camera Film::wholeView() const {
    Camera camera;
    camera.resize(wish_.size.width(), wish_.size.height());
    camera.frame(scene_->boundsOf(session_.evaluator().parts()));
    return camera;
}

/// One picture; the next one comes when whoever waits had a turn.
std::optional<Error> Film::step() {
    // Printed tracks are laid beside; a picture without them would lie.
    if (prints_->isBusy()) return std::nullopt;
    const double frame = frames_[next_];
    session_.setFrame(frame);
    if (!wish_.view) wish_.view = wholeView();
    SceneRenderer::Options options;
    options.edges = wish_.edges;
    const Camera camera = cameraNow();
    options.grid_step_m = std::pow(10.0, std::floor(std::log10(camera.distance * 0.35)));
    const QImage drawn = picture_->draw(scene_->items(camera, false), camera, look_.theme(), options);
    if (const auto taken = take(drawn, frame); !taken) return taken.error();
    ++next_;
    ++report_.pictures;
    emit advanced(static_cast<double>(next_) / static_cast<double>(frames_.size()),
                  tr("picture %1 of %2").arg(next_).arg(frames_.size()));
    if (next_ < frames_.size()) return std::nullopt;
    timer_.stop();
    if (const auto ended = end(); !ended) return ended.error();
    emit finished(report_);
    return std::nullopt;
}

Result<void> Film::take(const QImage& picture, double frame) {
    if (wish_.form == FilmWish::Form::Movie) {
        if (encoder_->state() != QProcess::Running)
            return Error{
                "film.encoder",
                fmt::format("'{}' gave up: {}", encoder, encoder_->readAllStandardError().toStdString()),
                encoder};
        encoder_->write(reinterpret_cast<const char*>(picture.constBits()), picture.sizeInBytes());
        encoder_->waitForBytesWritten(-1);
        return {};
    }
    if (wish_.form == FilmWish::Form::Pictures) {
        auto path = wish_.path;
        path.replace_filename(fmt::format("{}-{:04d}.png", wish_.path.stem().string(), next_));
        report_.files.push_back(path);
        if (picture.save(making(path))) return {};
        return Error{"film.write", fmt::format("'{}' cannot be written", path.string()), path.string()};
    }
    // Small ones side by side, each with its frame below.
    const int columns = std::min<int>(wish_.columns, static_cast<int>(frames_.size())),
              rows = (static_cast<int>(frames_.size()) + columns - 1) / columns;
    constexpr int gap = 8, foot = 20;
    const int wide = (wish_.size.width() - gap) / columns - gap,
              high = wide * wish_.size.height() / wish_.size.width();
    if (sheet_.isNull()) {
        sheet_ = QImage(wish_.size.width(), rows * (high + foot + gap) + gap, QImage::Format_RGB32);
        sheet_.fill(look_.theme().paper);
    }
    QPainter painter(&sheet_);
    const int column = static_cast<int>(next_) % columns, row = static_cast<int>(next_) / columns;
    const QRect place(gap + column * (wide + gap), gap + row * (high + foot + gap), wide, high);
    painter.drawImage(place, picture.scaled(wide, high, Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
    painter.setPen(look_.theme().ink);
    painter.setFont(Look::uiFont(12));
    painter.drawText(QRect(place.left(), place.bottom() + 1, wide, foot), Qt::AlignCenter,
                     tr("frame %1").arg(frame));
    return {};
}

Result<void> Film::end() {
    if (wish_.form == FilmWish::Form::Sheet) {
        report_.files.push_back(wish_.path);
        if (!sheet_.save(making(wish_.path)))
            return Error{"film.write", fmt::format("'{}' cannot be written", wish_.path.string()),
                         wish_.path.string()};
    }
    if (wish_.form != FilmWish::Form::Movie) return keep();
    report_.files.push_back(wish_.path);
    encoder_->closeWriteChannel();
    if (encoder_->waitForFinished(-1) && encoder_->exitCode() == 0) return keep();
    return Error{"film.encoder",
                 fmt::format("'{}' failed: {}", encoder, encoder_->readAllStandardError().toStdString()),
                 encoder};
}

/// All that was made takes its place; only now does it stand instead of what was there.
Result<void> Film::keep() {
    for (const auto& file : report_.files) {
        std::error_code problem;
        std::filesystem::rename(making(file).toStdString(), file, problem);
        if (problem)
            return Error{"film.write",
                         fmt::format("'{}' cannot be written: {}", file.string(), problem.message()),
                         file.string()};
    }
    return {};
}

void Film::removeAll() {
    if (encoder_) {
        encoder_->kill();
        encoder_->waitForFinished(2000);
        encoder_.reset();
    }
    made_in_.reset();
    report_ = {};
}

void Film::cancel() {
    if (!timer_.isActive()) return;
    fail({"film.cancelled", "cancelled; nothing was kept", ""});
}

void Film::fail(const Error& error) {
    timer_.stop();
    removeAll();
    emit finished(error);
}

}  // namespace pivrak
