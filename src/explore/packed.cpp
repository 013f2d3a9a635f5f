#include "explore/packed.hpp"

#include "explore/keys.hpp"

#include <algorithm>

namespace hestrel::explore {

bool Packed::is_known(const Word* row) const {
    bool known = level_number(row) < levels_.size() && control_number(row) < controls_.size();
    for (std::size_t player = 0; player < kinds_.size(); ++player)
        known = known && stands_.has(stand_number(row, player));
    return known;
}

Applied Packed::apply_known(const Outcome& outcome, Word* row, std::vector<Word>& scratch) const {
    bool changed = write(outcome.writes, row);
    if (!outcome.levels.empty()) {
        const std::uint32_t before = level_number(row);
        const std::uint32_t after = levels_.known_changed(before, outcome.levels, scratch);
        if (after == UINT32_MAX) return Applied::unknown;
        layout_.levels.set(row, after);
        changed = changed || before != after;
    }
    if (!changed) return Applied::unchanged;
    return !alike_.any() || alike_.sort_known(row) ? Applied::changed : Applied::unknown;
}

Unpacked Packed::unpacked(const Word* row) const {
    Unpacked parts{row, levels_of(row), &control_of(row), {}};
    for (std::size_t player = 0; player < kinds_.size(); ++player)
        parts.players.push_back(&player_of(row, player));
    return parts;
}

std::vector<Word> Packed::row_of(const Ending& way) {
    std::vector<Word> row = way.bits;
    layout_.levels.set(row.data(), fitting(levels_.number(way.levels), layout_.levels));
    layout_.control.set(
        row.data(), fitting(controls_.number(key_of(way.control), way.control), layout_.control));
    for (std::size_t player = 0; player < kinds_.size(); ++player) {
        const PlayerNow& now = way.players[player];
        layout_.players[player].set(row.data(), stands_.number(now, zones_));
        if (now.on_the_way()) layout_.on_the_way.set(row.data(), 1);
    }
    return row;
}

ReadSet Packed::read_set_of(const MoveRun& trial, const Word* row, std::uint32_t mover) {
    ReadSet asked;
    for (const flow::FactSlot fact : trial.facts.now)
        ask_for(asked.bits, layout_.facts[fact].field, row);
    for (const flow::FactSlot fact : trial.facts.saved)
        ask_for(asked.bits, layout_.saved[fact].field, row);
    for (const plan::TriggerId trigger : trial.once)
        ask_for(asked.bits, layout_.spent[trigger], row);
    const Word* set = levels_.row(level_number(row));
    if (trial.all_levels) {
        asked.levels = levels_.whole(level_number(row));
    } else {
        for (const plan::LevelId level : trial.levels)
            ask_for(asked.levels, LevelSets::field(level), set);
    }
    for (std::uint32_t player = 0; player < kinds_.size(); ++player) {
        if (player == mover) continue; // its place is known
        const Field& field = layout_.players[player];
        const auto stand = static_cast<std::uint32_t>(field.get(row));
        const std::vector<flow::ZoneId>& zones = trial.zones[player];
        // Kinds do not tell who is near a level that is left out.
        const bool by_kind = Stands::told_by_kind(stand) &&
                             std::none_of(zones.begin(), zones.end(),
                                          [&](flow::ZoneId zone) { return zones_[zone].left_out; });
        if (trial.where[player] || stands_[stand].on_the_way() || (!zones.empty() && !by_kind)) {
            ask_for(asked.bits, field, row);
        } else if (!zones.empty()) {
            const std::uint32_t zone_set = stands_.zone_set(zones);
            asked.inside.push_back(
                {player, zone_set, stands_.part(zone_set, stand >> Stands::place_bits)});
        }
    }
    return asked;
}

} // namespace hestrel::explore
