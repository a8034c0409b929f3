// SPDX-License-Identifier: Apache-2.0
/// What each response does, one `apply` each. A response that the variant has and that has no `apply` here does not
/// compile.
#pragma once

#include "rules/doing.h"

namespace snare::rules {

void apply(const scene::Say& say, Doing& doing);
void apply(const scene::Note& note, Doing& doing);
void apply(const scene::Show& show, Doing& doing);
void apply(const scene::Hide& hide, Doing& doing);
void apply(const scene::Enable& enable, Doing& doing);
void apply(const scene::Disable& disable, Doing& doing);
void apply(const scene::Arm& arm, Doing& doing);
void apply(const scene::Disarm& disarm, Doing& doing);
void apply(const scene::Set& set, Doing& doing);
void apply(const scene::Add& add, Doing& doing);
void apply(const scene::Tag& tag, Doing& doing);
void apply(const scene::Untag& untag, Doing& doing);
void apply(const scene::Regroup& regroup, Doing& doing);
void apply(const scene::ChangeLook& look, Doing& doing);
void apply(const scene::Move& move, Doing& doing);
void apply(const scene::Turn& turn, Doing& doing);
void apply(const scene::Stop& stop, Doing& doing);
void apply(const scene::Put& put, Doing& doing);
void apply(const scene::Size& size, Doing& doing);
void apply(const scene::Attach& attach, Doing& doing);
void apply(const scene::Detach& detach, Doing& doing);
void apply(const scene::Remove& remove, Doing& doing);
void apply(const scene::Signal& signal, Doing& doing);
void apply(const scene::Wait& wait, Doing& doing);
void apply(const scene::Prompt& prompt, Doing& doing);
void apply(const scene::Rearm& rearm, Doing& doing);
void apply(const scene::Chase& chase, Doing& doing);
void apply(const scene::Push& push, Doing& doing);
void apply(const scene::Spawn& spawn, Doing& doing);
void apply(const scene::ChangePhase& phase, Doing& doing);
void apply(const scene::ChangeTimer& timer, Doing& doing);
void apply(const scene::Sound& sound, Doing& doing);
void apply(const scene::Shake& shake, Doing& doing);
void apply(const scene::RunRoutine& run, Doing& doing);
void apply(const scene::Script& script, Doing& doing);
void apply(const scene::Restart& restart, Doing& doing);

} // namespace snare::rules
