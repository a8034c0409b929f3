// SPDX-License-Identifier: Apache-2.0
/// `fresh-snare-bench NAME`: the figures of the interface, offscreen. Called by `snare bench`; each
/// prints one line a figure, ratios of two things measured in one run where there is something to
/// compare with.
#include "app/ground/ground_view.h"
#include "app/timeline/flow_view.h"
#include "app/timeline/moment_panel.h"
#include "app/timeline/timeline_view.h"
#include "app/ui/theme.h"
#include "app/window/main_window.h"
#include "io/shipped.h"
#include "sim/recorder.h"

#include <fmt/format.h>

#include <QAction>
#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QGraphicsRectItem>
#include <QGraphicsScene>
#include <QGraphicsView>
#include <QScrollBar>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <cmath>
#include <cstdio>
#include <random>

namespace {

using namespace snare;
using geometry::Vec;

constexpr QSize viewSize{1280, 800};

double msOf(const QElapsedTimer& timer)
{
    return static_cast<double>(timer.nsecsElapsed()) * 1e-6;
}

/// Half of the pieces move, evenly spread over a level-like field.
scene::Scene field(int count, double metres)
{
    std::mt19937 random{7};
    std::uniform_real_distribution<double> across{0, metres * 1.6};
    std::uniform_real_distribution<double> up{0, metres};
    std::uniform_real_distribution<double> speed{-1, 1};
    scene::Scene scene;
    scene.name = "Samphire flats";
    scene.contacts.push_back({"default", "default", scene::Contact::pass});
    for (int i = 0; i < count; ++i) {
        scene::Piece piece;
        piece.id = "post-" + std::to_string(i);
        piece.at = {across(random), up(random)};
        scene::Shape shape;
        if (i % 3 == 0)
            shape.geometry = scene::Circle{0.4};
        else
            shape.geometry = scene::Box{{0.9, 0.7}};
        piece.shapes.push_back(shape);
        if (i % 2 == 0)
            piece.body = scene::KinematicBody{{speed(random), speed(random)}, 0};
        scene.pieces.push_back(std::move(piece));
    }
    return scene;
}

/// The same scene as items: one for each shape, with the same fill and edge.
class ItemField {
  public:
    explicit ItemField(const scene::Scene& scene)
    {
        for (const scene::Piece& piece : scene.pieces) {
            QAbstractGraphicsShapeItem* item = nullptr;
            if (const auto* circle = std::get_if<scene::Circle>(&piece.shapes[0].geometry)) {
                item = scene_.addEllipse(-circle->radius, -circle->radius, 2 * circle->radius, 2 * circle->radius);
            } else {
                const Vec size = std::get<scene::Box>(piece.shapes[0].geometry).size;
                item = scene_.addRect(-size.x / 2, -size.y / 2, size.x, size.y);
            }
            QPen pen{app::theme().slate, 1.7};
            pen.setCosmetic(true);
            item->setPen(pen);
            item->setBrush(app::theme().solid);
            items_.push_back(item);
        }
        view_.setScene(&scene_);
        view_.setRenderHint(QPainter::Antialiasing);
        view_.setViewportUpdateMode(QGraphicsView::FullViewportUpdate);
        view_.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        view_.setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        view_.setFrameShape(QFrame::NoFrame);
        view_.resize(viewSize);
    }

    void paint(const std::vector<app::ShownPiece>& pieces, const app::GroundTransform& transform, QImage& image)
    {
        for (const app::ShownPiece& piece : pieces)
            items_[piece.index]->setPos(piece.pose.at.x, -piece.pose.at.y);
        view_.setTransform(QTransform::fromScale(transform.scale, transform.scale));
        view_.centerOn(transform.centre.x, -transform.centre.y);
        QPainter painter{&image};
        painter.setRenderHint(QPainter::Antialiasing);
        view_.render(&painter, image.rect(), view_.viewport()->rect());
    }

  private:
    QGraphicsScene scene_;
    QGraphicsView view_;
    std::vector<QAbstractGraphicsShapeItem*> items_;
};

void benchPaint()
{
    const auto scene = std::make_shared<const scene::Scene>(field(10000, 200));
    const sim::Record record = sim::rerun(scene, {}, {.seconds = 0.5});
    const app::Selection selection;
    ItemField items{*scene};
    QImage image{viewSize, QImage::Format_ARGB32_Premultiplied};
    const auto compare = [&](const char* what, const app::GroundTransform& transform) {
        const app::GroundOptions options;
        app::Sprites sprites;
        double ours = 1e300;
        double theirs = 1e300;
        for (std::int64_t tick = 1; tick <= 20; ++tick) {
            QElapsedTimer timer;
            timer.start();
            const auto pieces = app::shownPieces(*scene, record, tick);
            QPainter painter{&image};
            app::GroundPainter{painter, transform, *scene, record, tick, selection, options, nullptr, &sprites}.paint(
                pieces, {});
            painter.end();
            ours = std::min(ours, msOf(timer));
            timer.start();
            items.paint(pieces, transform, image);
            theirs = std::min(theirs, msOf(timer));
        }
        std::printf("paint %s: %.1f ms a frame, items %.1f ms: %.1f times faster\n", what, ours, theirs, theirs / ours);
    };
    app::GroundTransform whole;
    whole.size = viewSize;
    whole.centre = {160, 100};
    whole.scale = 4;
    compare("10,000 shapes, half moving, all in view", whole);
    app::GroundTransform near = whole;
    near.scale = 14;
    compare("the same, a twelfth in view and drawn whole", near);
}

/// Runs the event loop until `done`; gives the longest time in which it did not turn.
template <class Done> double longestBlock(Done&& done)
{
    double longest = 0;
    QElapsedTimer turn;
    turn.start();
    QElapsedTimer all;
    all.start();
    while (!done() && all.elapsed() < 60000) {
        turn.start();
        QCoreApplication::processEvents();
        longest = std::max(longest, msOf(turn));
    }
    return longest;
}

QString demoCopy(const QTemporaryDir& folder)
{
    for (const char* ending : {".snare.json", ".take.json"})
        QFile::copy(QString::fromStdString(io::shippedFile(std::string("demo/weigh-in") + ending).string()),
                    folder.filePath(QStringLiteral("weigh-in") + QLatin1String(ending)));
    return folder.filePath(QStringLiteral("weigh-in.snare.json"));
}

double megabytesUsed()
{
    QFile file{QStringLiteral("/proc/self/statm")};
    if (!file.open(QIODevice::ReadOnly))
        return 0;
    return file.readAll().split(' ').value(1).toDouble() * 4096 / 1e6;
}

/// What a step of undo costs in a large scene, without the views.
void benchSteps()
{
    constexpr int pieces = 10'000;
    constexpr int steps = 500;
    app::Document document;
    document.edit(QStringLiteral("Lay"), [](scene::Scene& scene) { scene = field(pieces, 200); });
    const double before = megabytesUsed();
    std::vector<double> times;
    for (int i = 0; i < steps; ++i) {
        QElapsedTimer timer;
        timer.start();
        document.edit(QStringLiteral("Move"), [&](scene::Scene& scene) {
            scene.pieces[static_cast<std::size_t>(i * 17 % pieces)].at.x += 0.1;
        });
        times.push_back(msOf(timer));
    }
    std::ranges::sort(times);
    std::printf("a step among %d pieces: %.2f ms in the middle, %.2f ms at most (wanted: 1); %d steps take %.0f MB "
                "(wanted: 100)\n",
                pieces, times[times.size() / 2], times.back(), steps, megabytesUsed() - before);
}

void benchEdit()
{
    QTemporaryDir folder;
    app::MainWindow window;
    window.resize(viewSize);
    window.show();
    window.openFile(demoCopy(folder));
    const auto settled = [&] { return !window.stage().isRerunning(); };
    longestBlock(settled);
    std::vector<double> times;
    for (int i = 0; i < 33; ++i) {
        QElapsedTimer timer;
        timer.start();
        window.document().edit(QStringLiteral("Move"), [&](scene::Scene& scene) {
            scene::findPiece(scene, "scale")->at.x += i % 2 == 0 ? 0.1 : -0.1;
        });
        const sim::Record* before = &window.stage().record();
        while (&window.stage().record() == before)
            QCoreApplication::processEvents();
        window.timeline()->viewport()->repaint();
        if (i >= 3) // the first ones load fonts and draw the lanes
            times.push_back(msOf(timer));
    }
    std::ranges::sort(times);
    std::printf("edit of a zone to its new lanes: %.0f ms in the middle, %.0f ms at most of %zu (wanted: 50)\n",
                times[times.size() / 2], times.back(), times.size());
    benchSteps();
}

/// Takes the cursor to any moment and draws it: milliseconds.
double goSomewhere(app::MainWindow& window, std::mt19937& random)
{
    const auto tick = static_cast<std::int64_t>(random() % static_cast<unsigned>(window.stage().record().lastTick()));
    QElapsedTimer timer;
    timer.start();
    window.stage().setCursor(tick);
    window.ground()->repaint();
    window.timeline()->viewport()->repaint();
    return msOf(timer);
}

void benchTenMinutes()
{
    QTemporaryDir folder;
    app::MainWindow window;
    window.resize(viewSize);
    window.show();
    window.openFile(demoCopy(folder));
    longestBlock([&] { return !window.stage().isRerunning(); });
    const double before = megabytesUsed();
    scene::Take take = window.document().take();
    const auto once = take.inputs;
    for (int lap = 1; lap < 24; ++lap)
        for (scene::Input input : once) {
            input.t += lap * 26;
            take.inputs.push_back(input);
        }
    take.length = 600;
    window.document().setTake(QStringLiteral("Ten minutes"), take);
    longestBlock([&] { return !window.stage().isRerunning() && window.stage().record().seconds() > 599; });
    const double held = megabytesUsed() - before;
    window.selection().choosePiece("courier"); // its trail is drawn too
    QCoreApplication::processEvents();
    std::mt19937 random{3};
    std::vector<double> times;
    for (int i = 0; i < 303; ++i) {
        const double took = goSomewhere(window, random);
        if (i >= 3) // the first ones load fonts and draw the lanes
            times.push_back(took);
    }
    std::ranges::sort(times);
    std::printf(
        "scrub a 10 minute record (%zu lines): %.1f ms in the middle, %.1f ms at most of %zu (wanted: 16); it holds "
        "%.0f MB (wanted: 200)\n",
        window.stage().record().journal.lines.size(), times[times.size() / 2], times.back(), times.size(), held);
}

/// A record of a million lines: a hundred timers that elapse in each tick, with a snare at each.
scene::Scene manyLines()
{
    std::string text = R"({"format": "fresh-snare-scene", "version": 1, "rate": 60, "pieces": [)";
    for (int i = 0; i < 100; ++i)
        text += fmt::format(
            R"({}{{"id": "m{}", "at": [{}, 0], "properties": {{"n": 0}}, "timers": [{{"id": "t", "timer": {{"every": 0.001}}}}]}})",
            i ? ", " : "", i, i);
    text += R"(], "snares": [)";
    for (int i = 0; i < 100; ++i)
        text += fmt::format(
            R"({}{{"id": "s{}", "catch": {{"event": "elapsed", "at": "m{}", "source": "t"}}, "filter": {{"when": [{{"left": "self.n", "is": "<", "right": {}}}]}},
                  "responses": [{{"do": "add", "on": "self", "name": "n", "value": 1}}]}})",
            i ? ", " : "", i, i, i % 2 == 0 ? 1000000 : -1);
    text += "]}";
    const auto scene = io::readScene(text, "many lines");
    if (!scene)
        std::fprintf(stderr, "%s\n", scene.error().front().message().c_str());
    return scene.value_or(scene::Scene{});
}

/// How long the moment takes to be told, and how long the cursor to go, in a record of a million
/// lines.
void benchMoment()
{
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("many.snare.json"));
    scene::Take take;
    take.length = 90;
    if (!io::saveText(path.toStdString(), io::sceneText(manyLines())) ||
        !io::saveText(app::takePathFor(path).toStdString(), io::takeText(take)))
        return;
    app::MainWindow window;
    window.resize(viewSize);
    window.show();
    window.openFile(path);
    longestBlock([&] { return !window.stage().isRerunning() && window.stage().record().seconds() > 89; });
    window.selection().chooseSnare("s1", "m1"); // one that always slips
    auto* moment = window.findChild<app::MomentPanel*>();
    std::mt19937 random{3};
    std::vector<double> moments;
    std::vector<double> cursors;
    for (int i = 0; i < 203; ++i) {
        const double all = goSomewhere(window, random);
        QElapsedTimer timer;
        timer.start();
        moment->refresh();
        if (i < 3)
            continue;
        cursors.push_back(all);
        moments.push_back(msOf(timer));
    }
    std::ranges::sort(moments);
    std::ranges::sort(cursors);
    std::printf("a record of %zu lines: the moment is told in %.2f ms in the middle, %.2f ms at most (wanted: 2); the "
                "cursor goes in %.1f ms, %.1f ms at most\n",
                window.stage().record().journal.lines.size(), moments[moments.size() / 2], moments.back(),
                cursors[cursors.size() / 2], cursors.back());
}

/// What a frame of a recording costs after a minute and after an hour: the lanes grow, and are
/// drawn.
void benchRecording()
{
    QTemporaryDir folder;
    const QString path = demoCopy(folder);
    const auto frames = [&](double seconds) {
        app::MainWindow window;
        window.resize(viewSize);
        window.show();
        window.openFile(path);
        scene::Take take = window.document().take();
        const auto once = take.inputs;
        for (int lap = 1; lap * 26 < seconds; ++lap)
            for (scene::Input input : once) {
                input.t += lap * 26;
                take.inputs.push_back(input);
            }
        take.length = seconds;
        window.document().setTake(QStringLiteral("Longer"), take);
        longestBlock([&] { return !window.stage().isRerunning() && window.stage().record().seconds() > seconds - 1; });
        window.stage().setCursor(window.stage().record().lastTick());
        window.stage().startRecording(true);
        std::vector<double> times;
        std::int64_t shown = window.stage().cursor();
        QElapsedTimer frame;
        for (int i = 0; i < 60;) {
            frame.start();
            QCoreApplication::processEvents(); // waits for nothing
            if (window.stage().cursor() == shown)
                continue;
            shown = window.stage().cursor();
            if (++i > 5)
                times.push_back(msOf(frame));
        }
        window.stage().stop();
        std::ranges::sort(times);
        return times[times.size() / 2];
    };
    const double minute = frames(60);
    const double hour = frames(3600);
    std::printf("recording: a frame takes %.1f ms after a minute, %.1f ms after an hour, %.2f times (wanted: 1)\n",
                minute, hour, hour / minute);
}

void benchScrub()
{
    benchTenMinutes();
    benchMoment();
    benchRecording();
}

void benchBlock()
{
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("large.snare.json"));
    scene::Scene large = field(10000, 200);
    if (!io::saveText(path.toStdString(), io::sceneText(large)))
        return;
    scene::Take take;
    take.length = 2;
    if (!io::saveText(app::takePathFor(path).toStdString(), io::takeText(take)))
        return;
    app::MainWindow window;
    window.resize(viewSize);
    window.show();
    QCoreApplication::processEvents();
    const auto settled = [&] { return !window.stage().isRerunning(); };
    double load = 0;
    {
        // While a file loads, the loop turns inside `open`: a timer is the watchdog.
        QElapsedTimer since;
        since.start();
        QTimer dog;
        QObject::connect(&dog, &QTimer::timeout, [&] {
            load = std::max(load, msOf(since));
            since.start();
        });
        dog.start(1);
        window.openFile(path);
        load = std::max(load, msOf(since));
    }
    const double rerun = longestBlock(settled);
    QElapsedTimer timer;
    timer.start();
    window.document().edit(QStringLiteral("Move"), [](scene::Scene& scene) { scene.pieces[5].at.x += 1; });
    const double edit = msOf(timer);
    const double after = longestBlock(settled);
    std::printf(
        "longest block with 10,000 pieces: %.0f ms while opening, %.0f ms while re-running, %.0f ms in an edit, %.0f "
        "ms after it (wanted: 50)\n",
        load, rerun, edit, after);
}

/// Zones, half of whose snares raise a signal that another snare hears.
scene::Scene wired(int snares)
{
    std::mt19937 random{11};
    scene::Scene scene = field(snares / 2, 40);
    for (int i = 0; i < snares; ++i) {
        scene::Snare snare;
        snare.id = fmt::format("snare-{}", i);
        const std::string near = scene.pieces[static_cast<std::size_t>(i / 2)].id;
        if (i % 2 == 0) {
            snare.catches.event.items = {scene::EventKind::enter};
            snare.catches.at = near;
            scene::Signal bell;
            bell.name = fmt::format("bell-{}", i / 2);
            snare.responses.push_back({std::move(bell), {}});
        } else {
            snare.catches.event.items = {scene::EventKind::heard};
            snare.catches.signal = fmt::format("bell-{}", std::max(0, i / 2 - static_cast<int>(random() % 12)));
            snare.responses.push_back({scene::Hide{}, {}});
        }
        scene.snares.push_back(std::move(snare));
    }
    return scene;
}

void benchFlow()
{
    constexpr int snares = 500;
    app::MainWindow window;
    window.resize(viewSize);
    window.show();
    window.document().edit(QStringLiteral("Lay"), [](scene::Scene& scene) { scene = wired(snares); });
    window.selection().choosePiece(window.document().scene().pieces.front().id); // its one card, not those of all
    QElapsedTimer settled;
    settled.start();
    longestBlock([&] { return !window.stage().isRerunning() && settled.elapsed() > 1000; });
    for (QAction* action : window.findChildren<QAction*>())
        if (QString(action->text()).remove(QLatin1Char('&')) == QLatin1String("Show Flow"))
            action->trigger();
    auto* flow = window.findChild<app::FlowView*>();
    QElapsedTimer timer;
    timer.start();
    const double block = longestBlock([&] { return flow->isFresh(); });
    const double laidOut = msOf(timer);
    std::vector<double> times;
    for (const Qt::Orientation along : {Qt::Horizontal, Qt::Vertical}) {
        QScrollBar* bar = along == Qt::Horizontal ? flow->horizontalScrollBar() : flow->verticalScrollBar();
        for (int i = 0; i <= 200; ++i) {
            bar->setValue(bar->minimum() + (bar->maximum() - bar->minimum()) * i / 200);
            timer.start();
            flow->viewport()->repaint();
            times.push_back(msOf(timer));
        }
    }
    double whole = 0; // all of it in view
    for (int i = 0; i < 24; ++i) {
        flow->zoom(i < 12 ? 0.8 : 1.0);
        timer.start();
        flow->viewport()->repaint();
        whole = std::max(whole, i < 12 ? 0 : msOf(timer));
    }
    std::ranges::sort(times);
    std::printf("flow of %d snares (%zu places, %zu lines): there after %.0f ms, the longest block %.0f ms (wanted: "
                "1000, 50); scrolled in "
                "%.1f ms a frame in the middle, %.1f ms at most of %zu; drawn as a whole in %.1f ms (wanted: 16)\n",
                snares, flow->map().flow.nodes.size(), flow->map().flow.edges.size(), laidOut, block,
                times[times.size() / 2], times.back(), times.size(), whole);
}

} // namespace

int main(int argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QStandardPaths::setTestModeEnabled(true);
    QTemporaryDir settings;
    qputenv("XDG_CONFIG_HOME", settings.path().toUtf8());
    QApplication application{argc, argv};
    QCoreApplication::setOrganizationName(QStringLiteral("fresh-snare-bench"));
    QCoreApplication::setApplicationName(QStringLiteral("fresh-snare-bench"));
    snare::app::applyTheme(application);
    const QStringList arguments = application.arguments();
    const QString name = arguments.value(1);
    const std::pair<const char*, void (*)()> all[] = {
        {"paint", benchPaint}, {"edit", benchEdit}, {"scrub", benchScrub}, {"block", benchBlock}, {"flow", benchFlow}};
    for (const auto& [known, run] : all)
        if (name == QLatin1String(known)) {
            run();
            return 0;
        }
    std::fprintf(stderr, "there is no benchmark %s; known: paint, edit, scrub, block, flow\n", qPrintable(name));
    return 2;
}
