#include "app/stages/intake/stand_in_card.h"

#include <map>

#include "core/geometry/fits/recognise.h"

namespace pivrak {

StandInCard::StandInCard(Session& session, QWidget* parent)
    : Card(tr("Stand-in"), parent),
      session_(session),
      kind_(makeChoice("standInKind", {{tr("box"), "box"},
                                       {tr("plate"), "plate"},
                                       {tr("cylinder"), "cylinder"},
                                       {tr("tube"), "tube"},
                                       {tr("wheel"), "wheel"},
                                       {tr("gear, outside teeth"), "gear"},
                                       {tr("ring gear, inside teeth"), "ring gear"},
                                       {tr("rack"), "rack"},
                                       {tr("worm"), "worm"},
                                       {tr("bevel gear"), "bevel gear"},
                                       {tr("sprocket"), "sprocket"},
                                       {tr("chain link, inner"), "inner link"},
                                       {tr("chain link, outer"), "outer link"}})),
      name_(new QLineEdit),
      show_(makeButton(tr("Preview"), "previewStandIn", true)) {
    name_->setObjectName(QStringLiteral("standInName"));
    name_->setPlaceholderText(tr("by its kind"));
    addRow(tr("Kind"), kind_);
    addRow(tr("Name"), name_);
    addNumber("length", tr("Length"), {"box", "plate", "cylinder", "tube", "worm"}, "600 mm");
    const QStringList toothed{"gear", "ring gear", "rack", "worm", "bevel gear"};
    addNumber("diameter", tr("Diameter"), {"cylinder", "tube", "wheel", "ring gear", "worm"}, "500 mm");
    addNumber("module", tr("Module"), toothed, "4 mm");
    addNumber("starts", tr("Threads"), {"worm"}, "1", true);
    addNumber("teeth", tr("Teeth"), {"gear", "ring gear", "rack", "bevel gear", "sprocket"}, "24", true);
    addNumber("mate_teeth", tr("Teeth of the other"), {"bevel gear"}, "24", true);
    addNumber("shaft_angle", tr("Angle of shafts"), {"bevel gear"}, QString::fromUtf8("90°"));
    addNumber("helix", tr("Teeth wind by"), {"gear"}, QString::fromUtf8("0°"));
    addChoice("hand", tr("Thread"), {"worm"}, {{tr("right-handed"), "right"}, {tr("left-handed"), "left"}});
    addChoice("chain", tr("Chain"), {"sprocket", "inner link", "outer link"}, [] {
        QList<std::pair<QString, QString>> list;
        for (const ChainSize& size : roller_chains()) {
            const QString name =
                QString::fromUtf8(size.name.data(), static_cast<qsizetype>(size.name.size()));
            list.push_back({StandInCard::tr("%1, pitch %2 mm").arg(name).arg(size.pitch_m * 1e3), name});
        }
        return list;
    }());
    addNumber("width", tr("Width"),
              {"box", "plate", "wheel", "gear", "ring gear", "rack", "bevel gear", "sprocket"}, "200 mm");
    addNumber("height", tr("Height"), {"box"}, "300 mm");
    addNumber("thickness", tr("Thickness"), {"plate"}, "12 mm");
    addNumber("bore", tr("Bore"), {"tube", "wheel", "gear", "sprocket"}, "30 mm");
    addNumber("rim", tr("Rim diameter"), {"wheel"}, "300 mm");
    addNumber("lugs", tr("Tread lugs"), {"wheel"}, "24", true);
    addNumber("lug_depth", tr("Lug depth"), {"wheel"}, "12 mm");
    addNumber("pressure_angle", tr("Pressure angle"), toothed, QString::fromUtf8("20°"));
    addNumber("chamfer", tr("Chamfer"), {"box", "cylinder"}, "5 mm");
    addNumber("corner", tr("Corner radius"), {"plate"}, "10 mm");
    addChoice("axis", tr("Axis along"),
              {"cylinder", "tube", "wheel", "gear", "ring gear", "worm", "bevel gear", "sprocket"},
              {{tr("Y, across"), "y"}, {tr("X, along"), "x"}, {tr("Z, upright"), "z"}});
    facts_ = addReadout("standInFacts");
    addButtons({show_});
    soon_.setSingleShot(true);
    soon_.setInterval(180);
    connect(&soon_, &QTimer::timeout, this, &StandInCard::show);
    connect(kind_, &QComboBox::activated, this, [this] {
        showFields();
        show();
    });
    connect(show_, &QPushButton::clicked, this, &StandInCard::show);
    connect(name_, &QLineEdit::returnPressed, this, &StandInCard::show);
    showFields();
}

void StandInCard::addNumber(const char* argument, const QString& label, const QStringList& kinds,
                            const QString& value, bool whole) {
    auto* edit = makeNumber((std::string("standIn_") + argument).c_str());
    edit->setText(value);
    Field field{argument, kinds, addOptionalRow(label, edit), edit, nullptr, whole};
    fields_.push_back(field);
    connect(edit, &QLineEdit::textEdited, this, [this] {
        if (session_.previewed()) soon_.start();
    });
    connect(edit, &QLineEdit::returnPressed, this, &StandInCard::show);
}

void StandInCard::addChoice(const char* argument, const QString& label, const QStringList& kinds,
                            const QList<std::pair<QString, QString>>& choices) {
    auto* choice = makeChoice((std::string("standIn_") + argument).c_str(), choices);
    if (const int usual = choice->findData(QStringLiteral("16B")); usual >= 0) choice->setCurrentIndex(usual);
    fields_.push_back({argument, kinds, addOptionalRow(label, choice), nullptr, choice, false});
    connect(choice, &QComboBox::activated, this, &StandInCard::show);
}

void StandInCard::showFields() {
    const QString kind = kind_->currentData().toString();
    for (const Field& field : fields_) field.row->setVisible(field.kinds.contains(kind));
    // Measures that suit the kind, to begin with.
    const std::map<QString, std::map<std::string, QString>> usual{
        {"box", {{"width", "300 mm"}, {"length", "600 mm"}}},
        {"plate", {{"width", "300 mm"}, {"length", "600 mm"}}},
        {"cylinder", {{"length", "600 mm"}, {"diameter", "80 mm"}}},
        {"tube", {{"length", "600 mm"}, {"diameter", "80 mm"}, {"bore", "60 mm"}}},
        {"wheel", {{"width", "220 mm"}, {"diameter", "800 mm"}, {"rim", "480 mm"}, {"bore", "60 mm"}}},
        {"gear", {{"width", "40 mm"}, {"teeth", "24"}, {"bore", "30 mm"}}},
        {"ring gear", {{"width", "40 mm"}, {"teeth", "60"}, {"diameter", "300 mm"}}},
        {"rack", {{"width", "40 mm"}, {"teeth", "20"}}},
        {"worm", {{"length", "80 mm"}, {"diameter", "50 mm"}}},
        {"bevel gear", {{"width", "25 mm"}, {"teeth", "24"}, {"mate_teeth", "24"}}},
        {"sprocket", {{"width", "16 mm"}, {"teeth", "19"}, {"bore", "30 mm"}}}};
    if (const auto found = usual.find(kind); found != usual.end())
        for (const Field& field : fields_)
            if (const auto value = found->second.find(field.argument);
                field.number && value != found->second.end())
                field.number->setText(value->second);
}

nlohmann::json StandInCard::step() const {
    nlohmann::json step{{"op", "stand_in.add"}, {"kind", chosen(kind_)}};
    if (!name_->text().trimmed().isEmpty()) step["name"] = name_->text().trimmed().toStdString();
    const QString kind = kind_->currentData().toString();
    for (const Field& field : fields_) {
        if (!field.kinds.contains(kind)) continue;
        if (field.choice)
            step[field.argument] = chosen(field.choice);
        else if (bool ok = false; field.whole)
            step[field.argument] = field.number->text().toInt(&ok);
        else
            step[field.argument] = field.number->text().toStdString();
    }
    return step;
}

void StandInCard::show() {
    soon_.stop();
    session_.preview(step());
}

void StandInCard::refresh() {
    const StepPreview* preview = session_.previewed();
    const bool mine = preview && preview->step.value("op", "") == "stand_in.add";
    facts_->setText(mine && !preview->outcome.messages.empty()
                        ? QString::fromStdString(preview->outcome.messages.front())
                        : tr("Rig first with stand-ins; finished shapes are swapped in later."));
}

}  // namespace pivrak
