#pragma once
// All situations that players can reach (docs/model.md section 8), breadth first, so that the way
// to each is a shortest one.
//
// An example: a plan has 20 switches (facts), and a trigger `door` whose steps are
//
//     when: power        show: [cellar]        set: {visited: true}
//
// There are 2^20 situations in which a player can walk into the door, but the move reads only two
// bits of each, `power` and whether `door` is spent. The first time it is run by the interpreter
// (flow::Flow on a Game), which notes every bit that it reads. That read set, the values read and
// the outcome ("set visited, and show the cellar") are a memo entry of the move. In all other
// situations the move costs a masked comparison and a masked write: of 2^20 moves no more than four
// are run. What is large and changes seldom is interned and stands in a situation as a number: the
// running lists (a memo belongs to one such number and place), and the set of levels that are
// there, of which a move reads and writes single ones.
//
// It is explicit-state search with memoised transitions: a situation is a row of bits in the state
// table, found by a hash of all of it. It costs 25 to 90 bytes a situation, and memory waits are
// hidden by looking up hundreds at once. tests/explore holds it to an explorer without any memo.
//
// What has no room in memory goes to a disk (Pages). At the end of a layer, that is of all
// situations that are so many moves from the beginning, all that it takes to go on from there can
// be kept (explorer_layers.cpp).

#include "explore/batch.hpp"
#include "explore/goal.hpp"
#include "explore/memo_builder.hpp"
#include "explore/memo_table.hpp"
#include "plan/team.hpp"

#include <array>
#include <functional>
#include <map>
#include <memory>
#include <queue>
#include <span>

namespace hestrel::explore {

/// Where exploring begins and ends.
struct Options {
    plan::EditionId edition; ///< unset: the plan has none, and the first route's start is taken
    Pace pace = Pace::unhurried;
    std::size_t most_running = 2; ///< lists at once, where players hurry
    unsigned jobs = 1;            ///< threads; what is found does not depend on them
    /// A layer of at least so many situations, each with about so many moves, is shared between
    /// threads: to share takes about as long as to look at four moves.
    std::size_t least_shared = 2'048;
    std::size_t least_moves = 8;
    std::size_t most_situations = 10'000'000;
    std::size_t most_bytes = std::size_t{4} << 30; ///< for situations, and what goes on in moves
    bool quit_anywhere = false; ///< and launch again; else only once it has ended
    /// Players who hurry: all ends of loads are moves by themselves (see Reduction).
    bool tell_all_ends = false;
    /// Levels that stream by distance, and that nothing goes by, are no part of situations
    /// (FoldedNear). Unset: where there are many. Players who hurry always have them.
    std::optional<bool> fold_near;
    /// Situations that differ by exchanging players who are alike are different ones.
    bool tell_players_apart = false;
    std::optional<flow::KeptStore> saved; ///< with which it begins
    /// Begins as that says; unset: where a walk of the edition does.
    std::optional<plan::Start> start;
    /// Begins there, with nothing going on.
    std::optional<flow::Snapshot> begun;
    std::vector<plan::PlayerKindId> players; ///< empty: as many of each kind as there can be
    std::vector<plan::DeviceId> devices;     ///< on which memory is looked at
    /// Set: exploring looks for a situation in which this holds, those first that seem nearest to
    /// it, and goes no further once one is found. Then nothing else is kept.
    plan::ConditionId toward;
    /// Where what has no room in memory goes; null: exploring ends where there is none.
    std::shared_ptr<plan::Overflow> overflow;
    /// Set: whole layers are kept in what it opens, and exploring goes on from those that were. It
    /// is told whether players who seem alike are told apart, as that is an exploring of its own.
    std::function<std::unique_ptr<plan::Ledger>(bool told_apart)> ledger;
    /// Set: with these other processes, which explore the same. Where a situation is looked for,
    /// or levels are left out, each does all of the work.
    std::shared_ptr<plan::Team> team;
    /// Called now and then; may be empty.
    std::function<void(std::size_t situations, std::size_t waiting)> progress;
};

/// A rule of the plan that a situation breaks.
struct Broken {
    plan::Breach what;
    std::uint32_t first = 0; ///< the situation in which it was met first
};

/// Explores one edition. Results are there once `run` is through.
class Explorer {
public:
    /// Situations of a layer are looked at so many at a time, from its first on: what is not
    /// remembered of their moves is worked out at once.
    static constexpr std::size_t block_size = 4'096;

    Explorer(const plan::Plan& plan, Options options);
    ~Explorer();
    Explorer(const Explorer&) = delete;
    Explorer& operator=(const Explorer&) = delete;

    void run();

    // The graph.

    [[nodiscard]] const plan::Plan& plan() const { return *plan_; }
    [[nodiscard]] const Options& options() const { return options_; }
    [[nodiscard]] std::size_t situations() const { return rows_.size(); }
    /// All have been visited; else it was cut off at a limit.
    [[nodiscard]] bool complete() const { return next_ == rows_.size() && !order_mattered_; }
    /// Where a situation is looked for, the first that was found.
    [[nodiscard]] std::optional<std::uint32_t> found() const { return found_; }
    /// And what it was looked for with; null: nothing is looked for.
    [[nodiscard]] Goal* goal() const { return goal_.get(); }
    /// Players who seemed alike were not, so it went no further: `tell_players_apart` is needed.
    [[nodiscard]] bool players_matter() const { return order_mattered_; }
    [[nodiscard]] std::size_t visited() const { return next_; }
    /// Of one; those met first, but where a situation is looked for.
    [[nodiscard]] bool was_visited(std::uint32_t situation) const {
        return goal_ ? situation < looked_at_.size() && looked_at_[situation] : situation < next_;
    }
    /// Moves were met after which more lists than the options allow would run.
    [[nodiscard]] bool too_many_running() const { return builder_.too_many_running(); }
    [[nodiscard]] std::uint64_t moves_made() const { return moves_made_; }
    [[nodiscard]] std::size_t depth() const {
        return layers_.empty() ? farthest_ : layers_.size() - 1;
    }
    /// That situations take in memory.
    [[nodiscard]] std::size_t bytes() const;
    /// It was cut off because neither memory nor the disk had room.
    [[nodiscard]] bool out_of_room() const { return out_of_room_; }
    /// So many situations were known from an earlier run.
    [[nodiscard]] std::size_t taken_up() const { return taken_up_; }
    [[nodiscard]] const std::vector<plan::PlayerKindId>& players() const {
        return packed_.players();
    }
    [[nodiscard]] const plan::Start& start() const { return start_; }
    [[nodiscard]] plan::LevelId start_level() const { return start_.level; }
    [[nodiscard]] plan::WaypointId start_at() const { return start_.at; }
    [[nodiscard]] const std::vector<Move>& moves() const { return moves_.all(); }
    [[nodiscard]] const MoveTaken& taken(std::uint32_t number) const {
        return builder_.taken()[number];
    }
    [[nodiscard]] const std::vector<Effect>& effects() const { return builder_.effects(); }
    /// Whether that move launches the game again.
    [[nodiscard]] bool launches(const Outcome& outcome) const {
        return taken(outcome.taken).move == moves_.launch();
    }
    /// Every outcome that was met.
    void for_outcomes(const std::function<void(const Outcome&)>& what) const;
    /// The moves on the shortest way to a situation, and those that are made from there. Players
    /// who are alike keep their names on it; in situations they stand in order.
    [[nodiscard]] Way trace_to(std::uint32_t situation, const Way& and_then = {}) const;
    /// How many moves that way has from where it begins; the boot is none.
    [[nodiscard]] std::size_t depth_of(std::uint32_t situation) const;
    /// Who stands at each place of a situation, by the names that players have on the way to it.
    [[nodiscard]] std::vector<std::uint32_t> names_in(std::uint32_t situation) const;
    /// Where it was reached from first; itself where it is a beginning.
    [[nodiscard]] std::uint32_t parent(std::uint32_t situation) const {
        return ways_[situation][0];
    }
    /// Calls `what(situation, numbers)` for each visited one that is wanted, from the last to the
    /// first, with the numbers of those that its moves lead to, itself left out.
    template <class Wanted, class What>
    void for_successors_backwards(Wanted&& wanted, What&& what) const;
    /// What each move from a visited situation leads to.
    void for_successors(std::uint32_t situation,
                        const std::function<void(std::uint32_t, const Outcome&)>& what) const;
    /// Who stands where in what a move leads to: by place, who it was before.
    [[nodiscard]] std::vector<std::uint32_t> exchanged_by(std::uint32_t situation,
                                                          const Outcome& outcome) const;
    /// What went on in the move that led to a situation first; null: it is a beginning.
    [[nodiscard]] const Effect* effect_before(std::uint32_t situation) const;
    /// Every move from a visited situation in which something `wanted` goes on, nearest the
    /// beginning first: from where, to where.
    void for_wanted(const std::function<bool(const Effect&)>& wanted,
                    const std::function<void(std::uint32_t, std::uint32_t, const Outcome&)>& what);

    // A situation.

    [[nodiscard]] const Word* row(std::uint32_t situation) const { return rows_[situation]; }
    [[nodiscard]] const Layout& layout() const { return packed_.layout(); }
    [[nodiscard]] std::vector<LevelThere> levels_of(const Word* row) const {
        return packed_.levels_of(row);
    }
    /// The number of the set of levels that are there, for `level_sets`.
    [[nodiscard]] std::uint32_t level_number(const Word* row) const {
        return packed_.level_number(row);
    }
    [[nodiscard]] bool is_shown(const Word* row, plan::LevelId level) const {
        return level_sets().is_shown(level_number(row), level);
    }
    [[nodiscard]] const flow::State& control_of(const Word* row) const {
        return packed_.control_of(row);
    }
    [[nodiscard]] const PlayerNow& player_of(const Word* row, std::size_t player) const {
        return packed_.player_of(row, player);
    }
    [[nodiscard]] const LevelSets& level_sets() const { return packed_.levels(); }
    /// Which levels are no part of situations.
    [[nodiscard]] const FoldedNear& folded() const { return packed_.folded(); }
    [[nodiscard]] const Reduction& reduction() const { return packed_.reduction(); }
    [[nodiscard]] const NearSets& near_sets() const { return packed_.near(); }
    /// Which of those may be there; shown are those that surely are.
    [[nodiscard]] std::vector<LevelThere> near_levels(const Word* row) const;
    /// All that are there or may be, in plan order.
    [[nodiscard]] std::vector<LevelThere> all_levels(const Word* row) const;
    [[nodiscard]] const Bounds& bounds(std::size_t device) const { return bounds_[device]; }

    // What was met on the way.

    [[nodiscard]] std::vector<Context> contexts() const;
    [[nodiscard]] const Worst& worst() const { return worst_; }
    /// Where a player stands in a level, and nothing is shown there: the first of each level.
    struct Bare {
        plan::LevelId level;
        std::uint32_t first = 0; ///< situation
        std::size_t player = 0;
    };
    [[nodiscard]] const std::vector<Bare>& bare() const { return bare_; }
    [[nodiscard]] const flow::State& control(std::uint32_t number) const {
        return packed_.controls()[number];
    }
    [[nodiscard]] const std::vector<Broken>& broken() const { return broken_; }
    /// Situations that no move leads out of, and that are not the end; the first of them.
    struct DeadEnds {
        std::uint64_t count = 0;
        std::uint32_t first = 0;
    };
    [[nodiscard]] const DeadEnds& dead_ends() const { return dead_ends_; }
    /// By condition of the plan: whether it held whenever it was asked in exploring.
    [[nodiscard]] const std::vector<bool>& came_true() const { return came_true_; }
    [[nodiscard]] const MoveLog& boot_log() const { return boot_log_; }
    /// Whether any boot comes to its end; where none does, nobody ever plays.
    [[nodiscard]] bool boots() const { return boots_; }

private:
    /// A move whose case is not known yet, from a situation.
    struct Missing {
        Memo* memo = nullptr;
        std::size_t in_block = 0; ///< which situation
        std::size_t number = 0;   ///< index into Block::entries
    };
    /// Situations that are looked at together, and the memo entries of their moves.
    struct Block {
        std::vector<std::uint32_t> situations;
        std::vector<const MemoEntry*> entries;
        std::vector<std::size_t> starts; ///< by situation: into `entries`; and where the last ends
        std::vector<ContextMemo*> contexts; ///< by situation
        std::vector<PlaceMemo*> places;     ///< of each player
        std::vector<bool> news; ///< by situation: something was met there for the first time
    };
    void find_start();
    MoveRunner& runner(std::size_t job);
    void begin();
    void begin_at(const Ending& way, std::uint32_t taken);
    template <class Wanted, class What>
    void lead(std::uint32_t situation, const Memo& memo, Wanted&& wanted, What&& what) const;
    [[nodiscard]] const Outcome& outcome_of(const Word* row, std::uint32_t taken) const;
    std::uint32_t way_to(std::uint32_t situation, Way& way) const;
    std::vector<std::uint32_t> name_players(std::uint32_t from, Way& way) const;
    [[nodiscard]] std::uint32_t as_named(MoveTaken made,
                                         const std::vector<std::uint32_t>& names) const;
    [[nodiscard]] bool is_bare_anew(const PlaceMemo& place, const Word* row) const;
    [[nodiscard]] std::uint32_t way_taken(std::uint32_t situation) const {
        return ways_[situation][1];
    }
    void add_way(std::uint32_t parent, std::uint32_t taken);
    const MemoEntry* quiet_entry(Memo& memo, std::uint32_t situation);
    void look_up();
    [[nodiscard]] const Word* row_in_block(std::size_t in_block) const {
        return rows_[block_.situations[in_block]];
    }
    void work_out(std::vector<Missing> missing);
    void look_at_rules(ContextMemo& context, std::uint32_t situation);
    void look_at(std::size_t in_block, bool moves_add);
    void measure(std::size_t in_block, bool moves_add);
    void measure_near(std::size_t in_block);
    template <class What>
    void for_outcomes_from(std::size_t in_block, What&& what) const;
    [[nodiscard]] std::span<const MemoEntry* const> entries_in_block(std::size_t in_block) const {
        const std::size_t first = block_.starts[in_block];
        return {block_.entries.data() + first, block_.starts[in_block + 1] - first};
    }
    bool has_room();
    bool move_out();
    void take_up_layers();
    void look_again();
    void end_layer();
    void expand_block();
    template <class What>
    void with_words(What&& what) const;
    [[nodiscard]] Moving moving(std::uint32_t situation, const ContextMemo& context,
                                std::span<const MemoEntry* const> entries) const;
    [[nodiscard]] bool only_launches(const Outcome& outcome) const {
        return options_.quit_anywhere && launches(outcome);
    }
    template <class Words>
    void gather(Batch& batch, std::size_t in_block, Words words);
    void count(const Batch::From& from);
    template <class Words>
    void flush(Words words);
    void visit(const Batch::From& from);

    /// Some situations of a round, and what they lead to.
    struct Slice {
        Batch batch;
        std::vector<std::uint32_t> news; ///< situations that somebody has to learn from
        MemoTable::Cursor cursor;
        std::vector<const MemoEntry*> entries; ///< of the moves from one
        std::vector<Word> scratch;
    };
    /// A situation, and where what it leads to is.
    struct Piece {
        const Batch* batch = nullptr;
        std::size_t from = 0;  ///< in the batch
        std::size_t begin = 0; ///< of what it leads to
    };
    [[nodiscard]] std::size_t end_of_block(std::size_t situation) const;
    [[nodiscard]] std::size_t end_of_round(std::size_t end_of_layer) const;
    bool expand_round(std::size_t end);
    void scan_slices(std::size_t end);
    void share_slices();
    [[nodiscard]] std::vector<Piece> pieces_before(std::size_t end, const Slice& news) const;
    void add_pieces(const std::vector<Piece>& pieces);
    template <class Words>
    void add(const Piece& piece, Words words);
    void add_pieces_on_disk(const std::vector<Piece>& pieces);
    template <class Words>
    bool expand_known(std::uint32_t situation, Slice& slice, Words words) const;
    template <class Words>
    void scan(std::uint32_t situation, Slice& slice, Words words) const;
    std::size_t look_at_news(const std::vector<std::uint32_t>& news, Slice& into);
    void run_breadth_first();
    void run_best_first();
    void note_missing(std::uint32_t situation);

    const plan::Plan* plan_;
    Options options_;
    Pages pages_;
    /// What is met later is put into these, even by who only looks.
    mutable Packed packed_;
    Moves moves_;
    std::vector<Bounds> bounds_; ///< by device
    Worst worst_;
    mutable MemoBuilder builder_;
    mutable MemoTable memos_;
    plan::Start start_;
    bool order_mattered_ = false;
    std::vector<NearStand> near_; ///< of the situation that is measured, by player
    std::vector<std::vector<std::uint32_t>> begun_as_; ///< by beginning: by place, who stands there

    StateTable rows_;
    Records<std::uint32_t> ways_; ///< by situation: where it was reached from, and the move taken
    std::size_t next_ = 0;        ///< the first situation not visited
    std::uint64_t moves_made_ = 0;
    Block block_;
    std::unique_ptr<plan::Ledger> ledger_; ///< null: layers are not kept
    std::vector<std::uint32_t> layers_;    ///< the first of each; none if one is looked for
    /// Situations where something was met for the first time; only where layers are kept.
    Records<std::uint32_t> news_;
    std::optional<plan::Ledger::Note> unkept_; ///< of the last whole layer
    std::array<std::size_t, 4> appended_{};    ///< by column of the ledger: so many records
    std::size_t taken_up_ = 0;
    bool out_of_room_ = false;
    std::size_t alone_until_ = 0; ///< till there rounds are of no use
    std::vector<Slice> slices_;   ///< of the present round
    std::size_t slice_count_ = 0;
    /// Where a situation is looked for: what to visit next, by about how many moves a way through
    /// it has, those met first first.
    std::unique_ptr<Goal> goal_;
    std::map<std::uint32_t, std::queue<std::uint32_t>> nearest_;
    std::vector<std::uint32_t> moves_to_; ///< by situation
    std::size_t farthest_ = 0;            ///< the most of those
    std::vector<bool> looked_at_;         ///< by situation
    std::optional<std::uint32_t> found_;
    Batch batch_;

    std::vector<Bare> bare_;
    std::vector<Broken> broken_;
    plan::Table<plan::RuleId, bool> rule_broken_;
    DeadEnds dead_ends_;
    std::vector<bool> came_true_;
    MoveLog boot_log_;
    bool boots_ = true;
    std::vector<std::unique_ptr<MoveRunner>> runners_; ///< by job
};

} // namespace hestrel::explore
