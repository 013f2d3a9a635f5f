// A walk's time must grow no faster than n log n in its firings (docs: CONTRIBUTING.md, "Speed").

#include "bench/large_plan.hpp"
#include "format/plan_reader.hpp"
#include "walk/walk.hpp"

#include <algorithm>
#include <benchmark/benchmark.h>
#include <stdexcept>

namespace {

using namespace hestrel;

/// Five triggers a level, walked there and back: ten firings a level.
void walk_the_road(benchmark::State& state) {
    format::MemoryDisk disk;
    disk.files["road.yaml"] = bench::road_plan(static_cast<int>(state.range(0)), 5, 1);
    const format::PlanReading reading = format::read_plan(disk, "road.yaml");
    if (reading.has_errors()) throw std::logic_error("the bench plan has errors");
    std::size_t firings = 0;
    while (state.KeepRunning()) {
        const walk::Record record = walk::walk(reading.plan, plan::RouteId{0}, plan::DeviceId{0});
        if (record.stuck) throw std::logic_error("the bench walk is stuck");
        firings = record.transitions.size();
    }
    state.counters["firings"] = static_cast<double>(firings);
    state.SetComplexityN(static_cast<benchmark::IterationCount>(firings));
}
BENCHMARK(walk_the_road)
    ->Arg(100)
    ->Arg(1'000)
    ->Arg(10'000)
    ->Unit(benchmark::kMillisecond)
    ->Complexity(benchmark::oNLogN);

} // namespace
