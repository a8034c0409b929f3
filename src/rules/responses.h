// SPDX-License-Identifier: Apache-2.0
/// What each response does, one `apply` each. A response that the variant has and that has no
/// `apply` here does not compile.
#pragma once

#include "rules/holds.h"
#include "rules/pending_change.h"
#include "scene/response.h"

namespace snare::rules {

class ResponseContext;
struct RunState;
struct TickContext;

/// Carries out steps of a run until it has to wait or has none left; see CarryOutSteps.
void carryOutSteps(RunState& run, const TickContext& tick);

/// Notes the same change for every target; with `until` what was before is kept.
void addForEach(const scene::Target& on, PendingChange::Kind kind, ResponseContext& context,
                std::optional<scene::Until> until = {}, Hold::What what = Hold::What::shown);

/// Carries out the response if its conditions hold; sets the run's `waiting` if it has to wait.
void carryOut(const scene::Response& response, ResponseContext& context);

void apply(const scene::Say& say, ResponseContext& context);
void apply(const scene::Note& note, ResponseContext& context);
void apply(const scene::Show& show, ResponseContext& context);
void apply(const scene::Hide& hide, ResponseContext& context);
void apply(const scene::Enable& enable, ResponseContext& context);
void apply(const scene::Disable& disable, ResponseContext& context);
void apply(const scene::Arm& arm, ResponseContext& context);
void apply(const scene::Disarm& disarm, ResponseContext& context);
void apply(const scene::Set& set, ResponseContext& context);
void apply(const scene::Add& add, ResponseContext& context);
void apply(const scene::Tag& tag, ResponseContext& context);
void apply(const scene::Untag& untag, ResponseContext& context);
void apply(const scene::Regroup& regroup, ResponseContext& context);
void apply(const scene::ChangeLook& look, ResponseContext& context);
void apply(const scene::Move& move, ResponseContext& context);
void apply(const scene::Turn& turn, ResponseContext& context);
void apply(const scene::Stop& stop, ResponseContext& context);
void apply(const scene::Put& put, ResponseContext& context);
void apply(const scene::Size& size, ResponseContext& context);
void apply(const scene::Attach& attach, ResponseContext& context);
void apply(const scene::Detach& detach, ResponseContext& context);
void apply(const scene::Remove& remove, ResponseContext& context);
void apply(const scene::Signal& signal, ResponseContext& context);
void apply(const scene::Wait& wait, ResponseContext& context);
void apply(const scene::Prompt& prompt, ResponseContext& context);
void apply(const scene::Rearm& rearm, ResponseContext& context);
void apply(const scene::Chase& chase, ResponseContext& context);
void apply(const scene::Push& push, ResponseContext& context);
void apply(const scene::Spawn& spawn, ResponseContext& context);
void apply(const scene::ChangePhase& phase, ResponseContext& context);
void apply(const scene::ChangeTimer& timer, ResponseContext& context);
void apply(const scene::Sound& sound, ResponseContext& context);
void apply(const scene::Shake& shake, ResponseContext& context);
void apply(const scene::RunRoutine& run, ResponseContext& context);
void apply(const scene::Script& script, ResponseContext& context);
void apply(const scene::Restart& restart, ResponseContext& context);

} // namespace snare::rules
