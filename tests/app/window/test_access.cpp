// SPDX-License-Identifier: Apache-2.0
/// The window for everybody: names and roles for screen readers, every view by keyboard, no text
/// cut, and colours that can be told apart.
#include "hands.h"

#include <QAbstractButton>
#include <QAccessible>
#include <QComboBox>
#include <QLabel>
#include <QTabWidget>
#include <QToolButton>

using namespace snare;
using namespace snare::tests;

namespace {

struct Fixture : Hands {
    /// Each tab with each view below, laid out.
    void forEveryView(const std::function<void(const QString& where)>& visit)
    {
        auto* tabs = window.findChild<QTabWidget*>();
        for (int tab = 0; tab < tabs->count(); ++tab) {
            tabs->setCurrentIndex(tab);
            layOut();
            visit(tabs->tabText(tab));
        }
        for (const char* view : {"Show Ledger", "Show Flow", "Show Takes", "Show Timeline"}) {
            order(QLatin1String(view));
            settle();
            layOut();
            visit(QLatin1String(view));
        }
    }
};

QString nameOf(const QWidget* widget)
{
    return QStringLiteral("%1 %2 in %3").arg(QLatin1String(widget->metaObject()->className()), widget->objectName(),
                                             widget->parentWidget() ? widget->parentWidget()->objectName() : QString());
}

/// What eyes see that lack one kind of cones, after Viénot, Brettel and Mollon (1999), linear
/// light.
QColor seenBy(int lacking, const QColor& colour)
{
    const auto linear = [](double c) { return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4); };
    const auto back = [](double c) {
        c = std::clamp(c, 0.0, 1.0);
        return c <= 0.0031308 ? c * 12.92 : 1.055 * std::pow(c, 1 / 2.4) - 0.055;
    };
    const double r = linear(colour.redF());
    const double g = linear(colour.greenF());
    const double b = linear(colour.blueF());
    switch (lacking) {
    case 0: // long waves
        return QColor::fromRgbF(static_cast<float>(back(0.11238 * r + 0.88762 * g)),
                                static_cast<float>(back(0.11238 * r + 0.88762 * g)),
                                static_cast<float>(back(0.00401 * r - 0.00401 * g + b)));
    case 1: // middle waves
        return QColor::fromRgbF(static_cast<float>(back(0.29275 * r + 0.70725 * g)),
                                static_cast<float>(back(0.29275 * r + 0.70725 * g)),
                                static_cast<float>(back(-0.02234 * r + 0.02234 * g + b)));
    default: // short waves: a simpler plane, that of equal red and green
        return QColor::fromRgbF(static_cast<float>(back(r + 0.127 * g - 0.127 * b)),
                                static_cast<float>(back(0.874 * g + 0.126 * b)),
                                static_cast<float>(back(0.874 * g + 0.126 * b)));
    }
}

/// CIE76 distance in CIELAB.
double distance(const QColor& a, const QColor& b)
{
    const auto lab = [](const QColor& colour) {
        const auto linear = [](double c) { return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4); };
        const double r = linear(colour.redF());
        const double g = linear(colour.greenF());
        const double bl = linear(colour.blueF());
        const auto f = [](double t) { return t > 0.008856 ? std::cbrt(t) : 7.787 * t + 16.0 / 116; };
        const double x = f((0.4124 * r + 0.3576 * g + 0.1805 * bl) / 0.9505);
        const double y = f(0.2126 * r + 0.7152 * g + 0.0722 * bl);
        const double z = f((0.0193 * r + 0.1192 * g + 0.9505 * bl) / 1.089);
        return std::array{116 * y - 16, 500 * (x - y), 200 * (y - z)};
    };
    const auto p = lab(a);
    const auto q = lab(b);
    return std::hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}

double contrast(const QColor& a, const QColor& b)
{
    const auto light = [](const QColor& colour) {
        const auto linear = [](double c) { return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4); };
        return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) + 0.0722 * linear(colour.blueF());
    };
    const double first = light(a);
    const double second = light(b);
    const auto [low, high] = std::minmax(first, second);
    return (high + 0.05) / (low + 0.05);
}

} // namespace

class TestAccess : public QObject {
    Q_OBJECT

  private slots:
    void whatTakesTheFocusHasANameAndARole();
    void everyViewIsReachedByKeyboard();
    void nothingIsCutInASmallWindow_data();
    void nothingIsCutInASmallWindow();
    void coloursAreToldApart_data();
    void coloursAreToldApart();
    void textCanBeRead_data();
    void textCanBeRead();
};

void TestAccess::whatTakesTheFocusHasANameAndARole()
{
    Fixture bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    QStringList nameless;
    bench.forEveryView([&](const QString& where) {
        for (const QWidget* widget : bench.window.findChildren<QWidget*>()) {
            if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus || !widget->isEnabled() ||
                widget->focusProxy())
                continue;
            QAccessibleInterface* told = QAccessible::queryAccessibleInterface(const_cast<QWidget*>(widget)); // NOLINT
            const bool isContainer =
                told && (told->role() == QAccessible::Client || told->role() == QAccessible::NoRole);
            if (!told || isContainer || told->text(QAccessible::Name).isEmpty())
                nameless << QStringLiteral("%1: %2, role %3, “%4”")
                                .arg(where, nameOf(widget))
                                .arg(told ? int(told->role()) : -1)
                                .arg(told ? told->text(QAccessible::Name) : QString());
        }
    });
    nameless.removeDuplicates();
    QVERIFY2(nameless.isEmpty(), (qWarning().noquote() << nameless.join(QLatin1Char('\n')), "see above"));
}

/// Tab goes round, and comes by the ground, the cards and what is below.
void TestAccess::everyViewIsReachedByKeyboard()
{
    Fixture bench;
    bench.openDemo();
    bench.selectAndWait("scale");
    bench.window.activateWindow();
    QVERIFY(QTest::qWaitForWindowActive(&bench.window));
    bench.window.ground()->setFocus();
    QSet<QString> seen;
    QWidget* const start = QApplication::focusWidget();
    for (int i = 0; i < 400; ++i) {
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
        QWidget* now = QApplication::focusWidget();
        QVERIFY(now);
        for (const QWidget* one = now; one; one = one->parentWidget())
            seen << one->objectName();
        if (now == start)
            break;
    }
    for (const char* place : {"timeline", "transport", "moment", "card weigh", "shelf"})
        QVERIFY2(seen.contains(QLatin1String(place)), place);
    QCOMPARE(QApplication::focusWidget(), start);
}

void TestAccess::nothingIsCutInASmallWindow_data()
{
    QTest::addColumn<QSize>("size");
    QTest::newRow("a small screen") << QSize{1024, 700};
    QTest::newRow("1920 pixels, everything twice as large")
        << QSize{960, 540}; // run at that size too: tests/CMakeLists.txt
}

void TestAccess::nothingIsCutInASmallWindow()
{
    QFETCH(QSize, size);
    Fixture bench;
    bench.window.resize(size);
    bench.openDemo();
    bench.selectAndWait("scale");
    bench.layOut();
    QStringList cut;
    bench.forEveryView([&](const QString& where) {
        for (const QWidget* widget : bench.window.findChildren<QWidget*>()) {
            if (!widget->isVisible() || widget->visibleRegion().isEmpty())
                continue;
            QString text;
            int room = widget->width();
            if (const auto* label = qobject_cast<const QLabel*>(widget)) {
                if (label->wordWrap() || label->sizePolicy().horizontalPolicy() == QSizePolicy::Ignored ||
                    label->textFormat() == Qt::RichText || Qt::mightBeRichText(label->text()))
                    continue;
                text = label->text();
                room = label->contentsRect().width();
            } else if (const auto* tool = qobject_cast<const QToolButton*>(widget)) {
                text = tool->toolButtonStyle() == Qt::ToolButtonIconOnly && !tool->icon().isNull() ? QString()
                                                                                                   : tool->text();
            } else if (const auto* button = qobject_cast<const QAbstractButton*>(widget)) {
                if (qobject_cast<const app::SlotButton*>(widget)) // shortened, with the whole in its tip
                    continue;
                text = button->text();
            } else if (const auto* box = qobject_cast<const QComboBox*>(widget)) {
                text = box->currentText();
            }
            if (text.contains(QLatin1Char('\n')) || text.isEmpty())
                continue;
            if (widget->fontMetrics().horizontalAdvance(QString(text).remove(QLatin1Char('&'))) > room + 1)
                cut << QStringLiteral("%1: %2 “%3”").arg(where, nameOf(widget), text);
        }
    });
    QCOMPARE(bench.window.size().boundedTo(size), bench.window.size());
    cut.removeDuplicates();
    QVERIFY2(cut.isEmpty(), (qWarning().noquote() << cut.join(QLatin1Char('\n')), "see above"));
}

void TestAccess::coloursAreToldApart_data()
{
    QTest::addColumn<int>("lacking");
    QTest::addColumn<bool>("dark");
    const char* kinds[] = {"long waves", "middle waves", "short waves"};
    for (int lacking = 0; lacking < 3; ++lacking)
        for (const bool dark : {false, true})
            QTest::addRow("%s, %s", kinds[lacking], dark ? "dark" : "light") << lacking << dark;
}

/// What sprang, what slipped or is wrong, and what is a warning. (Each has a form of its own, too.)
void TestAccess::coloursAreToldApart()
{
    QFETCH(int, lacking);
    QFETCH(bool, dark);
    app::setSchemeWish(*qApp, dark ? app::SchemeWish::dark : app::SchemeWish::light);
    const app::Theme& t = app::theme();
    const std::pair<QColor, QColor> pairs[] = {{t.mint, t.coral}, {t.mint, t.plum}, {t.coral, t.blue},
                                               {t.blue, t.ochre}, {t.mint, t.ink},  {t.coral, t.ink}};
    for (const auto& [a, b] : pairs) {
        const double apart = distance(seenBy(lacking, a), seenBy(lacking, b));
        QVERIFY2(apart >= 15, qPrintable(QStringLiteral("%1 and %2: %3").arg(a.name(), b.name()).arg(apart)));
    }
    app::setSchemeWish(*qApp, app::SchemeWish::light);
}

void TestAccess::textCanBeRead_data()
{
    QTest::addColumn<bool>("dark");
    QTest::newRow("light") << false;
    QTest::newRow("dark") << true;
}

void TestAccess::textCanBeRead()
{
    QFETCH(bool, dark);
    app::setSchemeWish(*qApp, dark ? app::SchemeWish::dark : app::SchemeWish::light);
    const app::Theme& t = app::theme();
    for (const QColor& ground : {t.panel, t.panelDeep, t.paper})
        for (const QColor& text : {t.ink, t.inkSoft, t.mintText, t.coralText})
            QVERIFY2(
                contrast(ground, text) >= 4.5,
                qPrintable(QStringLiteral("%1 on %2: %3").arg(text.name(), ground.name()).arg(contrast(ground, text))));
    QVERIFY(contrast(t.mint, t.onAccent) >= 3);
    app::setSchemeWish(*qApp, app::SchemeWish::light);
}

SNARE_WINDOW_TEST_MAIN(TestAccess)
#include "test_access.moc"
