// SPDX-License-Identifier: Apache-2.0
/// The kinds of things that have a name.
#pragma once

#include <string_view>

namespace snare::scene {

/// What can be renamed. Things of the last row may stand at several pieces, or at the scene too,
/// under one name: they are renamed at all of them, so that whatever puts a look on, changes a
/// phase or sets a value does as before.
enum class Thing {
    piece,
    snare,
    group,
    tag,
    signal,
    source,
    form,
    routine,
    assembly,
    laid, ///< an assembly that is laid; its parts are called after it
    call,
    shape,
    look,
    phase,
    value,    ///< a property of pieces or a variable of the scene
    parameter ///< of a routine; read as `with.NAME`
};

/// The word for one of them: "piece", "template".
constexpr std::string_view wordOf(Thing kind)
{
    switch (kind) {
    case Thing::piece:
        return "piece";
    case Thing::snare:
        return "snare";
    case Thing::group:
        return "group";
    case Thing::tag:
        return "tag";
    case Thing::signal:
        return "signal";
    case Thing::source:
        return "source";
    case Thing::form:
        return "template";
    case Thing::routine:
        return "routine";
    case Thing::assembly:
    case Thing::laid:
        return "assembly";
    case Thing::call:
        return "call";
    case Thing::shape:
        return "shape";
    case Thing::look:
        return "look";
    case Thing::phase:
        return "phase";
    case Thing::value:
        return "value";
    case Thing::parameter:
        return "parameter";
    }
    return "";
}

} // namespace snare::scene
