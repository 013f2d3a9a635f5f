// How long veils and fixed waits must last.

#include "advise/advice.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"
#include "study/level_ways.hpp"
#include "study/list_reading.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <map>

namespace hestrel::advise {

using plan::ListId;
using plan::Micros;
using plan::Plan;

namespace {

/// How long the levels of a fixed wait take on one device, from the asking: alone, asked at any
/// moment of a frame, or beside what else loads on the routes.
Micros takes_on(const study::Study& study, const std::vector<Load>& loads, ListId list,
                const study::FixedWait& wait, plan::DeviceId device) {
    const Plan& plan = study.plan;
    const ListId top = plan::top_list(plan, list);
    study::IsolatedList alone(study.catalogues[device.value], there_when(study, top));
    alone.run(plan, plan.lists[list]);
    Micros longest;
    for (const plan::LevelId level : wait.levels) {
        const study::IsolatedTimes times = alone.time_of(level);
        const Micros took = (wait.shown ? times.shown : times.ready) - times.asked;
        if (took == Micros{}) continue;
        longest =
            std::max(longest, took + (wait.shown ? plan.devices[device].frame.period : Micros{}));
    }
    for (const Load& load : loads) {
        if (load.cause.list != top || !plan::contains(wait.levels, load.level) || !wait.shown)
            continue;
        for (const DeviceTime& time : load.times) {
            if (time.device == device && time.contended)
                longest = std::max(longest, time.contended->took - time.contended->asked);
        }
    }
    return longest;
}

/// How long what loads under each veil takes on each device: the longest.
class VeilTimes {
public:
    VeilTimes(const study::Study& study, const std::vector<plan::DeviceId>& devices,
              const std::vector<walk::Record>& records)
        : study_(study), plan_(study.plan), flow_(study.plan), devices_(devices) {
        for (const ListId list : plan_.lists.ids()) add_list(list);
        for (const walk::Record& record : records) {
            if (plan::contains(devices, record.device)) add_walk(record);
        }
    }
    [[nodiscard]] std::vector<VeilTime> all() const {
        std::vector<VeilTime> sorted;
        for (const auto& [key, time] : longest_) {
            sorted.push_back(time);
            sorted.back().least = {tenths(time.takes) * tenth};
        }
        return sorted;
    }

private:
    /// Alone: each list by itself, up to each of its switches and over it.
    void add_list(ListId list) {
        const plan::StepList& steps = plan_.lists[list];
        const ListId top = plan::top_list(plan_, list);
        const bool raises =
            std::any_of(steps.steps.begin(), steps.steps.end(), [](const plan::Step& step) {
                const study::StepReading reading = study::read_step(step);
                return reading.raises || reading.behind;
            });
        if (!raises) return;
        for (const plan::DeviceId device : devices_) {
            play(device, top, steps, steps.steps.size(), {}, {});
            for (std::size_t i = 0; i < steps.steps.size(); ++i) {
                const plan::SwitchStep* change = study::switch_of(steps.steps[i]);
                if (change == nullptr) continue;
                for (const plan::LevelId target : flow_.leads_to(*change, top)) {
                    std::vector<plan::LevelId> asked{target};
                    plan::append_new(asked, change->with);
                    play(device, top, steps, i, asked, change->veil);
                }
            }
        }
    }
    void play(plan::DeviceId device, ListId top, const plan::StepList& steps, std::size_t end,
              const std::vector<plan::LevelId>& switched_to, plan::VeilId veil) {
        study::IsolatedList alone(study_.catalogues[device.value], there_when(study_, top));
        alone.run(plan_, steps, end);
        if (!switched_to.empty()) alone.go_to(switched_to, veil);
        for (const study::VeilUse& use : alone.veils()) {
            for (const auto& [level, shows] : use.asked) {
                const study::IsolatedTimes times = alone.time_of(level);
                const Micros there = shows ? times.shown : times.ready;
                if (there > times.asked)
                    note(use.veil, device, {top, {}}, level, there - use.raised);
            }
        }
    }

    /// On a route: all that any list asks for from the raising of a veil to its coming down.
    void add_walk(const walk::Record& record) {
        struct Up {
            Micros at;
            std::size_t event;
        };
        std::map<std::uint32_t, Up> up;
        for (std::size_t i = 0; i < record.events.size(); ++i) {
            const walk::Event& event = record.events[i];
            if (event.kind == walk::EventKind::veil_up) up[event.subject] = {event.at, i};
            if (event.kind != walk::EventKind::veil_down) continue;
            const auto found = up.find(event.subject);
            if (found == up.end()) continue;
            add_window(record, plan::VeilId{event.subject}, found->second.at, found->second.event,
                       i);
            up.erase(found);
        }
        for (const auto& [veil, since] : up)
            add_window(record, plan::VeilId{veil}, since.at, since.event, record.events.size());
    }
    void add_window(const walk::Record& record, plan::VeilId veil, Micros raised, std::size_t from,
                    std::size_t to) {
        std::size_t number = 0; // of the outcome: one for each call
        for (const walk::Transition& transition : record.transitions) {
            for (const walk::Transition::Called& call : transition.called) {
                const walk::LevelOutcome& outcome = record.outcomes[number++];
                const auto& there = call.to_show ? outcome.shown : outcome.ready;
                if (call.event <= from || call.event > to || !there || *there <= call.at) continue;
                const Micros takes = *there - raised + delay_of(record) * 2;
                const Cause cause{transition.list, transition.near};
                if (VeilTime* longest = note(veil, record.device, cause, call.level, takes))
                    longest->contended =
                        ContendedTime{takes, call.at - raised, record.route, raised};
            }
        }
    }

    /// The keeper of a session raises the veil so much earlier, and knows so much later.
    [[nodiscard]] Micros delay_of(const walk::Record& record) const {
        const plan::Machine* machine = walk::machine_of(plan_, record);
        return machine != nullptr ? machine->delay : Micros{};
    }

    /// Where it is the longest so far, that; else nothing.
    VeilTime* note(plan::VeilId veil, plan::DeviceId device, const Cause& cause,
                   plan::LevelId level, Micros takes) {
        VeilTime& known = longest_[{veil, device}];
        if (known.veil && known.takes >= takes) return nullptr;
        known = {veil, device, cause, level, takes, {}, {}};
        return &known;
    }

    const study::Study& study_;
    const Plan& plan_;
    study::LevelFlow flow_;
    const std::vector<plan::DeviceId>& devices_;
    std::map<std::pair<plan::VeilId, plan::DeviceId>, VeilTime> longest_;
};

} // namespace

std::vector<VeilTime> veil_times(const study::Study& study,
                                 const std::vector<plan::DeviceId>& devices,
                                 const std::vector<walk::Record>& records) {
    return VeilTimes(study, devices, records).all();
}

std::vector<WaitTime> wait_times(const Judge& judge, const std::vector<Load>& loads,
                                 const Options& options) {
    const Plan& plan = judge.study().plan;
    std::vector<WaitTime> all;
    for (const ListId list : plan.lists.ids()) {
        for (const study::FixedWait& wait : study::fixed_waits(plan, plan.lists[list])) {
            WaitTime time;
            time.list = list;
            time.step = wait.index;
            time.time = wait.time;
            time.levels = wait.levels;
            time.shown = wait.shown;
            for (const plan::DeviceId device : options.devices) {
                const Micros takes = takes_on(judge.study(), loads, list, wait, device);
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
