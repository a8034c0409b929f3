// SPDX-License-Identifier: Apache-2.0
/// By force: the application is killed, disks are full, folders cannot be written, files change
/// under it. What was saved stays whole, what was not saved is offered back, and nothing is
/// replaced unasked.
///
/// SNARE_KILLS says how often the application is killed (20); SNARE_SEED where the dice begin.
#include "answering.h"
#include "app/model/rescue.h"
#include "window_fixture.h"

#include <QAbstractButton>
#include <QDir>
#include <QDirIterator>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QScopeGuard>

#include <csignal>
#include <random>
#include <sys/resource.h>

using namespace snare;
using namespace snare::tests;

namespace {

bool write(const QString& path, const QByteArray& content)
{
    QFile file{path};
    return file.open(QIODevice::WriteOnly) && file.write(content) == content.size();
}

/// Files of this process can grow to so many bytes, as on a full disk.
class SmallDisk {
  public:
    explicit SmallDisk(rlim_t bytes)
    {
        std::signal(SIGXFSZ, SIG_IGN); // writing fails instead
        getrlimit(RLIMIT_FSIZE, &before_);
        const rlimit less{bytes, before_.rlim_max};
        setrlimit(RLIMIT_FSIZE, &less);
    }
    ~SmallDisk() { setrlimit(RLIMIT_FSIZE, &before_); }
    SmallDisk(const SmallDisk&) = delete;
    SmallDisk& operator=(const SmallDisk&) = delete;

  private:
    rlimit before_{};
};

void duplicate(Bench& bench)
{
    bench.window.selection().choosePiece("lamp");
    bench.key(Qt::Key_D, Qt::ControlModifier);
}

void save(Bench& bench)
{
    bench.key(Qt::Key_S, Qt::ControlModifier);
}

/// Saves and answers whatever is asked with that button: how often something was asked.
qsizetype saidWhenSaving(Bench& bench, const QString& button, const QString& about = {})
{
    const Answering answering{button};
    save(bench);
    for (const QString& question : answering.said)
        if (!question.contains(about))
            qFatal("asked about something else: %s", qPrintable(question));
    return answering.said.size();
}

} // namespace

class TestForce : public QObject {
    Q_OBJECT

  private slots:
    void killedAtAnyMomentNothingSavedIsLost();
    void aFullDiskLeavesWhatWasThere();
    void whatWasSavedOfSeveralFilesIsKnown();
    void aFullFileSystemLeavesWhatWasThere();
    void aFolderThatIsGoneIsSaid();
    void whatAnotherProgramChangedIsNotReplacedUnasked();
    void whatAnotherProgramChangedCanBeOpenedAnew();
    void aRemovedFileIsWrittenAgain();
    void twoWindowsOnOneSceneAsk();
    void savingElsewhereAsksAboutTakesThatAreThere();
    void aTakeThatCannotBeReadIsNotReplacedUnasked();
};

void TestForce::killedAtAnyMomentNothingSavedIsLost()
{
    if (QGuiApplication::platformName() != QLatin1String("xcb"))
        QSKIP("needs an X server");
    const int kills = qEnvironmentVariableIsSet("SNARE_KILLS") ? qEnvironmentVariableIntValue("SNARE_KILLS") : 20;
    std::mt19937 dice{static_cast<unsigned>(qEnvironmentVariableIntValue("SNARE_SEED"))};
    QTemporaryDir folder;
    QTemporaryDir home;
    const QString path = folder.filePath(QStringLiteral("weigh-in.snare.json"));
    for (const char* ending : {".snare.json", ".take.json"})
        QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/weigh-in") + QLatin1String(ending),
                    folder.filePath(QStringLiteral("weigh-in") + QLatin1String(ending)));
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    for (const char* name : {"HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"})
        environment.insert(QLatin1String(name), home.path());
    std::size_t saved = io::loadScene(path.toStdString())->pieces.size();
    int rescued = 0;
    const auto rescues = [&home] {
        QStringList result;
        QDirIterator left{home.path(), {QStringLiteral("*.rescue")}, QDir::Files, QDirIterator::Subdirectories};
        while (left.hasNext())
            result << left.next();
        return result;
    };
    const auto piecesIn = [](const QString& file) {
        const auto scene = io::loadScene(file.toStdString());
        return scene ? scene->pieces.size() : 0;
    };
    // What was kept aside before a save goes with it: only what has more than the file counts.
    const auto keptAside = [&rescues] {
        std::size_t most = 0;
        for (const QString& left : rescues()) {
            const QJsonObject kept = QJsonDocument::fromJson(contentOf(left)).object();
            const auto scene = io::readScene(kept[QStringLiteral("scene")].toString().toStdString(), "rescue");
            most = std::max(most, scene ? scene->pieces.size() : 0);
        }
        return most;
    };
    for (int kill = 0; kill < kills; ++kill) {
        QProcess application;
        application.setProcessEnvironment(environment);
        application.start(QStringLiteral(SNARE_APP_BINARY), {path});
        QVERIFY(application.waitForStarted());
        const auto hands = [&](const QStringList& what) {
            return QProcess::execute(QStringLiteral("timeout"),
                                     QStringList{QStringLiteral("20"), QStringLiteral("xdotool")} + what) == 0;
        };
        const QString pid = QString::number(application.processId());
        // A window that comes up may be another one a moment later: again, then.
        QVERIFY(QTest::qWaitFor(
            [&] {
                return hands({QStringLiteral("search"), QStringLiteral("--sync"), QStringLiteral("--onlyvisible"),
                              QStringLiteral("--pid"), pid, QStringLiteral("--name"), QStringLiteral("Fresh Snare"),
                              QStringLiteral("windowactivate"), QStringLiteral("--sync"), QStringLiteral("mousemove"),
                              QStringLiteral("--window"), QStringLiteral("%1"), QStringLiteral("200"),
                              QStringLiteral("320"), QStringLiteral("click"), QStringLiteral("1")});
            },
            90000));
        // Once it is known what a save leaves, anything may happen until it is killed.
        const QByteArray before = contentOf(path);
        QVERIFY(hands(
            {QStringLiteral("key"), QStringLiteral("ctrl+a"), QStringLiteral("ctrl+d"), QStringLiteral("ctrl+s")}));
        if (kill < 3) { // else it might be killed before it has done anything
            QVERIFY2(QTest::qWaitFor([&] { return contentOf(path) != before; }, 60000), "it does not save");
            const auto now = io::loadScene(path.toStdString());
            QVERIFY(now.has_value());
            saved = now->pieces.size();
        }
        QStringList keys{QStringLiteral("key"), QStringLiteral("--delay"), QString::number(dice() % 30)};
        const QStringList all{QStringLiteral("ctrl+d"), QStringLiteral("ctrl+s"), QStringLiteral("Right"),
                              QStringLiteral("ctrl+z"), QStringLiteral("r"),      QStringLiteral("Escape"),
                              QStringLiteral("ctrl+s"), QStringLiteral("space"),  QStringLiteral("Delete")};
        const bool waits = kill % 7 == 3; // until what is not saved is kept aside
        if (waits)
            keys << QStringLiteral("ctrl+a") << QStringLiteral("ctrl+d");
        for (unsigned i = waits ? 0 : dice() % 16; i-- > 0;)
            keys << all[static_cast<qsizetype>(dice() % static_cast<unsigned>(all.size()))];
        if (keys.size() > 3)
            hands(keys);
        if (waits)
            QVERIFY2(QTest::qWaitFor([&] { return keptAside() > piecesIn(path); }, 60000),
                     "unsaved work is not kept aside");
        QCOMPARE(::kill(static_cast<pid_t>(application.processId()), SIGKILL), 0);
        QVERIFY(application.waitForFinished(10000));
        // The scene and all its takes are whole: as they were, or as a save made them.
        const auto scene = io::loadScene(path.toStdString());
        QVERIFY2(scene.has_value(), scene ? "" : scene.error().front().message().c_str());
        QVERIFY(!scene->pieces.empty() || saved == 0);
        for (const QString& take : QDir{folder.path()}.entryList({QStringLiteral("*.take.json")})) {
            const auto one = io::loadTake(folder.filePath(take).toStdString());
            QVERIFY2(one.has_value(), one ? "" : one.error().front().message().c_str());
        }
        // What it left of its unsaved work can be read.
        for (const QString& left : rescues()) {
            const QJsonObject kept = QJsonDocument::fromJson(contentOf(left)).object();
            const auto unsaved = io::readScene(kept[QStringLiteral("scene")].toString().toStdString(), "rescue");
            QVERIFY2(unsaved.has_value(), unsaved ? "" : unsaved.error().front().message().c_str());
            QVERIFY(!waits || unsaved->pieces.size() > scene->pieces.size());
            QVERIFY(QFile::remove(left));
            ++rescued;
        }
        // It does not grow without end.
        if (scene->pieces.size() > 400) {
            QFile::remove(path);
            QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/weigh-in.snare.json"), path);
        }
    }
    QVERIFY(rescued >= (kills + 3) / 7);
    qInfo("killed %d times; files of unsaved work looked at: %d", kills, rescued);
}

void TestForce::aFullDiskLeavesWhatWasThere()
{
    Bench bench;
    bench.openDemo();
    const QString path = bench.window.document().filePath();
    const QByteArray before = contentOf(path);
    const QByteArray takeBefore = contentOf(app::takePathFor(path));
    duplicate(bench);
    QVERIFY(bench.window.document().isDirty());
    {
        const SmallDisk disk{2000};
        save(bench);
        QVERIFY2(bench.window.shownProblem().contains(QStringLiteral("weigh-in.snare.json")),
                 qPrintable(bench.window.shownProblem()));
        QVERIFY(bench.window.document().isDirty());
        QCOMPARE(contentOf(path), before);
        QCOMPARE(contentOf(app::takePathFor(path)), takeBefore);
    }
    // Once there is room again, it is saved.
    save(bench);
    QVERIFY(!bench.window.document().isDirty());
    QVERIFY(contentOf(path) != before);
    QCOMPARE(QDir{bench.folder.path()}.entryList(QDir::Files).size(), 2); // nothing half written is left
}

void TestForce::whatWasSavedOfSeveralFilesIsKnown()
{
    // There is room for the scene, not for its take: the scene is not taken for somebody else's
    // afterwards.
    Bench bench;
    bench.openDemo();
    const QString path = bench.window.document().filePath();
    scene::Take take = bench.window.document().take();
    for (int i = 0; i < 2000; ++i)
        take.inputs.push_back(keyAt(1 + i * 0.01, "e", i % 2 == 0));
    bench.window.document().setTake(QStringLiteral("Many presses"), take);
    duplicate(bench);
    const auto room = static_cast<rlim_t>(io::sceneText(bench.window.document().scene()).size() + 2000);
    QVERIFY(io::takeText(take).size() > room);
    {
        const SmallDisk disk{room};
        save(bench);
        QVERIFY2(bench.window.shownProblem().contains(QStringLiteral("weigh-in.take.json")),
                 qPrintable(bench.window.shownProblem()));
        QVERIFY(bench.window.document().isDirty());
    }
    QCOMPARE(bench.window.document().wouldReplace(path), QStringList());
    save(bench);
    QVERIFY(!bench.window.document().isDirty());
    QVERIFY(*io::loadTake(app::takePathFor(path).toStdString()) == bench.window.document().take());
}

void TestForce::aFullFileSystemLeavesWhatWasThere()
{
    QTemporaryDir folder;
    const auto run = [](const QString& program, const QStringList& arguments) {
        QProcess process;
        process.start(program, arguments);
        return process.waitForFinished(10000) && process.exitCode() == 0;
    };
    if (!run(QStringLiteral("mount"), {QStringLiteral("-t"), QStringLiteral("tmpfs"), QStringLiteral("-o"),
                                       QStringLiteral("size=256k"), QStringLiteral("none"), folder.path()}))
        QSKIP("no file system can be mounted here");
    const auto unmount = qScopeGuard([&] { run(QStringLiteral("umount"), {folder.path()}); });
    {
        Bench bench;
        const QString path = folder.filePath(QStringLiteral("weigh-in.snare.json"));
        for (const char* ending : {".snare.json", ".take.json"})
            QFile::copy(QStringLiteral(SNARE_DEMO_FOLDER "/weigh-in") + QLatin1String(ending),
                        folder.filePath(QStringLiteral("weigh-in") + QLatin1String(ending)));
        QVERIFY(bench.window.openFile(path));
        bench.settle();
        const QByteArray before = contentOf(path);
        duplicate(bench);
        QFile ballast{folder.filePath(QStringLiteral("ballast"))};
        QVERIFY(ballast.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
        const QByteArray block(1024, 'x');
        while (ballast.write(block) == block.size()) {
        }
        save(bench);
        QVERIFY(!bench.window.shownProblem().isEmpty());
        QVERIFY(bench.window.document().isDirty());
        QCOMPARE(contentOf(path), before);
        QVERIFY(ballast.remove());
        save(bench);
        QVERIFY(!bench.window.document().isDirty());
        QVERIFY(io::loadScene(path.toStdString()).has_value());
    }
}

void TestForce::aFolderThatIsGoneIsSaid()
{
    Bench bench;
    bench.openDemo();
    const QString path = bench.window.document().filePath();
    duplicate(bench);
    QVERIFY(QDir{bench.folder.path()}.removeRecursively());
    save(bench);
    QVERIFY(!bench.window.shownProblem().isEmpty());
    QVERIFY(bench.window.document().isDirty());
    QVERIFY(QDir{}.mkpath(bench.folder.path()));
    save(bench);
    QVERIFY(!bench.window.document().isDirty());
    QVERIFY(io::loadScene(path.toStdString()).has_value());
    // Where nothing can be made at all.
    QVERIFY(!bench.window.document().save(QStringLiteral("/proc/weigh-in.snare.json")));
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("/proc/weigh-in.snare.json")));
    QCOMPARE(bench.window.document().filePath(), path);
}

void TestForce::whatAnotherProgramChangedIsNotReplacedUnasked()
{
    Bench bench;
    bench.openDemo();
    const QString path = bench.window.document().filePath();
    QByteArray theirs = contentOf(path);
    theirs.replace("\"scale\"", "\"balance\"");
    duplicate(bench);
    QVERIFY(write(path, theirs));
    QCOMPARE(saidWhenSaving(bench, QStringLiteral("Cancel"), QStringLiteral("weigh-in.snare.json")), 1);
    QCOMPARE(contentOf(path), theirs);
    QVERIFY(bench.window.document().isDirty());
    QCOMPARE(saidWhenSaving(bench, QStringLiteral("Replace")), 1);
    QCOMPARE(saidWhenSaving(bench, QStringLiteral("Replace")), 0); // what it wrote itself is not asked about
    QVERIFY(!bench.window.document().isDirty());
    QVERIFY(contentOf(path) != theirs);
    // A take that another program wrote is not replaced either.
    const QString take = app::takePathFor(path);
    const QByteArray theirTake = contentOf(take) + "\n";
    QVERIFY(write(take, theirTake));
    duplicate(bench);
    QCOMPARE(saidWhenSaving(bench, QStringLiteral("Cancel"), QStringLiteral("weigh-in.take.json")), 1);
    QCOMPARE(contentOf(take), theirTake);
}

void TestForce::whatAnotherProgramChangedCanBeOpenedAnew()
{
    Bench bench;
    bench.openDemo();
    const QString path = bench.window.document().filePath();
    QByteArray theirs = contentOf(path);
    theirs.replace("\"scale\"", "\"balance\"");
    QVERIFY(write(path, theirs));
    QTRY_VERIFY_WITH_TIMEOUT(bench.window.shownProblem().contains(QStringLiteral("weigh-in.snare.json")), 10000);
    auto* offer = bench.window.findChild<QAbstractButton*>(QStringLiteral("problemOffer"));
    QVERIFY(offer && offer->isVisible());
    QVERIFY(!scene::findPiece(bench.window.document().scene(), "balance"));
    QTest::mouseClick(offer, Qt::LeftButton);
    QVERIFY(scene::findPiece(bench.window.document().scene(), "balance"));
    QVERIFY(bench.window.shownProblem().isEmpty());
}

void TestForce::aRemovedFileIsWrittenAgain()
{
    Bench bench;
    bench.openDemo();
    const QString path = bench.window.document().filePath();
    duplicate(bench);
    QVERIFY(QFile::remove(path));
    save(bench);
    QVERIFY(!bench.window.document().isDirty());
    const auto scene = io::loadScene(path.toStdString());
    QVERIFY(scene && *scene == bench.window.document().scene());
}

void TestForce::twoWindowsOnOneSceneAsk()
{
    Bench bench;
    bench.openDemo();
    const QString path = bench.window.document().filePath();
    app::MainWindow other;
    other.show();
    QVERIFY(QTest::qWaitForWindowExposed(&other));
    QVERIFY(other.openFile(path));
    other.document().edit(QStringLiteral("Rename"), [](scene::Scene& scene) { scene.name = "the other"; });
    bench.window.activateWindow();
    QVERIFY(QTest::qWaitForWindowActive(&bench.window));
    duplicate(bench);
    save(bench);
    QVERIFY(!bench.window.document().isDirty());
    const QByteArray ours = contentOf(path);
    // The other hears of it, and does not replace it.
    QTRY_VERIFY2_WITH_TIMEOUT(other.shownProblem().contains(QStringLiteral("not saved")),
                              qPrintable(other.shownProblem() + QStringLiteral("; ") + bench.window.shownProblem()),
                              10000);
    Answering answering{QStringLiteral("Cancel")};
    other.activateWindow();
    QVERIFY(QTest::qWaitForWindowActive(&other));
    other.ground()->setFocus();
    QTest::keyClick(other.ground(), Qt::Key_S, Qt::ControlModifier);
    QCOMPARE(answering.said.size(), 1);
    QCOMPARE(contentOf(path), ours);
    QVERIFY(other.document().isDirty());
}

void TestForce::savingElsewhereAsksAboutTakesThatAreThere()
{
    Bench bench;
    bench.openDemo();
    const QString there = bench.folder.filePath(QStringLiteral("elsewhere.snare.json"));
    QVERIFY(write(app::takePathFor(there), "another scene's take"));
    QCOMPARE(bench.window.document().wouldReplace(there), QStringList{app::takePathFor(there)});
    QVERIFY(write(there, "another scene"));
    QCOMPARE(bench.window.document().wouldReplace(there), (QStringList{there, app::takePathFor(there)}));
    QCOMPARE(bench.window.document().wouldReplace(bench.window.document().filePath()), QStringList());
}

void TestForce::aTakeThatCannotBeReadIsNotReplacedUnasked()
{
    Bench bench;
    bench.openDemo();
    const QString path = bench.window.document().filePath();
    const QString take = app::takePathFor(path);
    const QByteArray half = contentOf(take).left(200); // somebody is in the middle of it
    QVERIFY(write(take, half));
    QVERIFY(bench.window.openFile(path));
    QVERIFY(bench.window.shownProblem().contains(QStringLiteral("take")));
    scene::Take other;
    other.length = 2;
    bench.window.document().setTake(QStringLiteral("Another take"), other);
    QCOMPARE(saidWhenSaving(bench, QStringLiteral("Cancel")), 1);
    QCOMPARE(contentOf(take), half);
    QVERIFY(bench.window.document().isDirty());
}

SNARE_WINDOW_TEST_MAIN(TestForce)
#include "test_force.moc"
