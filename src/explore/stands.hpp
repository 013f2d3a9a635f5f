#pragma once
// Where players can be, each by a number: its upper bits say what a player is inside of that can
// matter to others (triggers, levels that stream), its lower bits tell places alike in that apart.
// So what a move asks about where another player is can be told from a few bits.

#include "explore/interned.hpp"
#include "explore/situation.hpp"
#include "flow/zones.hpp"

#include <cstdint>
#include <vector>

namespace hestrel::explore {

class Stands {
public:
    static constexpr std::uint32_t place_bits = 20;
    static constexpr std::uint32_t kind_bits = 32 - place_bits;

    /// Throws std::length_error past a million places that are alike.
    std::uint32_t number(const PlayerNow& player, const flow::Zones& zones);
    [[nodiscard]] const PlayerNow& operator[](std::uint32_t number) const {
        return by_kind_[number >> place_bits][number & low];
    }
    [[nodiscard]] bool has(std::uint32_t number) const {
        const std::uint32_t kind = number >> place_bits;
        return kind < by_kind_.size() && (number & low) < by_kind_[kind].size();
    }
    /// Whether the upper bits say all that can matter of it; else only the whole number does.
    [[nodiscard]] static bool told_by_kind(std::uint32_t number) {
        return number >> place_bits != various;
    }

    /// A set of zones, by number, and what players can be inside of it.
    std::uint32_t zone_set(const std::vector<flow::ZoneId>& zones);
    /// The parts of all sets that are known, so that several threads can ask.
    void learn();
    /// Which of the zones of a set players of a kind (upper bits) are inside of: the same number
    /// where they are the same.
    [[nodiscard]] std::uint32_t part(std::uint32_t zone_set, std::uint32_t kind) {
        const std::vector<std::uint32_t>& known = sets_[zone_set].part_of_kind;
        return kind < known.size() ? known[kind] : find_part(zone_set, kind);
    }

private:
    struct ZoneSet {
        std::vector<flow::ZoneId> zones; ///< sorted
        std::vector<std::uint32_t> part_of_kind;
        std::unordered_map<Key, std::uint32_t, KeyHash> parts;
    };
    std::uint32_t find_part(std::uint32_t zone_set, std::uint32_t kind);

    static constexpr std::uint32_t low = (1U << place_bits) - 1;
    /// The last kind holds whatever there is no kind left for, and whoever is on the way.
    static constexpr std::uint32_t various = (1U << kind_bits) - 1;

    std::unordered_map<Key, std::uint32_t, KeyHash> numbers_;
    std::unordered_map<Key, std::uint32_t, KeyHash> kinds_;
    std::vector<std::vector<PlayerNow>> by_kind_;
    std::unordered_map<Key, std::uint32_t, KeyHash> set_numbers_;
    std::vector<ZoneSet> sets_;
};

} // namespace hestrel::explore
