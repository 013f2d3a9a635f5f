#include "advise/advice.hpp"

#include "plan/jobs.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::advise {

using plan::Micros;

namespace {

/// How much a load is short of what is wanted on one device; 0 where it is in time.
Micros short_on(const Load& load, const DeviceTime& time, Micros wanted) {
    Micros missing;
    // Where something else brings it before, only what routes saw counts.
    if (load.first && time.slack) missing = std::max(missing, wanted - *time.slack);
    if (time.seen_slack) missing = std::max(missing, wanted - *time.seen_slack);
    return missing;
}

/// Tells by how much a load is short on the worst of the devices on which it is late.
void find_worst(const Load& load, Micros wanted, Problem& problem) {
    problem.short_by = {};
    for (const DeviceTime& time : load.times) {
        if (!plan::contains(problem.late, time.device)) continue;
        const Micros missing = short_on(load, time, wanted);
        if (missing <= problem.short_by) continue;
        problem.short_by = missing;
        problem.worst = time.device;
    }
}

std::vector<Problem> problems_of(const std::vector<Load>& loads, Micros wanted) {
    std::vector<Problem> problems;
    for (std::size_t i = 0; i < loads.size(); ++i) {
        Problem problem;
        problem.load = i;
        for (const DeviceTime& time : loads[i].times) {
            if (short_on(loads[i], time, wanted) > Micros{}) problem.late.push_back(time.device);
        }
        if (problem.late.empty()) continue;
        find_worst(loads[i], wanted, problem);
        problems.push_back(std::move(problem));
    }
    std::stable_sort(
        problems.begin(), problems.end(),
        [](const Problem& one, const Problem& other) { return one.short_by > other.short_by; });
    return problems;
}

/// Leaves the devices on which walking shows that the load is late. Where none does, and it was
/// not even met, those on which it is reckoned to be.
void walk_as_it_is(const Judge& judge, const Load& load, Micros wanted, Problem& problem) {
    std::vector<plan::DeviceId> late;
    std::vector<plan::DeviceId> not_met;
    for (const plan::DeviceId device : problem.late) {
        const Judgement today = judge.judge(load, device, {});
        if (!today.in_time(wanted)) {
            late.push_back(device);
        } else if (!today.met_straight) {
            not_met.push_back(device);
        }
    }
    problem.walked = !late.empty();
    problem.late = problem.walked ? late : not_met;
    find_worst(load, wanted, problem);
}

/// Whether a fix of a load that comes too late sets this wait already.
bool is_fixed(const Advised& advised, const WaitTime& wait) {
    for (const Problem& problem : advised.problems) {
        for (const Advice& advice : problem.fixes) {
            const auto* set = std::get_if<SetWait>(&advice.edits.front());
            if (set != nullptr && set->list == wait.list && set->step == wait.step) return true;
        }
    }
    return false;
}

} // namespace

std::vector<const Advice*> Advised::all() const {
    std::vector<const Advice*> advice;
    for (const Problem& problem : problems) {
        for (const Advice& each : problem.fixes) advice.push_back(&each);
    }
    for (const WaitTime& wait : waits) {
        if (wait.fix) advice.push_back(&*wait.fix);
    }
    for (const Advice& each : whole) advice.push_back(&each);
    return advice;
}

std::optional<Advice> reach_of(const plan::Plan& plan, const std::vector<walk::Record>& records,
                               plan::TriggerId trigger,
                               const std::vector<plan::DeviceId>& devices) {
    const study::Study study(plan, {});
    const Judge judge(study, records);
    const Micros wanted = plan::wanted_slack(plan);
    const std::vector<Load> loads = load_times(study, devices, records);
    for (Problem& problem : problems_of(loads, wanted)) {
        const Load& load = loads[problem.load];
        if (load.cause.list != plan.triggers[trigger].steps) continue;
        walk_as_it_is(judge, load, wanted, problem);
        if (problem.walked) find_fixes(judge, load, wanted, problem);
        for (Advice& each : problem.fixes) {
            if (each.kind == Kind::deepen) return std::move(each);
        }
    }
    return std::nullopt;
}

Advised advise(const plan::Plan& plan, const std::vector<walk::Record>& records,
               const Options& options) {
    const study::Study study(plan, {});
    const Judge judge(study, records);
    Advised advised;
    advised.wanted = plan::wanted_slack(plan);
    advised.loads = load_times(study, options.devices, records);
    advised.problems = problems_of(advised.loads, advised.wanted);
    if (advised.problems.size() > options.most_problems) {
        advised.more_problems = advised.problems.size() - options.most_problems;
        advised.problems.resize(options.most_problems);
    }
    if (options.begins) options.begins("loads that come too late", advised.problems.size());
    plan::in_parallel(advised.problems.size(), options.jobs, [&](std::size_t i) {
        Problem& problem = advised.problems[i];
        const Load& load = advised.loads[problem.load];
        walk_as_it_is(judge, load, advised.wanted, problem);
        if (problem.walked) find_fixes(judge, load, advised.wanted, problem);
        if (options.one_more) options.one_more();
    });
    std::erase_if(advised.problems, [](const Problem& each) { return each.late.empty(); });
    advised.veils = veil_times(study, options.devices, records);
    advised.waits = wait_times(judge, advised.loads, options);
    for (WaitTime& wait : advised.waits) {
        if (wait.fix && is_fixed(advised, wait)) wait.fix.reset();
    }
    advised.keepers = keeper_trials(plan, records, options.jobs);
    advised.whole = whole_plan(judge, options);
    return advised;
}

} // namespace hestrel::advise
