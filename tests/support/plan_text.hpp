#pragma once
// Plans from text, and walks to ask questions of.

#include "plan/names.hpp"
#include "source/plan_reader.hpp"
#include "support/printing.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/ground.hpp"
#include "walk/walk.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::tests {

/// Reads one plan file called plan.yaml.
inline source::PlanReading read_text(const std::string& text) {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = text;
    return source::read_plan(disk, "plan.yaml");
}

/// Reads a plan that has no findings.
inline plan::Plan plan_from(const std::string& text) {
    source::PlanReading reading = read_text(text);
    for (const plan::Finding& finding : reading.findings) {
        FAIL_CHECK(plan::finding_text(reading.plan, finding));
    }
    REQUIRE(reading.findings.empty());
    return std::move(reading.plan);
}

using Lines = std::vector<std::string>;

/// The thing of a table that is called so; the test fails where none is.
template <class Id, class T>
Id named(const plan::Table<Id, T>& table, std::string_view name) {
    for (const Id id : table.ids()) {
        if (table[id].name == name) return id;
    }
    FAIL("nothing is called " << name);
    return {};
}

/// The findings of a plan, as they are printed.
inline Lines findings_of(const std::string& text) {
    const source::PlanReading reading = read_text(text);
    Lines lines;
    for (const plan::Finding& finding : reading.findings)
        lines.push_back(plan::finding_text(reading.plan, finding));
    return lines;
}

inline Lines names_of(const plan::Plan& plan, const std::vector<plan::LevelId>& levels) {
    Lines all;
    for (const plan::LevelId level : levels) all.push_back(plan.levels[level].name);
    return all;
}

constexpr plan::Micros never = plan::Micros::never();

/// One device called `box`: 100 MiB/s, stored unpacked, 10 ms frames, nothing else costs anything.
constexpr std::string_view plain_device = R"(
hestrel: 1
devices:
  box: {memory: {total: 10000}, read: {rate: 100}, frame: {fps: 100}}
)";

/// Every route of a plan walked on every device, a session on its machines.
inline std::vector<walk::Record> walks_of(const plan::Plan& plan,
                                          const walk::Options& options = {}) {
    std::vector<plan::RouteId> routes;
    std::vector<plan::DeviceId> devices;
    for (const plan::RouteId route : plan.routes.ids()) routes.push_back(route);
    for (const plan::DeviceId device : plan.devices.ids()) devices.push_back(device);
    std::vector<walk::Record> records;
    walk::Ground ground(plan);
    for (const walk::Cast& cast : walk::casts(plan, routes, devices)) {
        for (walk::Record& record : walk::walk(plan, cast, options, ground))
            records.push_back(std::move(record));
    }
    return records;
}

/// The first route of a plan walked on its first device.
struct Walked {
    explicit Walked(const std::string& text)
        : plan(plan_from(std::string(plain_device) + text)),
          record(walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0})) {}

    /// When an event of that word and subject happened, every time.
    [[nodiscard]] std::vector<plan::Micros> all(std::string_view event,
                                                std::string_view subject) const {
        std::vector<plan::Micros> times;
        for (const walk::Event& each : record.events) {
            const tables::EventWords words = tables::event_words(plan, record, each);
            if (words.event == event && words.subject == subject) times.push_back(each.at);
        }
        return times;
    }
    /// When it happened first; never if it did not.
    [[nodiscard]] plan::Micros when(std::string_view event, std::string_view subject = "") const {
        const auto times = all(event, subject);
        return times.empty() ? plan::Micros::never() : times.front();
    }
    [[nodiscard]] std::string stuck() const {
        return record.stuck ? tables::stuck_text(plan, record) : std::string();
    }

    plan::Plan plan;
    walk::Record record;
};

} // namespace hestrel::tests
