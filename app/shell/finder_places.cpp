#include "app/shell/finder_places.h"

#include <QAbstractButton>
#include <QLabel>
#include <QMainWindow>
#include <QScrollArea>
#include <QToolTip>
#include <algorithm>

#include "app/shell/stage_panels.h"
#include "app/stages/kit/stage_panel.h"

namespace pivrak {
namespace {

/// Words of which one is as good as the others.
const QList<QStringList>& same_words() {
    static const QList<QStringList> groups{{"axle", "axis", "pivot", "origin", "centre", "center"},
                                           {"parent", "carrier", "under", "child"},
                                           {"delete", "remove", "take out", "drop"},
                                           {"export", "deliver", "handover", "output"},
                                           {"import", "bring in", "open", "load"},
                                           {"animate", "animation", "key", "clip"},
                                           {"gear", "cog", "teeth", "tooth", "sprocket"},
                                           {"wheel", "tyre", "tire", "roll"},
                                           {"limit", "range", "stop", "lowest", "highest"},
                                           {"join", "merge", "combine", "melt"},
                                           {"separate", "split", "break", "pieces", "explode"},
                                           {"copy", "duplicate", "repeat", "clone"},
                                           {"mirror", "flip", "reflect"},
                                           {"scale", "size", "unit"},
                                           {"group", "set"},
                                           {"driver", "formula", "expression", "drives"},
                                           {"constraint", "aim", "rest on"},
                                           {"spline", "curve", "path"},
                                           {"video", "movie", "film", "picture", "render"},
                                           {"problem", "finding", "error", "warning"},
                                           {"ik", "reach", "arm"},
                                           {"suspension", "spring", "travel"},
                                           {"track", "crawler", "chain"}};
    return groups;
}

QString stage_words(Stage stage) {
    return QString::fromUtf8(stage_name(stage).data());
}

/// Where a control lives in words.
QString place_words(Stage stage, const QString& tab) {
    return tab.isEmpty() ? stage_words(stage) : QObject::tr("%1, %2").arg(stage_words(stage), tab);
}

/// Shows where a control is: in sight, with the keys, and told beside it.
void point_at(QWidget& widget) {
    for (QWidget* above = widget.parentWidget(); above; above = above->parentWidget())
        if (auto* scroll = qobject_cast<QScrollArea*>(above)) scroll->ensureWidgetVisible(&widget);
    widget.setFocus(Qt::ShortcutFocusReason);
    QToolTip::showText(widget.mapToGlobal(QPoint(8, widget.height())), QObject::tr("here"), &widget);
}

class Collecting {
public:
    Collecting(Session& session, StagePanels& panels, QMainWindow& window)
        : session_(session), panels_(panels), window_(window) {}

    std::vector<FinderPlace> all() {
        for (int i = 0; i < stage_count; ++i) add_panel(static_cast<Stage>(i));
        for (QAbstractButton* button : window_.findChildren<QAbstractButton*>())
            if (!panels_.isAncestorOf(button) && button->isVisible()) add_button(*button);
        add_findings();
        add_document();
        return std::move(places_);
    }

private:
    void add(const QString& line, const QString& words, std::function<void()> go) {
        places_.push_back({line, words, std::move(go)});
    }

    void add_panel(Stage stage) {
        auto* panel = qobject_cast<StagePanel*>(panels_.panelOf(stage));
        if (!panel) return;
        const auto go_to = [this, panel, stage](QWidget* widget) {
            return [panels = &panels_, panel, stage, widget = QPointer<QWidget>(widget)] {
                if (!widget) return;
                panels->showCard(stage, panel->tabOf(*widget));
                point_at(*widget);
            };
        };
        for (QLabel* label : panel->findChildren<QLabel*>())
            if (QWidget* field = label->buddy(); field && !label->text().isEmpty())
                add(QObject::tr("%1  ·  field in %2")
                        .arg(label->text(), place_words(stage, panel->tabOf(*field))),
                    label->text() + QLatin1Char(' ') + field->toolTip(), go_to(field));
        for (QAbstractButton* button : panel->findChildren<QAbstractButton*>()) {
            // Findings, tabs and rows that come and go have places of their own.
            const QString name = button->objectName(), text = plain(button->text());
            if (text.isEmpty() || name.endsWith(QStringLiteral("Finding")) ||
                name.startsWith(QStringLiteral("tab")))
                continue;
            add(QObject::tr("%1  ·  button in %2").arg(text, place_words(stage, panel->tabOf(*button))),
                text + QLatin1Char(' ') + button->toolTip(), go_to(button));
        }
    }

    void add_button(QAbstractButton& button) {
        const QString text = plain(button.text());
        if (text.isEmpty()) return;
        add(QObject::tr("%1  ·  button").arg(text), text + QLatin1Char(' ') + button.toolTip(),
            [found = QPointer<QWidget>(&button)] {
                if (found) point_at(*found);
            });
    }

    void add_findings() {
        for (const Finding& finding : session_.findings()) {
            const QString words = QString::fromStdString(finding.message);
            add(QObject::tr("%1  ·  finding in %2").arg(words, stage_words(finding.stage)),
                words + QObject::tr(" finding"), [this_session = &session_, finding] {
                    this_session->setStage(finding.stage);
                    if (finding.part) this_session->select({finding.part});
                });
        }
    }

    void add_document() {
        const Document& document = session_.document();
        for (const PartSet& set : document.sets) {
            const QString name = QString::fromStdString(set.name);
            add(QObject::tr("%1  ·  set of %n parts", nullptr, static_cast<int>(set.parts.size())).arg(name),
                name + QObject::tr(" set"),
                [session = &session_, parts = set.parts] { session->select(parts); });
        }
        for (const Clip& clip : document.clips) {
            const QString name = QString::fromStdString(clip.name);
            add(QObject::tr("%1  ·  clip").arg(name), name + QObject::tr(" clip"),
                [session = &session_, id = clip.id] {
                    session->setStage(Stage::Keys);
                    session->setClip(id);
                });
        }
        for (const Part& part : document.parts) {
            const QString name = QString::fromStdString(part.name);
            add(QObject::tr("%1  ·  part").arg(name), name,
                [session = &session_, id = part.id] { session->select({id}); });
        }
    }

    /// Without the mark of its access key.
    static QString plain(QString text) { return text.remove(QLatin1Char('&')).simplified(); }

    Session& session_;
    StagePanels& panels_;
    QMainWindow& window_;
    std::vector<FinderPlace> places_;
};

}  // namespace

std::vector<FinderPlace> finder_places(Session& session, StagePanels& panels, QMainWindow& window) {
    return Collecting(session, panels, window).all();
}

bool finder_fits(const QString& asked, const QString& words) {
    const QStringList all = asked.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    return std::ranges::all_of(all, [&](const QString& word) {
        if (words.contains(word, Qt::CaseInsensitive)) return true;
        return std::ranges::any_of(same_words(), [&](const QStringList& group) {
            return group.contains(word.toLower()) && std::ranges::any_of(group, [&](const QString& other) {
                       return words.contains(other, Qt::CaseInsensitive);
                   });
        });
    });
}

}  // namespace pivrak
