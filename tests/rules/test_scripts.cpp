// SPDX-License-Identifier: Apache-2.0
/// Lua in its box (S14): what it sees, what it may change, and that nothing gets out or goes on for
/// ever.
#include "builder.h"

#include "check/findings.h"
#include "script/sandbox.h"

#include <QTest>

using namespace snare;
using namespace snare::tests;
using script::Sandbox;

namespace {

/// A host whose tables are one list of values, which may be assigned to.
struct Values {
    scene::Named<scene::Scalar> values;
    std::vector<std::string> notes;

    script::Host host()
    {
        script::Host host;
        host.get = [this](std::string_view table, std::string_view name) -> std::optional<scene::Answer> {
            const auto* value = values.find(std::string(table) + "." + std::string(name));
            return value ? std::optional(scene::answerOf(*value)) : std::nullopt;
        };
        host.set = [this](std::string_view table, std::string_view name,
                          scene::Scalar value) -> std::optional<std::string> {
            if (table == "event")
                return "event cannot be assigned to";
            values.set(std::string(table) + "." + std::string(name), std::move(value));
            return std::nullopt;
        };
        host.random = [] { return 0.5; };
        host.note = [this](std::string text) { notes.push_back(std::move(text)); };
        return host;
    }
};

QString shown(const script::Result& result)
{
    if (result.fault)
        return QStringLiteral("line %1: %2").arg(result.fault->line).arg(QString::fromStdString(result.fault->text));
    if (!result.value)
        return QStringLiteral("nil");
    if (const auto* point = std::get_if<geometry::Vec>(&*result.value))
        return QStringLiteral("(%1, %2)").arg(point->x).arg(point->y);
    return std::visit(
        []<class T>(const T& held) {
            if constexpr (std::is_same_v<T, geometry::Vec>)
                return QString();
            else
                return QString::fromStdString(scene::textOf(scene::Scalar{held}));
        },
        *result.value);
}

} // namespace

class TestScripts : public QObject {
    Q_OBJECT

  private slots:
    void expressionsReadTheTables_S14();
    void scriptsAssignToTheTables_S14();
    void nothingOutsideIsInReach_S14_data();
    void nothingOutsideIsInReach_S14();
    void nothingIsLeftForTheNextCall_S14();
    void aCallThatTakesTooMuchIsStopped_S14_data();
    void aCallThatTakesTooMuchIsStopped_S14();
    void faultsTellTheLine();
    void textsAreCheckedBeforeTheyRun();
    void aCardSaysWhatCannotBeRead();
    void sortingAndJoiningWork();
    void aFilterScriptDecides_S2();
    void aScriptThatFailsIsToldAndDoesNotStopTheRun();
    void anEndlessScriptStopsTheRunWithItsSnareAndLine_S14();
    void scriptsUseTheChanceOfTheRun_T3();
};

void TestScripts::expressionsReadTheTables_S14()
{
    Sandbox sandbox;
    Values values;
    values.values.set("self.load", 2.5);
    values.values.set("scene.name", std::string("quay"));
    QCOMPARE(shown(sandbox.evaluate("self.load * 2 + 1", values.host())), QStringLiteral("6"));
    QCOMPARE(shown(sandbox.evaluate("scene.name .. '!' -- a remark", values.host())), QStringLiteral("quay!"));
    QCOMPARE(shown(sandbox.evaluate("visitor.none", values.host())), QStringLiteral("nil"));
    QCOMPARE(shown(sandbox.evaluate("self.load > 2 and scene.name == 'quay'", values.host())), QStringLiteral("true"));
    QCOMPARE(shown(sandbox.evaluate("{x = 1, y = self.load}", values.host())), QStringLiteral("(1, 2.5)"));
}

void TestScripts::scriptsAssignToTheTables_S14()
{
    Sandbox sandbox;
    Values values;
    QCOMPARE(
        shown(sandbox.run("for i = 1, 3 do scene.n = (scene.n or 0) + i end note('n ' .. scene.n)", values.host())),
        QStringLiteral("nil"));
    QCOMPARE(std::get<double>(*values.values.find("scene.n")), 6.0);
    QCOMPARE(values.notes.front(), std::string("n 6.0"));
    QCOMPARE(shown(sandbox.run("\nevent.name = 'x'", values.host())),
             QStringLiteral("line 2: event cannot be assigned to"));
    QCOMPARE(shown(sandbox.run("self.list = {}", values.host())),
             QStringLiteral("line 1: only numbers, texts, true and false can be kept"));
    QVERIFY(sandbox.evaluate("(function() self.n = 1 return 1 end)()", values.host()).fault.has_value());
}

void TestScripts::nothingOutsideIsInReach_S14_data()
{
    QTest::addColumn<QString>("name");
    for (const char* name : {"os",
                             "io",
                             "package",
                             "require",
                             "load",
                             "loadstring",
                             "dofile",
                             "loadfile",
                             "debug",
                             "coroutine",
                             "collectgarbage",
                             "print",
                             "getmetatable",
                             "setmetatable",
                             "rawset",
                             "rawget",
                             "_G",
                             "pcall",
                             "xpcall",
                             "string.dump",
                             "string.gsub",
                             "math.randomseed",
                             "utf8",
                             "table.move"})
        QTest::newRow(name) << QString(name);
}

void TestScripts::nothingOutsideIsInReach_S14()
{
    QFETCH(QString, name);
    Sandbox sandbox;
    Values values;
    QCOMPARE(shown(sandbox.evaluate("type(" + name.toStdString() + ")", values.host())), QStringLiteral("nil"));
}

void TestScripts::nothingIsLeftForTheNextCall_S14()
{
    Sandbox sandbox;
    Values values;
    sandbox.run("kept = 1 string.upper = 2 math.pi = 3 self.fine = 1", values.host());
    QCOMPARE(shown(sandbox.evaluate("type(kept) .. type(string.upper) .. ('a'):upper() .. (math.pi > 3 and 'pi' or '')",
                                    values.host())),
             QStringLiteral("nilfunctionApi"));
    // A function that was made twice is not the same one with what it kept.
    const std::string counts = "(function() n = (n or 0) + 1 return n end)()";
    QCOMPARE(shown(sandbox.evaluate(counts, values.host())), QStringLiteral("1"));
    QCOMPARE(shown(sandbox.evaluate(counts, values.host())), QStringLiteral("1"));
    Sandbox copy = sandbox;
    QCOMPARE(shown(copy.evaluate(counts, values.host())), QStringLiteral("1"));
}

void TestScripts::aCallThatTakesTooMuchIsStopped_S14_data()
{
    QTest::addColumn<QString>("code");
    QTest::newRow("loop") << "while true do end";
    QTest::newRow("recursion") << "local function f() return f() end f()";
    QTest::newRow("text") << "local s = 'x' while true do s = s .. s end";
    QTest::newRow("rep") << "return ('x'):rep(1000000000)";
    QTest::newRow("table") << "local t = {} for i = 1, 100000000 do t[i] = {i} end";
    QTest::newRow("insert at the front") << "local t = {} while true do table.insert(t, 1, 1) end";
    QTest::newRow("many texts") << "local s = ('x'):rep(60000) while true do local u = s:upper() end";
    QTest::newRow("sort") << "local t = {} for i = 1, 200000 do t[i] = -i end while true do table.sort(t) end";
    QTest::newRow("a sort that never ends")
        << "local t = {3, 2, 1} while true do table.sort(t, function() return true end) end";
    QTest::newRow("join")
        << "local t = {} for i = 1, 30000 do t[i] = 'x' end while true do local s = table.concat(t) end";
    QTest::newRow("unpack") << "local t = {} while true do select('#', table.unpack(t, 1, 200)) end";
}

void TestScripts::aCallThatTakesTooMuchIsStopped_S14()
{
    QFETCH(QString, code);
    Sandbox sandbox;
    Values values;
    const auto result = sandbox.run(code.toStdString(), values.host());
    QVERIFY(result.fault.has_value());
    QVERIFY2(result.fault->overran, result.fault->text.c_str());
    // The box can be used again, with all of its budget.
    QCOMPARE(shown(sandbox.evaluate("#('x'):rep(50000)", values.host())), QStringLiteral("50000"));
}

void TestScripts::faultsTellTheLine()
{
    Sandbox sandbox;
    Values values;
    QCOMPARE(shown(sandbox.run("local a = 1\nlocal b = a + self.none", values.host())),
             QStringLiteral("line 2: attempt to perform arithmetic on a nil value (field 'none')"));
    QCOMPARE(shown(sandbox.run("\n\nerror('no berth')", values.host())), QStringLiteral("line 3: no berth"));
    QVERIFY(!sandbox.run("error({})", values.host()).fault->overran);
}

void TestScripts::textsAreCheckedBeforeTheyRun()
{
    QVERIFY(!Sandbox::check("self.load > 3", true));
    QVERIFY(!Sandbox::check("self.load = 3", false));
    QVERIFY(Sandbox::check("self.load = 3", true).has_value());
    const auto fault = Sandbox::check("local a = 1\nif a then\n", false);
    QVERIFY(fault && fault->line >= 2);
    QVERIFY(Sandbox::check("\x1bLua", false).has_value()); // no bytecode
}

void TestScripts::aCardSaysWhatCannotBeRead()
{
    scene::Snare snare = onKey("k", "k", {scene::Note{{"a"}}, scene::Script{"local a = 1\nif a then"}});
    snare.filter.script = "self.load >";
    scene::Scene scene;
    scene.snares = {snare};
    QStringList problems;
    for (const check::Finding& finding : check::findingsOf(scene))
        if (finding.id == "no-script")
            problems << QString::fromStdString(finding.text);
    QCOMPARE(problems.size(), 2);
    QVERIFY2(problems[0].startsWith("the filter of snare k cannot be read, line "), qPrintable(problems[0]));
    QVERIFY2(problems[1].startsWith("step 2 of snare k cannot be read, line 2"), qPrintable(problems[1]));
}

void TestScripts::sortingAndJoiningWork()
{
    Sandbox sandbox;
    Values values;
    QCOMPARE(shown(sandbox.evaluate(
                 "(function() local t = {3, 1, 2, 5, 4, 0, 7} table.sort(t) return table.concat(t, ' ') end)()",
                 values.host())),
             QStringLiteral("0 1 2 3 4 5 7"));
    QCOMPARE(shown(sandbox.evaluate("(function() local t = {'b', 'c', 'a'} table.sort(t, function(x, y) return x > y "
                                    "end) return table.concat(t) end)()",
                                    values.host())),
             QStringLiteral("cba"));
    QCOMPARE(shown(sandbox.evaluate("(string.find('quayside', 'side'))", values.host())), QStringLiteral("5"));
    QCOMPARE(shown(sandbox.evaluate("string.format('%d %s', 3, 'casks')", values.host())), QStringLiteral("3 casks"));
}

void TestScripts::aFilterScriptDecides_S2()
{
    const auto scene = sceneFrom(R"('variables': {'n': 2}, 'snares': [
        {'id': 'yes', 'catch': {'event': 'key-down', 'key': 'k'}, 'filter': {'script': 'scene.n == 2 and event.key == \"k\"'}},
        {'id': 'no', 'catch': {'event': 'key-down', 'key': 'k'}, 'filter': {'script': 'scene.n > 2'}},
        {'id': 'odd', 'catch': {'event': 'key-down', 'key': 'k'}, 'filter': {'script': 'scene.none + 1'}}])");
    const auto record = play(scene, takeOf({{"k", 0.1}}));
    QCOMPARE(outcomesOf(record, "yes"), QStringList({"6 yes sprung"}));
    QCOMPARE(reasonsOf(record, "no"), QStringList({"filter: the script scene.n > 2 is not true"}));
    QCOMPARE(reasonsOf(record, "odd"),
             QStringList({"filter: script, line 1: attempt to perform arithmetic on a nil value (field 'none')"}));
}

void TestScripts::aScriptThatFailsIsToldAndDoesNotStopTheRun()
{
    const auto scene = sceneFrom(R"('pieces': [{'id': 'p', 'properties': {'load': 1}}], 'snares': [
        {'id': 's', 'catch': {'event': 'key-down', 'key': 'k', 'at': 'p'}, 'responses': [
            {'do': 'script', 'lua': 'self.load = self.load + 1\nself.y = 4\nself.id = 2\nself.load = 9'}, {'do': 'log', 'text': '{self.load}'}]},
        {'id': 'c', 'catch': {'event': 'changed', 'at': 'p', 'value': 'load'}}])");
    const auto record = play(scene, takeOf({{"k", 0.1}}));
    QCOMPARE(notes(record), QStringList({"6 script of s: script, line 3: id cannot be assigned to", "6 2"}));
    QCOMPARE(outcomesOf(record, "c"), QStringList({"6 c sprung"}));
    QCOMPARE(record.snapshots.at(7)[0].pose.at.y, 4.0);
}

void TestScripts::anEndlessScriptStopsTheRunWithItsSnareAndLine_S14()
{
    const auto scene =
        sceneFrom(R"('snares': [{'id': 'spins', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [
        {'do': 'script', 'lua': 'local i = 0\nwhile true do i = i + 1 end'}]}])");
    const auto record = play(scene, takeOf({{"k", 0.1}}));
    QVERIFY2(record.stopReason.find("spins") != std::string::npos, record.stopReason.c_str());
    QVERIFY2(record.stopReason.find("line 2") != std::string::npos, record.stopReason.c_str());
    QCOMPARE(record.lastTick(), 6);
}

void TestScripts::scriptsUseTheChanceOfTheRun_T3()
{
    const auto scene = sceneFrom(R"('snares': [{'id': 'd', 'catch': {'event': 'key-down', 'key': 'k'}, 'responses': [
        {'do': 'script', 'lua': 'scene.n = math.random(1, 1000000) scene.m = math.random()'}]}])");
    const auto drawn = [&](std::uint32_t seed) {
        scene::Take take = takeOf({{"k", 0.1}});
        take.seed = seed;
        const auto record = play(scene, take);
        return lastValue(record, "scene", "n") + " " + lastValue(record, "scene", "m");
    };
    QCOMPARE(drawn(1), drawn(1));
    QVERIFY(drawn(1) != drawn(2));
}

QTEST_APPLESS_MAIN(TestScripts)
#include "test_scripts.moc"
