#include "app/shell/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>
#include <array>
#include <cmath>

/// Resources of a static library are found only when asked for by name, from outside any namespace.
static void loadResources() {
    Q_INIT_RESOURCE(resources);
}

namespace pivrak {

Theme Theme::day() {
    return {false,     "#F1EEE6", "#FBF9F4", "#CFC8B8", "#1D2B30", "#5C6B6F", "#123C46", "#1B5563",
            "#E9F0EF", "#F0A91B", "#C4185C", "#F6D9E6", "#2C6E9B", "#28744A", "#B23A1E", "#FBEAE4",
            "#6B3A78", "#E3E9E9", "#CBD5D5", "#B5C2C3", "#7D9296", "#24363B"};
}

Theme Theme::nightly() {
    return {true,      "#1A2629", "#223136", "#3B4D52", "#E8E6DE", "#A9B6B8", "#0C2A31", "#2B7385",
            "#DDE8E8", "#F0A91B", "#F2588F", "#4A2537", "#6FB1DC", "#63BE87", "#F08A6C", "#43261F",
            "#C08ED0", "#33464B", "#26373B", "#1B292D", "#5E767B", "#0E181B"};
}

QColor pieceColor(std::size_t index) {
    // Hues stepped by the golden angle never repeat closely; lightness alternates to tell neighbours apart.
    const double hue = std::fmod(0.13 + 0.381966 * static_cast<double>(index), 1.0);
    return QColor::fromHslF(static_cast<float>(hue), 0.42f, index % 2 ? 0.58f : 0.68f);
}

QFont Look::uiFont(int pixels, bool bold) {
    QFont font(QStringLiteral("B612"));
    font.setPixelSize(pixels);
    font.setBold(bold);
    return font;
}

Look::Look(QApplication& application) : application_(application) {
    loadResources();
    for (const char* name : {"B612-Regular.otf", "B612-Bold.otf"})
        QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/%1").arg(QLatin1String(name)));
    application_.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
    application_.setFont(uiFont(12));
    apply();
}

void Look::setNight(bool night) {
    if (night == theme_.night) return;
    theme_ = night ? Theme::nightly() : Theme::day();
    apply();
    emit changed();
}

namespace {

QString styleSheet(const Theme& t) {
    QString sheet = QStringLiteral(R"(
* { font-family: "B612"; font-size: 12px; color: @ink; }
QMainWindow, QDialog, QWidget#central { background: @paper; }
QMenuBar { background: @card; border-bottom: 1px solid @line; padding: 2px 8px; }
QMenuBar::item { padding: 4px 10px; background: transparent; border-radius: 4px; }
QMenuBar::item:selected, QMenu::item:selected { background: @petrolLight; color: white; }
QMenu { background: @card; border: 1px solid @line; padding: 4px; }
QMenu::item { padding: 5px 28px 5px 14px; border-radius: 3px; }
QMenu::item:disabled { color: @softInk; }
QMenu::separator { height: 1px; background: @line; margin: 4px 8px; }
QToolTip { background: @card; color: @ink; border: 1px solid @line; padding: 4px; }
QLineEdit, QComboBox, QAbstractSpinBox { background: @card; border: 1px solid @line; border-radius: 5px; padding: 3px 8px; min-height: 19px; selection-background-color: @petrolLight; selection-color: white; }
QLineEdit:focus, QComboBox:focus, QAbstractSpinBox:focus { border: 1px solid @petrolLight; }
QLineEdit:disabled, QComboBox:disabled, QAbstractSpinBox:disabled { color: @softInk; background: @paper; }
QComboBox { padding-right: 1px; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/icons/@arrow.svg); width: 10px; height: 10px; }
QComboBox QAbstractItemView { background: @card; border: 1px solid @line; selection-background-color: @petrolLight; selection-color: white; }
QAbstractSpinBox::up-button, QAbstractSpinBox::down-button { width: 0; border: none; }
QPushButton, QToolButton { background: @card; border: 1px solid @line; border-radius: 5px; padding: 4px 10px; min-height: 17px; }
QPushButton:hover, QToolButton:hover { border-color: @petrolLight; }
QPushButton:pressed, QToolButton:pressed { background: @line; }
QPushButton:disabled, QToolButton:disabled { color: @softInk; background: @paper; }
QPushButton[main="true"] { background: @petrolLight; color: white; border-color: @petrolLight; }
QPushButton[main="true"]:disabled { background: @paper; color: @softInk; border-color: @line; }
QPushButton:checked, QToolButton:checked { background: @petrolLight; color: white; border-color: @petrolLight; }
QPushButton:focus, QToolButton:focus { border-color: @petrolLight; }
QPushButton[link="true"] { background: transparent; border: none; color: @steel; padding: 0; text-align: right; }
QFrame[tabs="true"] { border: none; border-bottom: 1px solid @line; }
QPushButton[tab="true"] { background: transparent; border: none; border-bottom: 3px solid transparent; border-radius: 0; padding: 4px 2px 3px 2px; color: @softInk; }
QPushButton[tab="true"]:hover { color: @ink; }
QPushButton[tab="true"]:checked { background: transparent; color: @ink; font-weight: bold; border-bottom: 3px solid @saffron; }
QSlider::groove:horizontal { background: @line; height: 4px; border-radius: 2px; }
QSlider::sub-page:horizontal { background: @petrolLight; border-radius: 2px; }
QSlider::handle:horizontal { background: @card; border: 2px solid @petrolLight; width: 10px; margin: -6px 0; border-radius: 7px; }
QSlider::handle:horizontal:disabled { border-color: @line; }
QFrame[lower="true"] { background: @card; border: none; border-top: 1px solid @line; }
QFrame[lower="true"] QTableView { background: @card; }
QFrame[card="true"] { background: @card; border: 1px solid @line; border-radius: 6px; }
QFrame[card="problem"] { background: @rustTint; border: 1px solid @rust; border-radius: 6px; }
QLabel[role="title"] { font-size: 15px; font-weight: bold; }
QLabel[role="cardtitle"] { font-weight: bold; }
QLabel[role="soft"] { color: @softInk; font-size: 11px; }
QLabel[role="good"] { color: @leaf; font-size: 11px; }
QLabel[role="bad"] { color: @rust; }
QScrollArea, QScrollArea > QWidget > QWidget { background: @paper; border: none; }
#driveScroll, #driveScroll > QWidget > QWidget { background: @card; }
QTreeView, QListView, QTableView { background: @paper; border: none; outline: none; selection-background-color: @raspberryTint; selection-color: @ink; }
QDialog { border: 1px solid @petrolLight; }
QListView::item { padding: 3px 4px; }
QTreeView::item { height: 21px; }
QTreeView::item:selected { background: @raspberryTint; color: @ink; }
QTreeView::item:hover:!selected { background: @card; }
QTreeView::branch { background: @paper; }
QTreeView::branch:selected { background: @raspberryTint; }
QTreeView::branch:has-children:closed { image: url(:/icons/@closed.svg); }
QTreeView::branch:has-children:open { image: url(:/icons/@open.svg); }
QHeaderView::section { background: @paper; border: none; border-bottom: 1px solid @line; color: @softInk; padding: 3px 6px; }
QSplitter::handle { background: @line; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar::handle:vertical { background: @line; border-radius: 4px; min-height: 24px; }
QScrollBar:horizontal { background: transparent; height: 9px; }
QScrollBar::handle:horizontal { background: @line; border-radius: 4px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: none; border: none; width: 0; height: 0; }
QProgressBar { background: @petrol; border: 1px solid @railText; border-radius: 4px; height: 15px; text-align: center; color: @railText; font-size: 10px; }
QProgressBar::chunk { background: @petrolLight; border-radius: 3px; }
QCheckBox { spacing: 7px; }
)");
    const std::array<std::pair<const char*, QColor>, 16> colors{{{"@petrolLight", t.petrolLight},
                                                                 {"@petrol", t.petrol},
                                                                 {"@raspberryTint", t.raspberryTint},
                                                                 {"@raspberry", t.raspberry},
                                                                 {"@rustTint", t.rustTint},
                                                                 {"@rust", t.rust},
                                                                 {"@paper", t.paper},
                                                                 {"@card", t.card},
                                                                 {"@line", t.line},
                                                                 {"@softInk", t.softInk},
                                                                 {"@ink", t.ink},
                                                                 {"@saffron", t.saffron},
                                                                 {"@steel", t.steel},
                                                                 {"@leaf", t.leaf},
                                                                 {"@railText", t.railText},
                                                                 {"@edge", t.edge}}};
    for (const auto& [name, color] : colors) sheet.replace(QLatin1String(name), color.name());
    const QString suffix = t.night ? QStringLiteral("-night") : QString();
    sheet.replace(QStringLiteral("@arrow"), QStringLiteral("arrow") + suffix)
        .replace(QStringLiteral("@closed"), QStringLiteral("closed") + suffix)
        .replace(QStringLiteral("@open"), QStringLiteral("arrow") + suffix);
    return sheet;
}

}  // namespace

void Look::apply() {
    QPalette palette;
    palette.setColor(QPalette::Window, theme_.paper);
    palette.setColor(QPalette::Base, theme_.card);
    palette.setColor(QPalette::AlternateBase, theme_.paper);
    palette.setColor(QPalette::Button, theme_.card);
    palette.setColor(QPalette::Text, theme_.ink);
    palette.setColor(QPalette::WindowText, theme_.ink);
    palette.setColor(QPalette::ButtonText, theme_.ink);
    palette.setColor(QPalette::PlaceholderText, theme_.softInk);
    for (const auto role : {QPalette::Text, QPalette::WindowText, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, theme_.softInk);
    palette.setColor(QPalette::Highlight, theme_.petrolLight);
    palette.setColor(QPalette::HighlightedText, Qt::white);
    application_.setPalette(palette);
    application_.setStyleSheet(styleSheet(theme_));
}

}  // namespace pivrak
