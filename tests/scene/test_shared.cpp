// SPDX-License-Identifier: Apache-2.0
/// Lists whose copies share their entries: an edit costs what it changes, and no copy sees what
/// another one does.
#include "scene/scene.h"

#include <QTest>

#include <random>
#include <thread>

using namespace snare;
using scene::SharedList;

class TestShared : public QObject {
    Q_OBJECT

  private slots:
    void aCopyIsNotChangedWithTheOther();
    void onlyWhatIsChangedIsCopied();
    void whatWasOnlyLookedAtIsSharedAgain();
    void templatesAreSharedToo();
    void doesWhatAVectorDoes();
    void copiesAreUsedInSeveralThreads();
};

namespace {

scene::Scene withPieces(int count)
{
    scene::Scene scene;
    for (int i = 0; i < count; ++i) {
        scene::Piece piece;
        piece.id = "barrel-" + std::to_string(i);
        scene.pieces.push_back(piece);
    }
    return scene;
}

} // namespace

void TestShared::aCopyIsNotChangedWithTheOther()
{
    scene::Scene scene = withPieces(3);
    const scene::Scene before = scene;
    scene::findPiece(scene, "barrel-1")->at = {4, 5};
    QVERIFY(before.pieces[1].at == scene::Vec(0, 0));
    QVERIFY(scene.pieces[1].at == scene::Vec(4, 5));
    QVERIFY(scene != before);
    scene::findPiece(scene, "barrel-1")->at = {0, 0};
    QVERIFY(scene == before); // equal, though not the same entry any more
}

void TestShared::onlyWhatIsChangedIsCopied()
{
    scene::Scene scene = withPieces(1000);
    const scene::Scene before = scene;
    QCOMPARE(scene.pieces.countShared(before.pieces), std::size_t{1000});
    scene::findPiece(scene, "barrel-700")->layer = 2;
    QCOMPARE(scene.pieces.countShared(before.pieces), std::size_t{999});
    // Once it is its own, it stays where it is.
    const scene::Piece* own = scene::findPiece(scene, "barrel-700");
    QCOMPARE(scene::findPiece(scene, "barrel-700"), own);
}

void TestShared::whatWasOnlyLookedAtIsSharedAgain()
{
    scene::Scene scene = withPieces(10);
    const scene::Scene before = scene;
    for (scene::Piece& piece : scene.pieces) // as whoever may change them all
        if (piece.id == "barrel-3")
            piece.layer = 1;
    QCOMPARE(scene.pieces.countShared(before.pieces), std::size_t{0});
    scene.pieces.shareWith(before.pieces);
    QCOMPARE(scene.pieces.countShared(before.pieces), std::size_t{9});
    QCOMPARE(scene.pieces[3].layer, 1);
}

void TestShared::templatesAreSharedToo()
{
    scene::Scene scene;
    for (const char* name : {"cask", "gull", "post"})
        scene.templates.set(name, {});
    const scene::Scene before = scene;
    scene.templates.find("gull")->model.layer = 3;
    QCOMPARE(scene.templates.entries.countShared(before.templates.entries), std::size_t{2});
    QCOMPARE(before.templates.find("gull")->model.layer, 0);
    QCOMPARE(std::as_const(scene.templates).find("gull")->model.layer, 3);
    QVERIFY(!scene.templates.find("buoy"));
    scene.templates.set("cask", {}); // as it was
    scene.templates.entries.shareWith(before.templates.entries);
    QCOMPARE(scene.templates.entries.countShared(before.templates.entries), std::size_t{2});
}

void TestShared::doesWhatAVectorDoes()
{
    // Everything at random, beside a vector; and a copy from before each step that must stay as it
    // was.
    std::mt19937 dice{7};
    SharedList<int> list;
    std::vector<int> plain;
    for (int step = 0; step < 3000; ++step) {
        const SharedList<int> before = list;
        const std::vector<int> was = plain;
        const auto any = [&] { return plain.empty() ? 0 : dice() % plain.size(); };
        const auto at = static_cast<std::ptrdiff_t>(any());
        switch (dice() % 8) {
        case 0:
        case 1:
            list.push_back(step);
            plain.push_back(step);
            break;
        case 2:
            list.insert(list.begin() + at, step);
            plain.insert(plain.begin() + at, step);
            break;
        case 3:
            if (!plain.empty()) {
                list.erase(list.begin() + at);
                plain.erase(plain.begin() + at);
            }
            break;
        case 4:
            if (!plain.empty())
                list[static_cast<std::size_t>(at)] = plain[static_cast<std::size_t>(at)] = -step;
            break;
        case 5:
            if (!plain.empty()) {
                const auto to = static_cast<std::ptrdiff_t>(any());
                list.move(static_cast<std::size_t>(at), static_cast<std::size_t>(to));
                const int moved = plain[static_cast<std::size_t>(at)];
                plain.erase(plain.begin() + at);
                plain.insert(plain.begin() + to, moved);
            }
            break;
        case 6:
            if (plain.size() > 40) {
                const auto third = [](int value) { return value % 3 == 0; };
                QCOMPARE(erase_if(list, third), std::erase_if(plain, third));
            }
            break;
        default:
            list.sort([](int a, int b) { return a % 10 < b % 10; });
            std::stable_sort(plain.begin(), plain.end(), [](int a, int b) { return a % 10 < b % 10; });
        }
        QVERIFY(std::ranges::equal(std::as_const(list), plain));
        QVERIFY(std::ranges::equal(before, was));
        QCOMPARE(list == before, plain == was);
    }
    QVERIFY(!plain.empty());
}

void TestShared::copiesAreUsedInSeveralThreads()
{
    // As the window edits while its last state is saved elsewhere. The thread sanitizer looks at
    // it, too.
    scene::Scene scene = withPieces(50);
    std::vector<std::thread> readers;
    for (int round = 0; round < 50; ++round) {
        readers.emplace_back([copy = scene] {
            std::size_t letters = 0;
            for (const scene::Piece& piece : copy.pieces)
                letters += piece.id.size() + static_cast<std::size_t>(piece.layer);
            if (letters == 0)
                std::abort();
        });
        for (std::size_t i = 0; i < scene.pieces.size(); i += 3)
            scene.pieces[i].layer += 1;
    }
    for (std::thread& reader : readers)
        reader.join();
    QCOMPARE(scene.pieces[0].layer, 50);
    QCOMPARE(scene.pieces[1].layer, 0);
}

QTEST_APPLESS_MAIN(TestShared)
#include "test_shared.moc"
