// What a piece was over a walk, read off the walk's events.

#include "walk/timeline.hpp"

#include "support/plan_text.hpp"
#include "support/random_plan.hpp"

using namespace hestrel;
using loading::LevelCondition;
using loading::PieceId;
using plan::Micros;
using plan::seconds;
using walk::EventKind;

namespace {

/// One level (piece 0) and one kit (piece 1).
plan::Plan one_of_each() {
    return tests::plan_from("hestrel: 1\nlevels: {hall: {memory: {texture: 1}, kits: [wood]}}\n"
                            "kits: {wood: {memory: {texture: 1}}}\n");
}

struct At {
    int second;
    EventKind kind;
    std::uint32_t piece = 0;
};

walk::Timeline timeline(const std::vector<At>& events, int end = 100) {
    walk::Record record;
    record.end = seconds(end);
    for (const At& each : events)
        record.events.push_back({seconds(each.second), each.kind, each.piece, 0});
    return walk::timeline_of(one_of_each(), record);
}

constexpr PieceId hall{std::size_t{0}}, wood{std::size_t{1}};

std::vector<std::pair<LevelCondition, int>> from_seconds(const std::vector<walk::Stretch>& all) {
    std::vector<std::pair<LevelCondition, int>> told;
    for (const walk::Stretch& each : all)
        told.emplace_back(each.condition, static_cast<int>(each.from.count / 1'000'000));
    return told;
}
using Told = std::vector<std::pair<LevelCondition, int>>;

/// What a piece is at `moment`, all of that instant having run.
walk::LevelCondition condition_at(const std::vector<walk::Stretch>& stretches,
                                  plan::Micros moment) {
    const auto next = std::upper_bound(
        stretches.begin(), stretches.end(), moment,
        [](plan::Micros at, const walk::Stretch& stretch) { return at < stretch.from; });
    if (next == stretches.begin()) return walk::LevelCondition::absent;
    const walk::Stretch& last = *std::prev(next);
    return moment < last.to ? last.condition : walk::LevelCondition::absent;
}

} // namespace

TEST_CASE("timeline: a level from the queue to the screen and away") {
    const auto told = timeline({{1, EventKind::piece_queued},
                                {2, EventKind::piece_reading},
                                {4, EventKind::piece_unpacking},
                                {5, EventKind::piece_resident},
                                {6, EventKind::level_ready},
                                {7, EventKind::level_attaching},
                                {8, EventKind::level_shown},
                                {20, EventKind::level_hidden},
                                {21, EventKind::level_unloaded},
                                {25, EventKind::piece_released}});
    CHECK(from_seconds(told[hall]) == Told{{LevelCondition::queued, 1},
                                           {LevelCondition::reading, 2},
                                           {LevelCondition::unpacking, 4},
                                           {LevelCondition::queued, 5}, // a kit is missing
                                           {LevelCondition::ready, 6},
                                           {LevelCondition::attaching, 7},
                                           {LevelCondition::shown, 8},
                                           {LevelCondition::ready, 20},
                                           {LevelCondition::leaving, 21}});
    CHECK(told[hall].back().to == seconds(25));
    CHECK(told[wood].empty());
}

TEST_CASE("timeline: a kit is ready once it is resident") {
    const auto told = timeline({{1, EventKind::piece_queued, 1},
                                {1, EventKind::piece_reading, 1},
                                {3, EventKind::piece_resident, 1}});
    // What has no length is left out.
    CHECK(from_seconds(told[wood]) ==
          Told{{LevelCondition::reading, 1}, {LevelCondition::ready, 3}});
    CHECK(told[wood].back().to == seconds(100)); // the walk's end
}

TEST_CASE("timeline: unloaded while it is unpacked it is leaving when that ends") {
    const auto told = timeline({{1, EventKind::piece_queued},
                                {1, EventKind::piece_unpacking},
                                {2, EventKind::level_unloaded},
                                {3, EventKind::piece_resident},
                                {5, EventKind::piece_released}});
    REQUIRE_FALSE(told[hall].empty());
    CHECK(told[hall].back().condition == LevelCondition::leaving);
    CHECK(told[hall].back().from == seconds(3));
    CHECK(told[hall].back().to == seconds(5));
}

TEST_CASE("timeline: given up in the queue it is absent at once") {
    const auto told = timeline({{1, EventKind::piece_queued},
                                {3, EventKind::level_unloaded},
                                {3, EventKind::piece_given_up}});
    CHECK(from_seconds(told[hall]) == Told{{LevelCondition::queued, 1}});
    CHECK(condition_at(told[hall], seconds(2)) == LevelCondition::queued);
    CHECK(condition_at(told[hall], seconds(3)) == LevelCondition::absent);
    CHECK(condition_at(told[hall], Micros{}) == LevelCondition::absent);
}

TEST_CASE("timeline: of random walks stretches follow each other and hold what events say") {
    for (std::uint32_t seed = 0; seed < 60; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, tests::Rich::yes).text());
        if (plan.routes.empty() || plan.devices.empty()) continue;
        const walk::Record record =
            walk::walk(plan, plan::RouteId{std::size_t{0}}, plan::DeviceId{std::size_t{0}}, {});
        const walk::Timeline all = walk::timeline_of(plan, record);
        for (const auto& stretches : all) {
            Micros before;
            for (const walk::Stretch& each : stretches) {
                CHECK(each.from >= before);
                CHECK(each.to > each.from);
                CHECK(each.condition != LevelCondition::absent);
                before = each.to;
            }
            if (!record.stuck) CHECK(before <= record.end); // else it ends before its last events
        }
        for (std::size_t i = 0; i < record.events.size(); ++i) {
            const walk::Event& event = record.events[i];
            if (event.kind != EventKind::level_shown || event.at >= record.end) continue;
            const bool last_then =
                std::none_of(record.events.begin() + static_cast<std::ptrdiff_t>(i) + 1,
                             record.events.end(), [&](const walk::Event& other) {
                                 return other.at == event.at && other.subject == event.subject &&
                                        other.kind >= EventKind::piece_queued &&
                                        other.kind <= EventKind::level_unloaded;
                             });
            if (last_then)
                CHECK(condition_at(all[PieceId{event.subject}], event.at) == LevelCondition::shown);
        }
    }
}
