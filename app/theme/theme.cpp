// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <array>

namespace badger::app
{

namespace
{

struct Row {
    Tone tone;
    const char *light;
    const char *dark;
    const char *projector;
};

constexpr std::array<Row, 12> rows = {{
    {Tone::Paper, "#F4F1EA", "#171C1E", "#FFFFFF"},
    {Tone::Sheet, "#FDFBF6", "#20272A", "#FFFFFF"},
    {Tone::Rule, "#D5CFC1", "#3A4447", "#8A8A8A"},
    {Tone::Ink, "#1E2629", "#ECE7DB", "#000000"},
    {Tone::Ink2, "#535D60", "#A8B1B0", "#2E2E2E"},
    {Tone::Ochre, "#A84E0C", "#F0A54E", "#8C3E06"},
    {Tone::Result, "#2A4B8D", "#9AB8F2", "#16336F"},
    {Tone::Brick, "#9C2A1B", "#FF8E79", "#8E1D0F"},
    {Tone::Go, "#D3DEF1", "#24395E", "#C2D2EF"},
    {Tone::Stand, "#DCDFE2", "#3A4246", "#D3D8DD"},
    {Tone::Back, "#F1CDBD", "#5C3024", "#F3C2AC"},
    {Tone::Turn, "#DFD5EC", "#443651", "#D8C8EC"},
}};

struct WireColour {
    const char *name;
    const char *colour;
};
constexpr std::array<WireColour, 12> wires = {{
    {"red", "#C62828"},
    {"black", "#2B2B2B"},
    {"white", "#F7F7F2"},
    {"yellow", "#E6BE1E"},
    {"green", "#2E8B4A"},
    {"blue", "#2F62B5"},
    {"orange", "#E07B22"},
    {"violet", "#8552A8"},
    {"grey", "#8D9396"},
    {"brown", "#7A4B2A"},
    {"pink", "#E390AE"},
    {"turquoise", "#3AA7A3"},
}};

constexpr std::array<int, 5> sizes = {12, 14, 16, 20, 28};
constexpr int spacingUnit = 4;
constexpr qreal projectorType = 1.5;
constexpr qreal projectorSpace = 1.25;

} // namespace

Theme::Theme(QObject *parent) : QObject(parent) {}

void Theme::setPalette(Palette palette)
{
    if (palette == m_palette)
        return;
    m_palette = palette;
    emit changed();
}

QColor Theme::color(Tone tone) const
{
    const auto &row = rows[static_cast<size_t>(tone)];
    switch (m_palette) {
    case Palette::Dark:
        return QColor(row.dark);
    case Palette::Projector:
        return QColor(row.projector);
    case Palette::Light:
        break;
    }
    return QColor(row.light);
}

QColor Theme::color(rules::Act act) const
{
    switch (act) {
    case rules::Act::Go:
        return color(Tone::Go);
    case rules::Act::Stand:
        return color(Tone::Stand);
    case rules::Act::Back:
        return color(Tone::Back);
    case rules::Act::Turn:
        break;
    }
    return color(Tone::Turn);
}

QColor Theme::wire(const QString &name) const
{
    for (const auto &w : wires)
        if (name == QLatin1String(w.name))
            return QColor(w.colour);
    return color(Tone::Ink);
}

const QStringList &Theme::wireNames()
{
    static const QStringList names = [] {
        QStringList all;
        for (const auto &w : wires)
            all << QString::fromLatin1(w.name);
        return all;
    }();
    return names;
}

int Theme::size(Type type) const
{
    return qRound(sizes[static_cast<size_t>(type)] * scale());
}

qreal Theme::scale() const
{
    return m_palette == Palette::Projector ? projectorType : 1.0;
}

QFont Theme::text(Type type, bool bold) const
{
    QFont font(QStringLiteral("Badger Text"));
    font.setPixelSize(size(type));
    font.setBold(bold);
    return font;
}

QFont Theme::figures(Type type) const
{
    QFont font(QStringLiteral("Badger Figures"));
    font.setStyleHint(QFont::Monospace);
    font.setPixelSize(size(type));
    return font;
}

int Theme::space(int n) const
{
    return qRound(n * spacingUnit * (m_palette == Palette::Projector ? projectorSpace : 1.0));
}

qreal Theme::line() const
{
    return m_palette == Palette::Projector ? 2.0 : 1.4;
}

bool Theme::loadFonts()
{
    bool all = true;
    for (const auto *file :
         {"B612-Regular.otf", "B612-Bold.otf", "Hack-Regular.ttf", "Hack-Bold.ttf"})
        all &= QFontDatabase::addApplicationFont(
                   QStringLiteral(":/fonts/%1").arg(QLatin1String(file))) >= 0;
    return all;
}

namespace
{

QString sheetText()
{
    return QStringLiteral(R"(
QWidget { color: @ink; font-family: "Badger Text"; font-size: @body; }
QMainWindow, QDialog, #paper { background: @paper; }
QToolTip { background: @sheet; color: @ink; border: 1px solid @rule; padding: 4px; }
QMenuBar { background: @paper; border-bottom: 1px solid @rule; }
QMenuBar::item { background: transparent; padding: 4px 10px; }
QMenuBar::item:selected, QMenu::item:selected { background: @stand; color: @ink; }
QMenu { background: @sheet; border: 1px solid @rule; padding: 4px; }
QMenu::item { padding: 5px 28px 5px 12px; }
QMenu::item:disabled { color: @ink2; }
QMenu::separator { height: 1px; background: @rule; margin: 4px 8px; }
QLineEdit, QSpinBox, QComboBox { background: @sheet; border: 1px solid @rule; border-radius: 3px;
  padding: 4px 7px; selection-background-color: @ochre; selection-color: @sheet; }
QLineEdit:focus, QSpinBox:focus, QComboBox:focus { border: 2px solid @ochre; padding: 3px 6px; }
QLineEdit[wrong="true"] { border: 2px solid @brick; padding: 3px 6px; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/icons/down-@shade.svg); width: 10px; height: 10px; }
QComboBox QAbstractItemView { background: @sheet; border: 1px solid @rule;
  selection-background-color: @stand; selection-color: @ink; }
QSpinBox::up-button, QSpinBox::down-button { width: 0px; border: none; }
QPushButton, QToolButton { background: @sheet; border: 1px solid @rule; border-radius: 3px;
  padding: 4px 12px; }
QPushButton:hover, QToolButton:hover { border-color: @ink2; }
QPushButton:focus, QToolButton:focus { border: 2px solid @ochre; padding: 3px 11px; }
QPushButton:pressed, QToolButton:pressed, QPushButton:checked { background: @stand; }
QPushButton:disabled { color: @ink2; background: @paper; }
QPushButton[segment="true"] { padding: 4px 9px; border-radius: 0; }
QPushButton[segment="true"]:focus { padding: 3px 8px; }
QLabel[caution="true"] { border-left: 3px solid @ochre; padding-left: 6px; font-size: @small; }
QPushButton[link="true"] { background: transparent; border: none; color: @result; padding: 2px 0;
  text-align: left; text-decoration: underline; }
QPushButton[link="true"]:focus { border: none; color: @ochre; }
QCheckBox { spacing: 7px; }
QCheckBox:focus { color: @ochre; }
QCheckBox::indicator { width: 13px; height: 13px; background: @sheet; border: 1px solid @ink2;
  border-radius: 2px; }
QCheckBox::indicator:checked { image: url(:/icons/tick-@shade.svg); }
QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
QScrollBar:vertical { background: transparent; width: 10px; }
QScrollBar:horizontal { background: transparent; height: 10px; }
QScrollBar::handle { background: @rule; border-radius: 4px; min-height: 24px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QLabel { background: transparent; }
QLabel[quiet="true"] { color: @ink2; }
QLabel[small="true"] { font-size: @small; color: @ink2; }
QLabel[heading="true"] { font-weight: bold; }
QLabel[figures="true"] { font-family: "Badger Figures"; }
QLabel[headline="true"] { font-size: @title; font-weight: bold; }
QLabel[error="true"] { color: @brick; }
#leftPanel { background: @paper; border-right: 1px solid @rule; }
#topPanel { background: @paper; border-bottom: 1px solid @rule; }
#handPanel { background: @paper; border-left: 1px solid @rule; }
#whyBar { background: @sheet; border-top: 1px solid @rule; }
#findNothing { background: @sheet; border: 1px solid @rule; padding: 6px; }
#messageBar { background: @sheet; border-top: 2px solid @ochre; }
#sheet { background: @sheet; border: 1px solid @rule; border-radius: 3px; }
#nextCard { background: @sheet; border: 1px solid @rule; border-left: 4px solid @ochre; }
)");
}

} // namespace

QString Theme::styleSheet() const
{
    const auto c = [this](Tone t) { return color(t).name(); };
    const auto px = [this](Type t) { return QString::number(size(t)) + "px"; };
    QString sheet = sheetText();
    const QList<QPair<QString, QString>> tokens = {
        {"@shade", m_palette == Palette::Dark ? QStringLiteral("dark") : QStringLiteral("light")},
        {"@paper", c(Tone::Paper)},
        {"@sheet", c(Tone::Sheet)},
        {"@rule", c(Tone::Rule)},
        {"@ink2", c(Tone::Ink2)},
        {"@ink", c(Tone::Ink)},
        {"@ochre", c(Tone::Ochre)},
        {"@result", c(Tone::Result)},
        {"@brick", c(Tone::Brick)},
        {"@stand", c(Tone::Stand)},
        {"@small", px(Type::Small)},
        {"@body", px(Type::Body)},
        {"@title", px(Type::Title)},
    };
    for (const auto &[token, value] : tokens)
        sheet.replace(token, value);
    return sheet;
}

void Theme::apply(QApplication &application) const
{
    QPalette p;
    p.setColor(QPalette::Window, color(Tone::Paper));
    p.setColor(QPalette::WindowText, color(Tone::Ink));
    p.setColor(QPalette::Base, color(Tone::Sheet));
    p.setColor(QPalette::AlternateBase, color(Tone::Paper));
    p.setColor(QPalette::Text, color(Tone::Ink));
    p.setColor(QPalette::Button, color(Tone::Sheet));
    p.setColor(QPalette::ButtonText, color(Tone::Ink));
    p.setColor(QPalette::Highlight, color(Tone::Ochre));
    p.setColor(QPalette::HighlightedText, color(Tone::Sheet));
    p.setColor(QPalette::PlaceholderText, color(Tone::Ink2));
    p.setColor(QPalette::ToolTipBase, color(Tone::Sheet));
    p.setColor(QPalette::ToolTipText, color(Tone::Ink));
    application.setPalette(p);
    application.setFont(text());
    application.setStyleSheet(styleSheet());
}

} // namespace badger::app
