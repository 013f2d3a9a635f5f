#include "loading/main_thread.hpp"

namespace hestrel::loading {

using plan::Micros;

void MainThread::give_up(plan::LevelId level) {
    if (current_ && current_->level == level) current_.reset();
}

Micros MainThread::frame_due(Micros now, bool waiting) const {
    const bool work = current_ || waiting || release_work_.count > 0;
    if (!work || blocked_) return Micros::never();
    return next_multiple(free_at(now), frame_.period);
}

MainThread::Started MainThread::start_frame(Micros now, bool veiled) {
    Started started;
    Micros slice;
    if (current_) {
        const std::optional<Micros> most = veiled ? frame_.veiled_attach : frame_.attach;
        slice = most ? std::min(*most, current_->left) : current_->left;
        current_->left -= slice;
        if (current_->left.count == 0) started.finished = current_->level;
    }
    const Micros work = frame_.base + slice + release_work_;
    const bool extra = slice.count > 0 || release_work_.count > 0;
    if (extra && work > frame_.period) hitches_.push_back({now, work - frame_.period});
    release_work_ = {};
    started.end = now + std::max(frame_.period, next_multiple(work, frame_.period));
    frame_end_ = started.end;
    return started;
}

void MainThread::unblock(Micros since, Micros now) {
    blocked_ = false;
    release_work_ = {};
    frame_end_ = std::max(frame_end_, now);
    if (now > since) hitches_.push_back({since, now - since});
}

Micros MainThread::work_left(plan::LevelId level, Micros whole) const {
    return current_ && current_->level == level ? current_->left : whole;
}

} // namespace hestrel::loading
