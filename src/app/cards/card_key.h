// SPDX-License-Identifier: Apache-2.0
/// What a card shows, and where that is kept: a snare of the scene, of a kit, or within an
/// assembly, or a routine.
///
/// As text: `NAME`, `routine:NAME`, `assembly:ASSEMBLY/NAME`; with `FILE>` before it for what a kit
/// holds.
#pragma once

#include "scene/kits.h"

#include <string>

namespace snare::app {

struct CardKey {
    enum class Kind { snare, ofAssembly, routine };

    std::string home; ///< the file of a kit, or empty
    Kind kind = Kind::snare;
    std::string assembly; ///< for `ofAssembly`
    std::string name;

    std::string text() const;
};

CardKey keyOf(const std::string& text);

/// The snare that a card shows; null for a routine and for what is not there.
const scene::Snare* snareOf(const scene::Scene& scene, const CardKey& key);
scene::Snare* snareToChange(scene::Scene& scene, const CardKey& key);

/// What a run calls the snare of a card (A2): that of an assembly as there, or `lock.open`.
std::string nameInRun(const scene::Scene& scene, const CardKey& key);
/// The card of what a run calls so; empty if there is none.
std::string cardOf(const scene::Scene& scene, const std::string& nameInRun);

/// The card of a routine that the scene means by a name; empty if there is none.
std::string cardOfRoutine(const scene::Scene& scene, const std::string& name);

/// The keys of the snares within an assembly.
std::vector<std::string> cardsWithin(const scene::Scene& scene, const std::string& assembly);

} // namespace snare::app
