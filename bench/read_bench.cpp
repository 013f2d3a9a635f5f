// Reading and resolving a plan of 10,000 levels and 20,000 triggers, against what libyaml alone
// needs to emit the same file's events: at most 2.5 times that (CONTRIBUTING.md, "Speed").

#include "bench/large_plan.hpp"
#include "bench/libyaml_events.hpp"
#include "check/check.hpp"
#include "source/plan_reader.hpp"

#include <benchmark/benchmark.h>
#include <stdexcept>

namespace {

using namespace hestrel;

const std::string& large_plan() {
    static const std::string text = bench::road_plan(10'000, 2, 1);
    return text;
}

void libyaml_events(benchmark::State& state) {
    const std::string& text = large_plan();
    while (state.KeepRunning()) bench::read_events(text);
    state.counters["MiB"] = static_cast<double>(text.size()) / 1048576;
}
BENCHMARK(libyaml_events)->Unit(benchmark::kMillisecond);

void read_and_resolve(benchmark::State& state) {
    source::MemoryDisk disk;
    disk.files["road.yaml"] = large_plan();
    while (state.KeepRunning()) {
        const source::PlanReading reading = source::read_plan(disk, "road.yaml");
        if (reading.has_errors()) throw std::logic_error("the bench plan has errors");
        benchmark::DoNotOptimize(reading.plan.levels.size());
    }
}
BENCHMARK(read_and_resolve)->Unit(benchmark::kMillisecond);

void read_resolve_and_check(benchmark::State& state) {
    source::MemoryDisk disk;
    disk.files["road.yaml"] = large_plan();
    while (state.KeepRunning()) {
        const source::PlanReading reading = source::read_plan(disk, "road.yaml");
        benchmark::DoNotOptimize(check::check(reading.plan).size());
    }
}
BENCHMARK(read_resolve_and_check)->Unit(benchmark::kMillisecond);

} // namespace
