// SPDX-License-Identifier: Apache-2.0
/// The scene: the document as a plain value. It can be copied, compared and edited without running.
#pragma once

#include "scene/assembly.h"
#include "scene/shared_list.h"
#include "scene/snare.h"

#include <cstdint>

namespace snare::scene {

enum class View { plan, side };

template <>
inline constexpr auto wordsOf<View> = std::array{
    EnumWord<View>{View::plan, "plan", "seen from above, no gravity"},
    EnumWord<View>{View::side, "side", "seen from the side, with gravity"},
};

/// What the player sees (P6): a window of this height, m, at a place or after a piece.
struct Camera {
    Vec at{0, 0};
    double height = 20; ///< m of the scene from the lower to the upper edge of the view
    std::string follow;

    friend bool operator==(const Camera&, const Camera&) = default;
};

template <>
inline constexpr auto
    fieldsOf<Camera> = fields(word("camera", "what the view shows"),
                              field("at", &Camera::at, "middle of the view").in(Unit::metres),
                              field("height", &Camera::height, "height of the view").in(Unit::metres).above(0),
                              field("follow", &Camera::follow, "piece that the view follows").names(Refers::piece));

/// What the shapes of two groups do to each other (M1, M2).
enum class Contact { pass, sense, stop };

template <>
inline constexpr auto wordsOf<Contact> = std::array{
    EnumWord<Contact>{Contact::pass, "pass", "do not meet"},
    EnumWord<Contact>{Contact::sense, "sense", "meet, but do not stop each other"},
    EnumWord<Contact>{Contact::stop, "stop", "solids stop each other"},
};

/// A row of the contact table. The order of the two groups does not matter.
struct ContactRule {
    std::string first;
    std::string second;
    Contact contact = Contact::stop;

    friend bool operator==(const ContactRule&, const ContactRule&) = default;
};

struct Routine;
template <> inline constexpr bool sharesEntries<Routine> = true;

/// A response list under a name, used by several snares.
struct Routine {
    Named<Scalar> with; ///< its parameters, read as `with.NAME`, and what they are where a `run` does not give them
    std::vector<Response> responses;

    friend bool operator==(const Routine&, const Routine&) = default;
};

template <>
inline constexpr auto fieldsOf<Routine> =
    fields(word("routine", "a response list under a name"),
           field("with", &Routine::with, "its parameters, and what they are where they are not given"),
           field("responses", &Routine::responses, "what is done, one after another"));

/// What a kit file holds: routines, templates, assemblies and snares that scenes share. Its snares
/// catch at its own templates or at tags, so that the binding is shared too.
struct Kit {
    std::string schema = {}; ///< where editors find the schema of the file; means nothing here
    Named<Routine> routines;
    Named<Template> templates;
    Named<Assembly> assemblies;
    std::vector<Snare> snares;

    friend bool operator==(const Kit&, const Kit&) = default;
};

template <>
inline constexpr auto fieldsOf<Kit> = fields(word("kit", "routines, templates and snares that scenes share"),
                                             field("$schema", &Kit::schema, "for editors: where the schema of the file is"),
                                             field("routines", &Kit::routines, "response lists under a name"),
                                             field("templates", &Kit::templates, "what pieces are stamped from"),
                                             field("assemblies", &Kit::assemblies, "what is laid as one"),
                                             field("snares", &Kit::snares, "rules that catch at tags and templates"));

/// A kit that a scene names, as it was found. No part of the document; filled in by whoever reads
/// files.
struct LoadedKit {
    std::string file;    ///< as the scene names it
    std::string problem; ///< why it could not be read, or empty
    Kit kit;
    int reading = 0; ///< which reading of the file it is, or was before it was changed; told by whoever reads files

    friend bool operator==(const LoadedKit&, const LoadedKit&) = default;
};

/// The kits of a scene, in its order; they are saved in files of their own.
struct LoadedKits {
    std::shared_ptr<const std::vector<LoadedKit>> list;

    friend bool operator==(const LoadedKits& a, const LoadedKits& b)
    {
        return a.list == b.list || (a.list && b.list ? *a.list == *b.list : (a.list ? a.list : b.list)->empty());
    }
};

/// A finding (check/findings.h) that is meant to be, and why.
struct Accepted {
    std::string finding; ///< its kind
    std::string at;      ///< where, as the finding says it: "snare weigh"
    std::string about;   ///< the word that it is about
    std::string reason;

    friend bool operator==(const Accepted&, const Accepted&) = default;
};

template <>
inline constexpr auto fieldsOf<Accepted> =
    fields(word("accepted", "a finding that is meant to be"),
           field("finding", &Accepted::finding, "which kind").required(),
           field("at", &Accepted::at, "where, as \"snare weigh\"").required(),
           field("about", &Accepted::about, "the word that it is about"),
           field("reason", &Accepted::reason, "why it may stay"));

/// The document: everything that a scene file holds, and its kits as they were found.
struct Scene {
    std::string schema = {}; ///< where editors find the schema of the file; means nothing here
    std::string name;
    View view = View::plan;
    int rate = 60; ///< ticks a second, 1 to 1000 (T1)
    std::uint32_t seed = 0;
    std::optional<Vec> gravity;                  ///< m/s²; if left out none in plan view, 9.81 downwards in side view
    std::optional<std::array<double, 4>> bounds; ///< left, bottom, right, top, m
    Camera camera;
    double dragStart = 0.1; ///< m, >= 0: a drag begins when the pointer is farther than this from where it pressed (P4)
    std::vector<std::string> groups;
    std::vector<ContactRule> contacts;
    Named<Scalar> variables;
    std::vector<std::string> phases; ///< the first is the initial one
    std::vector<std::string> kits;   ///< files, relative to the scene
    Named<Routine> routines;
    Named<Template> templates;
    Named<Assembly> assemblies;
    std::vector<Laid> laid; ///< their parts stand among the pieces
    SharedList<Piece> pieces;
    std::vector<Source> sources;
    std::vector<std::string> outgoing; ///< signals that programs outside hear
    SharedList<Snare> snares;
    std::vector<Accepted> accepted; ///< findings that may stay
    LoadedKits loaded;

    friend bool operator==(const Scene&, const Scene&) = default;
};

template <>
inline constexpr auto fieldsOf<Scene> = fields(
    word("scene", "the document"), field("$schema", &Scene::schema, "for editors: where the schema of the file is"),
    field("name", &Scene::name, "title"), field("view", &Scene::view, "how it is seen"),
    field("rate", &Scene::rate, "ticks a second").in(Unit::perSecond).atLeast(1).atMost(1000),
    field("seed", &Scene::seed, "seed of the random values"),
    field("gravity", &Scene::gravity, "by the view if left out").in(Unit::metresPerSquareSecond),
    field("bounds", &Scene::bounds, "left, bottom, right, top of the scene").in(Unit::metres),
    field("camera", &Scene::camera, "what the view shows"),
    field("dragStart", &Scene::dragStart, "how far the pointer goes from where it pressed before that is a drag")
        .in(Unit::metres)
        .atLeast(0),
    field("groups", &Scene::groups, "groups of shapes").names(Refers::group),
    field("contacts", &Scene::contacts, "what two groups do to each other; stop if not named"),
    field("variables", &Scene::variables, "values of the scene"),
    field("phases", &Scene::phases, "modes of the scene; the first is the initial one").names(Refers::phase),
    field("kits", &Scene::kits, "files of shared routines, templates and snares"),
    field("routines", &Scene::routines, "response lists under a name"),
    field("templates", &Scene::templates, "what pieces are stamped from"),
    field("assemblies", &Scene::assemblies, "pieces and the snares between them, laid as one"),
    field("pieces", &Scene::pieces, "what is placed in it"),
    field("sources", &Scene::sources, "where input comes from"),
    field("outgoing", &Scene::outgoing, "signals that programs outside hear").names(Refers::signal),
    field("snares", &Scene::snares, "the rules, in this order"),
    field("accepted", &Scene::accepted, "findings that may stay, with the reason"));

/// The gravity of the scene: its own, else by its view (0 or 9.81 downwards), m/s².
Vec gravityOf(const Scene& scene);

/// What has this name; null if nothing has. Linear in their number.
const Piece* findPiece(const Scene& scene, std::string_view id);
Piece* findPiece(Scene& scene, std::string_view id);
const Snare* findSnare(const Scene& scene, std::string_view id);
Snare* findSnare(Scene& scene, std::string_view id);
const Source* findSource(const Scene& scene, std::string_view id);

/// Whether the piece is one of those that a selector, or its id, names (a shape after the id does
/// not matter).
bool isNamedBy(const Piece& piece, std::string_view name);

/// Index of the shape called `name` (id or index) on the piece, or nothing.
std::optional<std::size_t> findShape(const Piece& piece, std::string_view name);

/// All groups in use: `default` and `pointer`, the listed ones, and any that a piece or shape
/// names.
std::vector<std::string> allGroups(const Scene& scene);

/// All tags that pieces carry, each once, in the order of the scene.
std::vector<std::string> allTags(const Scene& scene);

/// All properties and variables that are given or set anywhere, each once.
std::vector<std::string> allValueNames(const Scene& scene);

/// All calls that sources name or snares catch, each once.
std::vector<std::string> allCalls(const Scene& scene);

/// All phases of the scene and of its pieces and templates, each once; those of the scene first.
std::vector<std::string> allPhases(const Scene& scene);

/// The scene as it runs: the snares of its kits stand after its own, their routines and templates
/// beside its own where the scene has none of the name.
Scene withKits(const Scene& scene);

/// All signals that snares raise or hear, each once.
std::vector<std::string> allSignals(const Scene& scene);

/// What the contact table says of two groups; `stop` when they are not in it (M1).
Contact contactBetween(const Scene& scene, std::string_view first, std::string_view second);

/// An id like `stem` that nothing in the scene has yet: stem, stem-2, stem-3, …
std::string freeId(const Scene& scene, std::string_view stem);

/// An id for a copy of what is called `id`: as `freeId`, but a number at its end is counted on
/// (a copy of lamp-3 is lamp-4). `id` itself if nothing has it.
std::string freeCopyId(const Scene& scene, std::string_view id);

} // namespace snare::scene
