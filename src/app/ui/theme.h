// SPDX-License-Identifier: Apache-2.0
/// Colours and fonts of the application: light chart paper, ink, a few accents.
#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QObject>

#include <functional>

class QApplication;
class QWidget;

namespace snare::app {

enum class Scheme { light, dark };

/// Every colour that is painted. Nothing else in the application names a colour.
struct Theme {
    Scheme scheme = Scheme::light;
    QColor ground{0xE9, 0xF0, 0xEC};
    QColor gridFine{0xDA, 0xE5, 0xE0};
    QColor gridBold{0xC6, 0xD5, 0xCF};
    QColor panel{0xFB, 0xFA, 0xF5};
    QColor panelDeep{0xF4, 0xF1, 0xE8};
    QColor hairline{0xCF, 0xC9, 0xB8};
    QColor ink{0x14, 0x32, 0x3B};
    QColor inkSoft{0x56, 0x69, 0x6E};
    QColor slate{0x5B, 0x71, 0x7E};
    QColor solid{0xDD, 0xE3, 0xDF};
    QColor paper{0xFF, 0xFF, 0xFF};
    QColor mint{0x1F, 0x8A, 0x7A};
    QColor mintText{0x12, 0x6B, 0x5E};
    QColor coral{0xC4, 0x57, 0x2E};
    QColor coralText{0xA8, 0x43, 0x1D};
    QColor ochre{0xB9, 0x8A, 0x1E};
    QColor blue{0x3D, 0x5A, 0x98};
    QColor plum{0x7B, 0x4B, 0x94};
    QColor warning{0xF7, 0xE3, 0xD9};  ///< ground of a message about something wrong
    QColor bright{0xFF, 0xFF, 0xFF};   ///< text on dark fills, in both schemes
    QColor deep{0x14, 0x32, 0x3B};     ///< text on light fills, in both schemes
    QColor onAccent{0xFF, 0xFF, 0xFF}; ///< text on accents and ink

    /// The accent of the n-th zone or visitor, round and round.
    QColor accent(std::size_t n) const;
};

const Theme& theme();

/// What is wanted: a scheme, or that of the system.
enum class SchemeWish { system, light, dark };

/// What the desktop says it wants; taken on by the next `applyTheme`. True if that is news.
bool setSystemDark(bool dark);

/// The wish of the settings.
SchemeWish schemeWish();
/// Keeps the wish and takes on its scheme. Widgets that are there take on the new colours.
void setSchemeWish(QApplication& application, SchemeWish wish);

/// The text font at a size in points relative to the standard one.
QFont textFont(double step = 0, bool bold = false);

/// Figures: times, ticks, lengths.
QFont figureFont(double step = 0);

/// One of our own icons by name, drawn as SVG in the ink colour.
QIcon icon(const QString& name);

/// Palette, fonts and style sheet of the whole application.
void applyTheme(QApplication& application);

/// Tells when other colours hold.
class ThemeWatch : public QObject {
    Q_OBJECT

  public:
    static ThemeWatch& instance();

  signals:
    void changed();
};

/// Does `apply` now and whenever other colours hold, as long as `owner` lives.
void onTheme(QObject* owner, std::function<void()> apply);

/// Fills a widget's ground, which it must be told to fill, with a colour.
void fillWith(QWidget* widget, const QColor& colour);

/// Gives a widget a style sheet, which is asked for again whenever other colours hold. It takes the
/// place of the one before.
void dress(QWidget* widget, std::function<QString()> sheet);

/// Writes a label in one of the colours: `colourText(label, &Theme::inkSoft)`.
void colourText(QWidget* label, QColor Theme::*colour);

} // namespace snare::app
