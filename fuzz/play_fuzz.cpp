// A plan from arbitrary bytes, as far as it is one: walked, explored a little, ordered and advised
// on, and all of it told in tables.

#include "advise/advice.hpp"
#include "command/orders.hpp"
#include "explore/explored.hpp"
#include "fuzz/files.hpp"
#include "source/plan_reader.hpp"
#include "spread/trials.hpp"
#include "tables/advice_tables.hpp"
#include "tables/explore_tables.hpp"
#include "tables/order_tables.hpp"
#include "tables/walk_tables.hpp"
#include "walk/casts.hpp"
#include "walk/ground.hpp"

namespace {

using namespace hestrel;

constexpr std::size_t few_walks = 6;
constexpr std::size_t few_levels = 60;

void walk_session(const plan::Plan& plan, plan::RouteId route,
                  const std::vector<plan::DeviceId>& devices, walk::Options walking) {
    walking.delivery = false;
    walk::Ground ground(plan);
    const auto records =
        walk::walk(plan, walk::casts(plan, {route}, devices).front(), walking, ground);
    tables::machines_csv(plan, records);
    for (const walk::Record& record : records) tables::walk_json(plan, record);
}

void play(plan::Plan plan) {
    // What takes long is no find: walks of a minute, few situations.
    plan.limits.walk = std::min(plan.limits.walk, plan::seconds(60));
    std::vector<plan::DeviceId> devices;
    for (const plan::DeviceId device : plan.devices.ids()) devices.push_back(device);
    walk::Options walking;
    walking.most_transitions = 2'000;
    std::vector<walk::Record> records;
    for (const plan::RouteId route : plan.routes.ids()) {
        for (const plan::DeviceId device : devices) {
            if (records.size() == few_walks) break;
            walking.delivery = records.size() % 2 == 1;
            const walk::Record record = walk::walk(plan, route, device, walking);
            tables::walk_json(plan, record);
            tables::transitions_csv(plan, record);
            walking.delivery = false;
            records.push_back(walk::walk(plan, route, device, walking));
        }
        if (walk::is_session(plan, route) && !devices.empty())
            walk_session(plan, route, devices, walking);
    }
    if (!records.empty()) {
        const walk::Record& first = records.front();
        const spread::Variation variation(plan, walk::cast_of(first));
        spread::run_trials(variation, 1, 0, 2, 1, nullptr);
    }
    for (const plan::EditionId edition : explore::explorable_editions(plan)) {
        explore::Options exploring;
        exploring.edition = edition;
        exploring.devices = devices;
        exploring.most_situations = 200;
        const explore::Explored explored = explore::explored(plan, exploring);
        tables::explore_json(explored);
        explore::explored_hurried(plan, exploring, explored);
    }
    command::Ordering ordering;
    for (const plan::EditionId edition : plan.editions.ids()) ordering.editions.push_back(edition);
    ordering.devices = devices;
    command::Progress progress;
    const report::Orders orders = command::order_all(plan, ordering, records, 1, progress);
    tables::orders_json(plan, orders.editions, orders.parcels, orders.transitions, records);
    if (devices.empty()) return;
    advise::Options advising;
    advising.devices = devices;
    advising.most_problems = 2;
    const advise::Advised advised = advise::advise(plan, records, advising);
    tables::load_times_csv(plan, advised);
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    source::MemoryDisk disk;
    fuzz::put_files(fuzz::text_of(data, size), disk);
    try {
        source::PlanReading reading = source::read_plan(disk, "plan.yaml");
        const plan::Plan& plan = reading.plan;
        const bool is_small = plan.levels.size() <= few_levels && plan.editions.size() <= few_walks;
        if (reading.has_errors() || !is_small || !explore::too_many_players(plan).empty())
            return -1; // there is nothing to play, or too much
        play(std::move(reading.plan));
    } catch (const source::FileError&) {
        return -1;
    }
    return 0;
}
