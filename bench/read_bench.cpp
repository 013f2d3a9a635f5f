// Reading and resolving a plan of 10,000 levels, against what libyaml alone needs to emit the same
// file's events: at most 2.5 times that (CONTRIBUTING.md, "Speed"). One with 20,000 triggers beside
// its levels, and one whose levels hold all that belongs to them.

#include "bench/large_plan.hpp"
#include "bench/libyaml_events.hpp"
#include "bench/shapes.hpp"
#include "check/check.hpp"
#include "source/plan_reader.hpp"

#include <array>
#include <benchmark/benchmark.h>
#include <stdexcept>

namespace {

using namespace hestrel;

constexpr int levels = 10'000;
constexpr std::array names{"road", "belongings"};

const std::string& text_of(const benchmark::State& state) {
    static const std::array<std::string, names.size()> texts{
        bench::road_plan(levels, 2, 1), bench::shape("belongings").files(levels).at("plan.yaml")};
    return texts.at(static_cast<std::size_t>(state.range(0)));
}

void label(benchmark::State& state) {
    state.SetLabel(names.at(static_cast<std::size_t>(state.range(0))));
    state.counters["MiB"] = static_cast<double>(text_of(state).size()) / 1048576;
}

void libyaml_events(benchmark::State& state) {
    label(state);
    while (state.KeepRunning()) bench::read_events(text_of(state));
}
BENCHMARK(libyaml_events)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

void read_and_resolve(benchmark::State& state) {
    label(state);
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = text_of(state);
    while (state.KeepRunning()) {
        const source::PlanReading reading = source::read_plan(disk, "plan.yaml");
        if (reading.has_errors()) throw std::logic_error("the bench plan has errors");
        benchmark::DoNotOptimize(reading.plan.levels.size());
    }
}
BENCHMARK(read_and_resolve)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

void read_resolve_and_check(benchmark::State& state) {
    label(state);
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = text_of(state);
    while (state.KeepRunning()) {
        const source::PlanReading reading = source::read_plan(disk, "plan.yaml");
        benchmark::DoNotOptimize(check::check(reading.plan).size());
    }
}
BENCHMARK(read_resolve_and_check)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

} // namespace
