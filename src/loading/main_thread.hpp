#pragma once
// How the main thread spends its frames: attaching levels slice by slice, and releasing
// (docs/model.md sections 4.6, 4.8 and 4.9). Frames without such work are not simulated one by one,
// nor are many alike, one after another.

#include "loading/catalogue.hpp"

#include <algorithm>
#include <optional>
#include <vector>

namespace hestrel::loading {

/// A frame that took longer than its period, many alike one after another, or the standstill of a
/// blocking switch.
struct Hitch {
    plan::Micros at;     ///< start of the (first) frame; of a standstill: the asking
    plan::Micros length; ///< by how much each frame's work exceeds the longer of its period and
                         ///< what is done in every frame; of a standstill: all of it
    std::int64_t frames = 1;
    plan::Micros every; ///< from the start of one frame to that of the next, where there are many

    /// Start of the last frame.
    [[nodiscard]] plan::Micros last() const { return at + every * (frames - 1); }
};

/// What the main thread does in every frame from a moment on: `base`, and what is shown.
struct FrameRow {
    plan::Micros at;
    plan::Micros work;
    bool blocked = false; ///< it stands still
};

/// The main thread of one device.
class MainThread {
public:
    explicit MainThread(const plan::FrameTime& frame) : frame_(frame) {}

    /// Takes a level to attach with the next frame; `busy` must not hold.
    void attach(plan::LevelId level, plan::Micros work) { current_ = {level, work}; }
    /// Counts the frames of many alike that have begun before now. To be called before a veil is
    /// raised or goes.
    void catch_up(plan::Micros now);
    /// Drops the work done on a level, if it is being attached.
    void give_up(plan::LevelId level, plan::Micros now);
    /// What levels that are shown cost in each frame that starts from now on.
    void set_shown_cost(plan::Micros cost, plan::Micros now) {
        catch_up(now);
        shown_cost_ = cost;
    }
    /// The work of a frame in which nothing is attached or released.
    [[nodiscard]] plan::Micros every_frame() const { return frame_.base + shown_cost_; }
    [[nodiscard]] bool blocked() const { return blocked_; }
    /// Adds release work to the next frame.
    void released(plan::Micros work, plan::Micros now) {
        catch_up(now);
        release_work_ += work;
    }

    /// When the next frame with attach or release work starts that is not as the one before;
    /// `never` where there is none.
    /// `waiting`: levels wait to be attached.
    [[nodiscard]] plan::Micros frame_due(plan::Micros now, bool waiting) const;

    /// What a frame's start decides.
    struct Started {
        plan::LevelId finished; ///< a level that is shown at `end`; unset: none is
        plan::Micros end;       ///< end of the frame
    };
    /// Starts the frame that is due `now`. `veiled`: a veil is up.
    Started start_frame(plan::Micros now, bool veiled);
    /// Says that the level `start_frame` called finished is shown.
    void finished() { current_.reset(); }

    /// Stops all frames after the one already begun.
    void block(plan::Micros now) {
        catch_up(now);
        blocked_ = true;
    }
    /// When the frame already begun ends, at the earliest now.
    [[nodiscard]] plan::Micros free_at(plan::Micros now) const { return std::max(now, frame_end_); }
    /// Ends a standstill that began at `since`; what was released meanwhile was part of it.
    void unblock(plan::Micros since, plan::Micros now);

    /// The machine is switched off and on: what it was at is gone. A standstill since then is over.
    void switch_off(plan::Micros blocked_since, plan::Micros now);

    /// Work still to be done on a level that is to be attached.
    [[nodiscard]] plan::Micros work_left(plan::LevelId level, plan::Micros whole) const;
    [[nodiscard]] plan::LevelId attaching() const {
        return current_ ? current_->level : plan::LevelId{};
    }
    /// A level is being attached.
    [[nodiscard]] bool busy() const { return current_.has_value(); }
    [[nodiscard]] const std::vector<Hitch>& hitches() const { return hitches_; }

private:
    struct Current {
        plan::LevelId level;
        plan::Micros left;
    };

    /// Frames that attach a whole slice each, and are otherwise alike.
    struct Stretch {
        plan::Micros from; ///< start of the first
        plan::Micros every;
        plan::Micros slice;
        std::int64_t frames = 0;
        plan::Micros hitch; ///< of each; 0: none
    };

    plan::FrameTime frame_;
    std::optional<Current> current_;
    std::optional<Stretch> stretch_; ///< begun by nobody yet
    plan::Micros release_work_;
    plan::Micros shown_cost_;
    plan::Micros frame_end_;
    bool blocked_ = false;
    std::vector<Hitch> hitches_;
};

} // namespace hestrel::loading
