// How long veils and fixed waits must last.

#include "advise/advice.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"
#include "study/list_reading.hpp"

#include <algorithm>
#include <map>

namespace hestrel::advise {

using plan::ListId;
using plan::Micros;
using plan::Plan;

namespace {

/// How long the levels of a fixed wait take on one device: alone, asked at any moment of a frame,
/// or in the worst company.
Micros takes_on(const Plan& plan, const std::vector<Load>& loads, ListId list,
                const study::FixedWait& wait, plan::DeviceId device) {
    Micros longest;
    for (const Load& load : loads) {
        if (load.cause.list != list || !plan::contains(wait.levels, load.level)) continue;
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

std::vector<VeilTime> veil_times(const study::Study& study, const std::vector<Load>& loads) {
    std::map<std::pair<plan::VeilId, plan::DeviceId>, VeilTime> longest;
    for (const Load& load : loads) {
        if (!load.cause.list) continue;
        for (const DeviceTime& time : load.times) {
            if (time.longest() == Micros{}) continue;
            for (const plan::VeilId veil : study.effects[load.cause.list].veils) {
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
    const Plan& plan = judge.study().plan;
    std::vector<WaitTime> all;
    for (const ListId list : plan.lists.ids()) {
        for (const study::FixedWait& wait : study::fixed_waits(plan.lists[list])) {
            WaitTime time;
            time.list = list;
            time.step = wait.index;
            time.time = wait.time;
            time.levels = wait.levels;
            time.shown = wait.shown;
            for (const plan::DeviceId device : options.devices) {
                const Micros takes =
                    takes_on(plan, loads, plan::top_list(plan, list), wait, device);
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
                time.fix = std::move(mend);
            }
            all.push_back(std::move(time));
        }
    }
    return all;
}

} // namespace hestrel::advise
