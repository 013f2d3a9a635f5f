#include "flow/level_waits.hpp"

namespace hestrel::flow {

using plan::LevelId;

bool LevelWaits::is_met(const Wait& wait, LevelId level, const Stage& stage) {
    return wait.awaited == plan::Awaited::shown ? stage.shown(level) : stage.loaded(level);
}

bool LevelWaits::start(RunId run, plan::Awaited awaited, const std::vector<LevelId>& levels,
                       const Stage& stage) {
    stop(run);
    Wait wait;
    wait.awaited = awaited;
    for (const LevelId level : levels) {
        const bool met = is_met(wait, level, stage);
        if (!wait.met.emplace(level, met).second) continue;
        if (!met) ++wait.missing;
    }
    if (wait.missing == 0) return true;
    for (const auto& [level, met] : wait.met) watchers_[level].push_back(run);
    waits_.emplace(run, std::move(wait));
    return false;
}

void LevelWaits::stop(RunId run) {
    const auto found = waits_.find(run);
    if (found == waits_.end()) return;
    for (const auto& [level, met] : found->second.met) std::erase(watchers_[level], run);
    waits_.erase(found);
}

std::vector<RunId> LevelWaits::look_again(LevelId level, const Stage& stage) {
    std::vector<RunId> over;
    for (const RunId run : watchers_[level]) {
        Wait& wait = waits_.at(run);
        bool& met = wait.met.at(level);
        const bool met_now = is_met(wait, level, stage);
        if (met == met_now) continue;
        met = met_now;
        wait.missing += met_now ? std::size_t(-1) : 1;
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
    for (const auto& [level, met] : found->second.met) {
        if (!met) levels.push_back(level);
    }
    return levels;
}

std::vector<LevelId> LevelWaits::levels(RunId run) const {
    std::vector<LevelId> levels;
    for (const auto& [level, met] : waits_.at(run).met) levels.push_back(level);
    return levels;
}

} // namespace hestrel::flow
