#include "explore/state_table.hpp"

#include <algorithm>
#include <array>
#include <bit>
#include <numeric>

namespace hestrel::explore {

namespace {

constexpr std::size_t first_slots = 1024;

/// Rows are sorted by so many upper bits of the slot at which a look for them begins.
constexpr std::uint32_t sorted_bits = 10;

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
    slots_[slot] = slot_for(number + 1, hash);
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

/// Puts all rows into twice as many slots: many at a time, in the order of their slots, so that
/// memory is gone through from front to end and not here and there. Where there is no room, nothing
/// has changed.
void StateTable::grow() {
    struct Placed {
        std::uint32_t behind = 0;
        std::uint32_t hash = 0;
    };
    Zeroed<Slot> larger(*pages_, slots_.size() * 2);
    const std::size_t together = std::min(size(), std::max(larger.size() / 16, first_slots));
    std::vector<Placed> sorted(together);
    std::vector<std::uint32_t> hashes(together);
    mask_ = static_cast<std::uint32_t>(larger.size() - 1);
    const std::uint32_t shift = static_cast<std::uint32_t>(std::countr_one(mask_)) - sorted_bits;
    for (std::size_t first = 0; first < size(); first += together) {
        std::size_t count = 0;
        std::array<std::uint32_t, (std::size_t{1} << sorted_bits) + 1> begins{};
        rows_.for_runs(first, std::min(size(), first + together),
                       [&](const Word* row, std::size_t in_run) {
                           for (std::size_t i = 0; i < in_run; ++i) {
                               hashes[count] = hash(row + i * words());
                               ++begins[((hashes[count++] & mask_) >> shift) + 1];
                           }
                       });
        std::partial_sum(begins.begin(), begins.end(), begins.begin());
        for (std::size_t i = 0; i < count; ++i) {
            sorted[begins[(hashes[i] & mask_) >> shift]++] = {
                static_cast<std::uint32_t>(first + i + 1), hashes[i]};
        }
        for (std::size_t i = 0; i < count; ++i) {
            std::uint32_t at = sorted[i].hash & mask_;
            while (larger[at] != free) at = (at + 1) & mask_;
            larger[at] = slot_for(sorted[i].behind, sorted[i].hash);
        }
    }
    slots_ = std::move(larger);
}

} // namespace hestrel::explore
