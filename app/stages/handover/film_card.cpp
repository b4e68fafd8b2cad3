#include "app/stages/handover/film_card.h"

namespace pivrak {

FilmCard::FilmCard(Session& session, Look& look)
    : Card(tr("Pictures and movie")),
      session_(session),
      look_(look),
      form_(makeChoice(
          "filmForm",
          {{tr("a picture a frame"), "pictures"}, {tr("contact sheet"), "sheet"}, {tr("movie"), "movie"}})),
      camera_(makeChoice("filmCamera", {{tr("the view"), QString()}})),
      path_(makeText("filmPath")),
      from_(makeNumber("filmFrom")),
      to_(makeNumber("filmTo")),
      every_(makeNumber("filmEvery")),
      wide_(makeNumber("filmWide")),
      high_(makeNumber("filmHigh")),
      columns_(makeNumber("filmColumns")),
      choose_(makeButton(tr("Choose…"), "chooseFilm")),
      make_(makeButton(tr("Make it"), "makeFilm")),
      progress_(new QProgressBar) {
    addRow(tr("Form"), form_);
    addRow(tr("From"), camera_);
    addRow(tr("File"), path_);
    addRow(tr("From frame"), from_);
    addRow(tr("To frame"), to_);
    addRow(tr("Every so many"), every_);
    addRow(tr("Pixels wide"), wide_);
    addRow(tr("Pixels high"), high_);
    columns_row_ = addOptionalRow(tr("Columns"), columns_);
    from_->setPlaceholderText(tr("the clip's first"));
    to_->setPlaceholderText(tr("the clip's last"));
    every_->setText(QStringLiteral("1"));
    wide_->setText(QStringLiteral("1280"));
    high_->setText(QStringLiteral("720"));
    columns_->setText(QStringLiteral("4"));
    progress_->setObjectName(QStringLiteral("filmProgress"));
    progress_->hide();
    addWidget(progress_);
    facts_ = addReadout("filmFacts");
    addButtons({choose_, make_});
    connect(form_, &QComboBox::currentIndexChanged, this, &FilmCard::showForm);
    connect(path_, &QLineEdit::textChanged, this, [this] { refresh(); });
    connect(choose_, &QPushButton::clicked, this, [this] { emit pathAsked(path_); });
    connect(make_, &QPushButton::clicked, this, [this] { film_ ? film_->cancel() : make(); });
    showForm();
}

void FilmCard::showForm() {
    const std::string form = chosen(form_);
    columns_row_->setVisible(form == "sheet");
    path_->setPlaceholderText(form == "movie" ? tr("a .webm or .mp4 file") : tr("a .png file"));
    facts_->setText(form == "movie" && !Film::canMakeMovies()
                        ? tr("Movies need the program ffmpeg, which is not installed here.")
                    : form == "pictures" ? tr("Numbered, from where the view looks.")
                                         : tr("From where the view looks."));
    refresh();
}

void FilmCard::listCameras() {
    QStringList names, shown;
    for (const Part& part : session_.document().parts)
        if (part.lens) names << QString::fromStdString(part.name);
    for (int i = 1; i < camera_->count(); ++i) shown << camera_->itemText(i);
    if (names == shown) return;
    const QString before = camera_->currentText();
    while (camera_->count() > 1) camera_->removeItem(1);
    camera_->addItems(names);
    camera_->setCurrentIndex(std::max(0, camera_->findText(before)));
}

void FilmCard::refresh() {
    listCameras();
    const bool can = chosen(form_) != "movie" || Film::canMakeMovies();
    make_->setText(film_ ? tr("Stop") : tr("Make it"));
    make_->setEnabled(film_ || (can && !path_->text().trimmed().isEmpty()));
}

void FilmCard::make() {
    FilmWish wish;
    const std::string form = chosen(form_);
    wish.form = form == "movie"   ? FilmWish::Form::Movie
                : form == "sheet" ? FilmWish::Form::Sheet
                                  : FilmWish::Form::Pictures;
    wish.path = path_->text().trimmed().toStdString();
    wish.clip = session_.clip().name;
    if (camera_->currentIndex() > 0)
        wish.camera = camera_->currentText().toStdString();
    else if (view_)
        wish.view = view_();
    const auto number = [&](const QLineEdit* field) -> std::optional<double> {
        if (field->text().trimmed().isEmpty()) return std::nullopt;
        const auto value = parse_quantity(field->text().toStdString(), Dimension::None);
        if (!value) emit session_.told(QString::fromStdString(value.error().message), true);
        return value ? std::optional(*value) : std::nullopt;
    };
    wish.from = number(from_);
    wish.to = number(to_);
    wish.every = number(every_).value_or(0);
    wish.size = {static_cast<int>(number(wide_).value_or(0)), static_cast<int>(number(high_).value_or(0))};
    wish.columns = static_cast<int>(number(columns_).value_or(0));
    film_ = std::make_unique<Film>(session_.document(), std::move(wish), look_);
    connect(film_.get(), &Film::advanced, this, [this](double share, const QString& what) {
        progress_->setValue(static_cast<int>(100 * share));
        facts_->setText(what);
    });
    connect(film_.get(), &Film::finished, this, [this](const Result<FilmReport>& report) {
        progress_->hide();
        facts_->setText(report ? tr("%n pictures made", nullptr, static_cast<int>(report->pictures))
                               : QString::fromStdString(report.error().message));
        emit session_.told(facts_->text(), !report);
        film_.release()->deleteLater();
        refresh();
    });
    progress_->setValue(0);
    progress_->show();
    refresh();
    film_->start();
}

}  // namespace pivrak
