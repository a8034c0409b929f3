// SPDX-License-Identifier: Apache-2.0
/// `snare` as other programs call it: exit codes, messages, files.
#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

class TestCli : public QObject {
    Q_OBJECT

  private slots:
    void writesTheLogToStandardOutput();
    void writesLogAndFinalStateToFiles();
    void staysAreWrittenOnRequest();
    void secondsAreThoseAskedForElseTheTakesElseTen_T1();
    void timesHaveSixDecimalsAndNumbersNineDigits();
    void keysOfALineStandInOrder();
    void badInputEndsWithTwoAndSaysWhere();
    void badArgumentsEndWithTwo();
    void aStormEndsWithThreeAndNamesTheSnares_K8();
    void aLogThatCannotBeWrittenIsSaid();
    void twoRunsGiveTheSameBytes_T3();

  private:
    struct Result {
        int code = -1;
        QByteArray out;
        QByteArray err;
        QList<QJsonObject> lines() const
        {
            QList<QJsonObject> result;
            for (const QByteArray& line : out.split('\n'))
                if (!line.isEmpty())
                    result << QJsonDocument::fromJson(line).object();
            return result;
        }
    };

    Result snare(const QStringList& words)
    {
        QProcess process;
        process.start(QStringLiteral(SNARE_BINARY), words);
        process.waitForFinished(60000);
        return {process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1, process.readAllStandardOutput(),
                process.readAllStandardError()};
    }

    QString file(const QString& name, const QByteArray& text)
    {
        QFile one{folder_.filePath(name)};
        if (one.open(QIODevice::WriteOnly))
            one.write(text);
        return one.fileName();
    }

    QString crossing();

    QTemporaryDir folder_;
};

QString TestCli::crossing()
{
    return file(QStringLiteral("crossing.snare.json"),
                R"({"format": "fresh-snare-scene", "version": 1, "name": "Quay", "pieces": [
        {"id": "z", "shapes": [{"id": "area", "role": "zone", "box": [2, 2]}], "properties": {"load": 2.5, "name": "plate"}},
        {"id": "m", "at": [-2.05, 0], "body": {"kind": "kinematic", "velocity": [2.9, 0]}, "shapes": [{"role": "zone", "circle": 0.5}], "tags": ["late"]}],
        "snares": [{"id": "in", "catch": {"event": "enter", "at": "z"}, "responses": [{"do": "log", "text": "a \"quoted\" word"}]}]})");
}

void TestCli::writesTheLogToStandardOutput()
{
    const Result result = snare({QStringLiteral("run"), crossing(), QStringLiteral("--seconds"), QStringLiteral("1")});
    QCOMPARE(result.code, 0);
    QVERIFY(result.err.isEmpty());
    const auto lines = result.lines();
    QCOMPARE(lines.front()["event"].toString(), QStringLiteral("start"));
    const auto enter = std::find_if(lines.begin(), lines.end(),
                                    [](const QJsonObject& line) { return line["event"] == QLatin1String("enter"); });
    QVERIFY(enter != lines.end());
    QCOMPARE((*enter)["tick"].toInt(), 12);
    QCOMPARE((*enter)["at"].toString(), QStringLiteral("z"));
    QCOMPARE((*enter)["shape"].toString(), QStringLiteral("area"));
    QCOMPARE((*enter)["part"].toString(), QStringLiteral("0")); // a shape without a name has its index
    QVERIFY(std::abs((*enter)["frac"].toDouble() - 0.379310345) < 1e-9);
    QVERIFY(std::any_of(lines.begin(), lines.end(), [](const QJsonObject& line) {
        return line["text"].toString() == QLatin1String("a \"quoted\" word");
    }));
}

void TestCli::writesLogAndFinalStateToFiles()
{
    const QString log = folder_.filePath(QStringLiteral("a.jsonl"));
    const QString final = folder_.filePath(QStringLiteral("a.final.json"));
    const Result result = snare({QStringLiteral("run"), crossing(), QStringLiteral("--seconds"), QStringLiteral("1"),
                                 QStringLiteral("--log"), log, QStringLiteral("--final"), final});
    QCOMPARE(result.code, 0);
    QVERIFY(result.out.isEmpty());
    QFile logFile{log};
    QVERIFY(logFile.open(QIODevice::ReadOnly) && logFile.readAll().contains("\"enter\""));
    QFile finalFile{final};
    QVERIFY(finalFile.open(QIODevice::ReadOnly));
    const QJsonObject state = QJsonDocument::fromJson(finalFile.readAll()).object();
    QCOMPARE(state["tick"].toInt(), 60);
    const QJsonObject z = state["pieces"].toObject()["z"].toObject();
    QCOMPARE(z["properties"].toObject()["load"].toDouble(), 2.5);
    QCOMPARE(z["properties"].toObject()["name"].toString(), QStringLiteral("plate"));
    const QJsonObject m = state["pieces"].toObject()["m"].toObject();
    QVERIFY(std::abs(m["at"].toArray()[0].toDouble() - 0.85) < 1e-6);
    QCOMPARE(m["vx"].toDouble(), 2.9);
    QCOMPARE(m["tags"].toArray()[0].toString(), QStringLiteral("late"));
    QCOMPARE(m["shown"].toBool(), true);
}

void TestCli::staysAreWrittenOnRequest()
{
    const QStringList words{QStringLiteral("run"), crossing(), QStringLiteral("--seconds"), QStringLiteral("1")};
    const auto stays = [](const Result& result) {
        const auto lines = result.lines();
        return std::count_if(lines.begin(), lines.end(), [](const QJsonObject& line) {
            return line["event"] == QLatin1String("stay") && line["at"] == QLatin1String("z");
        });
    };
    QCOMPARE(stays(snare(words)), 0);
    QCOMPARE(stays(snare(words + QStringList{QStringLiteral("--stays")})), 48); // ticks 13 to 60
}

void TestCli::secondsAreThoseAskedForElseTheTakesElseTen_T1()
{
    const QString final = folder_.filePath(QStringLiteral("t.final.json"));
    const QString take = file(QStringLiteral("t.take.json"),
                              R"({"format": "fresh-snare-take", "version": 1, "length": 0.25, "inputs": []})");
    const auto lastTick = [&](const QStringList& more) {
        if (snare(QStringList{QStringLiteral("run"), crossing(), QStringLiteral("--final"), final} + more).code != 0)
            return -1;
        QFile one{final};
        return one.open(QIODevice::ReadOnly) ? QJsonDocument::fromJson(one.readAll()).object()["tick"].toInt() : -1;
    };
    QCOMPARE(lastTick({}), 600);
    QCOMPARE(lastTick({QStringLiteral("--take"), take}), 15);
    QCOMPARE(lastTick({QStringLiteral("--take"), take, QStringLiteral("--seconds"), QStringLiteral("0.1")}), 6);
}

void TestCli::timesHaveSixDecimalsAndNumbersNineDigits()
{
    const Result result = snare({QStringLiteral("run"), crossing(), QStringLiteral("--seconds"), QStringLiteral("2")});
    QVERIFY(result.out.contains("\"tick\":12,\"t\":0.2,"));
    QVERIFY(result.out.contains("\"tick\":74,\"t\":1.233333,"));
    QVERIFY(result.out.contains("\"frac\":0.379310345,"));
}

void TestCli::keysOfALineStandInOrder()
{
    const Result result = snare({QStringLiteral("run"), crossing(), QStringLiteral("--seconds"), QStringLiteral("1")});
    QVERIFY(result.out.contains("\"kind\":\"event\",\"event\":\"enter\",\"at\":\"z\",\"shape\":\"area\",\"by\":\"m\","
                                "\"part\":\"0\",\"manner\":\"sense\",\"cause\":\"moved\"}"));
    QVERIFY(result.out.contains("\"kind\":\"snare\",\"snare\":\"in\",\"self\":\"z\",\"visitor\":\"m\",\"event\":"
                                "\"enter\",\"outcome\":\"sprung\"}"));
    QVERIFY(
        result.out.contains("\"kind\":\"response\",\"snare\":\"in\",\"step\":1,\"do\":\"log\",\"with\":{\"text\":"));
}

void TestCli::badInputEndsWithTwoAndSaysWhere()
{
    const QString bad =
        file(QStringLiteral("bad.snare.json"),
             "{\"format\": \"fresh-snare-scene\", \"version\": 1,\n \"pieces\": [{\"id\": \"a\", \"tagz\": []}]}");
    const Result result = snare({QStringLiteral("run"), bad});
    QCOMPARE(result.code, 2);
    QVERIFY(result.out.isEmpty());
    QVERIFY2(result.err.contains(
                 "bad.snare.json: line 2, column 25: /pieces/0: unknown key \"tagz\"; did you mean \"tags\"?"),
             result.err.constData());
    QCOMPARE(snare({QStringLiteral("run"), folder_.filePath(QStringLiteral("nowhere.snare.json"))}).code, 2);
    QCOMPARE(snare({QStringLiteral("run"), folder_.path()}).code, 2);
    const QString take =
        file(QStringLiteral("bad.take.json"),
             R"({"format": "fresh-snare-take", "version": 1, "inputs": [{"t": -1, "key": "a", "down": true}]})");
    const Result badTake = snare({QStringLiteral("run"), crossing(), QStringLiteral("--take"), take});
    QCOMPARE(badTake.code, 2);
    QVERIFY(badTake.err.contains("/inputs/0/t"));
}

void TestCli::badArgumentsEndWithTwo()
{
    QCOMPARE(snare({}).code, 2);
    QCOMPARE(snare({QStringLiteral("fly")}).code, 2);
    QCOMPARE(snare({QStringLiteral("run")}).code, 2);
    QCOMPARE(snare({QStringLiteral("run"), crossing(), QStringLiteral("--seconds"), QStringLiteral("-1")}).code, 2);
    QCOMPARE(snare({QStringLiteral("run"), crossing(), QStringLiteral("--seconds"), QStringLiteral("soon")}).code, 2);
    QCOMPARE(snare({QStringLiteral("--help")}).code, 0);
}

void TestCli::aStormEndsWithThreeAndNamesTheSnares_K8()
{
    const QString storm =
        file(QStringLiteral("storm.snare.json"), R"({"format": "fresh-snare-scene", "version": 1, "snares": [
        {"id": "ping", "catch": {"event": "heard", "signal": "a"}, "responses": [{"do": "signal", "name": "b"}]},
        {"id": "pong", "catch": {"event": "heard", "signal": "b"}, "responses": [{"do": "signal", "name": "a"}]},
        {"id": "begin", "catch": {"event": "start"}, "responses": [{"do": "signal", "name": "a"}]}]})");
    const Result result = snare({QStringLiteral("run"), storm, QStringLiteral("--seconds"), QStringLiteral("1")});
    QCOMPARE(result.code, 3);
    QVERIFY(result.err.contains("ping") && result.err.contains("pong"));
    QVERIFY(!result.err.contains("begin")); // it is not in the cycle
    QVERIFY(!result.out.isEmpty());         // what happened until then is told
}

void TestCli::aLogThatCannotBeWrittenIsSaid()
{
    const Result result =
        snare({QStringLiteral("run"), crossing(), QStringLiteral("--log"), QStringLiteral("/nowhere/at/all.jsonl")});
    QCOMPARE(result.code, 2);
    QVERIFY(result.err.contains("/nowhere/at/all.jsonl"));
}

void TestCli::twoRunsGiveTheSameBytes_T3()
{
    const QStringList words{QStringLiteral("run"), QStringLiteral(SNARE_DEMO_FOLDER "/weigh-in.snare.json"),
                            QStringLiteral("--take"), QStringLiteral(SNARE_DEMO_FOLDER "/weigh-in.take.json"),
                            QStringLiteral("--stays")};
    const Result first = snare(words);
    QVERIFY(first.out.size() > 100000);
    QVERIFY(first.out == snare(words).out);
}

QTEST_APPLESS_MAIN(TestCli)
#include "test_cli.moc"
