// SPDX-License-Identifier: Apache-2.0
/// Open Sound Control 1.0: what programs outside say becomes inputs of a take, and signals become
/// messages.
///
/// `/dial/NAME number` sets a dial; any other address is a call, named by its parts with `-`
/// between. Values of a call stand in pairs of name and value; or, if the scene has a call source
/// of that name, one after the other in the order of its values; what is left over is called value,
/// value2, … Nothing here reads or writes a network.
#pragma once

#include "scene/scene.h"
#include "scene/take.h"

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace snare::desk {

/// A packet larger than this, or with bundles deeper in each other than that, is a bad one.
inline constexpr std::size_t largestPacket = 65'536;
inline constexpr int deepestBundle = 8;

struct OscMessage {
    std::string address; ///< begins with `/`
    std::vector<scene::Scalar> values;

    friend bool operator==(const OscMessage&, const OscMessage&) = default;
};

/// The messages of a packet, those of bundles in order; time tags are passed over. Nothing if the
/// packet, or any part of it, is not OSC 1.0, or has values that are neither finite numbers, texts
/// in plain ASCII nor truths.
std::optional<std::vector<OscMessage>> messagesIn(std::span<const std::uint8_t> packet);

/// The input that a message is to a scene, with t = 0; nothing, and why, if it is none.
std::optional<scene::Input> inputOf(const OscMessage& message, const scene::Scene& scene, std::string* why = nullptr);

/// A message as a packet.
std::vector<std::uint8_t> packetOf(const OscMessage& message);

/// The message of a signal: `/NAME`, its values as pairs of name and value.
OscMessage messageOf(std::string_view signal, const scene::Named<scene::Scalar>& with);

} // namespace snare::desk
