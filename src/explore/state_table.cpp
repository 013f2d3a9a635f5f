#include "explore/state_table.hpp"

namespace hestrel::explore {

namespace {

constexpr std::size_t first_slots = 1024;

/// With so many slots so many may be used.
constexpr std::size_t most_used(std::size_t slots) {
    return slots / 4 * 3;
}

} // namespace

StateTable::StateTable(Pages& pages, std::size_t words)
    : pages_(&pages), rows_(pages, words), slots_(pages, first_slots), mask_(first_slots - 1) {}

std::uint32_t StateTable::add_at(std::uint32_t slot, const Word* row, std::uint32_t hash) {
    const auto number = static_cast<std::uint32_t>(size());
    rows_.add(row);
    slots_[slot] = {number + 1, hash};
    if (size() > most_used(slots_.size())) grow();
    return number;
}

void StateTable::make_room(std::size_t more) {
    rows_.make_room(more);
    while (size() + more > most_used(slots_.size())) grow();
}

void StateTable::move_out() {
    rows_.move_out();
    slots_.move_out(*pages_);
}

/// Rows need not be looked at: each goes to where it was, or as far behind as there were slots.
void StateTable::grow() {
    Zeroed<Slot> larger(*pages_, slots_.size() * 2);
    mask_ = static_cast<std::uint32_t>(larger.size() - 1);
    for (const Slot& slot : slots_) {
        if (slot.behind == 0) continue;
        std::uint32_t at = slot.hash & mask_;
        while (larger[at].behind != 0) at = (at + 1) & mask_;
        larger[at] = slot;
    }
    slots_ = std::move(larger);
}

} // namespace hestrel::explore
