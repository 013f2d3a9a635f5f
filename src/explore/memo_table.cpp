#include "explore/memo_table.hpp"

#include "explore/worst.hpp"

#include <algorithm>

namespace hestrel::explore {

const MemoEntry* MemoTable::keep(Memo& memo, MemoEntry added) {
    added.adds = !added.nowhere.empty() ||
                 std::any_of(added.outcomes.begin(), added.outcomes.end(),
                             [](const Outcome& each) { return each.added != Worst::nothing; });
    entries_.push_back(std::move(added));
    ++size_;
    memo.add(&entries_.back());
    return &entries_.back();
}

MemoTable::ContextKey MemoTable::key_of(const Word* row, std::uint32_t going_on) const {
    const Layout& layout = packed_->layout();
    // A move may let go on whoever is on the way: a case is about all of them, and no others.
    Word on_the_way = 0;
    for (std::size_t player = 0; layout.on_the_way.get(row) != 0 && player < layout.players.size();
         ++player) {
        if (packed_->player_of(row, player).on_the_way()) on_the_way |= Word{1} << player;
    }
    return {Word{going_on} << 32 | layout.control.get(row), on_the_way};
}

const ContextMemo* MemoTable::known_context(const Word* row, Cursor& cursor) const {
    const Layout& layout = packed_->layout();
    const Word key = row[0] & layout.moves;
    if (key == cursor.key && layout.on_the_way.get(row) == 0) return cursor.context;
    const std::uint32_t going_on = packed_->levels().known_going_on(packed_->level_number(row));
    const auto found = by_key_.find(key_of(row, going_on));
    cursor.key = key;
    cursor.context = found == by_key_.end() ? nullptr : found->second;
    cursor.stands.assign(packed_->players().size(), UINT32_MAX);
    cursor.places.assign(packed_->players().size(), nullptr);
    return cursor.context;
}

const PlaceMemo* MemoTable::known_place(const ContextMemo& context, std::size_t player,
                                        const Word* row, Cursor& cursor) const {
    const std::uint32_t stand = packed_->stand_number(row, player);
    if (cursor.stands[player] != stand) {
        const auto found = context.places[player].find(stand);
        cursor.stands[player] = stand;
        cursor.places[player] = found == context.places[player].end() ? nullptr : found->second;
    }
    return cursor.places[player];
}

ContextMemo& MemoTable::find_context(const Word* row, std::uint32_t situation) {
    const std::uint32_t going_on = packed_->levels().going_on(packed_->level_number(row));
    ContextMemo*& found = by_key_[key_of(row, going_on)];
    if (found == nullptr) {
        found = &contexts_.emplace_back();
        ++size_;
        found->context = {packed_->control_number(row), going_on, situation};
        found->at_rest = at_rest(packed_->tree(), packed_->levels_of(row), packed_->control_of(row),
                                 packed_->reduction());
        const std::size_t players = packed_->players().size();
        found->places.resize(players);
        found->last_stand.assign(players, UINT32_MAX);
        found->last_place.assign(players, nullptr);
        for (const std::uint32_t move :
             moves_->anywhere(packed_->levels_of(row), packed_->control_of(row)))
            found->moves.emplace_back(move);
    }
    last_key_ = row[0] & packed_->layout().moves;
    last_context_ = found;
    return *found;
}

PlaceMemo& MemoTable::find_place(ContextMemo& context, std::size_t player, const Word* row) {
    const std::uint32_t stand = packed_->stand_number(row, player);
    PlaceMemo*& found = context.places[player][stand];
    if (found == nullptr) {
        found = &places_.emplace_back();
        ++size_;
        const flow::State& control = packed_->control_of(row);
        const plan::WaypointId at = packed_->stands()[stand].at;
        const flow::PlayerId goes{player};
        for (const flow::ZoneId id : packed_->stands()[stand].standing.inside) {
            const flow::Zone& zone = packed_->zones()[id];
            if (zone.kind == flow::Zone::Kind::area && control.veils.empty())
                found->seen.push_back(zone.level());
        }
        // Who stands in one that is left out is near it, so it is shown.
        const bool sees =
            std::any_of(found->seen.begin(), found->seen.end(),
                        [&](plan::LevelId level) { return packed_->folded().leaves_out(level); });
        if (sees) found->seen.clear();
        if (at && !control.ended && !is_frozen(*plan_, control, goes)) {
            for (const std::uint32_t move : moves_->of_player(player, at))
                found->moves.emplace_back(move);
        }
    }
    context.last_stand[player] = stand;
    context.last_place[player] = found;
    return *found;
}

} // namespace hestrel::explore
