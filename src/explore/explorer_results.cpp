// What an explorer has found: ways, what leads where, what was met.

#include "explore/explorer.hpp"

#include "plan/lists.hpp"

#include <algorithm>
#include <stdexcept>
#include <utility>

namespace hestrel::explore {

/// The moves that led to a situation; returns where they begin.
std::uint32_t Explorer::way_to(std::uint32_t situation, Way& way) const {
    way.push_back(way_taken(situation));
    while (parent(situation) != situation) {
        situation = parent(situation);
        way.push_back(way_taken(situation));
    }
    std::reverse(way.begin(), way.end());
    return situation;
}

Way Explorer::trace_to(std::uint32_t situation, const Way& and_then) const {
    Way way;
    const std::uint32_t from = way_to(situation, way);
    way.insert(way.end(), and_then.begin(), and_then.end());
    if (packed_.alike().any()) name_players(from, way);
    return way;
}

std::size_t Explorer::depth_of(std::uint32_t situation) const {
    std::size_t depth = 0;
    for (; parent(situation) != situation; situation = parent(situation)) ++depth;
    return depth;
}

std::vector<std::uint32_t> Explorer::names_in(std::uint32_t situation) const {
    Way way;
    const std::uint32_t from = way_to(situation, way);
    way.push_back(way_taken(from)); // nothing comes of what is made last
    return name_players(from, way);
}

/// Names the players of a way as at its beginning; returns who stands where before its last move.
/// Of those who could stand for one another the one goes on who moved last, else the first.
std::vector<std::uint32_t> Explorer::name_players(std::uint32_t from, Way& way) const {
    std::vector<std::uint32_t> names = begun_as_[from];
    std::vector<Word> row(rows_[from], rows_[from] + layout().words);
    std::uint32_t moved_last = UINT32_MAX;
    for (std::size_t i = 1; i < way.size(); ++i) {
        const Move& move = moves()[taken(way[i]).move];
        if (move.kind == Move::Kind::go || move.kind == Move::Kind::press) {
            const std::uint32_t goes = move.player.value;
            std::uint32_t by = goes;
            for (const std::uint32_t each : packed_.alike().same_as(row.data(), goes)) {
                const bool first = names[each] < names[by] && names[by] != moved_last;
                if (names[each] == moved_last || first) by = each;
            }
            std::swap(names[goes], names[by]);
            moved_last = names[goes];
        }
        const std::uint32_t made = std::exchange(way[i], as_named(taken(way[i]), names));
        if (i + 1 == way.size()) break;
        packed_.apply(outcome_of(row.data(), made), row.data());
        std::vector<std::uint32_t> after;
        for (const std::uint32_t before : packed_.alike().sort_told(row.data()))
            after.push_back(names[before]);
        names = std::move(after);
    }
    return names;
}

/// A move that was made by players who stand where `names` says who does.
std::uint32_t Explorer::as_named(MoveTaken made, const std::vector<std::uint32_t>& names) const {
    const flow::PlayerId player{names[moves()[made.move].player.value]};
    for (MoveLog::Taken& each : made.branches) {
        if (each.player) each.player = flow::PlayerId{names[each.player.value]};
    }
    return builder_.number_of(moves_.by_player(made.move, player), made.branches);
}

const Outcome& Explorer::outcome_of(const Word* row, std::uint32_t taken) const {
    const std::uint32_t move = this->taken(taken).move;
    const auto first = move - static_cast<std::uint32_t>(moves()[move].speed);
    const Outcome* found = nullptr;
    const auto look = [&](const std::vector<Memo>& memos) {
        for (const Memo& memo : memos) {
            if (memo.move() != first) continue;
            const MemoEntry* known = memo.find(packed_.read_values(), row);
            if (known == nullptr) continue;
            for (const Outcome& outcome : known->outcomes) {
                if (outcome.taken == taken) found = &outcome;
            }
        }
    };
    ContextMemo& context = memos_.context_of(row, 0);
    look(context.moves);
    for (std::size_t player = 0; player < players().size(); ++player)
        look(memos_.place_of(context, player, row).moves);
    if (found == nullptr) throw std::logic_error("a move that was made is not known");
    return *found;
}

const Effect* Explorer::effect_before(std::uint32_t situation) const {
    const std::uint32_t from = parent(situation);
    return from == situation ? nullptr
                             : &effects()[outcome_of(rows_[from], way_taken(situation)).effect];
}

std::vector<std::uint32_t> Explorer::exchanged_by(std::uint32_t situation,
                                                  const Outcome& outcome) const {
    std::vector<Word> after(rows_[situation], rows_[situation] + layout().words);
    packed_.apply(outcome, after.data());
    return packed_.alike().sort_told(after.data());
}

template <class Wanted, class What>
void Explorer::lead(std::uint32_t situation, const Memo& memo, Wanted&& wanted, What&& what) const {
    const Word* row = rows_[situation];
    const MemoEntry* known = memo.find(packed_.read_values(), row);
    if (known == nullptr) return; // not visited
    std::vector<Word> after;
    for (const Outcome& outcome : known->outcomes) {
        if (!wanted(outcome)) continue;
        after.assign(row, row + layout().words);
        packed_.apply(outcome, after.data());
        if (packed_.alike().any()) packed_.alike().sort(after.data());
        what(rows_.find(after.data(), rows_.hash(after.data())), outcome);
    }
}

void Explorer::for_successors(
    std::uint32_t situation, const std::function<void(std::uint32_t, const Outcome&)>& what) const {
    const auto all = [](const Outcome&) { return true; };
    const Word* row = rows_[situation];
    ContextMemo& context = memos_.context_of(row, situation);
    for (const Memo& memo : context.moves) lead(situation, memo, all, what);
    for (std::size_t player = 0; player < players().size(); ++player) {
        for (const Memo& memo : memos_.place_of(context, player, row).moves)
            lead(situation, memo, all, what);
    }
}

void Explorer::for_wanted(
    const std::function<bool(const Effect&)>& wanted,
    const std::function<void(std::uint32_t, std::uint32_t, const Outcome&)>& what) {
    std::vector<bool> is_wanted;
    for (const Effect& effect : effects()) is_wanted.push_back(wanted(effect));
    // Most moves never do what is wanted, wherever they are made.
    const auto note = [&](auto& where) {
        where.wanted.clear();
        for (const Memo& memo : where.moves) {
            const bool can =
                std::any_of(memo.all().begin(), memo.all().end(), [&](const auto& each) {
                    return std::any_of(
                        each.of->outcomes.begin(), each.of->outcomes.end(),
                        [&](const Outcome& outcome) { return is_wanted[outcome.effect]; });
                });
            if (can) where.wanted.push_back(&memo);
        }
    };
    for (ContextMemo& context : memos_.contexts()) note(context);
    for (PlaceMemo& place : memos_.places()) note(place);
    for (std::uint32_t situation = 0; situation < visited(); ++situation) {
        const auto look = [&](const auto& where) {
            for (const Memo* memo : where.wanted) {
                lead(
                    situation, *memo,
                    [&](const Outcome& outcome) { return is_wanted[outcome.effect]; },
                    [&](std::uint32_t next, const Outcome& outcome) {
                        what(situation, next, outcome);
                    });
            }
        };
        const Word* row = rows_[situation];
        ContextMemo& context = memos_.context_of(row, situation);
        look(context);
        for (std::size_t player = 0; player < players().size(); ++player)
            look(memos_.place_of(context, player, row));
    }
}

void Explorer::for_outcomes(const std::function<void(const Outcome&)>& what) const {
    const auto of = [&](const Memo& memo) {
        for (const auto& each : memo.all()) {
            for (const Outcome& outcome : each.of->outcomes) what(outcome);
        }
    };
    for (const ContextMemo& context : memos_.contexts()) {
        for (const Memo& memo : context.moves) of(memo);
    }
    for (const PlaceMemo& place : memos_.places()) {
        for (const Memo& memo : place.moves) of(memo);
    }
}

std::vector<LevelThere> Explorer::near_levels(const Word* row) const {
    std::vector<std::uint32_t> may_be;
    std::vector<std::uint32_t> there;
    for (std::size_t player = 0; player < players().size(); ++player) {
        const NearStand near = packed_.near_player(row, player);
        may_be.push_back(near.may_be);
        there.push_back(near.there);
    }
    const std::vector<plan::LevelId> shown = packed_.near().together(there);
    std::vector<LevelThere> levels;
    for (const plan::LevelId level : packed_.near().together(may_be))
        levels.push_back({level, plan::among(shown, level), true, false, false, false});
    return levels;
}

std::vector<LevelThere> Explorer::all_levels(const Word* row) const {
    std::vector<LevelThere> all = levels_of(row);
    const std::vector<LevelThere> near = near_levels(row);
    all.insert(all.end(), near.begin(), near.end());
    std::sort(all.begin(), all.end());
    return all;
}

std::vector<Context> Explorer::contexts() const {
    std::vector<Context> all;
    for (const ContextMemo& context : memos_.contexts()) all.push_back(context.context);
    return all;
}

} // namespace hestrel::explore
