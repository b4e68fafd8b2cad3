#include "app/stages/tree_panel.h"

namespace pivrak {

QString putUnderObstacle(const Session& session) {
    return session.selection().size() < 2
               ? TreePanel::tr("pick the parts to be carried, then with Shift what carries them")
               : QString();
}

void putUnderLast(Session& session) {
    nlohmann::json parts = nlohmann::json::array();
    for (const PartId part : session.selection())
        if (part != session.primary()) parts.push_back(part.value);
    session.run({{"op", "tree.parent"}, {"parts", parts}, {"under", session.primary().value}});
}

TreePanel::TreePanel(Session& session, QWidget* parent)
    : StagePanel(
          session, Stage::Tree,
          tr("Still to come here: datums and groups, frames above a part, controls, name patterns, sets."),
          parent),
      name_(new QLineEdit),
      under_(makeButton(tr("Put under last picked  U"), "putUnder", true)),
      release_(makeButton(tr("Release  Shift+U"), "release")),
      joint_(new JointCard(session)) {
    name_->setObjectName(QStringLiteral("partName"));
    auto* card = new Card(tr("Name and carrier"));
    card->addRow(tr("Name"), name_);
    carried_ = card->addReadout("carriedBy");
    card->addButtons({under_});
    card->addButtons({release_});
    addCard(card);
    addCard(joint_);
    connect(name_, &QLineEdit::returnPressed, this, [this] {
        this->session().run({{"op", "part.rename"},
                             {"part", this->session().primary().value},
                             {"name", name_->text().toStdString()}});
    });
    connect(under_, &QPushButton::clicked, this, [this] { putUnderLast(this->session()); });
    connect(release_, &QPushButton::clicked, this, [this] {
        this->session().run({{"op", "tree.release"}, {"parts", selectedIds()}});
    });
}

void TreePanel::refresh() {
    const Part* part = document().parts.find(session().primary());
    const Part* carrier = part ? document().parts.find(part->parent) : nullptr;
    name_->setEnabled(part != nullptr);
    name_->setText(part ? QString::fromStdString(part->name) : QString());
    under_->setEnabled(putUnderObstacle(session()).isEmpty());
    under_->setToolTip(putUnderObstacle(session()));
    release_->setEnabled(part && carrier);
    carried_->setText(!part     ? tr("Pick a part.")
                      : carrier ? tr("carried by %1").arg(QString::fromStdString(carrier->name))
                                : tr("stands on its own"));
    joint_->refresh();
}

}  // namespace pivrak
