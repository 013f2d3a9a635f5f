// Situations per second and bytes per situation (CONTRIBUTING.md, "Speed").

#include "bench/large_situations.hpp"
#include "explore/explorer.hpp"
#include "source/plan_reader.hpp"

#include <benchmark/benchmark.h>
#include <stdexcept>

namespace {

using namespace hestrel;

plan::Plan plan_of(const std::string& text) {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = text;
    source::PlanReading reading = source::read_plan(disk, "plan.yaml");
    if (reading.has_errors()) throw std::logic_error("the bench plan has errors");
    return std::move(reading.plan);
}

void explore(benchmark::State& state, const std::string& text, std::size_t situations) {
    const plan::Plan plan = plan_of(text);
    std::size_t bytes = 0;
    std::uint64_t moves = 0;
    for ([[maybe_unused]] auto _ : state) {
        explore::Options options;
        options.edition = plan::EditionId{0};
        options.devices = {plan::DeviceId{0}};
        options.most_situations = 20'000'000;
        explore::Explorer explorer(plan, options);
        explorer.run();
        if (explorer.situations() != situations) throw std::logic_error("not so many situations");
        bytes = explorer.bytes();
        moves = explorer.moves_made();
    }
    state.counters["situations/s"] = benchmark::Counter(
        static_cast<double>(situations), benchmark::Counter::kIsIterationInvariantRate);
    state.counters["moves/s"] = benchmark::Counter(static_cast<double>(moves),
                                                   benchmark::Counter::kIsIterationInvariantRate);
    state.counters["bytes/situation"] =
        static_cast<double>(bytes) / static_cast<double>(situations);
}

/// k facts that k items set: 2^k situations, k moves from each.
void explore_switchboard(benchmark::State& state) {
    const auto facts = static_cast<int>(state.range(0));
    explore(state, bench::switchboard(facts), std::size_t{1} << facts);
}
BENCHMARK(explore_switchboard)->DenseRange(13, 23, 2)->Unit(benchmark::kMillisecond);

/// A ring of n waypoints with k once-triggers: situations are counted by a run of the explorer
/// itself in tests/explore; here n * 2^n at most.
void explore_ring(benchmark::State& state) {
    const auto waypoints = static_cast<int>(state.range(0));
    const std::size_t situations = [&] {
        const plan::Plan plan = plan_of(bench::ring(waypoints, waypoints));
        explore::Options options;
        options.edition = plan::EditionId{0};
        options.most_situations = 20'000'000;
        explore::Explorer explorer(plan, options);
        explorer.run();
        return explorer.situations();
    }();
    explore(state, bench::ring(waypoints, waypoints), situations);
}
BENCHMARK(explore_ring)->Arg(300)->Arg(1'000)->Unit(benchmark::kMillisecond);

/// Two players on a ring of n waypoints who are alike: n (n + 1) / 2.
void explore_two_on_a_ring(benchmark::State& state) {
    const auto waypoints = static_cast<std::size_t>(state.range(0));
    explore(state, bench::ring(static_cast<int>(waypoints), 0, 2), waypoints * (waypoints + 1) / 2);
}
BENCHMARK(explore_two_on_a_ring)->Arg(100)->Arg(1'000)->Arg(3'162)->Unit(benchmark::kMillisecond);

/// A world of n x n cells, left out of situations: one for each waypoint; of two players who are
/// alike n^2 (n^2 + 1) / 2.
void explore_cells(benchmark::State& state) {
    const auto side = static_cast<std::size_t>(state.range(0));
    const auto players = static_cast<std::size_t>(state.range(1));
    const std::size_t places = side * side;
    explore(state, bench::world_of_cells(static_cast<int>(side), static_cast<int>(players)),
            players == 1 ? places : places * (places + 1) / 2);
}
BENCHMARK(explore_cells)->Args({64, 1})->Args({12, 2})->Unit(benchmark::kMillisecond);

} // namespace
