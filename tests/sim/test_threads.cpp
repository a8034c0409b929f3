// SPDX-License-Identifier: Apache-2.0
/// Re-running, saving and loading on several threads at once, as the window does it. For the thread
/// sanitizer.
#include "builder.h"

#include <QTemporaryDir>
#include <QTest>
#include <atomic>
#include <thread>

using namespace snare;
using namespace snare::tests;

class TestThreads : public QObject {
    Q_OBJECT

  private slots:
    void aSceneIsRunSavedAndLoadedOnSeveralThreads();
    void aRunIsCancelledFromOutside();
};

void TestThreads::aSceneIsRunSavedAndLoadedOnSeveralThreads()
{
    const QTemporaryDir folder;
    for (const char* name : {"weigh-in", "duty-slips", "berths"}) {
        const std::string path = std::string(SNARE_DEMO_FOLDER "/") + name;
        const auto scene = std::make_shared<const scene::Scene>(*io::loadScene(path + ".snare.json"));
        const scene::Take take = *io::loadTake(path + ".take.json");
        std::array<std::string, 3> logs;
        std::vector<std::thread> threads;
        for (std::string& log : logs)
            threads.emplace_back([&log, scene, take] { log = io::logText(sim::rerun(scene, take)); });
        std::atomic<bool> saved = true;
        threads.emplace_back([&, scene] {
            for (int i = 0; i < 5; ++i) {
                const std::string file = folder.filePath("copy.snare.json").toStdString();
                if (!io::saveText(file, io::sceneText(*scene)) || !io::readScene(*io::loadText(file), file))
                    saved = false;
            }
        });
        threads.emplace_back([&] { saved = saved && io::loadScene(path + ".snare.json").has_value(); });
        for (std::thread& thread : threads)
            thread.join();
        QVERIFY(saved);
        QVERIFY(logs[0] == logs[1] && logs[1] == logs[2] && !logs[0].empty());
    }
}

void TestThreads::aRunIsCancelledFromOutside()
{
    const std::string path = SNARE_DEMO_FOLDER "/weigh-in";
    const auto scene = std::make_shared<const scene::Scene>(*io::loadScene(path + ".snare.json"));
    const scene::Take take = *io::loadTake(path + ".take.json");
    std::atomic<bool> cancelled = false;
    sim::Record record;
    std::thread runs([&] { record = sim::rerun(scene, take, {.seconds = 50'000, .cancelled = &cancelled}); });
    cancelled = true;
    runs.join(); // the test does not end if it is not heeded
    QVERIFY(record.lastTick() < 50'000 * 60);
}

QTEST_APPLESS_MAIN(TestThreads)
#include "sim/recorder.h"
#include "test_threads.moc"
