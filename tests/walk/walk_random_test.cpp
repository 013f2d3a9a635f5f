// What must hold of every walk: 400 random plans.

#include "format/walk_tables.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"

#include <map>

using namespace hestrel;
using plan::Bytes;
using plan::Micros;

namespace {

constexpr std::uint32_t plans = 400;

walk::Record walk_of(const plan::Plan& plan) {
    return walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
}

} // namespace

TEST_CASE("random walks: the same plan gives the same bytes") {
    for (std::uint32_t seed = 0; seed < plans; seed += 4) {
        CAPTURE(seed);
        const std::string text = tests::RandomPlan(seed).text();
        const plan::Plan plan = tests::plan_from(text);
        const plan::Plan again = tests::plan_from(text);
        CHECK(format::walk_json(plan, walk_of(plan)) == format::walk_json(again, walk_of(again)));
    }
}

TEST_CASE("random walks: events in order, holdings add up to memory, a player's times add up to "
          "the route's") {
    std::size_t stuck = 0;
    std::size_t over = 0;
    for (std::uint32_t seed = 0; seed < plans; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed).text());
        const walk::Record record = walk_of(plan);
        stuck += record.stuck ? 1 : 0;
        over += record.overruns.empty() ? 0 : 1;
        CHECK(std::is_sorted(record.events.begin(), record.events.end(),
                             [](const auto& one, const auto& other) { return one.at < other.at; }));
        for (const loading::LoadRecord& load : record.loads) {
            CHECK(load.asked <= load.read_start.value_or(Micros::never()));
            CHECK(load.read_start.value_or(Micros{}) <= load.read_end.value_or(Micros::never()));
            CHECK(load.transition <= record.transitions.size());
        }
        for (const loading::MemoryRow& row : record.memory) {
            Bytes held;
            for (const loading::Holding& holding : record.holdings) {
                const bool still = holding.to == record.memory.back().at && row.at == holding.to;
                if (holding.from <= row.at && (row.at < holding.to || still)) held += holding.size;
            }
            // What was given back in the very last instant looks held still; nothing else may
            // differ.
            if (row.at != record.memory.back().at) CHECK(held == row.total);
        }
        if (!record.boot || record.spells.empty()) continue;
        for (std::size_t i = 1; i < record.spells.size(); ++i) {
            CHECK(record.spells[i - 1].to == record.spells[i].from);
            CHECK(record.spells[i - 1].doing != record.spells[i].doing);
        }
        CHECK(record.spells.front().from == *record.boot);
        const auto& shares = record.shares;
        CHECK(shares.moving + shares.pausing + shares.veiled + shares.stalled ==
              record.spells.back().to - record.spells.front().from);
    }
    // The plans are varied enough to mean something.
    CHECK(stuck > plans / 20);
    CHECK(stuck < plans * 3 / 4);
    CHECK(over > plans / 20);
}

TEST_CASE(
    "random walks: every transition has ended, was abandoned, or is what the walk waits for") {
    for (std::uint32_t seed = 0; seed < plans; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed).text());
        const walk::Record record = walk_of(plan);
        for (const walk::Transition& transition : record.transitions) {
            CHECK_FALSE((transition.ended && transition.abandoned));
            if (!transition.ended && !transition.abandoned) CHECK(record.stuck.has_value());
        }
    }
}

TEST_CASE("random walks: frozen players do not move, and freezes pair up") {
    for (std::uint32_t seed = 0; seed < plans; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed).text());
        const walk::Record record = walk_of(plan);
        bool frozen = false;
        std::optional<Micros> since;
        for (const walk::Event& event : record.events) {
            if (event.kind == walk::EventKind::frozen) {
                CHECK_FALSE(frozen);
                frozen = true;
                since = event.at;
            } else if (event.kind == walk::EventKind::thawed) {
                CHECK(frozen);
                frozen = false;
                for (const walk::Spell& spell : record.spells) {
                    const bool overlaps =
                        *since < event.at && spell.from < event.at && *since < spell.to;
                    if (overlaps) CHECK(spell.doing != walk::Doing::moving);
                }
            }
        }
    }
}
