// SPDX-License-Identifier: Apache-2.0
#include "app/ui/theme.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPainter>
#include <QPalette>
#include <QProxyStyle>
#include <QSettings>
#include <QSvgRenderer>
#include <QWidget>

#include <array>

/// The icons lie in a library, which the linker would leave out: they are asked for by name.
static void loadIcons()
{
    Q_INIT_RESOURCE(icons);
}

namespace snare::app {

QColor Theme::accent(std::size_t n) const
{
    const std::array accents{blue, ochre, mint, plum, coral};
    return accents[n % accents.size()];
}

namespace {

/// The same relations on dark paper: accents lighter, washes stronger.
Theme darkTheme()
{
    Theme t;
    t.scheme = Scheme::dark;
    t.ground = {0x18, 0x24, 0x27};
    t.gridFine = {0x1F, 0x2D, 0x30};
    t.gridBold = {0x2A, 0x3B, 0x3F};
    t.panel = {0x1E, 0x28, 0x2B};
    t.panelDeep = {0x17, 0x20, 0x23};
    t.hairline = {0x3C, 0x4A, 0x4E};
    t.ink = {0xE6, 0xEC, 0xE8};
    t.inkSoft = {0xA3, 0xB1, 0xB3};
    t.slate = {0x8D, 0xA3, 0xAF};
    t.solid = {0x34, 0x42, 0x47};
    t.paper = {0x26, 0x32, 0x35};
    t.mint = {0x35, 0xB3, 0x9F};
    t.mintText = {0x62, 0xD0, 0xBE};
    t.coral = {0xE0, 0x76, 0x4C};
    t.coralText = {0xF2, 0x97, 0x72};
    t.ochre = {0xD8, 0xAB, 0x45};
    t.blue = {0x7E, 0x9B, 0xDB};
    t.plum = {0xB5, 0x86, 0xCE};
    t.warning = {0x4A, 0x2C, 0x22};
    t.onAccent = {0x10, 0x1B, 0x1E};
    return t;
}

Theme& current()
{
    static Theme instance;
    return instance;
}

/// What the desktop wants: at first what its palette says before ours is put over it.
bool& systemIsDark()
{
    static bool dark = [] {
        const QPalette palette = QGuiApplication::palette();
        return palette.color(QPalette::Window).lightness() < palette.color(QPalette::WindowText).lightness();
    }();
    return dark;
}

/// Buttons of questions carry words alone, whatever the desktop's icons are.
class PlainStyle : public QProxyStyle {
  public:
    PlainStyle() : QProxyStyle(QStringLiteral("Fusion")) {}

    int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                  QStyleHintReturn* data) const override
    {
        return hint == SH_DialogButtonBox_ButtonsHaveIcons ? 0 : QProxyStyle::styleHint(hint, option, widget, data);
    }
};

} // namespace

const Theme& theme()
{
    return current();
}

bool setSystemDark(bool dark)
{
    return std::exchange(systemIsDark(), dark) != dark;
}

SchemeWish schemeWish()
{
    const QString word = QSettings().value(QStringLiteral("scheme")).toString();
    return word == QLatin1String("dark")    ? SchemeWish::dark
           : word == QLatin1String("light") ? SchemeWish::light
                                            : SchemeWish::system;
}

void setSchemeWish(QApplication& application, SchemeWish wish)
{
    constexpr const char* words[] = {"system", "light", "dark"};
    QSettings().setValue(QStringLiteral("scheme"), QLatin1String(words[static_cast<int>(wish)]));
    applyTheme(application);
}

namespace {

constexpr double standardPoints = 9.5;

QString firstFamily(std::initializer_list<const char*> wanted, QFontDatabase::SystemFont fallback)
{
    const QStringList families = QFontDatabase::families();
    for (const char* name : wanted)
        if (families.contains(QLatin1String(name)))
            return QLatin1String(name);
    return QFontDatabase::systemFont(fallback).family();
}

} // namespace

QFont textFont(double step, bool bold)
{
    static const QString family =
        firstFamily({"Inter", "Inter Variable", "Noto Sans", "DejaVu Sans"}, QFontDatabase::GeneralFont);
    QFont font{family};
    font.setPointSizeF(standardPoints + step);
    font.setWeight(bold ? QFont::DemiBold : QFont::Normal);
    return font;
}

QFont figureFont(double step)
{
    static const QString family = firstFamily({"DejaVu Sans Mono", "Noto Sans Mono"}, QFontDatabase::FixedFont);
    QFont font{family};
    font.setPointSizeF(standardPoints - 0.5 + step);
    return font;
}

QIcon icon(const QString& name)
{
    QFile file{QStringLiteral(":/icons/%1.svg").arg(name)};
    if (!file.open(QIODevice::ReadOnly))
        return {};
    const QByteArray drawing = file.readAll();
    const auto inColour = [&](const QColor& colour) {
        QByteArray coloured = drawing;
        coloured.replace("currentColor", colour.name().toLatin1());
        QSvgRenderer renderer{coloured};
        QPixmap pixmap{QSize{40, 40}};
        pixmap.fill(Qt::transparent);
        QPainter painter{&pixmap};
        renderer.render(&painter);
        painter.end();
        return pixmap;
    };
    QIcon result;
    result.addPixmap(inColour(theme().ink));
    result.addPixmap(inColour(theme().scheme == Scheme::light ? theme().paper : theme().ground), QIcon::Normal,
                     QIcon::On);
    result.addPixmap(inColour(theme().hairline), QIcon::Disabled);
    return result;
}

void applyTheme(QApplication& application)
{
    loadIcons();
    const SchemeWish wish = schemeWish();
    const bool dark = wish == SchemeWish::dark || (wish == SchemeWish::system && systemIsDark());
    current() = dark ? darkTheme() : Theme{};
    const Theme& t = theme();
    application.setStyle(new PlainStyle);
    application.setFont(textFont());
    QPalette palette;
    palette.setColor(QPalette::Window, t.panel);
    palette.setColor(QPalette::WindowText, t.ink);
    palette.setColor(QPalette::Base, t.paper);
    palette.setColor(QPalette::AlternateBase, t.panelDeep);
    palette.setColor(QPalette::Text, t.ink);
    palette.setColor(QPalette::Button, t.panelDeep);
    palette.setColor(QPalette::ButtonText, t.ink);
    palette.setColor(QPalette::Highlight, t.mint);
    palette.setColor(QPalette::HighlightedText, t.onAccent);
    palette.setColor(QPalette::Link, t.mintText);
    palette.setColor(QPalette::Light, t.paper);
    palette.setColor(QPalette::Midlight, t.hairline);
    palette.setColor(QPalette::Mid, t.hairline);
    palette.setColor(QPalette::Dark, t.slate);
    palette.setColor(QPalette::Shadow, t.slate);
    palette.setColor(QPalette::ToolTipBase, t.panel);
    palette.setColor(QPalette::ToolTipText, t.ink);
    palette.setColor(QPalette::PlaceholderText, t.inkSoft);
    palette.setColor(QPalette::Disabled, QPalette::WindowText, t.hairline);
    palette.setColor(QPalette::Disabled, QPalette::Text, t.hairline);
    palette.setColor(QPalette::Disabled, QPalette::ButtonText, t.hairline);
    application.setPalette(palette);
    application.setStyleSheet(QStringLiteral(R"(
        QMenuBar { background: %1; border-bottom: 1px solid %3; padding: 1px 6px; }
        QMenuBar::item { padding: 4px 9px; background: transparent; }
        QMenuBar::item:selected { background: %2; border-radius: 4px; }
        QMenu { background: %1; border: 1px solid %3; padding: 4px; }
        QMenu::item { padding: 4px 22px 4px 16px; border-radius: 4px; }
        QMenu::item:selected { background: %5; color: %8; }
        QMenu::item:disabled { color: %3; }
        QMenu::separator { height: 1px; background: %3; margin: 4px 8px; }
        QStatusBar { background: %2; border-top: 1px solid %3; color: %7; }
        QStatusBar::item { border: none; }
        QSplitter::handle { background: %3; }
        QToolTip { background: %1; color: %4; border: 1px solid %3; padding: 3px; }
        QScrollBar:vertical { width: 10px; background: transparent; }
        QScrollBar:horizontal { height: 10px; background: transparent; }
        QScrollBar::handle { background: %3; border-radius: 4px; min-height: 24px; min-width: 24px; }
        QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
        QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
        QLineEdit { background: %6; border: 1px solid %3; border-radius: 4px; padding: 3px 6px; }
        QLineEdit:focus { border: 1px solid %5; }
        QTableView { background: %1; alternate-background-color: %2; }
        QHeaderView::section { background: %2; color: %7; border: none; border-bottom: 1px solid %3; padding: 4px 6px; }
        QTabBar::tab { padding: 7px 4px; background: %2; border: none; border-bottom: 2px solid transparent; color: %7; }
        QTabBar::tab:selected { background: %1; color: %4; font-weight: 600; border-bottom: 2px solid %5; }
        QTabBar::tab:focus { border-bottom: 2px dotted %5; }
    )")
                                  .arg(t.panel.name(), t.panelDeep.name(), t.hairline.name(), t.ink.name(),
                                       t.mint.name(), t.paper.name(), t.inkSoft.name(), t.onAccent.name()));
    emit ThemeWatch::instance().changed();
}

ThemeWatch& ThemeWatch::instance()
{
    static ThemeWatch watch;
    return watch;
}

void onTheme(QObject* owner, std::function<void()> apply)
{
    apply();
    QObject::connect(&ThemeWatch::instance(), &ThemeWatch::changed, owner, std::move(apply));
}

void fillWith(QWidget* widget, const QColor& colour)
{
    QPalette palette = widget->palette();
    palette.setColor(QPalette::Window, colour);
    widget->setPalette(palette);
}

void dress(QWidget* widget, std::function<QString()> sheet)
{
    const QString name = QStringLiteral("dress");
    delete widget->findChild<QObject*>(name, Qt::FindDirectChildrenOnly);
    auto* const dress = new QObject{widget};
    dress->setObjectName(name);
    onTheme(dress, [widget, sheet = std::move(sheet)] { widget->setStyleSheet(sheet()); });
}

void colourText(QWidget* label, QColor Theme::*colour)
{
    dress(label, [colour] { return QStringLiteral("color: %1").arg((theme().*colour).name()); });
}

} // namespace snare::app
