// What an explorer has found: ways, what leads where, what was met.

#include "explore/explorer.hpp"

#include <algorithm>

namespace hestrel::explore {

std::vector<std::uint32_t> Explorer::trace_to(std::uint32_t situation) const {
    std::vector<std::uint32_t> way{by_[situation]};
    while (parents_[situation] != situation) {
        situation = parents_[situation];
        way.push_back(by_[situation]);
    }
    std::reverse(way.begin(), way.end());
    return way;
}

template <class Wanted, class What>
void Explorer::lead(std::uint32_t situation, const Memo& memo, Wanted&& wanted, What&& what) {
    const Word* row = rows_[situation];
    const MemoEntry* known = memo.find(packed_.read_values(), row);
    if (known == nullptr) return; // not visited
    for (const Outcome& outcome : known->outcomes) {
        if (!wanted(outcome)) continue;
        scratch_.assign(row, row + layout().words);
        packed_.apply(outcome, scratch_.data());
        what(rows_.find(scratch_.data(), rows_.hash(scratch_.data())), outcome);
    }
}

void Explorer::for_successors(std::uint32_t situation,
                              const std::function<void(std::uint32_t, const Outcome&)>& what) {
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

std::vector<Context> Explorer::contexts() const {
    std::vector<Context> all;
    for (const ContextMemo& context : memos_.contexts()) all.push_back(context.context);
    return all;
}

} // namespace hestrel::explore
