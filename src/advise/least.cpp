// A walk with less is not always worse, so halving finds the least value only as far as it looks:
// just below it one was not fine, and all that were tried above it are.

#include "advise/least.hpp"

#include "plan/finding_kinds.hpp"
#include "plan/jobs.hpp"
#include "plan/lists.hpp"
#include "walk/casts.hpp"
#include "walk/ground.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::advise {

namespace {

constexpr std::int64_t mib = plan::mebibytes(1).count;
/// MiB/s or MiB, more than any machine has. Where that is not enough, as where a pool is over its
/// own budget however much memory there is, more is none either.
constexpr std::int64_t most = 1'048'576;

std::int64_t value_of(const plan::Device& device, Figure figure) {
    switch (figure) {
    case Figure::read_rate: return device.read.rate.per_second / mib;
    case Figure::unpack_rate: return device.unpack->rate.per_second / mib;
    case Figure::memory: return device.memory.total.count / mib;
    }
    return 0;
}

void set_value(plan::Device& device, Figure figure, std::int64_t value) {
    switch (figure) {
    case Figure::read_rate: device.read.rate = {value * mib}; return;
    case Figure::unpack_rate: device.unpack->rate = {value * mib}; return;
    case Figure::memory: device.memory.total = plan::mebibytes(value); return;
    }
}

/// Walks with one figure changed.
class Search {
public:
    /// `casts`: walks of the route on the device; of a session, those in which it plays a role.
    Search(plan::Plan plan, plan::RouteId route, plan::DeviceId device, Figure figure,
           std::vector<walk::Cast> casts)
        : plan_(std::move(plan)), ground_(plan_), casts_(std::move(casts)) {
        found_.route = route;
        found_.device = device;
        found_.figure = figure;
        found_.now = value_of(plan_.devices[device], figure);
    }

    Least find() {
        std::int64_t fine = std::max<std::int64_t>(1, found_.now);
        std::int64_t bad = 0;
        while (!is_fine(fine)) {
            bad = fine;
            if (fine == most) return found_;
            fine = std::min(most, 2 * fine);
        }
        while (fine - bad > 1) {
            const std::int64_t middle = bad + (fine - bad) / 2;
            (is_fine(middle) ? fine : bad) = middle;
        }
        found_.least = fine; // and what breaks at `bad` is known: no walk failed after that one
        return found_;
    }

private:
    bool is_fine(std::int64_t value) {
        ++found_.walks;
        found_.most = std::max(found_.most, value);
        set_value(plan_.devices[found_.device], found_.figure, value);
        for (const walk::Cast& cast : casts_) {
            for (const walk::Record& record : walk::walk(plan_, cast, {}, ground_)) {
                if (record.verdict != walk::Verdict::fine) return breaks(record);
            }
        }
        return true;
    }
    bool breaks(const walk::Record& record) {
        found_.breaks = record.verdict;
        const auto first = std::find_if(
            record.findings.begin(), record.findings.end(), [](const plan::Finding& finding) {
                return plan::kind_of(finding.name).verdict != walk::Verdict::fine;
            });
        found_.first.reset();
        if (first != record.findings.end()) found_.first = *first;
        return false;
    }

    plan::Plan plan_;
    walk::Ground ground_;
    std::vector<walk::Cast> casts_;
    Least found_;
};

} // namespace

std::vector<Least> least_machine(const plan::Plan& plan, const std::vector<plan::RouteId>& routes,
                                 const std::vector<plan::DeviceId>& devices, unsigned jobs,
                                 const std::function<void()>& done) {
    struct Task {
        plan::RouteId route;
        plan::DeviceId device;
        Figure figure;
        std::vector<walk::Cast> casts;
    };
    std::vector<Task> tasks;
    for (const plan::RouteId route : routes) {
        for (const plan::DeviceId device : devices) {
            std::vector<walk::Cast> casts = walk::casts(plan, {route}, devices);
            std::erase_if(casts, [&](const walk::Cast& cast) {
                return !plan::contains(cast.devices, device);
            });
            if (casts.empty()) continue;
            for (const Figure figure : {Figure::read_rate, Figure::unpack_rate, Figure::memory}) {
                if (figure != Figure::unpack_rate || plan.devices[device].unpack)
                    tasks.push_back({route, device, figure, casts});
            }
        }
    }
    std::vector<Least> all(tasks.size());
    plan::in_parallel(tasks.size(), jobs, [&](std::size_t i) {
        const Task& task = tasks[i];
        all[i] = Search(plan, task.route, task.device, task.figure, task.casts).find();
        if (done) done();
    });
    return all;
}

} // namespace hestrel::advise
