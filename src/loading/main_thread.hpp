#pragma once
// How the main thread spends its frames: attaching levels slice by slice, and releasing
// (docs/model.md sections 4.5 and 4.7). Frames without such work are not simulated one by one.

#include "loading/catalogue.hpp"

#include <algorithm>
#include <compare>
#include <cstdint>
#include <optional>
#include <set>
#include <vector>

namespace hestrel::loading {

/// One frame that took longer than its period, or the standstill of a blocking switch.
struct Hitch {
    plan::Micros at;     ///< start of the frame; of a standstill: the asking
    plan::Micros length; ///< by how much the frame exceeds one period; of a standstill: all of it
};

/// A level's place in the attach queue: first by priority, then by time of joining, then by asking.
struct AttachTurn {
    plan::Priority priority = plan::Priority::soon;
    plan::Micros joined;
    std::uint64_t asked = 0;
    plan::LevelId level;
    auto operator<=>(const AttachTurn&) const = default;
};

/// The main thread of one device.
class MainThread {
public:
    explicit MainThread(const plan::FrameTime& frame) : frame_(frame) {}

    void join(AttachTurn turn, plan::Micros work);
    /// Takes a level out of the queue it joined with `turn`, or drops the work done on it.
    void leave(const AttachTurn& turn);
    /// Adds release work to the next frame.
    void released(plan::Micros work) { release_work_ += work; }

    /// When the next frame with attach or release work starts; `never` where there is none.
    [[nodiscard]] plan::Micros frame_due(plan::Micros now) const;

    /// What a frame's start decides.
    struct Started {
        plan::LevelId begun; ///< a level whose attaching starts with this frame; unset: none does
        plan::LevelId finished; ///< a level that is shown at `end`; unset: none is
        plan::Micros end;       ///< end of the frame
    };
    /// Starts the frame that is due `now`. `veiled`: a veil is up.
    Started start_frame(plan::Micros now, bool veiled);
    /// Says that the level `start_frame` called finished is shown.
    void finished() { current_.reset(); }

    /// Stops all frames after the one already begun.
    void block() { blocked_ = true; }
    /// When the frame already begun ends, at the earliest now.
    [[nodiscard]] plan::Micros free_at(plan::Micros now) const { return std::max(now, frame_end_); }
    /// Ends a standstill that began at `since`; what was released meanwhile was part of it.
    void unblock(plan::Micros since, plan::Micros now);

    /// Work still to be done on a level that has joined.
    [[nodiscard]] plan::Micros work_left(plan::LevelId level, plan::Micros whole) const;
    [[nodiscard]] plan::LevelId attaching() const {
        return current_ ? current_->level : plan::LevelId{};
    }
    [[nodiscard]] bool idle() const { return !current_ && queue_.empty(); }
    [[nodiscard]] const std::vector<Hitch>& hitches() const { return hitches_; }

private:
    struct Current {
        plan::LevelId level;
        plan::Micros left;
    };
    struct Waiting {
        AttachTurn turn;
        plan::Micros work;
        bool operator<(const Waiting& other) const { return turn < other.turn; }
    };

    plan::FrameTime frame_;
    std::set<Waiting> queue_;
    std::optional<Current> current_;
    plan::Micros release_work_;
    plan::Micros frame_end_;
    bool blocked_ = false;
    std::vector<Hitch> hitches_;
};

} // namespace hestrel::loading
