// SPDX-License-Identifier: Apache-2.0
#include "rules/texts.h"

#include <functional>

namespace snare::rules {

Texts::Id Texts::keep(std::string_view text)
{
    if (text.empty())
        return 0;
    if (2 * starts_.size() > slots_.size())
        grow();
    const auto hash = static_cast<std::uint32_t>(std::hash<std::string_view>{}(text));
    const std::size_t mask = slots_.size() - 1;
    std::size_t at = hash & mask;
    for (; slots_[at].id != 0; at = (at + 1) & mask)
        if (slots_[at].hash == hash && this->at(slots_[at].id) == text)
            return slots_[at].id;
    slots_[at] = {static_cast<Id>(starts_.size()), hash};
    letters_ += text;
    starts_.push_back(letters_.size());
    return slots_[at].id;
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
