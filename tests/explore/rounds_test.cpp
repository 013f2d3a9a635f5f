// Exploring by several threads, with what has no room on a disk, and from where an earlier run came
// to: always with the same result.

#include "bench/large_situations.hpp"
#include "explore/explored.hpp"
#include "explore/state_table.hpp"
#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "support/situations.hpp"

#include <condition_variable>
#include <cstring>
#include <list>
#include <memory>
#include <mutex>
#include <thread>

using namespace hestrel;
using explore::Explored;
using explore::Explorer;
using explore::StateTable;
using explore::Word;

namespace {

/// A disk that is none: so many bytes.
class SmallDisk final : public plan::Overflow {
public:
    explicit SmallDisk(std::size_t most) : left_(most) {}
    void* take(std::size_t bytes) override {
        if (bytes > left_) return nullptr;
        left_ -= bytes;
        was_used_ = true;
        return taken_.emplace_back(std::make_unique<std::byte[]>(bytes)).get();
    }
    void give_back(void* memory, std::size_t) override {
        taken_.remove_if([&](const auto& each) { return each.get() == memory; });
    }
    void keep_below(std::size_t) override {}
    [[nodiscard]] bool was_used() const { return was_used_; }

private:
    bool was_used_ = false;
    std::size_t left_;
    std::list<std::unique_ptr<std::byte[]>> taken_;
};

/// What a ledger has kept.
struct Kept {
    std::optional<plan::Ledger::Note> note;
    std::vector<std::string> columns = std::vector<std::string>(4);
};

/// A ledger in memory; every note is kept as well in `all`.
class MemoryLedger final : public plan::Ledger {
public:
    MemoryLedger(Kept begun, std::vector<Kept>& all) : kept_(std::move(begun)), all_(all) {}
    [[nodiscard]] const std::optional<Note>& note() const override { return kept_.note; }
    void read(std::size_t column, std::size_t width,
              const std::function<void(const void*)>& what) override {
        if (kept_.columns[column].size() % width != 0) refuse();
        for (std::size_t at = 0; at < kept_.columns[column].size(); at += width) {
            std::vector<std::uint64_t> record(width / sizeof(std::uint64_t) + 1);
            std::memcpy(record.data(), kept_.columns[column].data() + at, width);
            what(record.data());
        }
    }
    [[noreturn]] void refuse() const override { throw std::runtime_error("refused"); }
    void append(std::size_t column, const void* records, std::size_t bytes) override {
        kept_.columns[column].append(static_cast<const char*>(records), bytes);
    }
    [[nodiscard]] bool is_due() const override { return true; }
    void keep(const Note& note) override {
        kept_.note = note;
        all_.push_back(kept_);
    }

private:
    Kept kept_;
    std::vector<Kept>& all_;
};

/// What the members of a team, each a thread, have said to one another.
struct Table {
    explicit Table(std::size_t members) : said(members) {}
    std::mutex mutex;
    std::condition_variable changed;
    std::vector<std::string> said;
    std::vector<std::string> heard;
    std::size_t count = 0;
    std::size_t round = 0;
};

class ThreadTeam final : public plan::Team {
public:
    ThreadTeam(std::shared_ptr<Table> table, std::size_t rank)
        : table_(std::move(table)), rank_(rank) {}
    [[nodiscard]] std::size_t rank() const override { return rank_; }
    [[nodiscard]] std::size_t size() const override { return table_->said.size(); }
    void begin() override {}
    void end() override {}
    std::vector<std::string> all_of(const std::string& mine) override {
        std::unique_lock lock(table_->mutex);
        table_->said[rank_] = mine;
        const std::size_t round = table_->round;
        if (++table_->count == size()) {
            table_->heard = table_->said;
            table_->count = 0;
            ++table_->round;
            table_->changed.notify_all();
        }
        table_->changed.wait(lock, [&] { return table_->round != round; });
        return table_->heard;
    }

private:
    std::shared_ptr<Table> table_;
    std::size_t rank_;
};

/// A way in words.
std::vector<std::pair<std::uint32_t, std::size_t>> moves_on(const Explorer& explorer,
                                                            const explore::Way& way) {
    std::vector<std::pair<std::uint32_t, std::size_t>> moves;
    for (const std::uint32_t taken : way) {
        moves.emplace_back(explorer.taken(taken).move, 0);
        for (const auto& each : explorer.taken(taken).branches)
            moves.emplace_back(each.player.value, each.branch);
    }
    return moves;
}

/// Two that explored the same have the same numbers, ways and findings.
void require_same(const Explored& one, const Explored& other) {
    const Explorer& left = *one.explorer;
    const Explorer& right = *other.explorer;
    REQUIRE(left.situations() == right.situations());
    CHECK(left.visited() == right.visited());
    CHECK(left.complete() == right.complete());
    CHECK(left.depth() == right.depth());
    CHECK(left.moves_made() == right.moves_made());
    CHECK(left.dead_ends().count == right.dead_ends().count);
    CHECK(left.dead_ends().first == right.dead_ends().first);
    CHECK(left.came_true() == right.came_true());
    for (std::uint32_t number = 0; number < left.situations(); ++number) {
        REQUIRE((tests::plain(left, number).key() == tests::plain(right, number).key()));
        REQUIRE(left.parent(number) == right.parent(number));
        REQUIRE(moves_on(left, left.trace_to(number)) == moves_on(right, right.trace_to(number)));
    }
    REQUIRE(one.worst.size() == other.worst.size());
    for (std::size_t i = 0; i < one.worst.size(); ++i) {
        CHECK(one.worst[i].used == other.worst[i].used);
        CHECK(moves_on(left, one.worst[i].way) == moves_on(right, other.worst[i].way));
    }
    REQUIRE(one.found.size() == other.found.size());
    for (std::size_t i = 0; i < one.found.size(); ++i) {
        CHECK(one.found[i].finding.name == other.found[i].finding.name);
        CHECK(one.found[i].finding.message == other.found[i].finding.message);
        REQUIRE(one.found[i].way.has_value() == other.found[i].way.has_value());
        if (one.found[i].way)
            CHECK(moves_on(left, *one.found[i].way) == moves_on(right, *other.found[i].way));
    }
}

explore::Options options_for(const plan::Plan& plan, std::uint32_t seed) {
    explore::Options options = tests::exploring_of(plan);
    options.most_situations = 2'000;
    options.quit_anywhere = seed % 3 == 0;
    if (seed % 2 == 0) options.pace = explore::Pace::hurried;
    return options;
}

/// As settled or as hurried players, each with its findings.
Explored explored_at_pace(const plan::Plan& plan, const explore::Options& options) {
    if (options.pace == explore::Pace::unhurried) return explore::explored(plan, options);
    explore::Options calm = options;
    calm.pace = explore::Pace::unhurried;
    calm.ledger = nullptr;
    calm.overflow = nullptr;
    calm.team = nullptr;
    calm.most_bytes = SIZE_MAX;
    return explore::explored_hurried(plan, options, explore::explored(plan, calm));
}

plan::Plan random_plan(std::uint32_t seed) {
    const auto rich = seed % 4 == 3 ? tests::Rich::all : tests::Rich::yes;
    return tests::plan_from(tests::RandomPlan(seed, rich).text());
}

/// By so many that share the work; what the first tells.
Explored explored_by_team(const plan::Plan& plan, explore::Options options, std::size_t members) {
    options.least_shared = 1;
    options.least_moves = 1;
    const auto table = std::make_shared<Table>(members);
    std::vector<Explored> all(members);
    std::vector<std::thread> threads;
    for (std::size_t rank = 0; rank < members; ++rank) {
        threads.emplace_back([&, rank] {
            explore::Options own = options;
            own.team = std::make_shared<ThreadTeam>(table, rank);
            all[rank] = explored_at_pace(plan, own);
        });
    }
    for (std::thread& thread : threads) thread.join();
    for (const Explored& each : all)
        REQUIRE(each.explorer->situations() == all.front().explorer->situations());
    return std::move(all.front());
}

/// Begins from what is kept, and keeps all its own notes.
explore::Options going_on_from(explore::Options options, const Kept& kept, bool told_apart,
                               std::vector<Kept>& all) {
    options.ledger = [kept, told_apart, &all](bool apart) {
        return std::make_unique<MemoryLedger>(apart == told_apart ? kept : Kept(), all);
    };
    return options;
}

} // namespace

TEST_CASE("rows added together have the numbers that they would have one by one") {
    for (std::uint32_t seed = 0; seed < 6; ++seed) {
        CAPTURE(seed);
        tests::Dice dice(seed);
        const std::size_t words = 2 + seed % 3;
        SmallDisk disk(std::size_t{64} << 20);
        explore::Pages on_disk(&disk);
        explore::Pages in_memory;
        if (seed % 2 == 1) REQUIRE(on_disk.overflow());
        StateTable one(in_memory, words);
        StateTable other(on_disk, words);
        for (int round = 0; round < 4; ++round) {
            std::vector<std::vector<Word>> rows;
            std::vector<StateTable::Candidate> candidates;
            std::vector<std::uint32_t> expected;
            for (int i = 0; i < (seed < 3 ? 1'000 : 10'000); ++i) {
                auto& row = rows.emplace_back(words);
                // Of some seeds all begin to be looked for at the end of the table.
                constexpr std::uint32_t at_end = 0x3F00;
                do {
                    row[0] =
                        static_cast<Word>(dice.below(seed < 3 ? 100'000 : 1'000 * (round + 1)));
                    row[words - 1] = static_cast<Word>(dice.below(8));
                } while (seed < 3 && (one.hash(row.data()) & at_end) != at_end);
            }
            for (const auto& row : rows) {
                const std::uint32_t hash = one.hash(row.data());
                candidates.push_back({row.data(), hash});
                expected.push_back(one.add(row.data(), hash).number);
            }
            REQUIRE(other.add_together(candidates, 1 + seed % 3) == expected);
            REQUIRE(one.size() == other.size());
            for (const auto& each : candidates)
                REQUIRE(other.find(each.row, each.hash) == one.find(each.row, each.hash));
        }
    }
}

TEST_CASE("what is explored does not hang on threads or processes nor on where it is kept") {
    std::size_t shared = 0;
    std::size_t moved = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = random_plan(seed);
        explore::Options options = options_for(plan, seed);
        const Explored alone = explored_at_pace(plan, options);
        options.jobs = 3;
        options.least_shared = 1;
        options.least_moves = 1;
        require_same(alone, explored_at_pace(plan, options));
        ++shared;
        options.jobs = 1;
        require_same(alone, explored_by_team(plan, options, 2 + seed % 3));
        const auto disk = std::make_shared<SmallDisk>(std::size_t{256} << 20);
        options.overflow = disk;
        // Tables take more than the one from the beginning, than the other only after a while.
        options.most_bytes = seed % 3 == 0 ? 400'000 : std::size_t{1} << 20;
        options.jobs = 1 + seed % 2;
        const Explored outside = explored_at_pace(plan, options);
        // What goes on in moves stays in memory, and may be more than that.
        if (!outside.explorer->complete() && alone.explorer->complete()) continue;
        if (outside.explorer->situations() != alone.explorer->situations()) continue;
        require_same(alone, outside);
        if (disk->was_used()) ++moved;
    }
    CHECK(shared > 30);
    CHECK(moved > 10);
}

TEST_CASE("large layers are shared between threads, and a large table is on the disk") {
    for (const std::string& text : {bench::switchboard(13), bench::ring(80, 0, 2)}) {
        const plan::Plan plan = tests::plan_from(text);
        explore::Options options = tests::exploring_of(plan);
        options.least_shared = 1'000;
        options.least_moves = 1;
        const Explored alone = explore::explored(plan, options);
        options.jobs = 2;
        require_same(alone, explore::explored(plan, options));
        const auto disk = std::make_shared<SmallDisk>(std::size_t{256} << 20);
        options.overflow = disk;
        options.most_bytes = 300'000;
        require_same(alone, explore::explored(plan, options));
        CHECK(disk->was_used());
        // A limit cuts off after the same situation, wherever they are kept.
        options.most_situations = alone.explorer->situations() / 2;
        const Explored half_outside = explore::explored(plan, options);
        options.overflow = nullptr;
        options.most_bytes = SIZE_MAX;
        options.jobs = 1;
        require_same(explore::explored(plan, options), half_outside);
    }
}

TEST_CASE("where the disk is full exploring ends, and what was looked at counts") {
    const plan::Plan plan = tests::plan_from(bench::switchboard(17));
    explore::Options options = tests::exploring_of(plan);
    options.most_bytes = std::size_t{1} << 20;
    options.overflow = std::make_shared<SmallDisk>(std::size_t{2} << 20);
    const Explored cut = explore::explored(plan, options);
    CHECK_FALSE(cut.explorer->complete());
    CHECK(cut.explorer->out_of_room());
    CHECK(cut.explorer->visited() > 1'000);
    CHECK(cut.explorer->visited() < cut.explorer->situations());
    // Without a disk the memory alone is the limit.
    options.overflow = nullptr;
    const Explored limited = explore::explored(plan, options);
    CHECK_FALSE(limited.explorer->complete());
    CHECK_FALSE(limited.explorer->out_of_room());
}

TEST_CASE("exploring goes on from the end of any layer, to the same result") {
    std::size_t gone_on = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(40); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = random_plan(seed);
        explore::Options options = options_for(plan, seed);
        options.most_situations = 600;
        const Explored alone = explored_at_pace(plan, options);
        const bool apart = alone.explorer->options().tell_players_apart;
        std::vector<Kept> notes;
        require_same(alone, explored_at_pace(plan, going_on_from(options, {}, apart, notes)));
        REQUIRE_FALSE(notes.empty());
        // From some of them, and from each of those once more in the middle.
        tests::Dice dice(seed);
        for (int i = 0; i < 3; ++i) {
            const auto which = static_cast<std::size_t>(dice.below(static_cast<int>(notes.size())));
            CAPTURE(which);
            std::vector<Kept> more;
            options.jobs = 1 + seed % 2;
            options.least_shared = 1;
            options.least_moves = 1;
            const Explored went_on =
                explored_at_pace(plan, going_on_from(options, notes[which], apart, more));
            require_same(alone, went_on);
            if (went_on.explorer->taken_up() == 0) continue; // players who mattered after all
            ++gone_on;
            // What is kept at the end is the same as without an interruption.
            if (!more.empty() && !alone.explorer->options().tell_players_apart)
                CHECK(more.back().columns == notes.back().columns);
        }
    }
    CHECK(gone_on > 60);
}

TEST_CASE("a ledger that says what can't be is refused") {
    const plan::Plan plan = tests::plan_from(bench::ring(12, 3, 2));
    const explore::Options options = tests::exploring_of(plan);
    std::vector<Kept> notes;
    const Explored whole = explore::explored(plan, going_on_from(options, {}, false, notes));
    REQUIRE(notes.size() > 5);
    const Kept& kept = notes[notes.size() / 2];
    const auto is_refused = [&](const Kept& spoilt) {
        std::vector<Kept> more;
        try {
            const Explored went_on =
                explore::explored(plan, going_on_from(options, spoilt, false, more));
            return went_on.explorer->situations() != whole.explorer->situations();
        } catch (const std::runtime_error&) {
            return true;
        }
    };
    CHECK_FALSE(is_refused(kept));
    for (std::size_t column = 0; column < 4; ++column) {
        CAPTURE(column);
        Kept shorter = kept;
        shorter.columns[column].resize(shorter.columns[column].size() / 2 / 8 * 8);
        CHECK(is_refused(shorter));
        if (column == 3) continue; // other news are looked at in vain, and nothing else
        Kept other = kept;
        other.columns[column].back() = '\x7F';
        CHECK(is_refused(other));
    }
    for (std::size_t i = 0; i < 7; ++i) {
        CAPTURE(i);
        Kept wrong = kept;
        (*wrong.note)[i] += 1;
        CHECK(is_refused(wrong));
    }
    Kept empty = kept;
    empty.note->clear();
    CHECK(is_refused(empty));
}
