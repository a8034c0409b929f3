// SPDX-License-Identifier: Apache-2.0
#include "rules/texts.h"

#include <functional>

namespace snare::rules {

namespace {

std::uint32_t hashOf(std::string_view text)
{
    return static_cast<std::uint32_t>(std::hash<std::string_view>{}(text));
}

} // namespace

std::size_t Texts::slotFor(std::string_view text, std::uint32_t hash) const
{
    const std::size_t mask = slots_.size() - 1;
    std::size_t slot = hash & mask;
    while (slots_[slot].id != 0 && (slots_[slot].hash != hash || at(slots_[slot].id) != text))
        slot = (slot + 1) & mask;
    return slot;
}

std::optional<Texts::Id> Texts::known(std::string_view text) const
{
    if (text.empty())
        return 0;
    if (slots_.empty())
        return std::nullopt;
    const Id id = slots_[slotFor(text, hashOf(text))].id;
    return id == 0 ? std::nullopt : std::optional(id);
}

Texts::Id Texts::find(std::string_view text)
{
    if (2 * starts_.size() > slots_.size())
        grow();
    const std::uint32_t hash = hashOf(text);
    Slot& slot = slots_[slotFor(text, hash)];
    if (slot.id == 0) {
        slot = {static_cast<Id>(starts_.size()), hash};
        letters_ += text;
        starts_.push_back(letters_.size());
    }
    return slot.id;
}

Texts Texts::first(std::size_t count) const
{
    Texts some;
    for (Id id = 1; id <= count; ++id)
        some.keep(at(id));
    return some;
}

void Texts::grow()
{
    std::vector<Slot> wider(slots_.empty() ? 64 : 2 * slots_.size());
    const std::size_t mask = wider.size() - 1;
    for (const Slot& slot : slots_) {
        if (slot.id == 0)
            continue;
        std::size_t at = slot.hash & mask;
        while (wider[at].id != 0)
            at = (at + 1) & mask;
        wider[at] = slot;
    }
    slots_ = std::move(wider);
}

} // namespace snare::rules
