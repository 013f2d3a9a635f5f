// Reading and resolving a plan of 10,000 levels and 20,000 triggers, against what libyaml alone
// needs to emit the same file's events: at most 2.5 times that (CONTRIBUTING.md, "Speed").

#include "bench/large_plan.hpp"
#include "check/check.hpp"
#include "source/plan_reader.hpp"

#include <benchmark/benchmark.h>
#include <stdexcept>
#include <yaml.h>

namespace {

using namespace hestrel;

const std::string& large_plan() {
    static const std::string text = bench::road_plan(10'000, 2, 1);
    return text;
}

void libyaml_events(benchmark::State& state) {
    const std::string& text = large_plan();
    while (state.KeepRunning()) {
        yaml_parser_t parser;
        yaml_parser_initialize(&parser);
        yaml_parser_set_input_string(&parser, reinterpret_cast<const unsigned char*>(text.data()),
                                     text.size());
        bool done = false;
        while (!done) {
            yaml_event_t event;
            if (yaml_parser_parse(&parser, &event) == 0)
                throw std::logic_error("the bench plan is broken");
            done = event.type == YAML_STREAM_END_EVENT;
            yaml_event_delete(&event);
        }
        yaml_parser_delete(&parser);
    }
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
