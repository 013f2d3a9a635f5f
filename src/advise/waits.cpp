// How long veils and fixed waits must last.

#include "advise/advice.hpp"
#include "check/fixed_waits.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace hestrel::advise {

using plan::ListId;
using plan::Micros;
using plan::Plan;

namespace {

/// The veils that a list, branches included, raises; by whole list.
std::map<ListId, std::set<plan::VeilId>> veils_by_list(const Plan& plan) {
    std::map<ListId, std::set<plan::VeilId>> veils;
    for (const ListId list : plan.lists.ids()) {
        for (const plan::Step& step : plan.lists[list].steps) {
            plan::VeilId veil;
            if (const auto* raised = std::get_if<plan::VeilStep>(&step.what)) veil = raised->veil;
            if (const plan::SwitchStep* change = check::switch_of(step)) veil = change->veil;
            if (veil) veils[check::top_list(plan, list)].insert(veil);
        }
    }
    return veils;
}

/// How long the levels of a fixed wait take on one device: alone, asked at any moment of a frame,
/// or in the worst company.
Micros takes_on(const Plan& plan, const std::vector<Load>& loads, ListId list,
                const check::FixedWait& wait, plan::DeviceId device) {
    Micros longest;
    for (const Load& load : loads) {
        if (load.cause.list != list || !check::contains(wait.levels, load.level)) continue;
        for (const DeviceTime& time : load.times) {
            if (time.device != device) continue;
            const Micros alone = wait.shown ? time.isolated.shown : time.isolated.ready;
            if (alone == Micros{}) continue;
            const Micros frame = wait.shown ? plan.devices[device].frame.period : Micros{};
            longest = std::max(longest, alone + frame);
            if (wait.shown && time.contended) longest = std::max(longest, time.contended->took);
        }
    }
    return longest;
}

} // namespace

std::vector<VeilTime> veil_times(const Plan& plan, const std::vector<Load>& loads) {
    const auto veils = veils_by_list(plan);
    std::map<std::pair<plan::VeilId, plan::DeviceId>, VeilTime> longest;
    for (const Load& load : loads) {
        const auto raised = veils.find(load.cause.list);
        if (raised == veils.end()) continue;
        for (const DeviceTime& time : load.times) {
            if (time.longest() == Micros{}) continue;
            for (const plan::VeilId veil : raised->second) {
                VeilTime& known = longest[{veil, time.device}];
                if (known.veil && known.takes >= time.longest()) continue;
                known = {veil,
                         time.device,
                         load.cause,
                         load.level,
                         time.longest(),
                         {},
                         {tenths(time.longest()) * tenth}};
                if (time.longer_contended() != nullptr) known.contended = time.contended;
            }
        }
    }
    std::vector<VeilTime> sorted;
    for (auto& [key, time] : longest) sorted.push_back(time);
    return sorted;
}

std::vector<WaitTime> wait_times(const Judge& judge, const std::vector<Load>& loads,
                                 const Options& options) {
    const Plan& plan = judge.context().plan;
    std::vector<WaitTime> all;
    for (const ListId list : plan.lists.ids()) {
        for (const check::FixedWait& wait : check::fixed_waits(plan.lists[list])) {
            WaitTime time;
            time.list = list;
            time.step = wait.index;
            time.time = wait.time;
            time.levels = wait.levels;
            time.shown = wait.shown;
            for (const plan::DeviceId device : options.devices) {
                const Micros takes =
                    takes_on(plan, loads, check::top_list(plan, list), wait, device);
                if (time.slowest && takes <= time.takes) continue;
                time.slowest = device;
                time.takes = takes;
            }
            time.least = {tenths(time.takes) * tenth};
            const auto& own = std::get<plan::WaitStep>(wait.step->what);
            const bool single = own.time == wait.time;
            const bool wrong = time.takes > time.time || time.time > time.least + plan::seconds(1);
            if (wrong && single && time.takes > Micros{}) {
                Advice mend;
                mend.kind = Kind::wait;
                mend.list = list;
                mend.level = wait.levels.front();
                mend.amount = tenths(time.takes);
                mend.edits = {SetWait{list, wait.index, time.least}};
                mend.harms = judge.harms(mend.edits);
                time.mend = std::move(mend);
            }
            all.push_back(std::move(time));
        }
    }
    return all;
}

} // namespace hestrel::advise
