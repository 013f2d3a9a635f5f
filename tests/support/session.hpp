#pragma once
// Sessions over several machines, and questions to ask of them.

#include "support/plan_text.hpp"
#include "walk/casts.hpp"
#include "walk/ground.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::tests {

/// Two devices whose frames last 10 ms and where nothing but reading costs anything: `fast` reads
/// 100 MiB/s, `slow` 50. A hall of 100 MiB, in which everyone begins and runs 5 m/s from `a`: it
/// takes 1.01 s until it is shown on the fast, 2.01 s on the slow one.
constexpr std::string_view two_devices = R"(
hestrel: 1
devices:
  fast: {memory: {total: 10000}, read: {rate: 100}, frame: {fps: 100}}
  slow: {memory: {total: 10000}, read: {rate: 50}, frame: {fps: 100}}
players:
  runner: {speeds: {run: 5}}
)";

/// The first route of a plan on the machines that it says, with `devices` where it says any.
class Session {
public:
    explicit Session(const std::string& text) : plan(plan_from(std::string(two_devices) + text)) {
        walk::Ground ground(plan);
        const auto casts =
            walk::casts(plan, {plan::RouteId{0}}, {plan::DeviceId{0}, plan::DeviceId{1}});
        machines = walk::walk(plan, casts.front(), {}, ground);
    }

    [[nodiscard]] const walk::Record& on(std::string_view machine) const {
        return machines[named(plan.routes[plan::RouteId{0}].machines, machine).value];
    }
    /// When an event of that word and subject happened on a machine, every time.
    [[nodiscard]] std::vector<plan::Micros> all(std::string_view machine, std::string_view event,
                                                std::string_view subject) const {
        std::vector<plan::Micros> times;
        for (const walk::Event& each : on(machine).events) {
            const tables::EventWords words = tables::event_words(plan, on(machine), each);
            if (words.event == event && words.subject == subject) times.push_back(each.at);
        }
        return times;
    }
    /// When it happened first; never if it did not.
    [[nodiscard]] plan::Micros when(std::string_view machine, std::string_view event,
                                    std::string_view subject = "") const {
        const auto times = all(machine, event, subject);
        return times.empty() ? never : times.front();
    }
    /// The findings of a machine, by name.
    [[nodiscard]] Lines found(std::string_view machine) const {
        Lines names;
        for (const plan::Finding& finding : on(machine).findings) names.push_back(finding.name);
        return names;
    }

    plan::Plan plan;
    std::vector<walk::Record> machines;
};

} // namespace hestrel::tests
