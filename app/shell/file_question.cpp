#include "app/shell/file_question.h"

#include <QAbstractFileIconProvider>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHeaderView>
#include <QPainter>
#include <QPushButton>
#include <QSplitter>
#include <QStandardPaths>
#include <QToolButton>
#include <QTreeView>

#include "app/shell/recent_paths.h"

namespace pivrak {
namespace {

constexpr qsizetype most_folders = 5;
const QString folders_key = QStringLiteral("foldersUsed");

/// Folders and files drawn in the colours of the window: a folder with its tab, a sheet with its corner.
class DrawnIcons : public QAbstractFileIconProvider {
public:
    explicit DrawnIcons(const QPalette& palette) : palette_(palette) {}
    QIcon icon(IconType type) const override {
        return drawn(type == IconType::Folder || type == IconType::Drive || type == IconType::Computer);
    }
    QIcon icon(const QFileInfo& info) const override { return drawn(info.isDir()); }

private:
    QIcon drawn(bool folder) const {
        QPixmap pixmap(32, 32);
        pixmap.setDevicePixelRatio(2);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(palette_.color(QPalette::PlaceholderText), 1.2));
        painter.setBrush(folder ? palette_.color(QPalette::Highlight).lighter(180)
                                : palette_.color(QPalette::Base));
        if (folder)
            painter.drawPolygon(
                QPolygonF{{1.5, 13}, {1.5, 3.5}, {6, 3.5}, {7.5, 5.5}, {14.5, 5.5}, {14.5, 13}});
        else
            painter.drawPolygon(QPolygonF{{3.5, 1.5}, {9.5, 1.5}, {12.5, 4.5}, {12.5, 14.5}, {3.5, 14.5}});
        if (!folder) painter.drawPolyline(QPolygonF{{9.5, 1.5}, {9.5, 4.5}, {12.5, 4.5}});
        return pixmap;
    }
    QPalette palette_;
};

void dress(QFileDialog& dialog, DrawnIcons& icons) {
    dialog.setObjectName(QStringLiteral("fileQuestion"));
    dialog.setOption(QFileDialog::DontUseNativeDialog);
    dialog.setIconProvider(&icons);
    dialog.setViewMode(QFileDialog::Detail);
    dialog.resize(780, 480);
    QList<QUrl> beside{QUrl::fromLocalFile(QStandardPaths::writableLocation(QStandardPaths::HomeLocation))};
    for (const QString& folder : recent_paths(folders_key)) beside << QUrl::fromLocalFile(folder);
    dialog.setSidebarUrls(beside);
    if (auto* list = dialog.findChild<QTreeView*>(QStringLiteral("treeView"))) {
        list->header()->setStretchLastSection(false);
        list->header()->resizeSection(0, 330);
        list->header()->hideSection(2);  // what a file is its name tells
        list->header()->resizeSection(3, 160);
        list->setRootIsDecorated(false);
    }
    if (auto* halves = dialog.findChild<QSplitter*>(QStringLiteral("splitter"))) halves->setSizes({170, 600});
    // Words in place of small pictures, and one way to look at a folder.
    const std::pair<const char*, QString> words[] = {{"backButton", QObject::tr("Back")},
                                                     {"forwardButton", QObject::tr("On")},
                                                     {"toParentButton", QObject::tr("Up")},
                                                     {"newFolderButton", QObject::tr("New folder")}};
    for (const auto& [name, text] : words)
        if (auto* button = dialog.findChild<QToolButton*>(QLatin1String(name))) {
            button->setText(text);
            button->setToolButtonStyle(Qt::ToolButtonTextOnly);
            button->setMaximumSize(QWIDGETSIZE_MAX, QWIDGETSIZE_MAX);
        }
    for (const char* name : {"listModeButton", "detailModeButton"})
        if (auto* button = dialog.findChild<QToolButton*>(QLatin1String(name))) button->hide();
    if (auto* buttons = dialog.findChild<QDialogButtonBox*>())
        for (QAbstractButton* button : buttons->buttons()) {
            button->setIcon({});
            button->setProperty("main", buttons->buttonRole(button) == QDialogButtonBox::AcceptRole);
        }
}

QString asked(QFileDialog& dialog) {
    if (dialog.exec() != QDialog::Accepted || dialog.selectedFiles().isEmpty()) return {};
    note_recent_path(folders_key, QFileInfo(dialog.selectedFiles().first()).absolutePath(), most_folders);
    return dialog.selectedFiles().first();
}

}  // namespace

QString ask_for_file(QWidget* parent, const QString& title, const QString& filter) {
    const QStringList folders = recent_paths(folders_key);
    DrawnIcons icons(parent->palette());
    QFileDialog dialog(parent, title, folders.isEmpty() ? QString() : folders.first(), filter);
    dialog.setFileMode(QFileDialog::ExistingFile);
    dress(dialog, icons);
    return asked(dialog);
}

QString ask_where_to_save(QWidget* parent, const QString& title, const QString& proposed,
                          const QString& filter) {
    DrawnIcons icons(parent->palette());
    const QFileInfo file(proposed);
    const QStringList folders = recent_paths(folders_key);
    QFileDialog dialog(parent, title,
                       file.isAbsolute() || folders.isEmpty() ? file.absolutePath() : folders.first(),
                       filter);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dress(dialog, icons);
    dialog.selectFile(file.fileName());
    return asked(dialog);
}

}  // namespace pivrak
