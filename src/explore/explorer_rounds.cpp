// Rounds: many situations of a layer expanded together, by several threads, or with the table of
// all situations on a disk.
//
// Most situations teach nothing: all that their moves ask is known, and so is every number that
// their successors need. Any thread can expand such a one, as it only looks. The others are the
// news. They are looked at afterwards, alone and in order, block by block as without rounds: so the
// same moves are tried in the same order, whatever the number of threads. What all of them lead to
// is added together, in the order of situations and moves.

#include "explore/explorer_expand.hpp"
#include "plan/jobs.hpp"

#include <algorithm>
#include <numeric>

namespace hestrel::explore {

namespace {

/// From a disk a round leads to about so much: large enough for that, small enough for the memory.
constexpr std::size_t most_in_round = std::size_t{1} << 19;
/// And takes about so many bytes each.
constexpr std::size_t bytes_each = 128;
/// Else to less: what one situation leads to others of the same round often lead to, too, and
/// whoever expands them does not know that yet.
constexpr std::size_t blocks_in_round = 1;
/// A thread has so much to do at a time.
constexpr std::size_t slice_size = 512;
/// So many rows are looked for in the table at once.
constexpr std::size_t sifted_together = 256;

} // namespace

/// Where the next round ends; where it would begin, if none is worth while.
std::size_t Explorer::end_of_round(std::size_t end_of_layer) const {
    const bool on_disk = pages_.overflows();
    const std::size_t each = moves_made_ / std::max<std::size_t>(next_, 1) + 1;
    const bool shared = options_.team || (options_.jobs > 1 && each >= options_.least_moves);
    if (next_ < alone_until_ || (!shared && !on_disk)) return next_;
    const std::size_t candidates = std::min(most_in_round, options_.most_bytes / bytes_each);
    const std::size_t blocks =
        on_disk ? std::max<std::size_t>(1, candidates / each / block_size) : blocks_in_round;
    const std::size_t end = std::min(next_ + blocks * block_size, end_of_layer);
    return on_disk || end - next_ >= options_.least_shared ? end : next_;
}

/// Expands a situation if that teaches nothing; else it is noted as news.
template <class Words>
void Explorer::scan(std::uint32_t situation, Slice& slice, Words words) const {
    if (!expand_known(situation, slice, words)) {
        slice.news.push_back(situation);
        return;
    }
    const Word* row = rows_[situation];
    const bool more = !worst_.measures().empty() &&
                      worst_.could_learn(level_number(row), packed_.control_number(row),
                                         slice.batch.from.back().adds, [&](const auto& adds) {
                                             for (const MemoEntry* entry : slice.entries)
                                                 entry->for_outcomes([&](const Outcome& each) {
                                                     adds(each.added);
                                                 });
                                         });
    if (more) {
        slice.batch.take_back();
        slice.news.push_back(situation);
    } else if (!pages_.overflows() && slice.batch.unsifted() >= sifted_together) {
        slice.batch.sift(rows_, words);
    }
}

/// All situations of a round, looked at by several threads.
void Explorer::scan_slices(std::size_t end) {
    packed_.learn();
    worst_.learn();
    const std::vector<plan::Share> shares = plan::shares(end - next_, slice_size);
    const plan::Team* team = options_.team.get();
    slice_count_ = shares.size();
    slices_.resize(std::max(slices_.size(), slice_count_));
    plan::in_parallel(slice_count_, options_.jobs, [&](std::size_t i) {
        if (i % plan::size_of(team) != plan::rank_of(team)) return;
        with_words([&](auto words) {
            Slice& slice = slices_[i];
            slice.batch.clear();
            slice.news.clear();
            slice.cursor = {};
            const std::size_t first = next_ + shares[i].first;
            for (std::size_t each = first; each < first + shares[i].count; ++each)
                scan(static_cast<std::uint32_t>(each), slice, words);
            if (!pages_.overflows()) slice.batch.sift(rows_, words);
        });
    });
}

/// Everybody gets what the others have found in their slices.
void Explorer::share_slices() {
    plan::Team& team = *options_.team;
    std::string mine;
    for (std::size_t i = team.rank(); i < slice_count_; i += team.size()) {
        plan::pack(mine, slices_[i].news.data(), slices_[i].news.size());
        slices_[i].batch.pack(mine, layout().words);
    }
    const std::vector<std::string> all = team.all_of(mine);
    for (std::size_t other = 0; other < all.size(); ++other) {
        if (other == team.rank()) continue;
        std::string_view bytes = all[other];
        for (std::size_t i = other; i < slice_count_; i += team.size()) {
            slices_[i].news.resize(plan::unpack(bytes, slices_[i].news));
            slices_[i].batch.unpack(bytes, rows_);
        }
    }
}

/// Learns from the news of a round; returns how many of them could be.
std::size_t Explorer::look_at_news(const std::vector<std::uint32_t>& news, Slice& into) {
    std::size_t done = 0;
    try {
        while (done < news.size()) {
            const auto first = news.begin() + static_cast<std::ptrdiff_t>(done);
            block_.situations.assign(first,
                                     std::lower_bound(first, news.end(), end_of_block(*first)));
            look_up();
            with_words([&](auto words) {
                for (std::size_t i = 0; i < block_.situations.size(); ++i) {
                    gather(into.batch, i, words);
                    look_at(i, into.batch.from.back().adds);
                    if (block_.news[i]) into.news.push_back(block_.situations[i]);
                    ++done;
                }
            });
        }
    } catch (const plan::NoRoom&) { // whoever called finds out again
    }
    return done;
}

/// All situations of the round, but for those from `end` on, in order.
std::vector<Explorer::Piece> Explorer::pieces_before(std::size_t end, const Slice& news) const {
    std::vector<Piece> known;
    std::vector<Piece> fresh;
    const auto append = [&](const Batch& batch, std::vector<Piece>& to) {
        Piece piece{&batch, 0, 0};
        for (; piece.from < batch.from.size(); ++piece.from) {
            const Batch::From& from = batch.from[piece.from];
            if (from.situation < end) to.push_back(piece);
            piece.begin = from.end;
        }
    };
    for (std::size_t i = 0; i < slice_count_; ++i) append(slices_[i].batch, known);
    append(news.batch, fresh);
    std::vector<Piece> pieces(known.size() + fresh.size());
    std::merge(known.begin(), known.end(), fresh.begin(), fresh.end(), pieces.begin(),
               [](const Piece& one, const Piece& other) {
                   return one.batch->from[one.from].situation <
                          other.batch->from[other.from].situation;
               });
    return pieces;
}

/// What all pieces lead to, one after the other.
void Explorer::add_pieces(const std::vector<Piece>& pieces) {
    const auto end_of = [](const Piece& piece) { return piece.batch->from[piece.from].end; };
    for (std::size_t first = 0; first < pieces.size();) {
        std::size_t end = first;
        for (std::size_t rows = 0; end < pieces.size() && rows < sifted_together; ++end)
            rows += end_of(pieces[end]) - pieces[end].begin;
        const auto for_hashes = [&](const auto& what) {
            for (std::size_t i = first; i < end; ++i) {
                for (std::size_t at = pieces[i].begin; at < end_of(pieces[i]); ++at)
                    what(pieces[i].batch->hashes[at]);
            }
        };
        for_hashes([&](std::uint32_t hash) { rows_.expect_slot(hash); });
        for_hashes([&](std::uint32_t hash) { rows_.expect_row(hash); });
        with_words([&](auto words) {
            for (; first < end; ++first) add(pieces[first], words);
        });
    }
}

/// The same, part by part of the table.
void Explorer::add_pieces_on_disk(const std::vector<Piece>& pieces) {
    std::vector<StateTable::Candidate> candidates;
    for (const Piece& piece : pieces) {
        for (std::size_t i = piece.begin; i < piece.batch->from[piece.from].end; ++i)
            candidates.push_back(
                {piece.batch->rows.data() + i * layout().words, piece.batch->hashes[i]});
    }
    std::size_t added = rows_.size();
    const std::vector<std::uint32_t> numbers = rows_.add_together(candidates, options_.jobs);
    std::size_t next = 0;
    for (const Piece& piece : pieces) {
        const Batch::From& from = piece.batch->from[piece.from];
        count(from);
        for (std::size_t i = piece.begin; i < from.end; ++i, ++next) {
            if (numbers[next] != added) continue;
            add_way(from.situation, piece.batch->taken[i]);
            ++added;
        }
    }
}

/// Expands the situations up to `end`; false, and none is, where a limit could be reached.
bool Explorer::expand_round(std::size_t end) {
    std::vector<std::uint32_t> news;
    slice_count_ = 0;
    if ((options_.jobs > 1 || options_.team) && !folded().any()) {
        scan_slices(end);
        if (options_.team) share_slices();
        for (std::size_t i = 0; i < slice_count_; ++i)
            news.insert(news.end(), slices_[i].news.begin(), slices_[i].news.end());
        // Where most is news nothing is won: rounds are tried again when there are twice as many.
        if (!pages_.overflows() && news.size() > (end - next_) / 2) alone_until_ = end * 2;
    } else {
        news.resize(end - next_);
        std::iota(news.begin(), news.end(), static_cast<std::uint32_t>(next_));
    }
    Slice learnt;
    const std::size_t done = look_at_news(news, learnt);
    const bool full = done < news.size();
    if (full) end = news[done];
    const std::vector<Piece> pieces = pieces_before(end, learnt);
    std::size_t candidates = 0;
    for (const Piece& piece : pieces) candidates += piece.batch->from[piece.from].end - piece.begin;
    if (rows_.size() + candidates > options_.most_situations) return false;
    ways_.make_room(candidates);
    if (pages_.overflows()) {
        add_pieces_on_disk(pieces);
    } else {
        rows_.make_room(candidates);
        add_pieces(pieces);
    }
    for (const std::uint32_t each : learnt.news)
        if (ledger_ && each < end) news_.add(&each);
    next_ = end;
    if (options_.progress) options_.progress(rows_.size(), rows_.size() - next_);
    if (full) throw plan::NoRoom();
    return true;
}

} // namespace hestrel::explore
