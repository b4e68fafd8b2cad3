#include "app/stages/intake/tidy_card.h"

#include <map>

#include "app/session/words.h"
#include "app/stages/kit/button_tips.h"
#include "core/model/edits/tidy.h"

namespace pivrak {

TidyCard::TidyCard(Session& session, QWidget* parent)
    : Card(tr("Tidy the tree"), parent),
      session_(session),
      list_(new QListWidget),
      all_(makeButton(tr("Tidy all"), "tidyAll", true)),
      group_(makeButton(tr("Group"), "groupParts")),
      flatten_(makeButton(tr("Flatten"), "flattenParts")),
      join_(makeButton(tr("Join"), "joinParts")),
      repair_(makeButton(tr("Mend surfaces"), "repairShapes")) {
    list_->setObjectName(QStringLiteral("tidyList"));
    list_->setMinimumHeight(150);
    list_->setWordWrap(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    addWidget(list_);
    state_ = addReadout("tidyState", "good");
    const auto action = [&](const QString& text, const char* name, const char* what) {
        auto* button = makeButton(text, name);
        actions_.emplace_back(what, button);
        connect(button, &QPushButton::clicked, this, [this, what] {
            session_.run({{"op", "tree.tidy"}, {"what", what}});
        });
        return button;
    };
    addButtons({action(tr("Empty nodes"), "tidyEmpty", "empty"),
                action(tr("Pass-through nodes"), "tidyChains", "chains")});
    addButtons({action(tr("Duplicate names"), "tidyNames", "names"),
                action(tr("Scale kept"), "tidyScale", "scale_notes")});
    addButtons({all_});
    addButtons({group_, flatten_});
    addButtons({join_, repair_});
    connect(all_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "tree.tidy"}, {"what", "all"}});
    });
    connect(group_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "tree.group"}, {"parts", session_.selectedIds()}});
    });
    connect(flatten_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "tree.flatten"}, {"parts", session_.selectedIds()}});
    });
    connect(join_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "part.join"}, {"parts", session_.selectedIds()}});
    });
    connect(repair_, &QPushButton::clicked, this, [this] {
        nlohmann::json step{{"op", "shape.repair"}};
        if (!session_.selection().empty()) step["parts"] = session_.selectedIds();
        session_.preview(step);
    });
    connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        session_.select({PartId{item->data(Qt::UserRole).toULongLong()}});
    });
}

void TidyCard::refresh() {
    const auto faults = tree_faults(session_.document());
    std::map<std::string, int> count;
    list_->clear();
    constexpr std::size_t most_listed = 400;
    for (const TreeFault& fault : faults) {
        ++count[std::string(fault_word(fault.kind))];
        if (static_cast<std::size_t>(list_->count()) >= most_listed) continue;
        auto* item = new QListWidgetItem(QString::fromStdString(fault.message), list_);
        item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(fault.part.value));
    }
    list_->setVisible(!faults.empty());
    setRole(state_, faults.empty() ? "good" : "soft");
    state_->setText(session_.document().parts.empty() ? tr("Nothing here yet.")
                    : faults.empty()                  ? tr("✓ the tree is tidy")
                    : faults.size() > most_listed
                        ? tr("%1 to tidy, the first %2 are listed")
                              .arg(countWords(faults.size(), "thing"))
                              .arg(most_listed)
                        : tr("%1 to tidy; nothing moves by it").arg(countWords(faults.size(), "thing")));
    const QStringList words{tr("Empty nodes"), tr("Pass-through nodes"), tr("Duplicate names"),
                            tr("Scale kept")};
    for (std::size_t i = 0; i < actions_.size(); ++i) {
        const int n = count[actions_[i].first];
        actions_[i].second->setEnabled(n > 0);
        actions_[i].second->setText(n ? tr("%1  %2").arg(words[static_cast<qsizetype>(i)]).arg(n)
                                      : words[static_cast<qsizetype>(i)]);
    }
    all_->setEnabled(!faults.empty());
    const std::size_t picked = session_.selection().size();
    group_->setEnabled(picked > 0);
    flatten_->setEnabled(picked > 0);
    join_->setEnabled(picked > 1);
    tellWhy(join_, picked > 1 ? QString() : tr("pick at least two parts"));
    repair_->setEnabled(!session_.document().shapes.empty());
}

}  // namespace pivrak
