// SPDX-License-Identifier: Apache-2.0
/// Everything that a file can hold has a place in the window: walks all field tables.
#include "app/cards/piece_card.h"
#include "app/panels/source_panel.h"
#include "app/panels/source_shelf.h"
#include "window_fixture.h"

#include <QFile>
#include <QTabWidget>

#include <map>
#include <set>

using namespace snare;
using namespace snare::tests;

namespace {

using Places = std::set<std::string>;

/// All fields of a struct, as the slots name them: "look.colour".
template <class T> Places fieldsOf(const std::string& kind)
{
    Places places;
    scene::forEachField<T>([&]<class F>(const F& field) {
        if constexpr (requires { field.key; })
            places.insert(kind + "." + std::string(field.key));
    });
    return places;
}

template <class T> Places fieldsOf()
{
    return fieldsOf<T>(std::string(scene::fieldsOf<T>.word.key));
}

template <class... Kinds> void addAll(Places& to, const std::variant<Kinds...>*)
{
    (to.merge(fieldsOf<Kinds>()), ...);
}

/// What is asked for elsewhere than in a slot, and where.
const std::map<std::string, std::string> elsewhere{
    {"scene.groups", "Contacts: groups are added, renamed, merged and deleted there"},
    {"scene.contacts", "Contacts: dragged between the trays"},
    {"scene.pieces", "the ground and the Pieces panel"},
    {"scene.sources", "the shelf"},
    {"scene.snares", "the book"},
    {"scene.routines", "the book, after the snares"},
    {"scene.accepted", "Findings: accepted with a reason, and taken back, there"},
    {"scene.templates", "Ctrl+T, Stock, and the template row of the pieces that follow one"},
    {"scene.assemblies", "Ctrl+Shift+T, the stamp, and the part row of their pieces"},
    {"piece.shapes", "the rows called shape, each with slots of its own"},
    {"snare.catch", "the first sentence of the card, each part with a slot of its own"},
    {"snare.filter", "the phrases after only, each with a slot of its own"},
    {"snare.gate", "the phrases after only, each with a slot of its own"},
    {"snare.responses", "the numbered lines, each with slots of its own"},
    {"filter.tags", "three phrases: any, all, none"},
    {"filter.speed", "two phrases: faster and slower than"},
    {"filter.when", "comparisons, each with a slot of its own"},
};

/// A value for a field of a response, other than its default.
std::string sampleFor(const io::FieldView& field)
{
    using io::SlotKind;
    switch (field.kind) {
    case SlotKind::number:
        return "0.5";
    case SlotKind::flag:
        return field.json == "true" ? "false" : "true";
    case SlotKind::word:
        return "\"" + std::string(field.words.back().word) + "\"";
    case SlotKind::words:
        return "[\"" + std::string(field.words.back().word) + "\"]";
    case SlotKind::value:
        return "7";
    case SlotKind::place:
    case SlotKind::point:
        return "[1, 2]";
    case SlotKind::numbers:
        return "[0, 1]";
    case SlotKind::names:
        return "[\"quay\"]";
    case SlotKind::named:
        return R"({"load": 3})";
    case SlotKind::target:
        return "\"visitor\"";
    default:
        return "\"quay\"";
    }
}

struct Fixture : Bench {
    /// Opens a scene that is written here.
    void open(const std::string& text)
    {
        const QString path = folder.filePath(QStringLiteral("full.snare.json"));
        QFile file{path};
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(text.c_str());
        file.close();
        QVERIFY(window.openFile(path));
        settle();
    }

    /// The fields that slots below a widget are the places of.
    static Places placesIn(const QWidget* widget)
    {
        Places places;
        for (const QWidget* slot : widget->findChildren<QWidget*>())
            for (const QString& field : slot->property("field").toString().split(QLatin1Char(' '), Qt::SkipEmptyParts))
                places.insert(field.toStdString());
        return places;
    }
};

/// A scene in which everything is set that can be.
const char* const full =
    R"json({"format": "fresh-snare-scene", "version": 1, "name": "Full", "view": "side", "rate": 100, "seed": 5,
 "gravity": [0, -5], "bounds": [-20, -20, 20, 20], "camera": {"at": [1, 1], "height": 18, "follow": "walker"}, "dragStart": 0.2,
 "variables": {"count": 1}, "phases": ["calm", "storm"], "outgoing": ["go"],
 "templates": {"buoy": {"shapes": [{"circle": 1}]}},
 "sources": [{"id": "clock", "timer": {"every": 2, "repeat": false, "runs": false}}, {"id": "tide", "dial": {"low": 0, "high": 4, "value": 1}},
             {"id": "hail", "call": {"name": "hail", "values": {"vessel": "ketch"}}}, {"id": "grip", "key": {"keys": ["e", "Return"]}}],
 "pieces": [
  {"id": "walker", "group": "crew", "tags": ["staff"], "at": [1, 2, 3], "turn": 4, "layer": 5, "shown": false, "enabled": false,
   "pinned": true, "fill": "fit", "through": true, "draggable": true, "during": "calm", "outside": "wrap", "lifetime": 9,
   "properties": {"load": 1}, "timers": [{"id": "blink", "timer": {"every": 1, "repeat": false, "runs": false}}],
   "phases": [{"id": "dry", "look": {"colour": "#aa0000"}}, "wet"],
   "look": {"colour": "#1f8a7a", "image": "hull.png", "frames": 4, "frameRate": 5, "once": true, "label": "W", "glow": 0.5,
            "gauge": {"of": "self.load", "low": 0, "high": 9}}, "looks": {"lit": {"glow": 1}},
   "body": {"kind": "walker", "steer": {"left": ["a"], "right": ["d"], "up": ["w"], "down": ["s"], "jump": ["space"]}, "speed": 2,
            "acceleration": 3, "jump": 4, "climbs": "crew", "climbSpeed": 1, "groundReach": 0.03, "step": 0.3, "slope": 40, "coyote": 0.1,
            "jumpBuffer": 0.1},
   "shapes": [{"id": "trunk", "role": "zone", "circle": 0.5, "at": [1, 0], "turn": 3, "group": "quay", "enabled": false, "margin": 0.1,
               "band": [0, 1]},
              {"id": "foot", "box": [1, 2], "friction": 0.1, "bounce": 0.9}, {"capsule": {"from": [0, 0], "to": [1, 0], "radius": 0.2}},
              {"polygon": [[0, 0], [1, 0], [0, 1]]}, {"line": {"points": [[0, 0], [1, 0], [0, 1]], "closed": true}},
              {"traced": {"image": "hull.png", "colour": "#112233", "tolerance": 9, "size": [2, 2]}}]},
  {"id": "barge", "template": "buoy", "body": {"kind": "kinematic", "velocity": [1, 0, 2], "spin": 3,
    "route": {"points": [[1, 0], [2, 0]], "speed": 2, "loop": "back"}}},
  {"id": "cask", "body": {"kind": "dynamic", "velocity": [1, 0], "spin": 3, "density": 2, "mass": 4, "gravity": 0.5, "damping": 0.2,
    "upright": true}, "shapes": [{"box": [1, 1]}]}],
 "snares": [
  {"id": "contact", "note": "a remark", "armed": false, "during": ["scene:calm"], "again": "ignore", "claims": true,
   "catch": {"event": "stay", "at": "walker", "shape": "trunk", "every": 2, "reach": "all"},
   "filter": {"groups": ["crew"], "tags": {"any": ["a"], "all": ["b"], "none": ["c"]}, "pieces": ["cask"], "templates": ["buoy"],
              "side": ["left"], "manner": "sense", "speed": {"min": 1, "max": 2}, "script": "true",
              "when": [{"left": "self.load", "is": ">", "right": 1}]},
   "gate": {"limit": 3, "cooldown": 1, "dwell": 1, "chance": 0.5, "each": "visitor", "reset": "vacated", "catchUp": true}},
  {"id": "click", "catch": {"event": "click", "at": "walker", "button": "right", "modifiers": ["shift"]}},
  {"id": "key", "catch": {"event": "key-down", "key": "e", "at": "walker", "inside": true}},
  {"id": "timer", "catch": {"event": "elapsed", "source": "clock"}},
  {"id": "watch", "catch": {"event": "rises", "watch": "scene.count", "level": 3, "band": 0.5}},
  {"id": "call", "catch": {"event": "called", "name": "hail"}},
  {"id": "heard", "catch": {"event": "heard", "signal": "go"}},
  {"id": "phase", "catch": {"event": "phase-begin", "at": "walker", "phase": "dry"}},
  {"id": "value", "catch": {"event": "changed", "at": "walker", "value": "load"}}]
})json";

} // namespace

class TestFields : public QObject {
    Q_OBJECT

  private slots:
    void everyFieldHasAPlace();
    void everyFieldOfAResponseHasAPlace();
};

void TestFields::everyFieldHasAPlace()
{
    Fixture bench;
    bench.open(full);
    Places found;
    auto* card = bench.window.findChild<app::PieceCard*>();
    const auto collect = [&](const std::vector<std::string>& pieces) {
        bench.window.selection().choosePieces(pieces);
        bench.layOut();
        found.merge(Fixture::placesIn(card));
    };
    collect({});
    for (const char* piece : {"walker", "barge", "cask"})
        collect({piece});
    for (const char* source : {"clock", "tide", "hail", "grip"}) {
        bench.window.findChild<app::SourceShelf*>()->openSource(source);
        auto* panel = bench.window.findChild<app::SourcePanel*>();
        QVERIFY2(panel, source);
        found.merge(Fixture::placesIn(panel));
        panel->close();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
    bench.window.findChild<QTabWidget*>()->setCurrentIndex(1);
    bench.layOut();
    auto* book = bench.window.findChild<app::BookPanel*>();
    for (const scene::Snare& snare : bench.window.document().scene().snares) {
        app::SnareCard* one = book->cards()->card(snare.id);
        QVERIFY2(one, snare.id.c_str());
        one->ensureBuilt();
        found.merge(Fixture::placesIn(one));
    }

    Places wanted = fieldsOf<scene::Scene>();
    wanted.merge(fieldsOf<scene::Camera>());
    wanted.merge(fieldsOf<scene::Piece>());
    wanted.merge(fieldsOf<scene::Shape>());
    addAll(wanted, static_cast<const scene::Geometry*>(nullptr));
    addAll(wanted, static_cast<const scene::Body*>(nullptr));
    wanted.merge(fieldsOf<scene::Route>());
    wanted.merge(fieldsOf<scene::KeyLists>());
    wanted.merge(fieldsOf<scene::Look>());
    wanted.merge(fieldsOf<scene::Gauge>());
    wanted.merge(fieldsOf<scene::PiecePhase>());
    wanted.merge(fieldsOf<scene::PieceTimer>());
    wanted.merge(fieldsOf<scene::Source>());
    wanted.merge(fieldsOf<scene::TimerSource>());
    wanted.merge(fieldsOf<scene::DialSource>());
    wanted.merge(fieldsOf<scene::CallSource>());
    wanted.merge(fieldsOf<scene::KeySource>());
    wanted.merge(fieldsOf<scene::Snare>());
    wanted.merge(fieldsOf<scene::Catch>());
    wanted.merge(fieldsOf<scene::Filter>());
    wanted.merge(fieldsOf<scene::TagFilter>());
    wanted.merge(fieldsOf<scene::SpeedFilter>());
    wanted.merge(fieldsOf<scene::Gate>());
    wanted.merge(fieldsOf<scene::Condition>());
    QVERIFY(wanted.size() > 120);
    std::string missing;
    for (const std::string& field : wanted)
        if (!found.contains(field) && !elsewhere.contains(field))
            missing += field + ' ';
    QCOMPARE(missing, std::string());
    // An exception that is none any more goes.
    for (const auto& [field, where] : elsewhere) {
        QVERIFY2(wanted.contains(field), field.c_str());
        QVERIFY2(!found.contains(field), field.c_str());
    }
}

/// Each response with all its fields set shows each of them in its sentence.
void TestFields::everyFieldOfAResponseHasAPlace()
{
    scene::Scene scene = scene::Scene{};
    Places wanted;
    for (const scene::Word* word : io::responseWords()) {
        scene::Snare snare;
        snare.id = "s-" + std::string(word->key);
        snare.catches.event.items = {scene::EventKind::start};
        scene::Response response = *io::responseOf(word->key);
        for (const io::FieldView& field : io::fieldsOf(response)) {
            wanted.insert(std::string(word->key) + "." + std::string(field.key));
            if (const auto wrong = io::setField(response, field.key, sampleFor(field)))
                QVERIFY2(false, (snare.id + " " + std::string(field.key) + ": " + *wrong).c_str());
        }
        snare.responses = {response};
        scene.snares.push_back(std::move(snare));
    }
    QVERIFY(wanted.size() > 80);
    Fixture bench;
    bench.window.document().edit(QStringLiteral("all responses"),
                                 [&](scene::Scene& edited) { edited.snares = scene.snares; });
    bench.window.findChild<QTabWidget*>()->setCurrentIndex(1);
    bench.layOut();
    auto* book = bench.window.findChild<app::BookPanel*>();
    Places found;
    for (const scene::Snare& snare : scene.snares) {
        app::SnareCard* card = book->cards()->card(snare.id);
        QVERIFY2(card, snare.id.c_str());
        card->ensureBuilt();
        found.merge(Fixture::placesIn(card));
    }
    std::string missing;
    for (const std::string& field : wanted)
        if (!found.contains(field))
            missing += field + ' ';
    QCOMPARE(missing, std::string());
}

SNARE_WINDOW_TEST_MAIN(TestFields)
#include "test_fields.moc"
