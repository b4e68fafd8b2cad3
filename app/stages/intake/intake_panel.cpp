#include "app/stages/intake/intake_panel.h"

#include "app/session/words.h"
#include "app/stages/intake/stand_card.h"
#include "app/stages/intake/stand_in_card.h"
#include "app/stages/intake/stand_in_sizes_card.h"
#include "app/stages/intake/swap_card.h"
#include "app/stages/intake/tidy_card.h"

namespace pivrak {

IntakePanel::IntakePanel(Session& session, QWidget* parent)
    : StagePanel(session, Stage::Intake, parent),
      path_(new QLineEdit),
      unit_(makeChoice("importUnit", {{tr("detect"), "auto"},
                                      {tr("millimetres"), "mm"},
                                      {tr("centimetres"), "cm"},
                                      {tr("metres"), "m"},
                                      {tr("inches"), "in"}})),
      up_(makeChoice("importUp", {{tr("as the format says"), "auto"}, {tr("Y up"), "y"}, {tr("Z up"), "z"}})),
      shown_unit_(makeChoice("lengthUnit", {{tr("m"), "m"}, {tr("cm"), "cm"}, {tr("mm"), "mm"}})),
      stand_(new StandCard(session)),
      tidy_(new TidyCard(session)),
      stand_in_(new StandInCard(session)),
      sizes_(new StandInSizesCard(session)),
      swap_(new SwapCard(session)) {
    path_->setObjectName(QStringLiteral("importPath"));
    path_->setPlaceholderText(tr("glTF, OBJ, COLLADA, STL …"));
    auto* choose = makeButton(tr("Choose…"), "chooseModel");
    auto* show = makeButton(tr("Preview"), "previewImport", true);
    auto* model = new Card(tr("Open a model"));
    model->addRow(tr("File"), path_);
    model->addRow(tr("Unit"), unit_);
    model->addRow(tr("Up"), up_);
    model->addButtons({choose, show});
    const QString model_tab = tr("Model");
    addCard(model, model_tab);

    auto* measured = new Card(tr("Measured"));
    size_ = measured->addReadout("modelSize", "number");
    contents_ = measured->addReadout("modelContents");
    measured->addRow(tr("Show lengths in"), shown_unit_);
    addCard(measured, model_tab);
    addCard(stand_, tr("Stand"));
    addCard(tidy_, tr("Tidy"));
    addCard(stand_in_, tr("Stand-ins"));
    addCard(sizes_, tr("Stand-ins"));
    addCard(swap_, tr("Swap"));

    connect(choose, &QPushButton::clicked, this, &IntakePanel::fileAsked);
    connect(show, &QPushButton::clicked, this, &IntakePanel::preview);
    connect(path_, &QLineEdit::textEdited, this, [this] { dropped_.reset(); });
    connect(path_, &QLineEdit::returnPressed, this, &IntakePanel::preview);
    const auto again = [this] {
        if (this->session().previewed()) preview();
    };
    connect(unit_, &QComboBox::activated, this, again);
    connect(up_, &QComboBox::activated, this, again);
    connect(shown_unit_, &QComboBox::activated, this, [this] {
        this->session().run(
            {{"op", "project.set"}, {"length_unit", shown_unit_->currentData().toString().toStdString()}});
    });
}

/// A file that was dropped in the view lands where it was dropped.
void IntakePanel::previewFile(const QString& path, std::optional<Vec3> at) {
    showTab(tr("Model"));
    path_->setText(path);
    dropped_ = at;
    preview();
}

void IntakePanel::preview() {
    nlohmann::json step{{"op", "model.import"},
                        {"file", path_->text().trimmed().toStdString()},
                        {"unit", unit_->currentData().toString().toStdString()},
                        {"up", up_->currentData().toString().toStdString()}};
    if (dropped_) step["at"] = {dropped_->x(), dropped_->y(), dropped_->z()};
    session().preview(step);
}

void IntakePanel::refresh() {
    const Document& shown = session().shownDocument();
    const Bounds bounds = document_bounds(shown);
    const LengthUnit unit = shown.settings.length_unit;
    const int decimals = unit == LengthUnit::Metre ? 3 : unit == LengthUnit::Centimetre ? 2 : 1;
    const auto length = [&](double value) {
        return QString::fromStdString(format_length(value, unit, decimals));
    };
    const Vec3 size = bounds.size();
    size_->setText(
        bounds.empty()
            ? tr("nothing to measure yet")
            : tr("%1 long\n%2 wide\n%3 high").arg(length(size.x()), length(size.y()), length(size.z())));
    contents_->setText(tr("%1, %2, %3")
                           .arg(countWords(shown.parts.size(), "part"),
                                countWords(triangle_count(shown), "triangle"),
                                countWords(shown.materials.size(), "material")));
    shown_unit_->setCurrentIndex(shown_unit_->findData(QString::fromUtf8(symbol(unit).data())));
}

}  // namespace pivrak
