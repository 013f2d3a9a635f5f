#include "walk/summary.hpp"

#include "plan/finding_kinds.hpp"
#include "walk/casts.hpp"
#include "walk/findings.hpp"

#include <algorithm>
#include <functional>
#include <set>
#include <span>
#include <tuple>

namespace hestrel::walk {

bool worse(const Record& one, const Record& other) {
    if (one.verdict != other.verdict) return one.verdict > other.verdict;
    const auto slack = [](const Record& record) {
        return worst_slack(record).value_or(plan::Micros::never());
    };
    return slack(one) < slack(other);
}

std::vector<const Record*> worst_first(const std::vector<Record>& records) {
    struct Walk {
        std::span<const Record> machines;
        const Record* worst = nullptr;
    };
    std::vector<Walk> walks;
    for (std::size_t i = 0; i < records.size();) {
        const std::size_t machines = std::max<std::size_t>(records[i].devices.size(), 1);
        walks.push_back({std::span(records).subspan(i, machines), &records[i]});
        for (const Record& record : walks.back().machines) {
            if (worse(record, *walks.back().worst)) walks.back().worst = &record;
        }
        i += machines;
    }
    std::stable_sort(walks.begin(), walks.end(), [](const Walk& one, const Walk& other) {
        return worse(*one.worst, *other.worst);
    });
    std::vector<const Record*> sorted;
    for (const Walk& walk : walks) {
        for (const Record& record : walk.machines) sorted.push_back(&record);
    }
    return sorted;
}

std::vector<Verdict> faults_on(const std::vector<Record>& records, plan::DeviceId device) {
    std::set<Verdict, std::greater<>> faults;
    for (const Record& record : records) {
        if (record.device != device) continue;
        for (const plan::Finding& finding : record.findings)
            faults.insert(plan::kind_of(finding.name).verdict);
    }
    faults.erase(Verdict::fine);
    return {faults.begin(), faults.end()};
}

std::vector<plan::DeviceId> devices_of(const std::vector<Record>& records) {
    std::vector<plan::DeviceId> devices;
    for (const Record& record : records) {
        if (std::find(devices.begin(), devices.end(), record.device) == devices.end())
            devices.push_back(record.device);
    }
    return devices;
}

std::vector<LoadSummary> load_summaries(const plan::Plan& plan,
                                        const std::vector<Record>& records) {
    using Key = std::tuple<plan::ListId, plan::LevelId, bool, plan::LevelId>;
    std::map<Key, LoadSummary> causes;
    for (const Record& record : records) {
        for (const LevelOutcome& outcome : record.outcomes) {
            const Transition& cause = record.transitions[outcome.transition - 1];
            const plan::GridId grid = plan.levels[outcome.level].grid;
            const bool cell = grid && cause.near == outcome.level;
            const plan::LevelId row = cell ? plan.grids[grid].level : outcome.level;
            LoadSummary& summary =
                causes[{cause.list, cell ? row : cause.near, cause.went_far, row}];
            if (cell) summary.cells.insert(outcome.level);
            if (summary.cause == nullptr) summary.cause = &cause;
            summary.level = outcome.level;
            Worst& worst = summary.by_device[record.device];
            const bool outran = outcome.slack && !outcome.held;
            if (outran && !worst.slack) worst.longest.reset(); // those that wait count no more
            if (outran && (!worst.slack || *outcome.slack < *worst.slack))
                worst.slack = outcome.slack;
            if (outcome.shown && (outran || !worst.slack)) {
                const plan::Micros took = *outcome.shown - cause.fired;
                worst.longest = std::max(worst.longest.value_or(plan::Micros{}), took);
            }
            worst.peak =
                std::max(worst.peak, record.transition_outcomes[outcome.transition - 1].peak);
            if (worst.slack && (!summary.least || *worst.slack < *summary.least))
                summary.least = worst.slack;
        }
    }
    std::vector<LoadSummary> sorted;
    for (auto& [key, summary] : causes) sorted.push_back(std::move(summary));
    std::stable_sort(sorted.begin(), sorted.end(),
                     [](const LoadSummary& one, const LoadSummary& other) {
                         return one.least.value_or(plan::Micros::never()) <
                                other.least.value_or(plan::Micros::never());
                     });
    return sorted;
}

std::vector<std::vector<const Record*>> alike_devices(const plan::Plan& plan,
                                                      const std::vector<Record>& records) {
    std::vector<std::vector<const Record*>> alike;
    std::map<std::string, std::size_t> known;
    for (const Record& record : records) {
        const auto [at, fresh] = known.try_emplace(device_text(plan, record), alike.size());
        if (fresh) alike.emplace_back();
        alike[at->second].push_back(&record);
    }
    return alike;
}

std::vector<Told> told_findings(const std::vector<Record>& records) {
    std::map<std::pair<plan::Place, std::string>, Told> told;
    for (const Record& record : records) {
        for (const plan::Finding& finding : record.findings) {
            const auto [found, fresh] =
                told.try_emplace({finding.place, finding.name}, Told{&finding});
            if (!fresh) ++found->second.times;
        }
    }
    std::vector<Told> sorted;
    for (const auto& [key, each] : told) sorted.push_back(each);
    std::stable_sort(sorted.begin(), sorted.end(), [](const Told& one, const Told& other) {
        return one.finding->severity < other.finding->severity;
    });
    return sorted;
}

std::vector<loading::Holding> held_at(const Record& record, plan::Micros moment) {
    std::vector<loading::Holding> held;
    for (const loading::Holding& holding : record.holdings) {
        if (holding.from <= moment && moment < holding.to && holding.size.count > 0)
            held.push_back(holding);
    }
    std::stable_sort(held.begin(), held.end(),
                     [](const auto& one, const auto& other) { return one.size > other.size; });
    return held;
}

} // namespace hestrel::walk
