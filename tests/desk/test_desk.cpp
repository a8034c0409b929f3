// SPDX-License-Identifier: Apache-2.0
/// The stand-in devices, and what comes from programs outside: the same for the same, and nothing
/// bad gets in.
#include "builder.h"

#include "desk/curves.h"
#include "desk/osc.h"
#include "desk/strokes.h"

#include <QTest>

#include <numbers>
#include <random>

using namespace snare;
using namespace snare::tests;
using geometry::Vec;

namespace {

/// A known stroke as a hand would draw it: moved, larger, a little turned and shaky.
std::vector<Vec> byHand(const desk::Stroke& stroke, double turn, double shake, unsigned seed, bool backwards = false)
{
    std::mt19937 random{seed};
    std::uniform_real_distribution<double> off{-shake, shake};
    std::vector<Vec> drawn;
    for (std::size_t i = 1; i < stroke.line.size(); ++i)
        for (int part = 0; part < 6; ++part) {
            const Vec at = stroke.line[i - 1] + (stroke.line[i] - stroke.line[i - 1]) * (part / 6.0);
            const Vec turned{at.x * std::cos(turn) - at.y * std::sin(turn),
                             at.x * std::sin(turn) + at.y * std::cos(turn)};
            drawn.push_back(turned * 57.0 + Vec{300 + 57 * off(random), -90 + 57 * off(random)});
        }
    if (backwards)
        std::ranges::reverse(drawn);
    return drawn;
}

std::vector<std::uint8_t> bytes(std::string_view text)
{
    return {text.begin(), text.end()};
}

scene::Scene withSources()
{
    return sceneFrom("'pieces': [], 'sources': [{'id': 'tide-height', 'dial': {'low': 0, 'high': 3, 'value': 2}}, "
                     "{'id': 'hailing', 'call': {'name': 'hail', 'values': {'vessel': 'ketch', 'length': 9}}}]");
}

} // namespace

class TestDesk : public QObject {
    Q_OBJECT

  private slots:
    void voicesStayInTheirRangeAndAreRepeatable();
    void theTideTurnsAtItsPeriod();
    void knowsStrokesDrawnByHand();
    void saysWhyAStrokeIsNone();
    void readsMessagesAndBundles();
    void dropsWhatIsNotOsc();
    void mapsMessagesToInputs();
    void writesWhatItReads();
    void anyBytesAreSafe();
};

void TestDesk::voicesStayInTheirRangeAndAreRepeatable()
{
    for (const desk::VoiceWord& voice : desk::voices) {
        double loudest = 0;
        double quietest = 1;
        for (int i = 0; i < 6000; ++i) {
            const double level = desk::voiceLevel(voice.value, i / 100.0);
            QVERIFY(level >= 0 && level <= voice.loudest);
            QCOMPARE(level, desk::voiceLevel(voice.value, i / 100.0));
            loudest = std::max(loudest, level);
            quietest = std::min(quietest, level);
        }
        QVERIFY(loudest > 0.8 * voice.loudest);  // someone is heard
        QVERIFY(quietest < 0.1 * voice.loudest); // and takes a breath
    }
}

void TestDesk::theTideTurnsAtItsPeriod()
{
    const desk::Tide tide{0.5, 2.5, 20, 1};
    QVERIFY(desk::tideHeight(tide, 0) > 2.4);
    QVERIFY(desk::tideHeight(tide, 10) < 0.6);
    QVERIFY(desk::tideHeight(tide, 20) > 2.4);
    for (int i = 0; i < 4000; ++i) {
        const double height = desk::tideHeight(tide, i / 100.0);
        QVERIFY(height >= 0.5 && height <= 2.5);
    }
    QVERIFY(desk::tideHeight({0.5, 2.5, 20, 0}, 0) < 0.6);
}

void TestDesk::knowsStrokesDrawnByHand()
{
    for (const desk::Stroke& stroke : desk::knownStrokes())
        for (unsigned seed = 1; seed <= 40; ++seed) {
            const double turn = 0.12 * std::sin(seed);
            const desk::Judgement judged = desk::judge(byHand(stroke, turn, 0.06, seed, seed % 2 == 0), 20);
            QVERIFY2(judged.stroke == stroke.name,
                     qPrintable(QString::fromStdString(std::string(stroke.name) + ": " + judged.why)));
            QVERIFY(judged.why.empty());
            QCOMPARE(judged.nearness.size(), desk::knownStrokes().size());
        }
    // A ring may begin anywhere.
    std::vector<Vec> ring;
    for (int i = 0; i < 60; ++i)
        ring.push_back(
            {100 * std::cos(2 + i / 59.0 * 2 * std::numbers::pi), 100 * std::sin(2 + i / 59.0 * 2 * std::numbers::pi)});
    QCOMPARE(desk::judge(ring, 20).stroke, std::optional<std::string_view>("ring"));
}

void TestDesk::saysWhyAStrokeIsNone()
{
    const std::vector<Vec> dot{{5, 5}, {6, 5}, {7, 6}, {8, 6}};
    QVERIFY(QString::fromStdString(desk::judge(dot, 20).why).contains(QStringLiteral("too short")));
    QVERIFY(QString::fromStdString(desk::judge({}, 20).why).contains(QStringLiteral("too short")));
    const std::vector<Vec> level{{0, 0}, {50, 0}, {100, 0}, {200, 0}};
    const desk::Judgement flat = desk::judge(level, 20);
    QVERIFY(!flat.stroke);
    QVERIFY(QString::fromStdString(flat.why).contains(QStringLiteral("needs 0.70")));
    const std::vector<Vec> nowhere{{0, 0}, {std::nan(""), 2}, {9, 9}};
    QVERIFY(!desk::judge(nowhere, 1).stroke);
}

void TestDesk::readsMessagesAndBundles()
{
    const auto one = desk::messagesIn(bytes(std::string_view("/hail\0\0\0,si\0ketch\0\0\0\0\0\0\x07", 24)));
    QVERIFY(one);
    QCOMPARE(one->size(), std::size_t{1});
    QCOMPARE(one->front().address, std::string("/hail"));
    QCOMPARE(one->front().values, (std::vector<scene::Scalar>{std::string("ketch"), 7.0}));
    // A bundle in a bundle, read in order.
    const auto message = [](std::string_view address) { return desk::packetOf({std::string(address), {}}); };
    const auto bundle = [](std::initializer_list<std::vector<std::uint8_t>> parts) {
        std::vector<std::uint8_t> all = bytes(std::string_view("#bundle\0\0\0\0\0\0\0\0\1", 16));
        for (const auto& part : parts) {
            for (const int shift : {24, 16, 8, 0})
                all.push_back(static_cast<std::uint8_t>(part.size() >> shift));
            all.insert(all.end(), part.begin(), part.end());
        }
        return all;
    };
    const auto several =
        desk::messagesIn(bundle({message("/a"), bundle({message("/b"), message("/c")}), message("/d")}));
    QVERIFY(several);
    QStringList names;
    for (const desk::OscMessage& each : *several)
        names << QString::fromStdString(each.address);
    QCOMPARE(names.join(QString()), QStringLiteral("/a/b/c/d"));
    std::vector<std::uint8_t> deep = message("/x");
    for (int i = 0; i <= desk::deepestBundle; ++i)
        deep = bundle({deep});
    QVERIFY(!desk::messagesIn(deep));
}

void TestDesk::dropsWhatIsNotOsc()
{
    const std::string_view bad[] = {"",
                                    "hello",
                                    std::string_view("hail\0\0\0\0,\0\0\0", 12),
                                    std::string_view("/hail\0\0\0,i\0\0", 12),
                                    std::string_view("/hail\0\0\0,b\0\0\0\0\0\4abcd", 20), // a blob is no value
                                    std::string_view("#bundle\0\0\0\0\0\0\0\0\1\0\0\0\x40/a\0\0", 24),
                                    std::string_view("/h\nil\0\0\0,\0\0\0", 12),
                                    std::string_view("/hail\0\0\0,f\0\0\x7f\x80\0\0", 16)}; // infinity
    for (const std::string_view packet : bad)
        QVERIFY2(!desk::messagesIn(bytes(packet)),
                 qPrintable(QString::fromLatin1(packet.data(), static_cast<qsizetype>(packet.size()))));
    QVERIFY(!desk::messagesIn(std::vector<std::uint8_t>(desk::largestPacket + 4, '/')));
}

void TestDesk::mapsMessagesToInputs()
{
    const scene::Scene scene = withSources();
    const auto input = [&](const desk::OscMessage& message) { return desk::inputOf(message, scene); };
    const auto dial = input({"/dial/tide-height", {0.7}});
    QVERIFY(dial);
    QCOMPARE(*dial, (scene::Input{0, scene::DialInput{"tide-height", 0.7}}));
    // Values by the names of the source, in pairs, or numbered.
    const auto call = [&](const desk::OscMessage& message) {
        const auto made = input(message);
        return made && made->as<scene::CallInput>() ? *made->as<scene::CallInput>() : scene::CallInput{};
    };
    const auto byOrder = call({"/hail", {std::string("lugger"), 7.0, true}});
    QCOMPARE(scene::textOf(*byOrder.with.find("vessel")), std::string("lugger"));
    QCOMPARE(*byOrder.with.find("length"), scene::Scalar{7.0});
    QCOMPARE(*byOrder.with.find("value3"), scene::Scalar{true});
    const auto pairs = call({"/hail", {std::string("vessel"), std::string("brig")}});
    QCOMPARE(scene::textOf(*pairs.with.find("vessel")), std::string("brig"));
    QCOMPARE(call({"/harbour/bell", {}}).call, std::string("harbour-bell"));
    for (const desk::OscMessage& wrong : {desk::OscMessage{"/dial/none", {1.0}},
                                          {"/dial/tide-height", {}},
                                          {"/dial/tide-height", {true}},
                                          {"/", {}},
                                          {"/b ll", {}},
                                          {"/a*", {}}}) {
        std::string why;
        QVERIFY(!desk::inputOf(wrong, scene, &why));
        QVERIFY(!why.empty());
    }
}

void TestDesk::writesWhatItReads()
{
    scene::Named<scene::Scalar> with;
    with.set("height", 0.75);
    with.set("who", std::string("lock keeper"));
    with.set("calm", true);
    const desk::OscMessage message = desk::messageOf("tide-turned", with);
    const auto read = desk::messagesIn(desk::packetOf(message));
    QVERIFY(read);
    QCOMPARE(read->front(), message);
    QCOMPARE(desk::inputOf(read->front(), withSources())->as<scene::CallInput>()->with, with);
}

void TestDesk::anyBytesAreSafe()
{
    std::mt19937 random{7};
    std::uniform_int_distribution<int> byte{0, 255};
    const std::vector<std::uint8_t> good = desk::packetOf({"/dial/tide-height", {0.5, std::string("x"), false}});
    int read = 0;
    for (int i = 0; i < 20'000; ++i) {
        std::vector<std::uint8_t> packet = good;
        for (int change = 0; change < 1 + i % 5; ++change)
            packet[static_cast<std::size_t>(byte(random)) % packet.size()] = static_cast<std::uint8_t>(byte(random));
        if (i % 3 == 0)
            packet.resize(static_cast<std::size_t>(byte(random)) % packet.size());
        if (const auto messages = desk::messagesIn(packet))
            for (const desk::OscMessage& message : *messages)
                read += desk::inputOf(message, withSources()) ? 1 : 0;
    }
    QVERIFY(read > 0);
}

QTEST_APPLESS_MAIN(TestDesk)
#include "test_desk.moc"
