#pragma once
// The state machine of levels (docs/model.md sections 2, 4 and 6): which are asked for, loaded,
// wanted shown and shown, whose turn it is to be attached, and what a blocking switch holds up.
//
//     absent -> asked for -> (all its pieces arrived, its parent loaded) ready -> (wanted shown,
//     its parent shown) in the attach queue -> shown; hide goes back to ready, unload to absent.
//
// It knows neither pieces nor time. Whoever drives it brings the pieces of a level that is asked
// for and says when all are there (`arrived`), and attaches the first in the queue and says when
// that is done (`attached`). The loader does so in time; exploring does it at once. So steps mean
// the same in both.

#include "plan/level_tree.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <set>
#include <span>
#include <vector>

namespace hestrel::loading {

/// Numbers events in the order in which they are scheduled; shared by everything on one clock.
struct Sequence {
    std::uint64_t last = 0;
    std::uint64_t next() { return ++last; }
};

/// A level's place in the attach queue: first by priority, then by time of joining, then by asking.
struct AttachTurn {
    plan::Priority priority = plan::Priority::soon;
    plan::Micros joined;
    std::uint64_t asked = 0;
    plan::LevelId level;
    auto operator<=>(const AttachTurn&) const = default;
};

/// What changed about a level.
enum class LevelChange : std::uint8_t {
    ready,
    shown,
    hidden,
    unloaded, ///< no longer asked for: leaving, or absent where not all of it had arrived
};
struct LevelEvent {
    plan::LevelId level;
    LevelChange change;
};

/// One level. The one of a level that is not asked for is as it is made, but for `blocked`.
struct LevelNow {
    bool asked = false;    ///< queued, in flight or loaded
    bool arrived = false;  ///< all its pieces are resident; its parent may not be loaded
    bool loaded = false;   ///< arrived, and its parent is loaded: ready, attaching or shown
    bool wanted = false;   ///< shown, once it can be
    bool shown = false;    ///< attached
    bool in_queue = false; ///< waits for its turn to be attached, or is being attached
    bool blocked = false;  ///< in the family of a blocking switch: attached with the rest of it
    AttachTurn turn;       ///< its priority, order of asking and time of joining
};

/// Which levels were asked about or changed, for who goes from situation to situation.
class TouchedLevels {
public:
    explicit TouchedLevels(const plan::LevelTree& tree) : tree_(&tree), noted_(tree.size()) {}

    /// A level, and those above it: its condition hangs on theirs.
    void note(plan::LevelId level) {
        for (; level && !noted_[level]; level = (*tree_)[level].parent) {
            noted_[level] = true;
            levels_.push_back(level);
        }
    }
    void note_all() { all_ = true; }
    void forget() {
        for (const plan::LevelId level : levels_) noted_[level] = false;
        levels_.clear();
        all_ = false;
    }
    /// Each once; which others are there was asked, too, where `all` is so.
    [[nodiscard]] const std::vector<plan::LevelId>& levels() const { return levels_; }
    [[nodiscard]] bool all() const { return all_; }

private:
    const plan::LevelTree* tree_;
    plan::Table<plan::LevelId, bool> noted_;
    std::vector<plan::LevelId> levels_;
    bool all_ = false;
};

/// Who drives the machine. It is told of each consequence as it happens.
class LevelDriver {
public:
    LevelDriver() = default;
    LevelDriver(const LevelDriver&) = delete;
    LevelDriver& operator=(const LevelDriver&) = delete;
    virtual ~LevelDriver() = default;

    /// When a level joins the queue: the time, or anything else that grows.
    [[nodiscard]] virtual plan::Micros moment() const { return {}; }
    /// A level is asked for: bring its pieces. `by` is what `Levels::ask` was given.
    virtual void asked_for(plan::LevelId /*level*/, std::uint32_t /*by*/) {}
    /// A level that was asked for is wanted sooner than `before`.
    virtual void raised(const LevelNow& /*level*/, plan::Priority /*before*/) {}
    /// A level is no longer asked for; `before` is how it was until then.
    virtual void let_go(const LevelNow& /*before*/) {}
    /// A level leaves the attach queue without being shown; what was attached of it is lost.
    virtual void left_queue(plan::LevelId /*level*/) {}
    /// The family of a blocking switch can be attached in one go.
    virtual void block_ready() {}
    /// All of it is shown: nothing is blocked any more.
    virtual void block_over() {}
    virtual void changed(LevelEvent /*event*/) {}
};

/// All levels of a plan. Not copied: the driver is told of what happens to this one.
class Levels {
public:
    /// All outlive it. `touched` is told of what is asked for and changed, where anybody wants to
    /// know; of what is only looked at from outside it is not.
    Levels(const plan::LevelTree& tree, Sequence& sequence, LevelDriver& driver,
           TouchedLevels* touched = nullptr)
        : tree_(&tree), sequence_(&sequence), driver_(&driver), touched_(touched),
          levels_(tree.size()) {}
    Levels(const Levels&) = delete;
    Levels& operator=(const Levels&) = delete;
    ~Levels() = default;

    // What steps ask for.

    /// Asks for a level and all that comes with it; never shows it.
    void ask(plan::LevelId level, plan::Priority priority, std::uint32_t by);
    /// Wants a level shown, its ancestors and `with-parent` sublevels too; asks where nobody has.
    void show(plan::LevelId level, plan::Priority priority, std::uint32_t by);
    /// Hides a level and its sublevels, at once.
    void hide(plan::LevelId level);
    /// Hides a level and its sublevels, and lets them go.
    void unload(plan::LevelId level);
    /// A level and what comes with it, as far as it is asked for, is wanted that soon.
    void raise(plan::LevelId level, plan::Priority priority);
    /// A blocking switch: `family` is attached in one go, nothing else until then.
    void block_for(std::span<const plan::LevelId> family);
    /// It can be, once all of it is loaded and wanted; where all of it is shown, that is over.
    void show_block();

    // What the driver has done.

    /// All pieces of a level that is asked for are resident.
    void arrived(plan::LevelId level);
    /// The next level to be attached; unset where none waits. It stays in the queue until shown.
    plan::LevelId take_first();
    /// A level has been attached.
    void attached(plan::LevelId level);
    /// Takes a level out of the queue.
    void leave_queue(plan::LevelId level);
    /// The family of the blocking switch has been attached; what was hidden meanwhile stays so.
    void block_attached();

    // From one situation to another.

    /// As if nothing had ever been asked for.
    void clear();
    /// A level is in this condition (`asked`, `arrived`, `wanted`, `shown` and `blocked` count),
    /// its parent before it. Nobody is told. Once all are in, `restored` queues those that can be
    /// attached.
    void restore(plan::LevelId level, const LevelNow& now);
    void restored();

    // What is so.

    [[nodiscard]] const LevelNow& operator[](plan::LevelId level) const { return levels_[level]; }
    /// Levels that are queued, in flight or loaded, in plan order.
    [[nodiscard]] const std::set<plan::LevelId>& asked() const { return asked_; }
    /// Those that wait to be attached, in order.
    [[nodiscard]] const std::set<AttachTurn>& queue() const { return queue_; }
    /// The family of a blocking switch that has not been attached yet.
    [[nodiscard]] const std::vector<plan::LevelId>& block() const { return block_; }
    [[nodiscard]] bool is_block_ready() const { return block_ready_; }

private:
    LevelNow& touch(plan::LevelId level) {
        if (touched_ != nullptr) touched_->note(level);
        return levels_[level];
    }
    void ask_one(plan::LevelId level, plan::Priority priority, std::uint32_t by);
    void became_loaded(plan::LevelId level);
    void join_queue(plan::LevelId level);
    void look_at_block();

    const plan::LevelTree* tree_;
    Sequence* sequence_;
    LevelDriver* driver_;
    TouchedLevels* touched_;
    plan::Table<plan::LevelId, LevelNow> levels_;
    std::set<plan::LevelId> asked_;
    std::set<AttachTurn> queue_;
    std::vector<plan::LevelId> block_;
    bool block_shows_ = false; ///< by `show_block`
    bool block_ready_ = false;
};

} // namespace hestrel::loading
