#include "explore/stands.hpp"

#include "explore/keys.hpp"

#include <algorithm>
#include <stdexcept>

namespace hestrel::explore {

namespace {

/// What triggers and near rules can ask about it.
Key kind_key(const PlayerNow& player, const flow::Zones& zones) {
    Key key;
    for (const flow::ZoneId id : player.standing.inside) {
        if (zones[id].sets_off()) key.push_back(id.value);
    }
    key.push_back(UINT32_MAX);
    for (const plan::TriggerId trigger : player.standing.was_live) key.push_back(trigger.value);
    return key;
}

} // namespace

std::uint32_t Stands::number(const PlayerNow& player, const flow::Zones& zones) {
    const auto [found, fresh] = numbers_.try_emplace(key_of(player), 0);
    if (!fresh) return found->second;
    std::uint32_t kind = various;
    if (!player.on_the_way()) {
        const auto next = static_cast<std::uint32_t>(kinds_.size());
        if (next < various) {
            kind = kinds_.try_emplace(kind_key(player, zones), next).first->second;
        } else if (const auto known = kinds_.find(kind_key(player, zones)); known != kinds_.end()) {
            kind = known->second;
        }
    }
    if (by_kind_.size() <= kind) by_kind_.resize(kind + 1);
    std::vector<PlayerNow>& alike = by_kind_[kind];
    if (alike.size() > low) throw std::length_error("more places than exploring can tell apart");
    found->second = kind << place_bits | static_cast<std::uint32_t>(alike.size());
    alike.push_back(player);
    return found->second;
}

std::uint32_t Stands::zone_set(const std::vector<flow::ZoneId>& zones) {
    Key key;
    for (const flow::ZoneId zone : zones) key.push_back(zone.value);
    const auto [found, fresh] =
        set_numbers_.try_emplace(std::move(key), static_cast<std::uint32_t>(sets_.size()));
    if (fresh) sets_.push_back({zones, {}, {}});
    return found->second;
}

void Stands::learn() {
    if (kinds_.empty()) return;
    for (std::uint32_t set = 0; set < sets_.size(); ++set)
        find_part(set, static_cast<std::uint32_t>(kinds_.size() - 1));
}

std::uint32_t Stands::find_part(std::uint32_t zone_set, std::uint32_t kind) {
    if (kind == various) return UINT32_MAX; // no case that goes by parts is about them
    ZoneSet& set = sets_[zone_set];
    while (set.part_of_kind.size() <= kind) {
        // Alike in what they are inside of, so any of them tells.
        const flow::Triggers::Standing& standing =
            by_kind_[set.part_of_kind.size()].front().standing;
        Key key;
        const auto in_set = [&](std::uint32_t zone) {
            return std::binary_search(set.zones.begin(), set.zones.end(), flow::ZoneId{zone});
        };
        for (const flow::ZoneId zone : standing.inside) {
            if (in_set(zone.value)) key.push_back(zone.value);
        }
        key.push_back(UINT32_MAX);
        for (const plan::TriggerId trigger : standing.was_live) {
            if (in_set(trigger.value)) key.push_back(trigger.value); // zones of triggers first
        }
        const auto next = static_cast<std::uint32_t>(set.parts.size());
        set.part_of_kind.push_back(set.parts.try_emplace(std::move(key), next).first->second);
    }
    return set.part_of_kind[kind];
}

} // namespace hestrel::explore
