#pragma once
// One device's loader: pieces in, ready and shown times out (docs/model.md section 4). It knows no
// triggers, players or plan text. Who drives it gives instructions at a moment and lets time pass:
//
//     Sequence sequence;
//     Loader loader{catalogue, sequence};
//     loader.show(level, Priority::soon, 1);
//     loader.run_until_idle();           // or next()/run_next() event by event, as a walk does
//     loader.shown(level);               // true
//
// A piece is queued, read, unpacked, made at run time where the plan says so, and then resident.
//
// Inside one instant: every event that is due, in the order it was scheduled; then free reads,
// workers and makers take their next piece (`dispatch`); a frame's start comes last (section 3).

#include "loading/catalogue.hpp"
#include "loading/ledger.hpp"
#include "loading/levels.hpp"
#include "loading/main_thread.hpp"
#include "loading/piece_times.hpp"
#include "loading/transfers.hpp"

#include <algorithm>
#include <cstdint>
#include <optional>
#include <queue>
#include <set>
#include <span>
#include <vector>

namespace hestrel::loading {

/// An event to come: when, and its place among the events of that instant.
struct Due {
    plan::Micros at = plan::Micros::never();
    std::uint64_t order = 0;
    auto operator<=>(const Due&) const = default;
};

/// Conditions of a level (docs/model.md section 1).
enum class LevelCondition : std::uint8_t {
    absent,
    queued,
    reading,
    unpacking,
    making, ///< or waiting for a maker
    ready,
    attaching,
    shown,
    leaving
};

/// Something that happened to a piece or level. Level changes carry a level's index, piece changes
/// a piece's.
enum class ChangeKind : std::uint8_t {
    piece_queued,
    piece_reading,
    piece_unpacking,
    piece_making, ///< unpacked, or not read at all: at a maker, or waiting for one
    piece_resident,
    piece_given_up, ///< queued, reading or waiting for a worker or maker, and no longer wanted
    piece_released,
    level_ready,
    level_attaching,
    level_shown,
    level_hidden,
    level_unloaded, ///< no longer wanted loaded: leaving, or absent where it was not resident yet
};
struct Change {
    plan::Micros at;
    ChangeKind kind;
    std::uint32_t index = 0;
};

/// One request for a piece that was not there.
struct LoadRecord : PieceTimes {
    std::uint32_t transition = 0; ///< as given by who asked
    PieceId piece;
    plan::Priority priority = plan::Priority::soon;
    plan::Micros asked;
};

/// The loader and its memory.
class Loader : private LevelDriver {
public:
    /// Both outlive it.
    Loader(const Catalogue& catalogue, Sequence& sequence);

    // Instructions, carried out now. `transition` only labels the load records.

    /// Asks for a level and all that comes with it; never shows it.
    void ask(plan::LevelId level, plan::Priority priority, std::uint32_t transition) {
        state_.ask(level, priority, transition);
        attach_at_once();
    }
    /// Wants a level shown, its ancestors and `with-parent` sublevels too; asks where nobody has.
    void show(plan::LevelId level, plan::Priority priority, std::uint32_t transition) {
        state_.show(level, priority, transition);
        attach_at_once();
    }
    /// Hides a level and its sublevels, at once.
    void hide(plan::LevelId level) { state_.hide(level); }
    /// Hides and unloads a level and its sublevels; released at the next sweep.
    void unload(plan::LevelId level);
    /// From now on no piece that `family` needs is released or given up (section 6, switch); empty:
    /// as before.
    void keep(std::span<const plan::LevelId> family);
    /// Unloads `leaving`, and releases at once all that is leaving and not kept.
    void unload_now(std::span<const plan::LevelId> leaving);
    /// A level and what comes with it, as far as it is asked for, is wanted that soon.
    void raise(plan::LevelId level, plan::Priority priority) { state_.raise(level, priority); }
    /// A blocking switch: the main thread stands still until all of `family` has been attached in
    /// one go, which can begin once `show_block` says that all of it is wanted shown.
    void block_for(std::span<const plan::LevelId> family);
    void show_block() {
        state_.show_block();
        attach_at_once();
    }
    /// Pieces that have not arrived yet (section 9): requests for them wait, others go past.
    void hold_back(std::span<const PieceId> pieces);
    /// One of them has arrived.
    void deliver(PieceId piece);
    /// The machine is switched off and on: all is gone at once, without any work; time goes on.
    void switch_off();
    /// Whether any veil is up; counts from the next frame on.
    void set_veiled(bool veiled) {
        if (veiled != veiled_) main_.catch_up(now_);
        veiled_ = veiled;
    }

    // The clock.

    [[nodiscard]] plan::Micros now() const { return now_; }
    /// The next event; `at` is never where none is scheduled.
    [[nodiscard]] Due next() const;
    /// When the next frame with work in it starts, or `never`.
    [[nodiscard]] plan::Micros frame_due() const {
        return main_.frame_due(now_, !state_.queue().empty());
    }
    /// Lets time pass to `now`, at which every event before it has been run.
    void set_now(plan::Micros now);
    /// Runs the event that `next` names; `set_now` to its time first.
    void run_next();
    /// Free reads and workers take their next piece.
    void dispatch();
    /// Starts the frame that is due now.
    void start_frame();
    /// Looks at memory once the instant is over.
    void end_instant() {
        ledger_.look(now_);
        look_at_frames();
    }

    /// The whole of one instant, for callers with no events of their own: `at` is the next with
    /// anything due.
    void run_instant(plan::Micros at);
    /// When the next instant with anything due is, or `never`.
    [[nodiscard]] plan::Micros next_instant() const { return std::min(next().at, frame_due()); }
    void run_until(plan::Micros end);
    void run_until_idle();

    // What is so.

    [[nodiscard]] LevelCondition condition(plan::LevelId level) const;
    /// What is asked for, loaded, wanted and shown.
    [[nodiscard]] const Levels& levels() const { return state_; }
    [[nodiscard]] bool shown(plan::LevelId level) const { return state_[level].shown; }
    /// Ready, attaching or shown.
    [[nodiscard]] bool loaded(plan::LevelId level) const { return state_[level].loaded; }
    [[nodiscard]] bool resident(PieceId piece) const {
        return pieces_[piece].state == PieceState::resident;
    }
    [[nodiscard]] bool delivered(PieceId piece) const { return !pieces_[piece].held_back; }
    /// Nothing queued that has arrived, in flight or attaching. Releases may still be due.
    [[nodiscard]] bool idle() const;
    /// Something that nothing needs any more waits for a sweep.
    [[nodiscard]] bool releasing() const;
    // What happened.

    /// What changed since the last call, in order.
    std::vector<Change> take_changes();
    [[nodiscard]] const std::vector<LoadRecord>& loads() const { return loads_; }
    /// In order of their ends, until now.
    [[nodiscard]] const std::vector<Hitch>& hitches() {
        main_.catch_up(now_ + plan::Micros{1}); // the frame that starts now is begun
        return main_.hitches();
    }
    /// What every frame takes, a row when it changes, as of the last look.
    [[nodiscard]] const std::vector<FrameRow>& frames() const { return frames_; }
    Ledger& ledger() { return ledger_; }
    [[nodiscard]] const Ledger& ledger() const { return ledger_; }

private:
    enum class PieceState : std::uint8_t {
        absent,
        queued,
        latency,
        transfer,
        waiting,
        unpacking,
        to_make, ///< waits for a maker
        making,
        unmade, ///< unpacked and not needed any more: leaving, and made only if asked for again
        resident
    };
    struct PieceNow {
        PieceState state = PieceState::absent;
        plan::Priority priority = plan::Priority::soon;
        std::uint64_t turn = 0;       ///< order of coming to where it waits now
        std::uint32_t generation = 0; ///< raised when what is scheduled for it no longer holds
        std::uint32_t needed_by = 0;  ///< levels asked for that need it
        bool held_back = false;       ///< it has not arrived yet
        std::size_t record = 0;       ///< its newest load record
        std::set<std::pair<std::uint64_t, plan::LevelId>>
            waiters; ///< levels that miss it, as asked
    };
    enum class EventKind : std::uint8_t {
        transfer_starts,
        unpacked,
        made,
        sweep,
        shown,
        block_ends
    };
    struct Event {
        Due due;
        EventKind kind;
        std::uint32_t index;
        std::uint32_t generation;
        bool operator>(const Event& other) const { return due > other.due; }
    };
    /// A piece in a line: for a read, a worker or a maker.
    struct Waiting {
        plan::Priority priority;
        std::uint64_t turn;
        PieceId piece;
        auto operator<=>(const Waiting&) const = default;
    };
    using Line = std::set<Waiting>;
    void schedule(plan::Micros at, EventKind kind, std::uint32_t index, std::uint32_t generation);
    [[nodiscard]] bool stale(const Event& event) const;
    void drop_stale(); ///< keeps the first event one that still holds
    void report(ChangeKind kind, std::uint32_t index) { changes_.push_back({now_, kind, index}); }

    // LevelDriver
    [[nodiscard]] plan::Micros moment() const override { return now_; }
    void asked_for(plan::LevelId level, std::uint32_t transition) override;
    void raised(const LevelNow& level, plan::Priority before) override;
    void let_go(const LevelNow& before) override;
    void left_queue(plan::LevelId level) override;
    void block_ready() override;
    void block_over() override {
        if (!catalogue_->headless) main_.unblock(blocked_since_, now_);
    }
    void changed(LevelEvent event) override;

    void attach_at_once();
    [[nodiscard]] bool is_kept(PieceId piece) const {
        return std::binary_search(kept_.begin(), kept_.end(), piece);
    }
    void request(PieceId piece, plan::Priority priority, std::uint32_t transition);
    void raise(PieceId piece, plan::Priority priority);
    /// Where a piece that is queued waits, or one that waits for a worker or maker.
    Line& line_of(PieceId piece);
    [[nodiscard]] Waiting waiting(PieceId piece) const {
        return {pieces_[piece].priority, pieces_[piece].turn, piece};
    }
    void wait(PieceId piece, PieceState state, std::uint64_t turn);
    /// Whether its priority can still be raised: nothing has been done to it.
    [[nodiscard]] bool is_untouched(PieceId piece) const;
    void can_begin(PieceId piece);
    void unpacked(PieceId piece);
    /// All of it is in memory, and nothing more is being done to it.
    [[nodiscard]] static bool has_come(PieceState state) {
        return state == PieceState::resident || state == PieceState::unmade;
    }
    /// It holds staging memory; it holds its own memory.
    [[nodiscard]] bool is_staged(PieceId piece) const;
    [[nodiscard]] bool is_in_place(PieceId piece) const;
    void no_longer_needed(PieceId piece);
    void give_up(PieceId piece);

    void start_read(PieceId piece);
    void read_ended(PieceId piece);
    void start_unpack(PieceId piece);
    void start_make(PieceId piece);
    void leave(PieceId piece);
    void leave_at_end(PieceId piece);
    void became_resident(PieceId piece);

    void drop(PieceId piece);
    void look_at_frames();
    void begin_running(); ///< ends the instant in which instructions were given
    void plan_sweep();
    void release_leaving();
    void release(PieceId piece);

    const Catalogue* catalogue_;
    Sequence* sequence_;
    plan::Micros now_;
    bool veiled_ = false;

    plan::Table<PieceId, PieceNow> pieces_;
    Levels state_;
    plan::Table<plan::LevelId, std::uint32_t> missing_; ///< pieces that are not resident
    /// Raised when a scheduled `shown` of a level no longer holds.
    plan::Table<plan::LevelId, std::uint32_t> attach_generation_;
    Line queue_;
    Line held_back_;          ///< for pieces that have not arrived yet
    std::uint32_t reads_ = 0; ///< in progress, latency included
    Transfers transfers_;
    Line unpack_queue_;
    std::uint32_t unpacking_ = 0;
    Line make_queue_;
    std::uint32_t making_ = 0;
    MainThread main_;
    plan::Micros blocked_since_;
    std::vector<PieceId> leaving_; ///< no longer needed, in order; may name pieces needed again
    std::vector<PieceId> kept_;    ///< sorted
    plan::Micros sweep_at_ = plan::Micros::never();
    Ledger ledger_;

    std::priority_queue<Event, std::vector<Event>, std::greater<>> events_;
    std::vector<Change> changes_;
    std::vector<LoadRecord> loads_;
    std::vector<FrameRow> frames_;
};

} // namespace hestrel::loading
