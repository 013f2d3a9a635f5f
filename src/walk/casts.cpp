#include "walk/casts.hpp"

#include "plan/jobs.hpp"
#include "walk/ground.hpp"

#include <algorithm>
#include <iterator>

namespace hestrel::walk {

using plan::DeviceId;

namespace {

/// Every way to give the machines of a route their devices, the first machine's varying least.
std::vector<std::vector<DeviceId>> roles(const plan::Route& route,
                                         const std::vector<DeviceId>& devices) {
    std::vector<std::vector<DeviceId>> all{{}};
    for (const plan::Machine& machine : route.machines) {
        std::vector<std::vector<DeviceId>> longer;
        for (const std::vector<DeviceId>& before : all) {
            for (const DeviceId device : machine.device ? std::vector{machine.device} : devices) {
                longer.push_back(before);
                longer.back().push_back(device);
            }
        }
        all = std::move(longer);
    }
    return all;
}

} // namespace

std::vector<Cast> casts(const plan::Plan& plan, const std::vector<plan::RouteId>& routes,
                        const std::vector<DeviceId>& devices) {
    std::vector<Cast> all;
    for (const plan::RouteId route : routes) {
        if (!plan.routes[route].machines.empty()) {
            for (std::vector<DeviceId>& each : roles(plan.routes[route], devices))
                all.push_back({route, std::move(each)});
            continue;
        }
        for (const DeviceId device : devices) all.push_back({route, {device}});
    }
    return all;
}

std::vector<Record> walk_all(const plan::Plan& plan, const std::vector<Cast>& casts,
                             const Options& options, unsigned jobs,
                             const std::function<void()>& done) {
    std::vector<std::vector<Record>> walked(casts.size());
    plan::in_parallel(casts.size(), jobs, [&](std::size_t i) {
        Ground ground(plan);
        walked[i] = walk(plan, casts[i], options, ground);
        if (done) done();
    });
    std::vector<Record> records;
    for (std::vector<Record>& machines : walked)
        std::move(machines.begin(), machines.end(), std::back_inserter(records));
    return records;
}

Cast cast_of(const Record& record) {
    return {record.route, record.devices};
}

Record walked_again(const plan::Plan& plan, const Record& record, Ground& ground) {
    std::vector<Record> machines = walk(plan, cast_of(record), {}, ground);
    return std::move(machines[record.machine ? record.machine.value : 0]);
}

const plan::Machine* machine_of(const plan::Plan& plan, const Record& record) {
    return record.machine ? &plan.routes[record.route].machines[record.machine] : nullptr;
}

std::vector<std::span<const Record>> walks_in(std::span<const Record> records) {
    std::vector<std::span<const Record>> walks;
    for (std::size_t i = 0; i < records.size();) {
        const std::size_t machines = std::max<std::size_t>(records[i].devices.size(), 1);
        walks.push_back(records.subspan(i, machines));
        i += machines;
    }
    return walks;
}

std::vector<std::span<const Record>> sessions_in(std::span<const Record> records) {
    std::vector<std::span<const Record>> sessions = walks_in(records);
    std::erase_if(sessions, [](const auto& walk) { return walk.size() == 1; });
    return sessions;
}

const WaitedFor* waited_in(const Record& record, std::uint32_t transition) {
    const auto found =
        std::find_if(record.waited.begin(), record.waited.end(),
                     [&](const WaitedFor& each) { return each.transition == transition; });
    return found == record.waited.end() ? nullptr : &*found;
}

plan::Micros waited_in(const Record& record) {
    plan::Micros sum;
    for (const WaitedFor& each : record.waited) sum += each.waited;
    return sum;
}

bool is_headless(const plan::Plan& plan, const Record& record) {
    const plan::Machine* machine = machine_of(plan, record);
    return machine != nullptr && machine->headless;
}

std::string devices_text(const plan::Plan& plan, const std::vector<DeviceId>& devices) {
    std::string text;
    for (const DeviceId device : devices)
        text += (text.empty() ? "" : "+") + plan.devices[device].name;
    return text;
}

std::string device_text(const plan::Plan& plan, const Record& record) {
    const std::string& device = plan.devices[record.device].name;
    const plan::Machine* machine = machine_of(plan, record);
    if (machine == nullptr) return device;
    std::vector<DeviceId> others;
    const auto& machines = plan.routes[record.route].machines;
    for (const plan::MachineId id : machines.ids()) {
        if (!machines[id].device && id != record.machine)
            others.push_back(record.devices[id.value]);
    }
    const std::string text = machine->name + " (" + device + ")";
    return others.empty() ? text : text + " with " + devices_text(plan, others);
}

} // namespace hestrel::walk
