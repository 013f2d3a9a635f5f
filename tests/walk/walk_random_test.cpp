// What must hold of every walk: 400 random plans.

#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "tables/walk_tables.hpp"

#include <map>

using namespace hestrel;
using plan::Bytes;
using plan::Micros;

namespace {

constexpr std::uint32_t plans = 400;

/// Half of the plans use little of the language, a quarter most, a quarter all of it.
std::string random_text(std::uint32_t seed) {
    const tests::Rich rich = seed % 4 == 1 ? tests::Rich::all : tests::Rich::yes;
    return tests::RandomPlan(seed, seed % 2 == 0 ? tests::Rich::no : rich).text();
}

walk::Record walk_of(const plan::Plan& plan) {
    walk::Options options;
    options.most_transitions = 2'000; // some go round in circles
    return walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, options);
}

} // namespace

TEST_CASE("random walks: the same plan gives the same bytes") {
    for (std::uint32_t seed = 0; seed < plans; seed += 4) {
        CAPTURE(seed);
        const std::string text = random_text(seed);
        const plan::Plan plan = tests::plan_from(text);
        const plan::Plan again = tests::plan_from(text);
        CHECK(tables::walk_json(plan, walk_of(plan)) == tables::walk_json(again, walk_of(again)));
    }
}

TEST_CASE("random walks: events in order, holdings add up to memory, a player's times add up to "
          "the route's") {
    std::size_t stuck = 0;
    std::size_t over = 0;
    for (std::uint32_t seed = 0; seed < plans; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
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
        if (!record.boot) continue;
        // Each player's spells follow each other from the end of the boot on, and add up.
        for (std::uint32_t player = 0; player < record.shares_of.size(); ++player) {
            std::vector<walk::Spell> spells;
            for (const walk::Spell& spell : record.spells) {
                if (spell.player == player) spells.push_back(spell);
            }
            if (spells.empty()) continue;
            const bool launched_first =
                !record.launches.empty() && record.launches.front() == *record.boot;
            if (!launched_first) CHECK(spells.front().from == *record.boot);
            Micros booting; // a later boot counts in none of them
            for (std::size_t i = 1; i < spells.size(); ++i) {
                const bool launched =
                    std::any_of(record.launches.begin(), record.launches.end(), [&](Micros at) {
                        return spells[i - 1].to <= at && at <= spells[i].from;
                    });
                booting += spells[i].from - spells[i - 1].to;
                if (launched) continue;
                CHECK(spells[i - 1].to == spells[i].from);
                CHECK(spells[i - 1].doing != spells[i].doing);
            }
            const auto& shares = record.shares_of[player];
            CHECK(shares.moving + shares.pausing + shares.veiled + shares.stalled + booting ==
                  spells.back().to - spells.front().from);
        }
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
        const plan::Plan plan = tests::plan_from(random_text(seed));
        const walk::Record record = walk_of(plan);
        for (const walk::Transition& transition : record.transitions) {
            CHECK_FALSE((transition.ended && transition.abandoned));
            const bool launched =
                !record.launches.empty() && transition.fired <= record.launches.back();
            // What ends the session goes no further, nor does what ran beside it.
            if (!transition.ended && !transition.abandoned && !launched && !record.session_ended)
                CHECK(record.stuck.has_value());
        }
    }
}

TEST_CASE("random walks: frozen players do not move, and freezes pair up") {
    for (std::uint32_t seed = 0; seed < plans; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        const walk::Record record = walk_of(plan);
        std::map<std::uint32_t, Micros> frozen; // by player: since when
        const auto frozen_again = [&](std::uint32_t player, Micros at) {
            CHECK(frozen.emplace(player, at).second);
        };
        const auto thawed = [&](std::uint32_t player, Micros at) {
            REQUIRE(frozen.contains(player));
            const Micros since = frozen.at(player);
            frozen.erase(player);
            for (const walk::Spell& spell : record.spells) {
                const bool overlaps =
                    spell.player == player && since < at && spell.from < at && since < spell.to;
                if (overlaps) CHECK(spell.doing != walk::Doing::moving);
            }
        };
        for (const walk::Event& event : record.events) {
            const bool freezes = event.kind == walk::EventKind::frozen;
            if (!freezes && event.kind != walk::EventKind::thawed) continue;
            const auto players =
                static_cast<std::uint32_t>(plan.routes[record.route].players.size());
            for (std::uint32_t player = 0; player < players; ++player) {
                if (flow::PlayerId{event.subject} && event.subject != player) continue;
                freezes ? frozen_again(player, event.at) : thawed(player, event.at);
            }
        }
    }
}

TEST_CASE("random walks: slack is negative exactly where a gap begins at the need") {
    std::size_t late = 0;
    std::size_t timely = 0;
    for (std::uint32_t seed = 1; seed < 5 * plans; seed += 2) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        const walk::Record record = walk_of(plan);
        for (const walk::LevelOutcome& outcome : record.outcomes) {
            // Of a place with variants another one may be there.
            if (!outcome.slack || plan.levels[outcome.level].variants) continue;
            const bool gap =
                std::any_of(record.gaps.begin(), record.gaps.end(), [&](const walk::Gap& each) {
                    return each.level == outcome.level && each.from <= *outcome.needed &&
                           *outcome.needed < each.to;
                });
            if (outcome.slack->count < 0) {
                ++late;
                CHECK(gap);
            } else {
                ++timely;
                // It may have been hidden again in between.
                const bool hidden = std::any_of(
                    record.events.begin(), record.events.end(), [&](const walk::Event& event) {
                        return event.kind == walk::EventKind::level_hidden &&
                               event.subject == outcome.level.value && event.at >= *outcome.shown &&
                               event.at <= *outcome.needed;
                    });
                if (!hidden) CHECK_FALSE(gap);
            }
        }
    }
    CHECK(late > 50);
    CHECK(timely > 50);
}

TEST_CASE(
    "random walks: gaps are times of need in which the level is not shown and nothing hides it") {
    std::size_t gaps = 0;
    for (std::uint32_t seed = 1; seed < plans; seed += 2) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        const walk::Record record = walk_of(plan);
        gaps += record.gaps.size();
        for (const walk::Gap& gap : record.gaps) {
            CHECK(gap.from <= gap.to);
            const bool needed = std::any_of(
                record.needed.begin(), record.needed.end(), [&](const walk::Needed& need) {
                    return need.player == gap.player && need.level == gap.level &&
                           need.stood == gap.stood && need.from <= gap.from && gap.to <= need.to;
                });
            CHECK(needed);
            bool shown = false;
            for (const walk::Event& event : record.events) {
                if (event.at > gap.from) break;
                if (event.subject != gap.level.value) continue;
                if (event.kind == walk::EventKind::level_shown) shown = true;
                if (event.kind == walk::EventKind::level_hidden) shown = false;
            }
            CHECK_FALSE(shown);
        }
    }
    CHECK(gaps > 100);
}

TEST_CASE("random walks: a fact of lifetime level is never carried over a switch") {
    std::size_t switches = 0;
    for (std::uint32_t seed = 1; seed < 4 * plans; seed += 2) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        const walk::Record record = walk_of(plan);
        const plan::FactId fact = tests::named(plan.facts, "lv");
        std::uint32_t value = 0;
        bool switching = false;
        bool reset = false; // it was at its initial value since the switch began
        for (const walk::Event& event : record.events) {
            const bool about =
                event.subject == fact.value && (event.kind == walk::EventKind::fact_set ||
                                                event.kind == walk::EventKind::fact_reset);
            if (about) value = event.detail;
            if (event.kind == walk::EventKind::switch_began) {
                switching = true;
                reset = false;
            }
            if (switching && value == 0) reset = true;
            if (event.kind == walk::EventKind::switch_ended) {
                CHECK(reset);
                switching = false;
                ++switches;
            }
        }
    }
    CHECK(switches > 100);
}

TEST_CASE("random walks: every mention of a run is of one that began, and memory comes back to "
          "what stays") {
    for (std::uint32_t seed = 1; seed < plans; seed += 2) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(random_text(seed));
        const walk::Record record = walk_of(plan);
        CHECK(record.transition_outcomes.size() == record.transitions.size());
        for (std::size_t i = 0; i < record.transitions.size(); ++i) {
            CHECK(record.transitions[i].number == i + 1);
            CHECK(record.transition_outcomes[i].settled >= record.transitions[i].fired);
            CHECK(record.transition_outcomes[i].peak <= record.peak);
            CHECK(record.transition_outcomes[i].overlap <= record.peak);
        }
    }
}
