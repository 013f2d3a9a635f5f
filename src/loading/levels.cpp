#include "loading/levels.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::loading {

using plan::LevelId;
using plan::Priority;

// --- asking and showing ------------------------------------------------------

void Levels::ask_one(LevelId level, Priority priority, std::uint32_t by) {
    LevelNow& state = touch(level);
    if (state.asked) {
        if (priority >= state.turn.priority) return;
        const bool queued = queue_.erase(state.turn) > 0;
        const Priority before = std::exchange(state.turn.priority, priority);
        if (queued) queue_.insert(state.turn);
        driver_->raised(state, before);
        return;
    }
    state.asked = true;
    state.turn = {priority, {}, sequence_->next(), level};
    asked_.insert(level);
    driver_->asked_for(level, by);
}

void Levels::raise(LevelId level, Priority priority) {
    for (const LevelId each : plan::asked_with(*tree_, level)) {
        if (touch(each).asked) ask_one(each, priority, 0);
    }
}

void Levels::ask(LevelId level, Priority priority, std::uint32_t by) {
    for (const LevelId each : plan::asked_with(*tree_, level)) ask_one(each, priority, by);
}

void Levels::show(LevelId level, Priority priority, std::uint32_t by) {
    const std::vector<LevelId> levels = plan::asked_with(*tree_, level);
    for (const LevelId each : levels) {
        if (!touch(each).asked) ask_one(each, priority, by);
    }
    for (const LevelId each : levels) {
        touch(each).wanted = true;
        join_queue(each);
        look_at_block();
    }
}

void Levels::arrived(LevelId level) {
    touch(level).arrived = true;
    const LevelId parent = (*tree_)[level].parent;
    if (!parent || touch(parent).loaded) became_loaded(level);
}

void Levels::became_loaded(LevelId level) {
    touch(level).loaded = true;
    driver_->changed({level, LevelChange::ready});
    join_queue(level);
    look_at_block();
    for (const LevelId sublevel : (*tree_)[level].sublevels) {
        if (touch(sublevel).arrived) became_loaded(sublevel);
    }
}

// --- hiding and letting go ---------------------------------------------------

void Levels::hide(LevelId level) {
    const std::vector<LevelId> levels = plan::subtree_of(*tree_, level);
    for (auto each = levels.rbegin(); each != levels.rend(); ++each) {
        LevelNow& state = touch(*each);
        state.wanted = false;
        leave_queue(*each);
        if (!std::exchange(state.shown, false)) continue;
        driver_->changed({*each, LevelChange::hidden});
    }
}

void Levels::unload(LevelId level) {
    hide(level);
    const std::vector<LevelId> levels = plan::subtree_of(*tree_, level);
    for (auto each = levels.rbegin(); each != levels.rend(); ++each) {
        LevelNow& state = touch(*each);
        if (!state.asked) continue;
        const LevelNow before = std::exchange(state, {});
        state.blocked = before.blocked;
        asked_.erase(*each);
        driver_->changed({*each, LevelChange::unloaded});
        driver_->let_go(before);
    }
}

// --- the attach queue --------------------------------------------------------

void Levels::join_queue(LevelId level) {
    LevelNow& state = touch(level);
    const LevelId parent = (*tree_)[level].parent;
    if (!state.loaded || !state.wanted || state.shown || state.in_queue || state.blocked) return;
    if (parent && !touch(parent).shown) return;
    state.in_queue = true;
    state.turn.joined = driver_->moment();
    queue_.insert(state.turn);
}

void Levels::leave_queue(LevelId level) {
    LevelNow& state = touch(level);
    if (!std::exchange(state.in_queue, false)) return;
    queue_.erase(state.turn);
    driver_->left_queue(level);
}

LevelId Levels::take_first() {
    return queue_.empty() ? LevelId{} : queue_.extract(queue_.begin()).value().level;
}

void Levels::attached(LevelId level) {
    LevelNow& state = touch(level);
    queue_.erase(state.turn);
    state.in_queue = false;
    state.shown = true;
    driver_->changed({level, LevelChange::shown});
    for (const LevelId sublevel : (*tree_)[level].sublevels) join_queue(sublevel);
}

// --- blocking switches -------------------------------------------------------

void Levels::block_for(std::span<const LevelId> family) {
    block_.assign(family.begin(), family.end());
    for (const LevelId level : family) touch(level).blocked = true;
}

void Levels::show_block() {
    block_shows_ = true;
    const bool all = std::all_of(block_.begin(), block_.end(),
                                 [&](LevelId level) { return touch(level).shown; });
    all ? block_attached() : look_at_block();
}

void Levels::look_at_block() {
    if (block_.empty() || !block_shows_ || block_ready_) return;
    block_ready_ = std::all_of(block_.begin(), block_.end(), [&](LevelId level) {
        return touch(level).loaded && touch(level).wanted;
    });
    if (block_ready_) driver_->block_ready();
}

void Levels::block_attached() {
    for (const LevelId level : block_) {
        const LevelNow& state = touch(level);
        // What was shown before can have been hidden or unloaded meanwhile, the switch being over.
        if (!state.shown && state.wanted && state.loaded) attached(level);
    }
    block_shows_ = block_ready_ = false;
    const std::vector<LevelId> family = std::exchange(block_, {});
    for (const LevelId level : family) touch(level).blocked = false;
    for (const LevelId level : family) join_queue(level);
    driver_->block_over();
}

// --- from one situation to another -------------------------------------------

void Levels::clear() {
    for (const LevelId level : asked_) levels_[level] = {};
    for (const LevelId level : block_) levels_[level] = {};
    asked_.clear();
    queue_.clear();
    block_.clear();
    block_shows_ = block_ready_ = false;
}

void Levels::restore(LevelId level, const LevelNow& now) {
    const LevelId parent = (*tree_)[level].parent;
    LevelNow& state = levels_[level];
    state = now;
    state.loaded = now.arrived && (!parent || levels_[parent].loaded);
    state.in_queue = false;
    state.turn = {Priority::soon, {}, sequence_->next(), level};
    asked_.insert(level);
    if (now.blocked) block_.push_back(level);
}

void Levels::restored() {
    for (const LevelId level : asked_) join_queue(level);
    look_at_block();
}

} // namespace hestrel::loading
