#include "flow/level_waits.hpp"

#include "plan/lists.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::flow {

using plan::LevelId;

bool LevelWaits::is_met(const Wait& wait, LevelId level, MachineId on, const Stage& stage) {
    return wait.awaited == plan::Awaited::shown ? stage.shown_on(level, on)
                                                : stage.loaded_on(level, on);
}

bool LevelWaits::Wait::over() const {
    return std::all_of(machines.begin(), machines.end(),
                       [](const On& each) { return each.missing == 0; });
}

/// A level is there on one of the machines, or no more.
void LevelWaits::count(Wait& wait, LevelId level, std::size_t machine, bool met) const {
    const std::size_t less = std::size_t(0) - 1;
    std::size_t& missing = wait.machines[machine].missing;
    if (wait.levels.at(level).itself) missing += met ? less : 1;
    for (AnyOf& each : wait.any_of) {
        if (!plan::contains(plan_->groups[each.group].levels, level)) continue;
        std::size_t& there = each.there[machine];
        const bool before = there > 0;
        there += met ? 1 : less;
        if (before != (there > 0)) missing += met ? less : 1;
    }
}

bool LevelWaits::start(RunId run, plan::Awaited awaited, const std::vector<LevelId>& levels,
                       const std::vector<plan::GroupId>& any_of, const Stage& stage,
                       const std::vector<MachineId>& machines) {
    stop(run);
    Wait wait;
    wait.awaited = awaited;
    for (const LevelId level : levels) wait.levels[level].itself = true;
    for (const MachineId machine : machines)
        wait.machines.push_back({machine, wait.levels.size() + any_of.size(), {}});
    for (const plan::GroupId group : any_of) {
        wait.any_of.push_back({group, OfEach<std::size_t>(machines.size(), 0)});
        for (const LevelId level : plan_->groups[group].levels) wait.levels[level];
    }
    for (auto& [level, watched] : wait.levels) {
        watched.met.resize(machines.size(), false);
        for (std::size_t i = 0; i < machines.size(); ++i) {
            watched.met[i] = is_met(wait, level, wait.machines[i].machine, stage);
            if (watched.met[i]) count(wait, level, i, true);
        }
    }
    for (On& each : wait.machines) {
        if (each.missing == 0) each.known = stage.now();
    }
    if (wait.over()) return true;
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

bool LevelWaits::excuse(RunId run, LevelId level) {
    const auto found = waits_.find(run);
    if (found == waits_.end() || !found->second.levels.contains(level)) return false;
    Wait& wait = found->second;
    std::erase(watchers_[level], run); // it stays so
    Watched& watched = wait.levels.at(level);
    for (std::size_t i = 0; i < wait.machines.size(); ++i) {
        if (std::exchange(watched.met[i], true)) continue;
        count(wait, level, i, true);
    }
    return wait.over();
}

std::vector<RunId> LevelWaits::look_again(LevelId level, const Stage& stage) {
    std::vector<RunId> over;
    for (const RunId run : watchers_[level]) {
        Wait& wait = waits_.at(run);
        Watched& watched = wait.levels.at(level);
        bool changed = false;
        for (std::size_t i = 0; i < wait.machines.size(); ++i) {
            On& on = wait.machines[i];
            const bool met = is_met(wait, level, on.machine, stage);
            if (watched.met[i] == met) continue;
            watched.met[i] = met;
            changed = true;
            count(wait, level, i, met);
            if (on.missing > 0) {
                on.known.reset();
            } else if (!on.known) {
                on.known = stage.now();
            }
        }
        if (changed && wait.over()) over.push_back(run);
    }
    return over;
}

bool LevelWaits::waiting(RunId run) const {
    const auto found = waits_.find(run);
    return found != waits_.end() && !found->second.over();
}

std::size_t LevelWaits::Wait::first_lacking() const {
    const auto found = std::find_if(machines.begin(), machines.end(),
                                    [](const On& each) { return each.missing > 0; });
    return static_cast<std::size_t>(found - machines.begin());
}

std::vector<LevelId> LevelWaits::missing(RunId run) const {
    std::vector<LevelId> levels;
    const auto found = waits_.find(run);
    if (found == waits_.end() || found->second.over()) return levels;
    const std::size_t machine = found->second.first_lacking();
    for (const auto& [level, watched] : found->second.levels) {
        if (watched.itself && !watched.met[machine]) levels.push_back(level);
    }
    return levels;
}

std::vector<plan::GroupId> LevelWaits::missing_groups(RunId run) const {
    std::vector<plan::GroupId> groups;
    const auto found = waits_.find(run);
    if (found == waits_.end() || found->second.over()) return groups;
    const std::size_t machine = found->second.first_lacking();
    for (const AnyOf& each : found->second.any_of) {
        if (each.there[machine] == 0) groups.push_back(each.group);
    }
    return groups;
}

MachineId LevelWaits::lacks(RunId run) const {
    const auto found = waits_.find(run);
    if (found == waits_.end() || found->second.over()) return {};
    return found->second.machines[found->second.first_lacking()].machine;
}

bool LevelWaits::of_several(RunId run) const {
    const auto found = waits_.find(run);
    return found != waits_.end() && found->second.machines.size() > 1;
}

std::vector<Waited> LevelWaits::machines(RunId run) const {
    std::vector<Waited> machines;
    const auto found = waits_.find(run);
    if (found == waits_.end()) return machines;
    for (const On& each : found->second.machines) machines.push_back({each.machine, each.known});
    return machines;
}

std::vector<LevelId> LevelWaits::levels(RunId run) const {
    std::vector<LevelId> levels;
    for (const auto& [level, watched] : waits_.at(run).levels) {
        if (watched.itself) levels.push_back(level);
    }
    return levels;
}

} // namespace hestrel::flow
