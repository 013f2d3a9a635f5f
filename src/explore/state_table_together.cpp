// Many rows added at once.
//
// The table is cut into parts, each a range of slots. A part's candidates are those whose hash
// leads there; one thread looks at them, in the order in which they came, and nobody else looks at
// those slots. A slot that it takes says for the time being which candidate did. Only then are
// those that are fresh numbered, in the order of all candidates: so numbers hang neither on the
// parts nor on the threads. It is duplicate detection delayed to the end of a batch, as searches on
// disks do it (R. E. Korf, "Best-first frontier search with delayed duplicate detection", AAAI
// 2004).

#include "explore/state_table.hpp"
#include "plan/jobs.hpp"

#include <algorithm>
#include <bit>
#include <optional>
#include <utility>

namespace hestrel::explore {

namespace {

/// So many parts: one of a large table fits the processor's caches, of a huge one the memory.
constexpr std::uint32_t part_bits = 8;
/// Rows that are to be compared are brought near so many at a time.
constexpr std::size_t compared_together = 64;

} // namespace

class StateTable::Joining {
public:
    Joining(StateTable& table, const std::vector<Candidate>& candidates)
        : table_(table), candidates_(candidates), base_(table.size()) {
        const auto slot_bits = static_cast<std::uint32_t>(std::countr_one(table.mask_));
        shift_ = slot_bits > part_bits ? slot_bits - part_bits : 0;
        parts_.resize((table.mask_ >> shift_) + 1);
        // A counting sort by part.
        std::vector<std::uint32_t> begins(parts_.size() + 1);
        for (const Candidate& each : candidates_) ++begins[part_of(each.hash) + 1];
        for (std::size_t part = 0; part < parts_.size(); ++part) {
            begins[part + 1] += begins[part];
            parts_[part].end = begins[part + 1];
        }
        sorted_.resize(candidates_.size());
        behind_.resize(candidates_.size());
        for (std::uint32_t i = 0; i < candidates_.size(); ++i)
            sorted_[begins[part_of(candidates_[i].hash)]++] = i;
    }

    std::vector<std::uint32_t> join(unsigned jobs) {
        plan::in_parallel(parts_.size(), jobs, [&](std::size_t part) { look_at(part); });
        // Those whose way through the slots led from one part into the next; few.
        std::vector<std::uint32_t> left;
        for (const Part& part : parts_) left.insert(left.end(), part.left.begin(), part.left.end());
        std::sort(left.begin(), left.end());
        Part last;
        for (const std::uint32_t i : left) probe(i, candidates_[i].hash & table_.mask_, last);
        compare(last);
        parts_.push_back(std::move(last));
        return number(jobs);
    }

private:
    struct Taken {
        std::uint32_t candidate = 0;
        std::uint32_t slot = 0;
    };
    struct Part {
        std::uint32_t end = 0;              ///< of its candidates in `sorted_`
        std::optional<std::uint32_t> slots; ///< which part of them; unset: all
        std::vector<Taken> taken;           ///< slots that were free
        std::vector<Taken> to_compare;      ///< with the row that the slot speaks of
        std::vector<std::uint32_t> left;    ///< candidates that it could not decide on
    };

    [[nodiscard]] std::uint32_t part_of(std::uint32_t hash) const {
        return (hash & table_.mask_) >> shift_;
    }
    void look_at(std::size_t number) {
        Part& part = parts_[number];
        part.slots = static_cast<std::uint32_t>(number);
        for (std::uint32_t i = number == 0 ? 0 : parts_[number - 1].end; i < part.end; ++i) {
            probe(sorted_[i], candidates_[sorted_[i]].hash & table_.mask_, part);
            if (part.to_compare.size() == most_compared()) compare(part);
        }
        compare(part);
    }
    /// Takes a free slot, or finds one with the same hash.
    void probe(std::uint32_t candidate, std::uint32_t at, Part& part) {
        const std::uint32_t hash = candidates_[candidate].hash;
        for (;; at = (at + 1) & table_.mask_) {
            if (part.slots && at >> shift_ != *part.slots) {
                part.left.push_back(candidate);
                return;
            }
            Slot& slot = table_.slots_[at];
            if (slot == free) {
                behind_[candidate] = static_cast<std::uint32_t>(base_ + candidate + 1);
                slot = table_.slot_for(behind_[candidate], hash);
                part.taken.push_back({candidate, at});
                return;
            }
            if (!table_.may_be(slot, hash)) continue;
            const std::uint32_t behind = table_.behind_of(slot);
            if (behind <= base_) {
                __builtin_prefetch(table_[behind - 1]);
                part.to_compare.push_back({candidate, at});
                return;
            }
            if (same(candidate, candidates_[behind - 1 - base_].row)) {
                behind_[candidate] = behind;
                return;
            }
        }
    }
    [[nodiscard]] bool same(std::uint32_t candidate, const Word* row) const {
        return std::equal(row, row + table_.words(), candidates_[candidate].row);
    }
    [[nodiscard]] bool on_disk() const { return table_.pages_->overflows(); }
    /// From a disk all of a part are compared at once, in the order in which the rows stand there.
    [[nodiscard]] std::size_t most_compared() const {
        return on_disk() ? SIZE_MAX : compared_together;
    }
    /// Those that differ from what they were compared with go on to the next slot.
    void compare(Part& part) {
        while (!part.to_compare.empty()) {
            std::vector<Taken> now = std::exchange(part.to_compare, {});
            const auto behind = [&](const Taken& each) {
                return table_.behind_of(table_.slots_[each.slot]);
            };
            if (on_disk()) {
                std::stable_sort(now.begin(), now.end(), [&](const Taken& one, const Taken& other) {
                    return behind(one) < behind(other);
                });
            }
            for (const Taken& each : now) {
                behind_[each.candidate] = behind(each);
                if (!same(each.candidate, table_[behind(each) - 1]))
                    probe(each.candidate, (each.slot + 1) & table_.mask_, part);
            }
        }
    }
    /// Numbers those that took a slot, in their order; the others have the number of what they met.
    std::vector<std::uint32_t> number(unsigned jobs) {
        for (std::uint32_t i = 0; i < candidates_.size(); ++i) {
            const std::uint32_t behind = behind_[i];
            if (behind <= base_) continue;
            if (behind - 1 - base_ == i) {
                table_.rows_.add(candidates_[i].row);
                behind_[i] = static_cast<std::uint32_t>(table_.size());
            } else {
                behind_[i] = behind_[behind - 1 - base_];
            }
        }
        plan::in_parallel(parts_.size(), jobs, [&](std::size_t part) {
            for (const Taken& each : parts_[part].taken)
                table_.slots_[each.slot] =
                    table_.slot_for(behind_[each.candidate], candidates_[each.candidate].hash);
        });
        for (std::uint32_t& each : behind_) --each;
        return std::move(behind_);
    }

    StateTable& table_;
    const std::vector<Candidate>& candidates_;
    std::size_t base_;
    std::uint32_t shift_ = 0;
    std::vector<std::uint32_t> sorted_; ///< candidates by part
    /// By candidate, one more than the number; for the time being one more than all numbers and the
    /// candidate that took the slot.
    std::vector<std::uint32_t> behind_;
    std::vector<Part> parts_;
};

std::vector<std::uint32_t> StateTable::add_together(const std::vector<Candidate>& candidates,
                                                    unsigned jobs) {
    make_room(candidates.size());
    return Joining(*this, candidates).join(jobs);
}

} // namespace hestrel::explore
