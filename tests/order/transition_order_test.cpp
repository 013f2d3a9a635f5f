#include "order/asking_bound.hpp"
#include "order/transition_order.hpp"

#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "tables/order_tables.hpp"

#include <numeric>

using namespace hestrel;
using plan::milliseconds;
using tests::Lines;
using tests::names_of;

namespace {

/// Levels of so many MiB, asked for by one trigger, on a device that reads one at a time and
/// unpacks.
std::string asking_plan(const std::vector<int>& packed, const std::vector<int>& unpacked,
                        const std::string& wait) {
    std::string levels;
    std::string asked;
    for (std::size_t i = 0; i < packed.size(); ++i) {
        levels += fmt::format("  level{}: {{memory: {{t: {}}}, packed: {}}}\n", i, unpacked[i],
                              packed[i]);
        asked += fmt::format("{}level{}", asked.empty() ? "" : ", ", i);
    }
    return fmt::format("hestrel: 1\ndevices:\n  box: {{memory: {{total: 100000}}, read: {{rate: "
                       "100}}, unpack: {{rate: 100}}, frame: {{fps: 1000}}}}\nlevels:\n  hall: "
                       "{{memory: {{t: 0}}}}\n{}facts: {{go: {{initial: false}}}}\ntriggers:\n  t: "
                       "{{when: go, steps: [{{show: [{}]}}{}]}}\nroutes: {{r: {{start: {{level: "
                       "hall}}, steps: [{{set: {{go: true}}}}]}}}}\n",
                       levels, asked, wait);
}

order::TransitionOrder only_order(const plan::Plan& plan) {
    const auto orders = order::order_transitions(plan, plan::DeviceId{0});
    REQUIRE(orders.size() == 1);
    return orders[0];
}

/// One to three of them are waited for, or all.
std::vector<plan::LevelId> some_of(tests::Dice& dice, const std::vector<plan::LevelId>& levels) {
    if (dice.below(2) == 0) return levels;
    return {levels.begin(),
            levels.begin() + 1 + dice.below(std::min<int>(3, static_cast<int>(levels.size())))};
}

/// A device of any kind, levels with kits and sublevels: what the bound has to hold for.
std::string any_asking_plan(tests::Dice& dice) {
    const int levels = 2 + dice.below(3);
    std::string text = fmt::format(
        "hestrel: 1\ndevices:\n  box:\n    memory: {{total: 100000}}\n    read: {{rate: {}, "
        "latency: {}, parallel: {}}}\n",
        5 + dice.below(100), dice.below(3) * 0.05, 1 + dice.below(3));
    if (dice.below(4) > 0)
        text += fmt::format("    unpack: {{rate: {}, workers: {}}}\n", 5 + dice.below(100),
                            1 + dice.below(3));
    if (dice.below(2) == 0)
        text += fmt::format("    makers: {{workers: {}, speed: 0.8}}\n", 1 + dice.below(2));
    text += fmt::format("    frame: {{fps: {}, base: 0.004, attach: {:.3f}}}\n    attach: {{fixed: "
                        "0.003, per-object: {:.6f}}}\n",
                        30 + dice.below(60), 0.001 * (1 + dice.below(20)), 1e-6 * dice.below(40));
    text += "kits: {a: {memory: {t: 9}}, b: {memory: {t: 4}, packed: 1}}\nlevels:\n"
            "  hall: {memory: {t: 0}}\n";
    std::string asked;
    const bool with_costs = dice.below(3) == 0;
    for (int i = 0; i < levels; ++i) {
        const std::vector<std::string> kits{"", "a", "b", "a, b"};
        std::string part;
        std::string make;
        const bool is_made = dice.below(3) == 0;
        if (is_made) make = fmt::format(", make: {} ms", dice.below(900));
        const bool is_read = !is_made || dice.below(2) == 0;
        const int packed = dice.below(50);
        if (dice.below(3) == 0)
            part = fmt::format(", sublevels: {{part{}: {{memory: {{t: {}}}, with-parent: true}}}}",
                               i, 1 + dice.below(20));
        text += fmt::format("  level{}: {{memory: {{t: {}}}, packed: {}, objects: {}, frame-cost: "
                            "{} ms, kits: [{}]{}{}}}\n",
                            i, 1 + dice.below(50), is_read ? 1 + packed : 0, dice.below(4000),
                            with_costs ? dice.below(9) : 0,
                            kits[static_cast<std::size_t>(dice.below(4))], part, make);
        asked += fmt::format("{}level{}", asked.empty() ? "" : ", ", i);
    }
    return text + "facts: {go: {initial: false}}\ntriggers:\n  t: {when: go, steps: [{show: [" +
           asked + "]}]}\nroutes: {r: {start: {level: hall}, steps: [{set: {go: true}}]}}\n";
}

} // namespace

TEST_CASE("what players wait for is asked for first") {
    // Read 1 s and 0.1 s, unpacked as long; the small one is waited for, and comes second.
    const plan::Plan plan =
        tests::plan_from(asking_plan({100, 10}, {100, 10}, ", {wait: {shown: [level1]}}"));
    const order::TransitionOrder order = only_order(plan);
    CHECK(names_of(plan, order.asked) == Lines{"level0", "level1"});
    CHECK(names_of(plan, order.awaited) == Lines{"level1"});
    CHECK(names_of(plan, order.best) == Lines{"level1", "level0"});
    // Behind the large one: read by 1.1 s, its turn to be unpacked at 2 s, ready at 2.1 s and shown
    // a frame later. Before it: ready at 0.2 s.
    CHECK(order.takes == milliseconds(2'101));
    CHECK(order.best_takes == milliseconds(201));
    CHECK(order.bound == milliseconds(201));
    CHECK(order.exact);
    REQUIRE(order.pieces.size() == 2);
    CHECK(*order.pieces[1].read_end == milliseconds(1'100));
    CHECK(*order.pieces[1].unpack_start == milliseconds(2'000));
    CHECK(*order.pieces[1].shown == milliseconds(2'101));
    CHECK(tables::transition_name(plan, order) == "trigger t");
    CHECK(tables::transition_orders_csv(plan, {order}) ==
          "transition,device,asked,awaited,takes_s,best_order,best_s,saves_s,bound_s,exact\r\n"
          "trigger t,box,level0 level1,level1,2.101000,level1 level0,0.201000,1.900000,0.201000,"
          "yes\r\n");
}

TEST_CASE("of two machines in a row, what is read quickly and unpacked slowly goes first") {
    // Johnson's rule: 1 then 0 takes 0.1 + 1 + 0.1 s; 0 then 1 takes 1 + 0.1 + 1 s.
    const plan::Plan plan = tests::plan_from(asking_plan({100, 10}, {10, 100}, ""));
    const order::TransitionOrder order = only_order(plan);
    CHECK(names_of(plan, order.best) == Lines{"level1", "level0"});
    CHECK(order.takes == milliseconds(2'101));
    CHECK(order.best_takes == milliseconds(1'201));
    CHECK(order.exact);
}

TEST_CASE("the best order is no worse than any, and none is below the bound") {
    tests::Dice dice(8);
    for (int round = 0; round < 12; ++round) {
        CAPTURE(round);
        const int count = 2 + dice.below(4);
        std::vector<int> packed;
        std::vector<int> unpacked;
        for (int i = 0; i < count; ++i) {
            packed.push_back(1 + dice.below(50));
            unpacked.push_back(1 + dice.below(50));
        }
        const bool waits = dice.below(2) == 0;
        const plan::Plan plan = tests::plan_from(
            asking_plan(packed, unpacked, waits ? ", {wait: {shown: [level0, level1]}}" : ""));
        const order::TransitionOrder order = only_order(plan);
        CHECK(order.exact);
        CHECK(order.bound <= order.best_takes);
        CHECK(order.best_takes <= order.takes);
        // Every order, written as a plan of its own, takes no less.
        std::vector<int> any(static_cast<std::size_t>(count));
        std::iota(any.begin(), any.end(), 0);
        const loading::Catalogue catalogue = loading::catalogue_for(plan, plan::DeviceId{0});
        plan::Micros least = plan::Micros::never();
        do {
            loading::Sequence sequence;
            loading::Loader loader(catalogue, sequence);
            for (const int i : any)
                loader.show(plan::LevelId{static_cast<std::uint32_t>(i + 1)}, plan::Priority::soon,
                            1);
            loader.run_until_idle();
            plan::Micros last;
            for (const loading::Change& change : loader.take_changes()) {
                const bool counts = !waits || change.index == 1 || change.index == 2;
                if (change.kind == loading::ChangeKind::level_shown && counts) last = change.at;
            }
            least = std::min(least, last);
        } while (std::next_permutation(any.begin(), any.end()));
        CHECK(order.best_takes == least);
    }
}

TEST_CASE("with many levels the best found lies between the bound and today's order") {
    std::vector<int> packed;
    std::vector<int> unpacked;
    for (int i = 0; i < 12; ++i) {
        packed.push_back(40 - 3 * i);
        unpacked.push_back(5 + 3 * i);
    }
    const plan::Plan plan = tests::plan_from(asking_plan(packed, unpacked, ""));
    const order::TransitionOrder order = only_order(plan);
    CHECK(order.best.size() == 12);
    CHECK(order.bound <= order.best_takes);
    CHECK(order.best_takes < order.takes);
    // Reading 40 + 37 + … + 7 MiB takes 2.82 s in any order.
    CHECK(order.best_takes >= milliseconds(2'820));
}

TEST_CASE("ten levels of any figures are weighed whole") {
    tests::Dice dice(21);
    for (int round = 0; round < 4; ++round) {
        CAPTURE(round);
        std::vector<int> packed;
        std::vector<int> unpacked;
        for (int i = 0; i < 10; ++i) {
            packed.push_back(1 + dice.below(50));
            unpacked.push_back(1 + dice.below(50));
        }
        const plan::Plan plan = tests::plan_from(asking_plan(packed, unpacked, ""));
        const order::TransitionOrder order = only_order(plan);
        CHECK(order.exact);
        // Johnson's rule is the best order of two machines in a row: what is read more quickly
        // than unpacked by how quickly it is read, then the others, the slowest to unpack first.
        std::vector<std::size_t> johnson(10);
        std::iota(johnson.begin(), johnson.end(), 0);
        std::sort(johnson.begin(), johnson.end(), [&](std::size_t one, std::size_t other) {
            const bool quick = packed[one] <= unpacked[one];
            const bool also = packed[other] <= unpacked[other];
            if (quick != also) return quick;
            return quick ? packed[one] < packed[other] : unpacked[one] > unpacked[other];
        });
        int read = 0;
        int done = 0;
        for (const std::size_t each : johnson) {
            read += packed[each];
            done = std::max(done, read) + unpacked[each];
        }
        // In hundredths of a second; attaching what is unpacked last takes a frame.
        CHECK(order.best_takes == milliseconds(10 * done + 1));
    }
}

TEST_CASE("no order is quicker than the bound of its beginning says") {
    tests::Dice dice(5);
    int told = 0; // orders whose time could be told without a loader
    for (int round = 0; round < 150; ++round) {
        const std::string text = any_asking_plan(dice);
        CAPTURE(text);
        const plan::Plan plan = tests::plan_from(text);
        const loading::Catalogue catalogue = loading::catalogue_for(plan, plan::DeviceId{0});
        std::vector<plan::LevelId> asked;
        for (const plan::LevelId level : plan.levels.ids()) {
            if (plan.levels[level].name.starts_with("level")) asked.push_back(level);
        }
        const std::vector<plan::LevelId> awaited = some_of(dice, asked);
        const loading::AloneLoader loader(catalogue, {{plan::LevelId{0}}, asked});
        std::vector<std::size_t> any(asked.size());
        std::iota(any.begin(), any.end(), 0);
        do {
            const plan::Micros takes = loader.time_of(any, awaited);
            order::AskingBound bound(catalogue, loader, awaited);
            plan::Micros before = bound.bound();
            for (const std::size_t number : any) {
                bound.push(number);
                const plan::Micros now = bound.bound();
                CHECK(now <= takes);
                CHECK(before <= takes);
                before = now;
            }
            if (const auto whole = bound.whole_time()) {
                CHECK(*whole == takes);
                ++told;
            }
            for (std::size_t i = 0; i < any.size(); ++i) bound.pop();
            CHECK(bound.bound() == order::AskingBound(catalogue, loader, awaited).bound());
        } while (std::next_permutation(any.begin(), any.end()));
    }
    CHECK(told > 100);
}
