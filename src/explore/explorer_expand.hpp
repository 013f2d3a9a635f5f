#pragma once
// How situations are expanded, with the words of a row known at compile time: templates of
// Explorer, for the files that need them.

#include "explore/explorer.hpp"

#include <stdexcept>

namespace hestrel::explore {

/// Calls `what(words)` with how many words a row has, known at compile time where they are few.
template <class What>
void Explorer::with_words(What&& what) const {
    switch (layout().words) {
    case 2: what(std::integral_constant<std::size_t, 2>{}); break;
    case 3: what(std::integral_constant<std::size_t, 3>{}); break;
    case 4: what(std::integral_constant<std::size_t, 4>{}); break;
    default: what(layout().words);
    }
}

/// Expands a situation if all that its moves ask is known; false where it is not.
template <class Words>
bool Explorer::expand_known(std::uint32_t situation, Slice& slice, Words words) const {
    const Word* row = rows_[situation];
    slice.entries.clear();
    bool known = true;
    const auto look = [&](const std::vector<Memo>& memos) {
        for (const Memo& memo : memos) {
            const MemoEntry* entry = memo.find(packed_.read_values(), row);
            known = known && entry != nullptr;
            if (!known) return;
            slice.entries.push_back(entry);
        }
    };
    const ContextMemo* context = memos_.known_context(row, slice.cursor);
    known = context != nullptr &&
            (plan_->rules.empty() || context->rules.find(packed_.read_values(), row) != nullptr);
    if (known) look(context->moves);
    for (std::size_t player = 0; known && player < players().size(); ++player) {
        const PlaceMemo* place = memos_.known_place(*context, player, row, slice.cursor);
        known = place != nullptr && !is_bare_anew(*place, row);
        if (known) look(place->moves);
    }
    const auto apply = [&](const Outcome& outcome, Word* after) {
        return packed_.apply_known(outcome, after, slice.scratch);
    };
    return known &&
           slice.batch.gather(moving(situation, *context, slice.entries), rows_, words, apply,
                              [&](const Outcome& outcome) { return only_launches(outcome); });
}

template <class Wanted, class What>
void Explorer::for_successors_backwards(Wanted&& wanted, What&& what) const {
    constexpr std::size_t together = 64; // rows that are looked for at once
    packed_.learn();
    Slice slice;
    std::vector<std::uint32_t> numbers;
    const auto of_some = [&](std::size_t first, std::size_t end, auto words) {
        slice.batch.clear();
        for (std::size_t each = end; each-- > first;) {
            const auto situation = static_cast<std::uint32_t>(each);
            if (wanted(situation) && !expand_known(situation, slice, words))
                throw std::logic_error("a move that was made is not known");
        }
        const Batch& batch = slice.batch;
        for (std::size_t i = 0; i < batch.size; ++i) rows_.expect_row(batch.hashes[i]);
        std::size_t at = 0;
        for (const Batch::From& from : batch.from) {
            numbers.clear();
            for (; at < from.end; ++at)
                numbers.push_back(
                    rows_.find(batch.rows.data() + at * words, batch.hashes[at], words));
            what(from.situation, numbers);
        }
    };
    with_words([&](auto words) {
        for (std::size_t end = next_; end > 0; end -= std::min(end, together))
            of_some(end - std::min(end, together), end, words);
    });
}

/// Puts what a situation of the block leads to into a batch.
template <class Words>
void Explorer::gather(Batch& batch, std::size_t in_block, Words words) {
    const auto apply = [&](const Outcome& outcome, Word* after) {
        if (!packed_.apply(outcome, after)) return Applied::unchanged;
        if (packed_.alike().any()) packed_.alike().sort(after);
        return Applied::changed;
    };
    batch.gather(
        moving(block_.situations[in_block], *block_.contexts[in_block], entries_in_block(in_block)),
        rows_, words, apply, [&](const Outcome& outcome) { return only_launches(outcome); });
    batch.from.back().in_block = in_block;
}

/// Adds what one situation leads to. Of what was sifted only what is not known is left.
template <class Words>
void Explorer::add(const Piece& piece, Words words) {
    const Batch& batch = *piece.batch;
    const Batch::From& from = batch.from[piece.from];
    count(from);
    for (std::size_t at = piece.begin; at < from.end; ++at) {
        const auto added = rows_.add(batch.rows.data() + at * words, batch.hashes[at], words);
        if (!added.fresh) continue;
        add_way(from.situation, batch.taken[at]);
        if (goal_) note_missing(added.number);
    }
}

} // namespace hestrel::explore
