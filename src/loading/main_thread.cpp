#include "loading/main_thread.hpp"

namespace hestrel::loading {

using plan::Micros;

namespace {

/// Fewer frames than that are done one by one.
constexpr std::int64_t worth_it = 16;

/// What attaches until then (9,000 years) is taken to be done: sums of times must not overflow.
constexpr Micros for_ever{std::int64_t{1} << 58};

} // namespace

void MainThread::catch_up(Micros now) {
    if (!stretch_) return;
    const Stretch stretch = *stretch_;
    stretch_.reset();
    if (now <= stretch.from) return;
    const std::int64_t begun =
        std::min(stretch.frames, (now - stretch.from - Micros{1}).count / stretch.every.count + 1);
    current_->left -= stretch.slice * begun;
    frame_end_ = stretch.from + stretch.every * begun;
    if (stretch.hitch.count > 0)
        hitches_.push_back({stretch.from, stretch.hitch, begun, stretch.every});
}

void MainThread::give_up(plan::LevelId level, Micros now) {
    catch_up(now);
    if (current_ && current_->level == level) current_.reset();
}

Micros MainThread::frame_due(Micros now, bool waiting) const {
    const bool work = current_ || waiting || release_work_.count > 0;
    if (!work || blocked_) return Micros::never();
    if (stretch_) return stretch_->from + stretch_->every * stretch_->frames;
    return next_multiple(free_at(now), frame_.period);
}

MainThread::Started MainThread::start_frame(Micros now, bool veiled) {
    catch_up(now);
    Started started;
    Micros slice;
    if (current_) {
        const std::optional<Micros> most = veiled ? frame_.veiled_attach : frame_.attach;
        slice = most && now < for_ever ? std::min(*most, current_->left) : current_->left;
        current_->left -= slice;
        if (current_->left.count == 0) started.finished = current_->level;
    }
    const Micros work = every_frame() + slice + release_work_;
    const bool extra = slice.count > 0 || release_work_.count > 0;
    const Micros over =
        extra ? std::max(Micros{}, work - std::max(frame_.period, every_frame())) : Micros{};
    if (over.count > 0) hitches_.push_back({now, over, 1, {}});
    started.end = now + std::max(frame_.period, next_multiple(work, frame_.period));
    frame_end_ = started.end;
    if (current_ && slice.count > 0 && release_work_.count == 0) {
        const Micros every = started.end - now;
        const std::int64_t whole = std::min((current_->left.count - 1) / slice.count,
                                            (for_ever - now).count / every.count);
        if (current_->left.count > 0 && whole > worth_it)
            stretch_ = {started.end, every, slice, whole, over};
    }
    release_work_ = {};
    return started;
}

void MainThread::unblock(Micros since, Micros now) {
    blocked_ = false;
    release_work_ = {};
    frame_end_ = std::max(frame_end_, now);
    if (now > since) hitches_.push_back({since, now - since, 1, {}});
}

void MainThread::switch_off(Micros blocked_since, Micros now) {
    catch_up(now);
    if (blocked_) unblock(blocked_since, now);
    current_.reset();
    release_work_ = {};
    shown_cost_ = {};
    frame_end_ = now;
}

Micros MainThread::work_left(plan::LevelId level, Micros whole) const {
    return current_ && current_->level == level ? current_->left : whole;
}

} // namespace hestrel::loading
