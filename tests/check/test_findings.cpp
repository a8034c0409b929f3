// SPDX-License-Identifier: Apache-2.0
/// Every kind of finding: a scene that has it, one that has not, and the fix that makes one of the
/// other.
#include "check/findings.h"
#include "finding_cases.h"
#include "io/document.h"

#include <QTest>

#include <random>

using namespace snare;

namespace {

using namespace tests;

scene::Scene read(const std::string& text)
{
    auto scene = io::readScene(text, "case", [](const std::string& name) {
        return scene::LoadedKit{name, name + " is not there", {}, 0};
    });
    if (!scene)
        qFatal("%s\n%s", scene.error().front().message().c_str(), text.c_str());
    return *scene;
}

std::vector<std::string> idsOf(const scene::Scene& scene)
{
    std::vector<std::string> ids;
    for (const check::Finding& finding : check::findingsOf(scene))
        ids.push_back(std::string(finding.id) + ": " + finding.text);
    return ids;
}

} // namespace

class TestFindings : public QObject {
    Q_OBJECT

  private slots:
    void eachKindIsFoundWhereItIs_data();
    void eachKindIsFoundWhereItIs();
    void theDemosHaveNone();
    void whatIsAcceptedComesLast();
    void theNearestNameIsOffered();
    void whatIsKnownOnlyWhenItRunsIsNoFinding();
    void kitsAreLookedAtToo();
    void randomEditsOfTheDemosAreBorne();
};

void TestFindings::eachKindIsFoundWhereItIs_data()
{
    QTest::addColumn<QString>("id");
    for (const check::FindingRow& row : check::findingRows())
        QTest::newRow(std::string(row.id).c_str()) << QString::fromStdString(std::string(row.id));
}

void TestFindings::eachKindIsFoundWhereItIs()
{
    QFETCH(QString, id);
    const auto all = cases();
    const auto one = all.find(id.toStdString());
    QVERIFY2(one != all.end(), "this kind has no scene");
    const scene::Scene bad = read(one->second.bad);
    const std::vector<check::Finding> findings = check::findingsOf(bad);
    const auto found = std::ranges::find(findings, one->first, &check::Finding::id);
    std::string others;
    for (const check::Finding& finding : findings)
        others += finding.text + "; ";
    QVERIFY2(found != findings.end(), others.c_str());
    QVERIFY(!found->text.empty() && !check::rowOf(found->id).why.empty());
    // Nothing else is said of it.
    QVERIFY2(findings.size() == 1, others.c_str());
    // Without the mistake there is none at all.
    const auto none = idsOf(read(one->second.good));
    QVERIFY2(none.empty(), none.empty() ? "" : none.front().c_str());
    if (!found->fix)
        return;
    scene::Scene fixed = bad;
    found->fix->apply(fixed);
    QVERIFY2(!(fixed == bad), found->fix->text.c_str());
    const auto after = check::findingsOf(fixed);
    QVERIFY2(std::ranges::find(after, one->first, &check::Finding::id) == after.end(), found->fix->text.c_str());
}

void TestFindings::theDemosHaveNone()
{
    std::size_t demos = 0;
    for (const auto& entry : std::filesystem::directory_iterator{SNARE_DEMO_FOLDER}) {
        if (!entry.path().string().ends_with(".snare.json"))
            continue;
        const auto scene = io::loadScene(entry.path());
        QVERIFY(scene);
        const auto ids = idsOf(*scene);
        QVERIFY2(ids.empty(), ids.empty() ? "" : (entry.path().filename().string() + ": " + ids.front()).c_str());
        ++demos;
    }
    QVERIFY(demos > 10);
}

void TestFindings::whatIsAcceptedComesLast()
{
    scene::Scene scene =
        read(quay({}, rule("a", enter, {}) + ", " +
                          rule("b", R"("event": "exit", "at": "plate")", R"({"do": "hide", "on": "nobody"})")));
    auto findings = check::findingsOf(scene);
    QCOMPARE(findings.size(), std::size_t{2});
    QCOMPARE(findings[0].id, std::string_view("no-piece")); // errors first
    scene.accepted.push_back(check::acceptance(findings[0], "it comes with the next chart"));
    // It is kept in the file, and is told with its reason, last.
    scene = read(io::sceneText(scene));
    findings = check::findingsOf(scene);
    QCOMPARE(findings.back().id, std::string_view("no-piece"));
    QCOMPARE(findings.back().accepted, std::string("it comes with the next chart"));
    QVERIFY(findings.front().accepted.empty());
    // Another word in the same place is another finding.
    std::get<scene::Hide>(scene::findSnare(scene, "b")->responses[0].kind).on.names = {"somebody"};
    QVERIFY(check::findingsOf(scene).front().accepted.empty() && check::findingsOf(scene).back().accepted.empty());
}

void TestFindings::theNearestNameIsOffered()
{
    scene::Scene scene =
        read(quay({}, rule("a", enter, R"({"do": "hide", "on": "Crate"}, {"do": "hide", "on": "xyzzy"})")));
    const auto findings = check::findingsOf(scene);
    QCOMPARE(findings.size(), std::size_t{2});
    QCOMPARE(findings[0].place.response, 0);
    QCOMPARE(findings[0].place.field, std::string("on"));
    QCOMPARE(findings[0].fix->text, std::string("Use crate"));
    QVERIFY(!findings[1].fix); // nothing is near
    findings[0].fix->apply(scene);
    QCOMPARE(std::get<scene::Hide>(scene::findSnare(scene, "a")->responses[0].kind).on.names.front(),
             std::string("crate"));
}

void TestFindings::whatIsKnownOnlyWhenItRunsIsNoFinding()
{
    // A tag and a group that a script gives, a signal whose name is worked out, a piece that a
    // property names.
    const auto none =
        idsOf(read(quay({}, rule("a", enter, R"({"do": "script", "lua": "self.mark = 'late'"},
        {"do": "tag", "on": "visitor", "tag": {"get": "self.mark"}}, {"do": "signal", "name": {"get": "self.mark"}})") +
                                ", " +
                                rule("b", R"("event": "exit", "at": "plate")", R"({"do": "hide", "on": "self.held"})",
                                     R"("filter": {"tags": {"any": ["late"]}}, )") +
                                ", " + rule("c", R"("event": "heard", "signal": "late")", hide))));
    QVERIFY2(none.empty(), none.empty() ? "" : none.front().c_str());
}

void TestFindings::kitsAreLookedAtToo()
{
    auto kit = io::readKit(
        R"({"format": "fresh-snare-kit", "version": 1, "snares": [)" +
            rule("k", R"("event": "enter", "at": "tag:nothing")", R"({"do": "run", "routine": "gone"})") + "]}",
        "k");
    QVERIFY(kit);
    const auto scene = io::readScene(quay({}, {}, R"("kits": ["own.kit.json"], )"), "s", [&](const std::string& name) {
        return scene::LoadedKit{name, {}, *kit, 0};
    });
    QVERIFY(scene);
    const auto findings = check::findingsOf(*scene);
    QCOMPARE(findings.size(), std::size_t{2});
    for (const check::Finding& finding : findings)
        QCOMPARE(finding.place.home, std::string("own.kit.json"));
}

/// Fields taken away, texts and numbers changed: whatever can still be read can be looked at, and
/// its fixes applied.
void TestFindings::randomEditsOfTheDemosAreBorne()
{
    std::mt19937 dice{static_cast<unsigned>(qEnvironmentVariableIntValue("SNARE_SEED"))};
    const auto pick = [&](std::size_t below) { return std::uniform_int_distribution<std::size_t>{0, below - 1}(dice); };
    std::vector<std::string> texts;
    for (const auto& entry : std::filesystem::directory_iterator{SNARE_DEMO_FOLDER})
        if (entry.path().string().ends_with(".snare.json"))
            texts.push_back(*io::loadText(entry.path()));
    std::ranges::sort(texts); // folders have no order
    int looked = 0;
    for (int round = 0; round < 1500; ++round) {
        std::string text = texts[pick(texts.size())];
        // One word of the scene stands somewhere else.
        std::vector<std::pair<std::size_t, std::size_t>> words;
        for (std::size_t at = text.find('"'); at != std::string::npos; at = text.find('"', at + 1)) {
            const auto end = text.find('"', at + 1);
            if (end + 1 < text.size() && text[end + 1] != ':') // a value
                words.emplace_back(at, end - at + 1);
            at = end;
        }
        for (int times = 0; times < 1 + round % 3; ++times) {
            const auto from = words[pick(words.size())];
            const auto to = words[pick(words.size())];
            if (to.first + to.second > text.size() || from.first + from.second > text.size())
                continue;
            text.replace(to.first, to.second, text.substr(from.first, from.second));
        }
        auto scene = io::readScene(text, "random", io::kitsIn(SNARE_DEMO_FOLDER));
        if (!scene)
            continue;
        ++looked;
        for (const check::Finding& finding : check::findingsOf(*scene))
            if (finding.fix) {
                scene::Scene fixed = *scene;
                finding.fix->apply(fixed);
                const std::string saved = io::sceneText(fixed);
                QVERIFY2(io::readScene(saved, "fixed", io::kitsIn(SNARE_DEMO_FOLDER)), finding.fix->text.c_str());
                check::findingsOf(fixed);
            }
    }
    QVERIFY(looked > 200);
}

QTEST_GUILESS_MAIN(TestFindings)
#include "test_findings.moc"
