#pragma once
// All situations that players can reach (docs/model.md section 8), breadth first, so that the way
// to each is a shortest one.
//
// Most moves have been seen before: what a move does depends on the levels there, what steps have
// left, where the player is, and a few facts. The first time it is done by the interpreter, which
// tells what was asked about; from then on it is done by comparing and copying a few bits.

#include "explore/bounds.hpp"
#include "explore/intern.hpp"
#include "explore/layout.hpp"
#include "explore/moves.hpp"
#include "explore/rows.hpp"
#include "explore/stands.hpp"
#include "explore/trial.hpp"

#include <boost/container/small_vector.hpp>
#include <functional>
#include <memory>
#include <span>
#include <unordered_map>

namespace hestrel::explore {

/// Where exploring begins and ends.
struct Options {
    plan::EditionId edition; ///< unset: the plan has none, and the first route's start is taken
    Pace pace = Pace::unhurried;
    std::size_t most_running = 2; ///< lists at once, where players hurry
    unsigned jobs = 1;            ///< threads; what is found does not depend on them
    std::size_t most_situations = 10'000'000;
    std::size_t most_bytes = std::size_t{4} << 30; ///< for situations, and what goes on in moves
    std::vector<plan::DeviceId> devices;           ///< on which memory is looked at
    /// So many moves' ends are remembered, for what looks back on them (4 bytes each).
    std::size_t most_edges = 0;
    /// Called now and then; may be empty.
    std::function<void(std::size_t situations, std::size_t waiting)> progress;
};

/// Bits of a row that must be so, or become so.
struct Bits {
    std::uint32_t word = 0;
    Word mask = 0;
    Word value = 0;
};

/// Few, mostly one, and looked at all the time: they lie within what they belong to.
using FewBits = boost::container::small_vector<Bits, 2>;

/// What a move does where some bits of the situation are so.
struct Outcome {
    std::uint32_t taken = 0;  ///< for Explorer::taken
    std::uint32_t first = 0;  ///< situation in which it was met first
    FewBits writes;           ///< none: it leads back to where it began
    std::uint32_t effect = 0; ///< index into Explorer::effects

    void apply(Word* row) const {
        for (const Bits& bits : writes) row[bits.word] = (row[bits.word] & ~bits.mask) | bits.value;
    }
};

/// A move with the branches it takes.
struct MoveTaken {
    std::uint32_t move = 0; ///< index into Explorer::moves
    std::vector<MoveLog::Taken> branches;
};

/// What went on in a move, where it was met first. Moves in which nothing does share one.
struct Effect {
    MoveLog log;
    std::uint32_t uses = 0; ///< for Explorer::uses
    std::uint32_t levels_before = 0;
    std::uint32_t first = 0; ///< situation
    std::uint32_t taken = 0; ///< for Explorer::taken
    bool ended = false;
};

/// A rule of the plan that a situation breaks.
struct Broken {
    plan::RuleId rule;
    std::uint32_t first = 0; ///< the situation in which it was met first
};

/// Explores one edition. Results are there once `run` is through.
class Explorer {
public:
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
    [[nodiscard]] bool complete() const { return next_ == rows_.size(); }
    [[nodiscard]] std::size_t visited() const { return next_; }
    /// Moves were met after which more lists than the options allow would run.
    [[nodiscard]] bool too_many_running() const { return too_many_running_; }
    [[nodiscard]] std::uint64_t moves_made() const { return moves_made_; }
    [[nodiscard]] std::size_t depth() const { return depth_; }
    [[nodiscard]] std::size_t bytes() const;
    [[nodiscard]] const std::vector<plan::PlayerKindId>& players() const { return kinds_; }
    [[nodiscard]] plan::LevelId start_level() const { return start_level_; }
    [[nodiscard]] plan::WaypointId start_at() const { return start_at_; }
    [[nodiscard]] const std::vector<Move>& moves() const { return moves_.all(); }
    [[nodiscard]] const MoveTaken& taken(std::uint32_t number) const { return taken_[number]; }
    [[nodiscard]] const std::vector<Effect>& effects() const { return effects_; }
    /// The most memory in use during a move with such an effect, by device of the options.
    [[nodiscard]] const std::vector<Use>& uses(const Effect& effect) const {
        return uses_[effect.uses];
    }
    /// Every outcome that was met.
    void for_outcomes(const std::function<void(const Outcome&)>& what) const;
    /// The moves on the shortest way to a situation, the boot first.
    [[nodiscard]] std::vector<std::uint32_t> way_to(std::uint32_t situation) const;
    /// Where it was reached from first; itself where it is a beginning.
    [[nodiscard]] std::uint32_t parent(std::uint32_t situation) const {
        return parents_[situation];
    }
    /// Which situations a visited one leads to; none where they were not all remembered.
    [[nodiscard]] std::span<const std::uint32_t> leads_to(std::uint32_t situation) const {
        return {edges_.data() + edge_starts_[situation],
                edge_starts_[situation + 1] - edge_starts_[situation]};
    }
    [[nodiscard]] bool remembers_edges() const { return edge_starts_.size() == next_ + 1; }
    /// What each move from a visited situation leads to.
    void for_successors(std::uint32_t situation,
                        const std::function<void(std::uint32_t, const Outcome&)>& what);
    /// Every move from a visited situation in which something `wanted` goes on, nearest the
    /// beginning first: from where, to where.
    void for_wanted(const std::function<bool(const Effect&)>& wanted,
                    const std::function<void(std::uint32_t, std::uint32_t, const Outcome&)>& what);

    // A situation.

    [[nodiscard]] const Word* row(std::uint32_t situation) const { return rows_[situation]; }
    [[nodiscard]] const Layout& layout() const { return layout_; }
    [[nodiscard]] const std::vector<LevelThere>& levels_of(const Word* row) const {
        return levels_[static_cast<std::uint32_t>(layout_.levels.get(row))];
    }
    [[nodiscard]] const flow::Settled& control_of(const Word* row) const {
        return controls_[static_cast<std::uint32_t>(layout_.control.get(row))];
    }
    [[nodiscard]] const PlayerNow& player_of(const Word* row, std::size_t player) const {
        return stands_[static_cast<std::uint32_t>(layout_.players[player].get(row))];
    }
    [[nodiscard]] const std::vector<LevelThere>& level_set(std::uint32_t number) const {
        return levels_[number];
    }
    [[nodiscard]] std::size_t level_sets() const { return levels_.size(); }
    [[nodiscard]] const Bounds& bounds(std::size_t device) const { return bounds_[device]; }

    // What was met on the way.

    /// Levels and what steps have left, together, and the first situation that has them.
    struct Context {
        std::uint32_t levels = 0;
        std::uint32_t control = 0;
        std::uint32_t first = 0;
    };
    [[nodiscard]] std::vector<Context> contexts() const;
    /// Players at one place in one context.
    struct Place {
        std::uint32_t levels = 0;
        std::uint32_t control = 0;
        std::uint32_t stand = 0;
        std::uint32_t first = 0;
        std::uint64_t situations = 0;
    };
    [[nodiscard]] std::vector<Place> places() const;
    [[nodiscard]] const PlayerNow& stand(std::uint32_t number) const { return stands_[number]; }
    [[nodiscard]] const flow::Settled& control(std::uint32_t number) const {
        return controls_[number];
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
    [[nodiscard]] bool boot_endless() const { return boot_log_.endless; }

private:
    /// A player is inside of certain zones, and not of certain others.
    struct Inside {
        std::uint32_t player = 0;
        std::uint32_t zone_set = 0; ///< for Stands::part
        std::uint32_t part = 0;
    };
    /// What a move asked about: bits of the situation, and where players are.
    struct Asked {
        FewBits bits;
        boost::container::small_vector<Inside, 2> inside;
    };
    struct Case {
        Asked guards;
        std::vector<Outcome> outcomes;
    };
    [[nodiscard]] bool fits(const Asked& guards, const Word* row) {
        for (const Bits& guard : guards.bits) {
            if ((row[guard.word] & guard.mask) != guard.value) return false;
        }
        for (const Inside& inside : guards.inside) {
            const auto kind = static_cast<std::uint32_t>(layout_.kinds[inside.player].get(row));
            if (stands_.part(inside.zone_set, kind) != inside.part) return false;
        }
        return true;
    }
    /// A move from one context and place, in all cases met so far.
    struct Cases {
        std::uint32_t move = 0;
        std::vector<Case> cases;
    };
    struct AtPlace {
        Place place;
        std::vector<Cases> moves;
    };
    struct InContext {
        Context context;
        std::vector<Cases> moves;
        std::vector<std::unordered_map<std::uint32_t, std::unique_ptr<AtPlace>>> places;
        std::vector<std::uint32_t> last_stand;
        std::vector<AtPlace*> last_place;
        std::vector<Case> rules; ///< seen already
    };

    void find_start();
    [[nodiscard]] Unpacked unpacked(const Word* row) const;
    [[nodiscard]] std::vector<Word> row_of(const Way& way);
    Trier& trier(std::size_t job);
    void begin();
    InContext& context_of(std::uint32_t situation);
    AtPlace& place_of(InContext& context, std::size_t player, std::uint32_t situation);
    [[nodiscard]] const Case* find_case(const Cases& cases, const Word* row);
    [[nodiscard]] const Case* known_case(Cases& cases, std::uint32_t situation);
    template <class What>
    void lead(std::uint32_t situation, const Cases& cases, What&& what);
    void work_out(std::uint32_t begin, std::uint32_t end);
    [[nodiscard]] Case case_from(const Trial& trial, std::uint32_t move, std::uint32_t situation);
    [[nodiscard]] Asked asked_in(const Trial& trial, const Word* row, std::uint32_t mover);
    [[nodiscard]] FewBits writes_of(const Move& move, const Way& way, const Word* row,
                                    const std::vector<Word>& after, FewBits& guards) const;
    [[nodiscard]] std::uint32_t kept(Effect effect);
    [[nodiscard]] std::uint32_t quiet_effect(std::uint32_t situation, std::uint32_t taken);
    [[nodiscard]] std::uint32_t uses_of(std::uint32_t levels, const flow::Settled& before,
                                        const MoveLog& log);
    [[nodiscard]] std::uint32_t quietly(std::uint32_t move, std::uint32_t stand);
    bool work_out_quietly(std::uint32_t number, std::uint32_t situation, Case& worked);
    void look_at_rules(InContext& context, std::uint32_t situation);
    bool expand(std::uint32_t situation);

    const plan::Plan* plan_;
    Options options_;
    std::vector<plan::PlayerKindId> kinds_;
    plan::LevelId start_level_;
    plan::WaypointId start_at_;
    Layout layout_;
    flow::Zones zones_;
    Rows rows_;
    std::vector<std::uint32_t> parents_; ///< by situation
    std::vector<std::uint32_t> by_;      ///< by situation: the move taken
    std::vector<std::uint32_t> edges_;   ///< where moves lead, one situation's after the other's
    std::vector<std::uint32_t> edge_starts_;
    std::size_t next_ = 0; ///< the first situation not visited
    std::uint64_t moves_made_ = 0;
    std::size_t depth_ = 0;

    Interned<std::vector<LevelThere>> levels_;
    Interned<flow::Settled> controls_;
    Stands stands_;
    Interned<MoveTaken> taken_;
    Moves moves_;
    plan::LevelTree tree_;
    bool too_many_running_ = false;
    std::vector<Effect> effects_;
    std::size_t effect_bytes_ = 0;
    Interned<std::vector<Use>> uses_;
    std::unordered_map<Word, std::uint32_t> quiet_effects_; ///< by context
    std::unordered_map<Word, std::uint32_t> quiet_; ///< by move and stand: the stand it leads to
    std::vector<Bounds> bounds_;

    std::unordered_map<Word, std::unique_ptr<InContext>> contexts_;
    std::vector<InContext*> context_order_;
    std::vector<AtPlace*> place_order_;
    Word last_context_key_ = ~Word{0};
    InContext* last_context_ = nullptr;
    std::vector<Word> scratch_;
    std::vector<Word> hashes_;
    std::vector<const Outcome*> by_outcome_;

    std::vector<Broken> broken_;
    std::vector<bool> rule_broken_;
    DeadEnds dead_ends_;
    std::vector<bool> came_true_;
    MoveLog boot_log_;
    std::vector<std::unique_ptr<Trier>> triers_; ///< by job
};

} // namespace hestrel::explore
