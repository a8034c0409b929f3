// SPDX-License-Identifier: Apache-2.0
/// `snare` for keeping scenes right: causes in the log, sentences, takes that are judged, coverage,
/// versions, merging in a real repository.
#include <QDir>
#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

class TestKeeping : public QObject {
    Q_OBJECT

  private slots:
    void linesAreNumberedWithTheirCauses_C1();
    void aSceneIsDescribed();
    void takesAreTested_E5();
    void whatIsNeverUsedIsTold();
    void twoVersionsAreCompared();
    void aTakeIsVaried();
    void aSceneIsScouted();
    void versionsAreMergedById();
    void bothChangedTheSameIsNeverSilent();
    void gitMergesScenes();
    void theFlowIsDrawn();

  private:
    struct Result {
        int code = -1;
        QString out;
        QString err;
    };

    Result run(const QString& program, const QStringList& words)
    {
        QProcess process;
        process.setWorkingDirectory(folder_.path());
        process.start(program, words);
        process.waitForFinished(120000);
        return {process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1,
                QString::fromUtf8(process.readAllStandardOutput()), QString::fromUtf8(process.readAllStandardError())};
    }
    Result snare(const QStringList& words) { return run(QStringLiteral(SNARE_BINARY), words); }
    Result git(const QStringList& words)
    {
        return run(QStringLiteral("git"),
                   QStringList{QStringLiteral("-c"), QStringLiteral("user.name=Anka"), QStringLiteral("-c"),
                               QStringLiteral("user.email=anka@harbour.invalid")} +
                       words);
    }

    QString file(const QString& name, const QByteArray& text)
    {
        QFile one{folder_.filePath(name)};
        if (one.open(QIODevice::WriteOnly))
            one.write(text);
        return name;
    }
    QString read(const QString& name)
    {
        QFile one{folder_.filePath(name)};
        return one.open(QIODevice::ReadOnly) ? QString::fromUtf8(one.readAll()) : QString();
    }

    /// A cart that drives into a bay, which counts; x is where the bay is, speed how fast the cart
    /// goes.
    static QByteArray scene(double x = 0, double speed = 1, const QByteArray& more = {})
    {
        return QByteArray(
                   R"({"format": "fresh-snare-scene", "version": 1, "name": "Quay", "variables": {"n": 0}, "phases": ["calm", "storm"],
 "pieces": [
  {"id": "cart", "at": [-3, 0], "body": {"kind": "kinematic", "velocity": [)") +
               QByteArray::number(speed) + R"(, 0]}, "shapes": [{"role": "zone", "circle": 0.5}]},
  {"id": "bay", "at": [)" +
               QByteArray::number(x) + R"(, 0], "shapes": [{"role": "zone", "box": [2, 2]}]}],
 "snares": [
  {"id": "count", "catch": {"event": "enter", "at": "bay"}, "responses": [{"do": "add", "on": "scene", "name": "n", "value": 1}, {"do": "signal", "name": "in"}]},
  {"id": "key", "catch": {"event": "key-down", "key": "a"}, "responses": [{"do": "phase", "on": "scene", "to": "storm"}]}])" +
               more + "}";
    }
    static QByteArray take(const QByteArray& expect)
    {
        return R"({"format": "fresh-snare-take", "version": 1, "scene": "quay.snare.json", "length": 4, "inputs": [],
 "expect": [
  )" + expect + "]}";
    }

    QTemporaryDir folder_;
};

void TestKeeping::linesAreNumberedWithTheirCauses_C1()
{
    file(QStringLiteral("quay.snare.json"), scene());
    const Result plain = snare(
        {QStringLiteral("run"), QStringLiteral("quay.snare.json"), QStringLiteral("--seconds"), QStringLiteral("3")});
    QVERIFY(!plain.out.contains(QStringLiteral("\"n\":1,")) && !plain.out.contains(QStringLiteral("because")));
    const Result told = snare({QStringLiteral("run"), QStringLiteral("quay.snare.json"), QStringLiteral("--seconds"),
                               QStringLiteral("3"), QStringLiteral("--because")});
    int number = 0;
    QStringList chain;
    for (const QString& line : told.out.split(QLatin1Char('\n'), Qt::SkipEmptyParts)) {
        const QJsonObject one = QJsonDocument::fromJson(line.toUtf8()).object();
        QCOMPARE(one[QStringLiteral("n")].toInt(), ++number);
        QVERIFY(one[QStringLiteral("because")].toInt() < number);
        if (one[QStringLiteral("event")] == QStringLiteral("changed"))
            chain << line;
    }
    QCOMPARE(chain.size(), 1);
    QVERIFY(number > 5);
    // Without them the log is the same.
    static const QRegularExpression causes{QStringLiteral(",\"n\":\\d+(,\"because\":\\d+)?\\}")};
    QCOMPARE(QString(told.out).replace(causes, QStringLiteral("}")), plain.out);
}

void TestKeeping::aSceneIsDescribed()
{
    file(QStringLiteral("quay.snare.json"), scene());
    const Result told = snare({QStringLiteral("describe"), QStringLiteral("quay.snare.json")});
    QCOMPARE(told.code, 0);
    QVERIFY(told.out.contains(
        QStringLiteral("  Snare count\n    When anyone enters bay\n    1. add 1 to n of the scene\n")));
    QCOMPARE(snare({QStringLiteral("describe"), QStringLiteral("nothing.snare.json")}).code, 2);
}

void TestKeeping::takesAreTested_E5()
{
    QDir(folder_.path()).mkpath(QStringLiteral("takes"));
    file(QStringLiteral("takes/quay.snare.json"), scene());
    file(QStringLiteral("takes/a.take.json"), take(R"({"snare": "count", "times": 1})"));
    QCOMPARE(snare({QStringLiteral("test"), QStringLiteral("takes")}).code, 0);
    file(QStringLiteral("takes/b.take.json"), take(R"({"event": "enter", "at": "bay", "by": "cart"},
  {"signal": "in", "between": [0, 1]})"));
    const Result failed =
        snare({QStringLiteral("test"), QStringLiteral("takes"), QStringLiteral("--junit"), QStringLiteral("out.xml")});
    QCOMPARE(failed.code, 1);
    QCOMPARE(failed.err, "takes/b.take.json:4: expected signal in is raised between 0 and 1 s: it did not come; "
                         "nearest: signal in was raised at 1.517 s, 0.517 s after the span\n");
    QCOMPARE(failed.out, "2 takes with 3 expectations: 1 passed, 1 failed\n");
    QVERIFY(read(QStringLiteral("out.xml"))
                .contains(QStringLiteral("<testsuites tests=\"5\" failures=\"1\" errors=\"0\"")));
    file(QStringLiteral("takes/c.take.json"), "{");
    QCOMPARE(snare({QStringLiteral("test"), QStringLiteral("takes")}).code, 2);
    QCOMPARE(snare({QStringLiteral("test"), QStringLiteral("nowhere")}).code, 2);
    QVERIFY(QFile::remove(folder_.filePath(QStringLiteral("takes/c.take.json"))));
}

void TestKeeping::whatIsNeverUsedIsTold()
{
    file(QStringLiteral("quay.snare.json"), scene());
    const Result told = snare({QStringLiteral("cover"), QStringLiteral("quay.snare.json")});
    QCOMPARE(told.code, 0);
    QCOMPARE(told.out,
             "1 of 2 snares sprang (50 %)\nnever sprang: key\nnever done: key, step 1: the scene goes to phase storm\n"
             "phases never begun: storm\n");
    QCOMPARE(snare({QStringLiteral("cover"), QStringLiteral("quay.snare.json"), QStringLiteral("--under"),
                    QStringLiteral("60")})
                 .code,
             1);
    file(QStringLiteral("k.take.json"), R"({"format": "fresh-snare-take", "version": 1, "inputs": [{"t": 1, "key": "a", "down": true}]})");
    const Result all = snare({QStringLiteral("cover"), QStringLiteral("quay.snare.json"), QStringLiteral("--take"),
                              QStringLiteral("k.take.json"), QStringLiteral("--under"), QStringLiteral("100")});
    QCOMPARE(all.code, 0);
    QCOMPARE(all.out, "2 of 2 snares sprang (100 %)\n");
}

void TestKeeping::twoVersionsAreCompared()
{
    file(QStringLiteral("quay.snare.json"), scene());
    file(QStringLiteral("other.snare.json"), scene(0.5));
    const Result told =
        snare({QStringLiteral("diff"), QStringLiteral("quay.snare.json"), QStringLiteral("other.snare.json")});
    QCOMPARE(told.code, 1);
    QVERIFY2(told.out.startsWith(
                 QStringLiteral("Piece bay\n  - at 0, 0\n  + at 0.5, 0\n10 s without inputs: 0 new, 0 gone, ")) ||
                 told.out.startsWith(QStringLiteral("Piece bay\n  + at 0.5, 0\n10 s without inputs: 0 new, 0 gone, ")),
             qPrintable(told.out));
    QVERIFY(told.out.contains(QStringLiteral("~ 2.017 s count, before at 1.517 s")));
    QCOMPARE(snare({QStringLiteral("diff"), QStringLiteral("quay.snare.json"), QStringLiteral("quay.snare.json")}).code,
             0);
}

void TestKeeping::aTakeIsVaried()
{
    file(QStringLiteral("quay.snare.json"), scene());
    // The key comes at the moment at which the cart comes in: earlier or later by chance.
    file(QStringLiteral("v.take.json"), R"({"format": "fresh-snare-take", "version": 1, "length": 3,
 "inputs": [{"t": 1.517, "key": "a", "down": true}, {"t": 1.6, "key": "a", "down": false}],
 "expect": [{"snare": "count", "times": 1}, {"order": [{"snare": "key"}, {"snare": "count"}]}]})");
    const QStringList words{QStringLiteral("vary"),   QStringLiteral("quay.snare.json"),
                            QStringLiteral("--take"), QStringLiteral("v.take.json"),
                            QStringLiteral("--runs"), QStringLiteral("60"),
                            QStringLiteral("--keep"), folder_.path()};
    const Result told = snare(words);
    QCOMPARE(told.code, 1);
    QVERIFY2(told.out.contains(QStringLiteral(" 100.0 %  count springs, once\n")), qPrintable(told.out));
    QVERIFY(told.out.contains(QStringLiteral("against-2.take.json is one in which it does not hold")));
    QCOMPARE(snare(words + QStringList{QStringLiteral("--jobs"), QStringLiteral("3")}).out,
             told.out); // however many at once
    const Result against = snare({QStringLiteral("run"), QStringLiteral("quay.snare.json"), QStringLiteral("--take"),
                                  QStringLiteral("against-2.take.json")});
    const qsizetype key = against.out.indexOf(QStringLiteral("\"snare\":\"key\""));
    const qsizetype count = against.out.indexOf(QStringLiteral("\"snare\":\"count\""));
    QVERIFY(count < key);
}

void TestKeeping::aSceneIsScouted()
{
    file(QStringLiteral("hut.snare.json"), R"({"format": "fresh-snare-scene", "version": 1,
 "pieces": [{"id": "hut", "shapes": [{"box": [1, 1]}]}],
 "snares": [{"id": "knock", "catch": {"event": "click", "at": "hut"}},
            {"id": "call", "catch": {"event": "key-down", "key": "e"}, "filter": {"tags": {"any": ["staff"]}}},
            {"id": "flood", "catch": {"event": "key-down", "key": "q"}, "responses": [{"do": "signal", "name": "go"}]},
            {"id": "round", "catch": {"event": "heard", "signal": "go"}, "responses": [{"do": "signal", "name": "go"}]}]})");
    const QStringList words{QStringLiteral("scout"),   QStringLiteral("hut.snare.json"), QStringLiteral("--plays"),
                            QStringLiteral("60"),      QStringLiteral("--seconds"),      QStringLiteral("10"),
                            QStringLiteral("--keep"),  QStringLiteral("found")};
    const Result told = snare(words);
    QCOMPARE(told.code, 1); // a run stopped
    QVERIFY2(told.out.startsWith(QStringLiteral("60 plays, ")), qPrintable(told.out));
    QVERIFY(told.out.contains(QStringLiteral(": 3 of 4 snares sprang\nbroken\n  the run stopped: the snares round set")));
    QVERIFY(told.out.contains(QStringLiteral("never sprang\n  call: its event came ")));
    QVERIFY(told.out.contains(QStringLiteral(" times, and slipped most often at filter, ")));
    QVERIFY(told.out.contains(QStringLiteral("sprang\n  knock: first at ")));
    QCOMPARE(snare(words + QStringList{QStringLiteral("--jobs"), QStringLiteral("3")}).out, told.out);
    // What was kept shows it.
    const Result judged = snare({QStringLiteral("test"), QStringLiteral("found")});
    QVERIFY2(judged.code == 0, qPrintable(judged.out + judged.err));
    QVERIFY(read(QStringLiteral("found/springs-knock.take.json")).contains("\"scene\": \"../hut.snare.json\""));
    QVERIFY(read(QStringLiteral("found/broken-1.take.json")).contains("\"stops\": true"));
    const Result json = snare(words + QStringList{QStringLiteral("--json")});
    QVERIFY(json.out.contains(QStringLiteral("\"kind\": \"broken\"")));
    // Where it cannot be kept, it is said.
    file(QStringLiteral("full"), "no folder");
    const Result none = snare({QStringLiteral("scout"), QStringLiteral("hut.snare.json"), QStringLiteral("--plays"),
                               QStringLiteral("20"), QStringLiteral("--keep"), QStringLiteral("full")});
    QCOMPARE(none.code, 2);
    QVERIFY(none.err.contains(QStringLiteral("full")));
}

void TestKeeping::versionsAreMergedById()
{
    file(QStringLiteral("base.snare.json"), scene());
    file(QStringLiteral("ours.snare.json"), scene(0.5));                                      // the bay is moved
    file(QStringLiteral("theirs.snare.json"), scene(0, 2, R"(, "groups": ["crew"])")); // the cart is faster
    const Result told = snare({QStringLiteral("merge"), QStringLiteral("base.snare.json"),
                               QStringLiteral("ours.snare.json"), QStringLiteral("theirs.snare.json")});
    QVERIFY2(told.code == 0, qPrintable(told.err));
    const Result same = snare({QStringLiteral("diff"), QStringLiteral("ours.snare.json"), file(QStringLiteral("both.snare.json"), scene(0.5, 2, R"(, "groups": ["crew"])"))});
    QVERIFY2(same.code == 0 && !same.out.contains(QStringLiteral("- ")), qPrintable(same.out));
}

void TestKeeping::bothChangedTheSameIsNeverSilent()
{
    file(QStringLiteral("base.snare.json"), scene());
    file(QStringLiteral("ours.snare.json"), scene(0.5));
    file(QStringLiteral("theirs.snare.json"), scene(0.75));
    const Result told =
        snare({QStringLiteral("merge"), QStringLiteral("base.snare.json"), QStringLiteral("ours.snare.json"),
               QStringLiteral("theirs.snare.json"), QStringLiteral("--name"), QStringLiteral("quay")});
    QCOMPARE(told.code, 1);
    QCOMPARE(told.err, "quay: both changed piece bay, at: [0.5, 0] in ours, [0.75, 0] in theirs, it was [0, 0]\n");
    QVERIFY(read(QStringLiteral("ours.snare.json")).contains(QStringLiteral("\"at\": [0.5, 0]")));
    // One takes away what the other changes.
    file(QStringLiteral("ours.snare.json"), scene(0.5));
    QByteArray without = scene();
    const qsizetype begin = without.indexOf("  {\"id\": \"key\"");
    without = without.left(begin).trimmed();
    without.chop(1); // the comma
    file(QStringLiteral("theirs.snare.json"), without + "]}");
    file(QStringLiteral("ours.snare.json"), QByteArray(scene()).replace("\"key\": \"a\"", "\"key\": \"b\""));
    const Result gone = snare({QStringLiteral("merge"), QStringLiteral("base.snare.json"),
                               QStringLiteral("ours.snare.json"), QStringLiteral("theirs.snare.json")});
    QCOMPARE(gone.code, 1);
    QVERIFY2(gone.err.contains(QStringLiteral("both changed snare key: ")) &&
                 gone.err.contains(QStringLiteral("not there in theirs")),
             qPrintable(gone.err));
    QCOMPARE(snare({QStringLiteral("merge"), file(QStringLiteral("bad"), "{"), QStringLiteral("ours.snare.json"),
                    QStringLiteral("theirs.snare.json")})
                 .code,
             2);
}

void TestKeeping::gitMergesScenes()
{
    if (run(QStringLiteral("git"), {QStringLiteral("--version")}).code != 0)
        QSKIP("git is missing");
    QDir(folder_.path()).mkpath(QStringLiteral("repository"));
    const auto in = [&](const QStringList& words) {
        return git(QStringList{QStringLiteral("-C"), QStringLiteral("repository")} + words);
    };
    QCOMPARE(in({QStringLiteral("init"), QStringLiteral("-q"), QStringLiteral("-b"), QStringLiteral("main")}).code, 0);
    in({QStringLiteral("config"), QStringLiteral("merge.snare.driver"),
        QStringLiteral("'" SNARE_BINARY "' merge --name %P %O %A %B")});
    in({QStringLiteral("config"), QStringLiteral("diff.snare.textconv"),
        QStringLiteral("'" SNARE_BINARY "' describe")});
    file(QStringLiteral("repository/.gitattributes"), "*.snare.json merge=snare diff=snare\n");
    const auto commit = [&](const QByteArray& text, const QString& message) {
        file(QStringLiteral("repository/quay.snare.json"), text);
        in({QStringLiteral("add"), QStringLiteral("-A")});
        QCOMPARE(in({QStringLiteral("commit"), QStringLiteral("-qm"), message}).code, 0);
    };
    commit(scene(), QStringLiteral("the quay"));
    in({QStringLiteral("checkout"), QStringLiteral("-qb"), QStringLiteral("faster")});
    commit(scene(0, 2), QStringLiteral("a faster cart"));
    in({QStringLiteral("checkout"), QStringLiteral("-q"), QStringLiteral("main")});
    commit(scene(0.5), QStringLiteral("the bay is moved"));
    const Result shown = in({QStringLiteral("show"), QStringLiteral("HEAD")});
    QVERIFY2(shown.out.contains(QStringLiteral("+  at 0.5, 0")), qPrintable(shown.out)); // in sentences
    const Result merged = in({QStringLiteral("merge"), QStringLiteral("-q"), QStringLiteral("faster"),
                              QStringLiteral("-m"), QStringLiteral("both")});
    QVERIFY2(merged.code == 0, qPrintable(merged.out + merged.err));
    QVERIFY(read(QStringLiteral("repository/quay.snare.json")).contains(QStringLiteral("\"velocity\": [2, 0]")));
    QVERIFY(read(QStringLiteral("repository/quay.snare.json")).contains(QStringLiteral("\"at\": [0.5, 0]")));
    // A conflict stops the merge and is named in words.
    in({QStringLiteral("checkout"), QStringLiteral("-qb"), QStringLiteral("left"), QStringLiteral("main")});
    commit(scene(-1, 2), QStringLiteral("left"));
    in({QStringLiteral("checkout"), QStringLiteral("-q"), QStringLiteral("main")});
    commit(scene(1, 2), QStringLiteral("right"));
    const Result conflict = in({QStringLiteral("merge"), QStringLiteral("left")});
    QVERIFY(conflict.code != 0);
    QVERIFY2((conflict.out + conflict.err).contains(QStringLiteral("quay.snare.json: both changed piece bay, at: ")),
             qPrintable(conflict.out + conflict.err));
}

void TestKeeping::theFlowIsDrawn()
{
    if (run(QStringLiteral("dot"), {QStringLiteral("-V")}).code != 0)
        QSKIP("graphviz is missing");
    file(QStringLiteral("quay.snare.json"), scene());
    const Result drawn = snare(
        {QStringLiteral("export"), QStringLiteral("dot"), QStringLiteral("quay.snare.json"), QStringLiteral("--svg")});
    QCOMPARE(drawn.code, 0);
    QVERIFY(drawn.out.contains(QStringLiteral("<svg")) && drawn.out.contains(QStringLiteral("count")));
}

QTEST_GUILESS_MAIN(TestKeeping)
#include "test_keeping.moc"
