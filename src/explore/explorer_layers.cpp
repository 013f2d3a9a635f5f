// Whole layers, kept in a ledger to go on from after an interruption.
//
// Kept are the rows of situations and of sets of levels, the ways, and a list of news: the
// situations at which something was met for the first time, be it a context, a place, a move that
// had to be tried or more memory than before. Nothing else is. Whoever goes on looks at the news
// once more, block by block as the first time; then the same moves are tried in the same order, and
// all tables and numbers are what they were. The other situations, most by far, taught nothing, and
// are only read.

#include "explore/explorer.hpp"

#include <algorithm>

namespace hestrel::explore {

namespace {

/// Changes whenever what is kept means something else.
constexpr std::uint64_t ledger_format = 1;

enum class Column : std::uint8_t { situations, ways, level_sets, news };

/// What a note says, before the first situation of each layer.
struct Kept {
    std::uint64_t format = ledger_format;
    std::uint64_t words = 0; ///< of a situation's row
    std::uint64_t level_words = 0;
    std::uint64_t situations = 0;
    std::uint64_t level_sets = 0;
    std::uint64_t news = 0;
    std::uint64_t visited = 0;
    std::uint64_t moves_made = 0;
    std::uint64_t dead_ends = 0;
    std::uint64_t first_dead_end = 0;
};
void for_members(plan::IsA<Kept> auto& of, auto&& visit) {
    auto& [format, words, level_words, situations, level_sets, news, visited, moves_made, dead_ends,
           first_dead_end] = of;
    visit(format);
    visit(words);
    visit(level_words);
    visit(situations);
    visit(level_sets);
    visit(news);
    visit(visited);
    visit(moves_made);
    visit(dead_ends);
    visit(first_dead_end);
}

} // namespace

/// All situations of the layer have been visited.
void Explorer::end_layer() {
    const auto append = [&](Column column, const auto& records) {
        const auto number = static_cast<std::size_t>(column);
        std::size_t& appended = appended_[number];
        records.for_runs(appended, records.size(), [&](const auto* run, std::size_t count) {
            ledger_->append(number, run, count * records.width() * sizeof(*run));
        });
        appended = records.size();
    };
    append(Column::situations, rows_.rows());
    append(Column::ways, ways_);
    append(Column::level_sets, level_sets().rows());
    append(Column::news, news_);
    Kept kept;
    kept.words = layout().words;
    kept.level_words = level_sets().words();
    kept.situations = rows_.size();
    kept.level_sets = level_sets().size();
    kept.news = news_.size();
    kept.visited = next_;
    kept.moves_made = moves_made_;
    kept.dead_ends = dead_ends_.count;
    kept.first_dead_end = dead_ends_.first;
    unkept_.emplace();
    for_members(kept, [&](std::uint64_t number) { unkept_->push_back(number); });
    unkept_->insert(unkept_->end(), layers_.begin(), layers_.end());
    if (!ledger_->is_due()) return;
    ledger_->keep(*unkept_);
    unkept_.reset();
}

/// Everything as it was at the end of the last layer that was kept.
void Explorer::take_up_layers() {
    if (!ledger_->note()) return;
    const plan::Ledger::Note& note = *ledger_->note();
    const auto require = [&](bool holds) {
        if (!holds) ledger_->refuse();
    };
    Kept kept;
    std::size_t read = 0;
    for_members(kept, [&](std::uint64_t& number) {
        require(read < note.size());
        number = note[read++];
    });
    require(kept.format == ledger_format && kept.words == layout().words &&
            kept.level_words == level_sets().words());
    layers_.assign(note.begin() + static_cast<std::ptrdiff_t>(read), note.end());
    require(!layers_.empty() && layers_.front() == 0 &&
            std::is_sorted(layers_.begin(), layers_.end()));
    require(kept.visited == kept.situations || kept.visited == layers_.back());

    const auto read_column = [&](Column column, std::size_t width, const auto& what) {
        ledger_->read(static_cast<std::size_t>(column), width, what);
    };
    // Each comes to have the number that it had.
    const auto make_room = [&](std::size_t number) {
        if (number % block_size == 0) has_room();
    };
    std::uint32_t number = 0;
    read_column(Column::level_sets, sizeof(Word) * kept.level_words, [&](const void* record) {
        require(packed_.levels().number_of_row(static_cast<const Word*>(record)) == number);
        make_room(++number);
    });
    require(number == kept.level_sets);
    const auto begun = static_cast<std::uint32_t>(rows_.size());
    number = 0;
    read_column(Column::situations, sizeof(Word) * kept.words, [&](const void* record) {
        const auto* row = static_cast<const Word*>(record);
        const auto [found, fresh] = rows_.add(row, rows_.hash(row));
        require(found == number && fresh == (number >= begun));
        make_room(++number);
    });
    require(number == kept.situations && rows_.size() == number);
    number = 0;
    read_column(Column::ways, 2 * sizeof(std::uint32_t), [&](const void* record) {
        const auto* way = static_cast<const std::uint32_t*>(record);
        require(number < begun ? std::equal(way, way + 2, ways_[number]) : way[0] < number);
        if (number >= begun) ways_.add(way);
        make_room(++number);
    });
    require(number == kept.situations);
    number = 0;
    read_column(Column::news, sizeof(std::uint32_t), [&](const void* record) {
        const auto* situation = static_cast<const std::uint32_t*>(record);
        require(*situation < kept.visited && (number == 0 || *news_[number - 1] < *situation));
        news_.add(situation);
        make_room(++number);
    });
    require(number == kept.news && kept.visited <= kept.situations);
    appended_ = {rows_.size(), ways_.size(), level_sets().size(), news_.size()};
    look_again();
    for (std::uint32_t each = 0; each < rows_.size(); ++each)
        require(packed_.is_known(rows_[each]) && way_taken(each) < builder_.taken().size());
    next_ = kept.visited;
    moves_made_ = kept.moves_made;
    dead_ends_ = {kept.dead_ends, static_cast<std::uint32_t>(kept.first_dead_end)};
    taken_up_ = rows_.size();
}

/// At all news, in the blocks in which they were met.
void Explorer::look_again() {
    for (std::size_t i = 0; i < news_.size();) {
        const std::size_t end = end_of_block(*news_[i]);
        block_.situations.clear();
        for (; i < news_.size() && *news_[i] < end; ++i) block_.situations.push_back(*news_[i]);
        for (const std::uint32_t each : block_.situations)
            if (!packed_.is_known(rows_[each])) ledger_->refuse();
        look_up();
        for (std::size_t in_block = 0; in_block < block_.situations.size(); ++in_block) {
            const auto entries = entries_in_block(in_block);
            look_at(in_block, std::any_of(entries.begin(), entries.end(),
                                          [](const MemoEntry* each) { return each->adds; }));
        }
    }
}

} // namespace hestrel::explore
