// SPDX-License-Identifier: Apache-2.0
#include "desk/osc.h"

#include <lo/lo.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <memory>

namespace snare::desk {

namespace {

struct FreeMessage {
    void operator()(void* message) const { lo_message_free(message); }
};
using LoMessage = std::unique_ptr<void, FreeMessage>;

constexpr std::string_view bundleMark{"#bundle\0", 8};
constexpr std::size_t bundleHead = 16; ///< the mark and a time tag

std::uint32_t bigEndianAt(std::span<const std::uint8_t> bytes)
{
    return (std::uint32_t{bytes[0]} << 24) | (std::uint32_t{bytes[1]} << 16) | (std::uint32_t{bytes[2]} << 8) |
           bytes[3];
}

/// OSC 1.0 has texts in ASCII.
bool isPlain(std::string_view text)
{
    return std::ranges::all_of(text, [](unsigned char c) { return c >= 0x20 && c < 0x7f; });
}

/// A number as it stands in a packet, where it may lie at any fourth byte.
template <class T> T numberAt(const void* bytes)
{
    T value;
    std::memcpy(&value, bytes, sizeof value);
    return value;
}

std::optional<scene::Scalar> scalarOf(lo_type type, const void* bytes)
{
    const auto number = [](double real) {
        return std::isfinite(real) ? std::optional<scene::Scalar>{real} : std::nullopt;
    };
    switch (type) {
    case LO_INT32:
        return number(numberAt<std::int32_t>(bytes));
    case LO_INT64:
        return number(static_cast<double>(numberAt<std::int64_t>(bytes)));
    case LO_FLOAT:
        return number(static_cast<double>(numberAt<float>(bytes)));
    case LO_DOUBLE:
        return number(numberAt<double>(bytes));
    case LO_STRING:
    case LO_SYMBOL: {
        std::string text{static_cast<const char*>(bytes)};
        return isPlain(text) ? std::optional<scene::Scalar>{std::move(text)} : std::nullopt;
    }
    case LO_TRUE:
        return scene::Scalar{true};
    case LO_FALSE:
        return scene::Scalar{false};
    default:
        return std::nullopt;
    }
}

bool addMessage(std::span<const std::uint8_t> bytes, std::vector<OscMessage>& out)
{
    if (bytes.size() % 4 != 0 || bytes.empty() || bytes[0] != '/')
        return false;
    std::vector<std::uint8_t> copy(bytes.begin(), bytes.end()); // the library turns numbers round in place
    int result = 0;
    const LoMessage message{lo_message_deserialise(copy.data(), copy.size(), &result)};
    if (!message)
        return false;
    OscMessage read;
    const auto end = std::ranges::find(bytes, std::uint8_t{0});
    read.address.assign(bytes.begin(), end);
    if (!isPlain(read.address))
        return false;
    const int count = lo_message_get_argc(message.get());
    lo_arg** values = lo_message_get_argv(message.get());
    const char* types = lo_message_get_types(message.get());
    for (int i = 0; i < count; ++i) {
        auto value = scalarOf(static_cast<lo_type>(types[i]), values[i]);
        if (!value)
            return false;
        read.values.push_back(std::move(*value));
    }
    out.push_back(std::move(read));
    return true;
}

bool addPacket(std::span<const std::uint8_t> bytes, int depth, std::vector<OscMessage>& out)
{
    if (bytes.size() < bundleHead || std::memcmp(bytes.data(), bundleMark.data(), bundleMark.size()) != 0)
        return addMessage(bytes, out);
    if (depth >= deepestBundle)
        return false;
    bytes = bytes.subspan(bundleHead);
    while (!bytes.empty()) {
        if (bytes.size() < 4)
            return false;
        const std::size_t size = bigEndianAt(bytes);
        bytes = bytes.subspan(4);
        if (size == 0 || size > bytes.size() || size % 4 != 0 || !addPacket(bytes.first(size), depth + 1, out))
            return false;
        bytes = bytes.subspan(size);
    }
    return true;
}

/// "/harbour/hail" is the call harbour-hail.
std::optional<std::string> callNamed(std::string_view address)
{
    std::string name{address.substr(std::min<std::size_t>(1, address.size()))};
    std::ranges::replace(name, '/', '-');
    return scene::isId(name) ? std::optional(name) : std::nullopt;
}

} // namespace

std::optional<std::vector<OscMessage>> messagesIn(std::span<const std::uint8_t> packet)
{
    std::vector<OscMessage> messages;
    if (packet.size() > largestPacket || packet.empty() || !addPacket(packet, 0, messages))
        return std::nullopt;
    return messages;
}

std::optional<scene::Input> inputOf(const OscMessage& message, const scene::Scene& scene, std::string* why)
{
    const auto refuse = [&](std::string reason) -> std::optional<scene::Input> {
        if (why)
            *why = std::move(reason);
        return std::nullopt;
    };
    constexpr std::string_view dials = "/dial/";
    if (message.address.starts_with(dials)) {
        const std::string dial = message.address.substr(dials.size());
        const scene::Source* source = scene::findSource(scene, dial);
        if (!source || !std::holds_alternative<scene::DialSource>(source->kind))
            return refuse("there is no dial " + dial);
        const double* value = message.values.size() == 1 ? std::get_if<double>(&message.values[0]) : nullptr;
        if (!value)
            return refuse("a dial is set to one number");
        return scene::Input{0, scene::DialInput{dial, *value}};
    }
    const auto name = callNamed(message.address);
    if (!name)
        return refuse(message.address + " is no name of a call: letters, digits, - and _ only");
    scene::CallInput made{*name};
    const scene::Named<scene::Scalar>* known = nullptr;
    for (const scene::Source& source : scene.sources)
        if (const auto* call = std::get_if<scene::CallSource>(&source.kind); call && call->name == *name)
            known = &call->values;
    const auto& values = message.values;
    bool pairs = !values.empty() && values.size() % 2 == 0;
    for (std::size_t i = 0; i < values.size(); i += 2) {
        const auto* text = std::get_if<std::string>(&values[i]);
        pairs = pairs && text && scene::isId(*text);
    }
    for (std::size_t i = 0; i < values.size(); i += pairs ? 2 : 1) {
        if (pairs)
            made.with.set(std::get<std::string>(values[i]), values[i + 1]);
        else if (known && i < known->entries.size())
            made.with.set(known->entries[i].first, values[i]);
        else
            made.with.set(i == 0 ? std::string("value") : "value" + std::to_string(i + 1), values[i]);
    }
    return scene::Input{0, std::move(made)};
}

std::vector<std::uint8_t> packetOf(const OscMessage& message)
{
    const LoMessage made{lo_message_new()};
    for (const scene::Scalar& value : message.values) {
        if (const auto* number = std::get_if<double>(&value))
            lo_message_add_double(made.get(), *number);
        else if (const bool* flag = std::get_if<bool>(&value))
            *flag ? lo_message_add_true(made.get()) : lo_message_add_false(made.get());
        else
            lo_message_add_string(made.get(), std::get<std::string>(value).c_str());
    }
    std::vector<std::uint8_t> packet(lo_message_length(made.get(), message.address.c_str()));
    std::size_t size = packet.size();
    lo_message_serialise(made.get(), message.address.c_str(), packet.data(), &size);
    packet.resize(size);
    return packet;
}

OscMessage messageOf(std::string_view signal, const scene::Named<scene::Scalar>& with)
{
    OscMessage message;
    message.address = "/" + std::string(signal);
    for (const auto& [name, value] : with.entries) {
        message.values.emplace_back(name);
        message.values.push_back(value);
    }
    return message;
}

} // namespace snare::desk
