#include "explore/memo_table.hpp"

namespace hestrel::explore {

const MemoEntry* MemoTable::keep(Memo& memo, MemoEntry added) {
    entries_.push_back(std::move(added));
    memo.add(&entries_.back());
    return &entries_.back();
}

ContextMemo& MemoTable::find_context(const Word* row, std::uint32_t situation) {
    ContextMemo*& found = by_key_[row[0]];
    if (found == nullptr) {
        found = &contexts_.emplace_back();
        found->context = {packed_->level_number(row), packed_->control_number(row), situation};
        const std::size_t players = packed_->players().size();
        found->places.resize(players);
        found->last_stand.assign(players, UINT32_MAX);
        found->last_place.assign(players, nullptr);
        for (const std::uint32_t move :
             moves_->anywhere(packed_->levels_of(row), packed_->control_of(row)))
            found->moves.emplace_back(move);
    }
    last_key_ = row[0];
    last_context_ = found;
    return *found;
}

PlaceMemo& MemoTable::find_place(ContextMemo& context, std::size_t player, const Word* row,
                                 std::uint32_t situation) {
    const std::uint32_t stand = packed_->stand_number(row, player);
    PlaceMemo*& found = context.places[player][stand];
    if (found == nullptr) {
        found = &places_.emplace_back();
        found->place = {context.context.levels, context.context.control, stand, situation, 0};
        const flow::State& control = packed_->control_of(row);
        const plan::WaypointId at = packed_->stands()[stand].at;
        const flow::PlayerId goes{player};
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
