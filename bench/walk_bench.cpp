// A walk's time must grow no faster than n log n in its firings (docs: CONTRIBUTING.md, "Speed").

#include "bench/large_plan.hpp"
#include "walk/walk.hpp"

#include <algorithm>
#include <benchmark/benchmark.h>
#include <stdexcept>

namespace {

using namespace hestrel;

/// Five triggers a level, walked there and back: ten firings a level.
void walk_the_road(benchmark::State& state) {
    const plan::Plan plan = bench::road(static_cast<int>(state.range(0)), 5, 1);
    std::size_t firings = 0;
    while (state.KeepRunning()) {
        const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
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
