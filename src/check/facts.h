// SPDX-License-Identifier: Apache-2.0
/// What is known of a scene before it runs, gathered once for all that look for findings.
#pragma once

#include "check/finding.h"
#include "scene/kits.h"

#include <map>
#include <set>
#include <span>
#include <unordered_map>
#include <unordered_set>

namespace snare::check {

using Names = std::set<std::string, std::less<>>;

/// A snare, and where it stands.
struct Rule {
    const scene::Snare* snare;
    Place place;
    const scene::Assembly* assembly = nullptr; ///< that it is of
};

/// A list of responses: of a snare, or of a routine.
struct Steps {
    const std::vector<scene::Response>* responses;
    Place place;
    const Rule* rule = nullptr; ///< null for a routine
};

/// A piece that is there, or can come: of the scene, or the model of a template or a part that is
/// spawned.
struct Body {
    const scene::Piece* piece;
    bool spawned = false;
    std::string form;     ///< its template
    std::size_t kind = 0; ///< those of one kind meet the same, and pass the same filters
};

/// A name in a snare or routine, and where it stands.
struct NameAt {
    Place place;
    scene::Refers refers;
    std::string name;
};

class Facts {
  public:
    explicit Facts(const scene::Scene& scene);
    Facts(const Facts&) = delete;
    Facts& operator=(const Facts&) = delete;

    const scene::Scene& scene;
    std::vector<Rule> rules;                 ///< of the scene, its kits and its assemblies
    std::vector<Steps> steps;                ///< of those, and of all routines
    std::vector<Body> bodies;                ///< all pieces, and what can be spawned
    std::vector<const scene::Piece*> models; ///< of templates and parts, whether they can be spawned or not
    std::vector<NameAt> names;               ///< all names in rules and steps, in their order
    Names sources;                           ///< their names
    Names laid;

    Names tags;                 ///< that a piece has or is ever given
    Names groups;               ///< that are listed, had or ever given
    Names signals;              ///< that are raised
    Names heard;                ///< that are caught
    Names calls;                ///< that sources make known
    Names values;               ///< names of properties and variables that are there or set
    Names phases;               ///< of pieces
    Names looks;                ///< of pieces
    Names timers;               ///< of pieces
    Names armed;                ///< snares that something arms
    Names run;                  ///< routines that are run
    std::string scripts;        ///< all Lua of the scene, one text: what is named in it is not known before it runs
    bool tagsWorkedOut = false; ///< a tag is given whose name is worked out
    bool groupsWorkedOut = false;
    bool signalsWorkedOut = false;
    bool spawnsWorkedOut = false;
    bool heightsChange = false; ///< something moves a piece up or down while it runs
    bool restarts = false;

    /// Whether a script names it: then it may be set, raised or given there.
    bool isInScripts(std::string_view name) const;
    const scene::Piece* piece(std::string_view id) const;
    /// Whether a selector, or the name of a piece, means this one. `part:` within an assembly means
    /// its own part.
    bool means(std::string_view name, const Body& body, const Rule* from) const;
    /// The bodies that a name means; `self` is those at which the rule catches.
    const std::vector<const Body*>& bodiesOf(std::string_view name, const Rule* from) const;
    /// One of each kind among them.
    std::vector<const Body*> oneOfEach(const std::vector<const Body*>& bodies) const;
    /// One of each kind of all bodies.
    const std::vector<const Body*>& kinds() const { return kinds_; }
    std::size_t countOf(const Body& kind) const { return counts_[kind.kind]; }
    const Body* body(std::string_view id) const;
    /// Whether the name can mean only what is known before it runs: an id or a selector, `self`
    /// where that is known.
    bool isPlain(std::string_view name, const Rule* from) const;
    /// Whether a body can pass the groups, tags, pieces and templates of a filter at some time.
    bool mayPass(const Body& body, const scene::Filter& filter) const;
    /// Whether the group is given to pieces while the scene runs.
    bool isGiven(std::string_view group) const { return groupsWorkedOut || regrouped_.contains(group); }
    /// Whether a shape of a piece can be in a group at some time.
    bool mayBeIn(const Body& body, std::string_view group) const;

  private:
    void addRules();
    void addSteps();
    void addBodies();
    void addGiven(const scene::Response& response);
    void addPiece(const scene::Piece& piece);

    void addKinds();
    void addNames();

    std::unordered_map<std::string_view, const Body*> byId_;
    std::vector<const Body*> kinds_;
    std::vector<std::size_t> counts_;
    mutable std::map<std::string, std::vector<const Body*>, std::less<>> meant_; ///< by name and assembly
    Names regrouped_; ///< groups that are given while it runs
    Names retagged_;
};

/// Findings as they are found.
class Report {
  public:
    Report(std::vector<Finding>& list, const FindingRow& row) : list_(list), row_(row) {}

    void add(Place place, std::string about, std::string text, std::optional<Fix> fix = {});

  private:
    std::vector<Finding>& list_;
    const FindingRow& row_;
};

/// Calls `visit(place, refers, name)` for every name in a list of steps, or in catch, filter and
/// phases of a snare; the place tells response and field.
using VisitName = std::function<void(const Place& place, scene::Refers refers, const std::string& name)>;
void forEachName(const Rule& rule, const VisitName& visit);
void forEachName(const Steps& steps, const VisitName& visit);

/// The known word nearest to a name, capital letters aside; empty if none is near.
std::string nearest(std::string_view name, const std::vector<std::string>& known);

/// Puts another word for one in the snare, routine or piece at a place.
std::optional<Fix> replacing(const Place& place, const std::string& word, const std::string& by);
/// Changes the snare at a place.
Fix changing(const Place& place, std::string text, std::function<void(scene::Snare&)> change);
/// Takes the snare or routine at a place away.
Fix removing(const Place& place);

// The parts of the table, by what they look at.
std::span<const FindingRow> rowsOfNames();
std::span<const FindingRow> rowsOfSignals();
std::span<const FindingRow> rowsOfMeetings();
std::span<const FindingRow> rowsOfSleep();
std::span<const FindingRow> rowsOfDoubles();
std::span<const FindingRow> rowsOfMishaps();

} // namespace snare::check
