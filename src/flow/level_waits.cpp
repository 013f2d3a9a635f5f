#include "flow/level_waits.hpp"

#include "plan/lists.hpp"

namespace hestrel::flow {

using plan::LevelId;

bool LevelWaits::is_met(const Wait& wait, LevelId level, const Stage& stage) {
    return wait.awaited == plan::Awaited::shown ? stage.shown(level) : stage.loaded(level);
}

/// A level is there, or no more.
void LevelWaits::count(Wait& wait, LevelId level, bool met) const {
    const std::size_t less = std::size_t(0) - 1;
    if (wait.levels.at(level).itself) wait.missing += met ? less : 1;
    for (auto& [group, there] : wait.any_of) {
        if (!plan::contains(plan_->groups[group].levels, level)) continue;
        const bool before = there > 0;
        there += met ? 1 : less;
        if (before != (there > 0)) wait.missing += met ? less : 1;
    }
}

bool LevelWaits::start(RunId run, plan::Awaited awaited, const std::vector<LevelId>& levels,
                       const std::vector<plan::GroupId>& any_of, const Stage& stage) {
    stop(run);
    Wait wait;
    wait.awaited = awaited;
    for (const LevelId level : levels) wait.levels[level].itself = true;
    wait.missing = wait.levels.size() + any_of.size();
    for (const plan::GroupId group : any_of) {
        wait.any_of.emplace_back(group, 0);
        for (const LevelId level : plan_->groups[group].levels) wait.levels[level];
    }
    for (auto& [level, watched] : wait.levels) {
        watched.met = is_met(wait, level, stage);
        if (watched.met) count(wait, level, true);
    }
    if (wait.missing == 0) return true;
    for (const auto& [level, watched] : wait.levels) watchers_[level].push_back(run);
    waits_.emplace(run, std::move(wait));
    return false;
}

void LevelWaits::stop(RunId run) {
    const auto found = waits_.find(run);
    if (found == waits_.end()) return;
    for (const auto& [level, watched] : found->second.levels) std::erase(watchers_[level], run);
    waits_.erase(found);
}

std::vector<RunId> LevelWaits::look_again(LevelId level, const Stage& stage) {
    std::vector<RunId> over;
    for (const RunId run : watchers_[level]) {
        Wait& wait = waits_.at(run);
        bool& met = wait.levels.at(level).met;
        const bool met_now = is_met(wait, level, stage);
        if (met == met_now) continue;
        met = met_now;
        count(wait, level, met_now);
        if (wait.missing == 0) over.push_back(run);
    }
    return over;
}

bool LevelWaits::waiting(RunId run) const {
    const auto found = waits_.find(run);
    return found != waits_.end() && found->second.missing > 0;
}

std::vector<LevelId> LevelWaits::missing(RunId run) const {
    std::vector<LevelId> levels;
    const auto found = waits_.find(run);
    if (found == waits_.end()) return levels;
    for (const auto& [level, watched] : found->second.levels) {
        if (watched.itself && !watched.met) levels.push_back(level);
    }
    return levels;
}

std::vector<plan::GroupId> LevelWaits::missing_groups(RunId run) const {
    std::vector<plan::GroupId> groups;
    const auto found = waits_.find(run);
    if (found == waits_.end()) return groups;
    for (const auto& [group, there] : found->second.any_of) {
        if (there == 0) groups.push_back(group);
    }
    return groups;
}

std::vector<LevelId> LevelWaits::levels(RunId run) const {
    std::vector<LevelId> levels;
    for (const auto& [level, watched] : waits_.at(run).levels) {
        if (watched.itself) levels.push_back(level);
    }
    return levels;
}

} // namespace hestrel::flow
