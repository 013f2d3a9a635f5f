// Looking at all loads of a plan must take no longer than n log n in its size.

#include "advise/load_times.hpp"
#include "bench/large_plan.hpp"

#include <benchmark/benchmark.h>

namespace {

using namespace hestrel;

void load_times_of_the_road(benchmark::State& state) {
    const plan::Plan plan = bench::road(static_cast<int>(state.range(0)), 2, 1);
    const study::Study context(plan, {});
    const std::vector<plan::DeviceId> devices{plan::DeviceId{std::size_t{0}}};
    std::size_t loads = 0;
    while (state.KeepRunning()) loads = advise::load_times(context, devices, {}).size();
    state.counters["loads"] = static_cast<double>(loads);
    state.SetComplexityN(state.range(0));
}
BENCHMARK(load_times_of_the_road)
    ->Arg(100)
    ->Arg(1'000)
    ->Arg(10'000)
    ->Unit(benchmark::kMillisecond)
    ->Complexity(benchmark::oNLogN);

} // namespace
