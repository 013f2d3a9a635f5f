#include "order/stable_order.hpp"

#include "support/dice.hpp"
#include "support/printing.hpp"

#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/strong_components.hpp>
#include <boost/graph/topological_sort.hpp>
#include <catch2/catch.hpp>
#include <numeric>

using namespace hestrel;
using order::Need;
using order::Things;

namespace {

using Graph = boost::adjacency_list<boost::vecS, boost::vecS, boost::directedS>;

Things random_things(tests::Dice& dice, int most, bool circles, bool pins) {
    const int count = 1 + dice.below(most);
    Things things;
    for (int i = 0; i < count; ++i) {
        things.moments.push_back(
            dice.below(4) == 0 ? std::nullopt : std::optional(plan::seconds(dice.below(count))));
        things.pinned.push_back(pins && dice.below(5) == 0);
    }
    // Without circles every need leads along a hidden order.
    std::vector<int> hidden(static_cast<std::size_t>(count));
    std::iota(hidden.begin(), hidden.end(), 0);
    for (int i = count - 1; i > 0; --i)
        std::swap(hidden[static_cast<std::size_t>(i)],
                  hidden[static_cast<std::size_t>(dice.below(i + 1))]);
    const int needs = dice.below(2 * count);
    for (int i = 0; i < needs; ++i) {
        const auto one = static_cast<std::size_t>(dice.below(count));
        const auto other = static_cast<std::size_t>(dice.below(count));
        if (one == other) continue;
        if (circles || hidden[one] < hidden[other]) things.needs.push_back({one, other});
    }
    return things;
}

std::vector<std::size_t> places_of(const std::vector<std::size_t>& order) {
    std::vector<std::size_t> places(order.size());
    for (std::size_t i = 0; i < order.size(); ++i) places[order[i]] = i;
    return places;
}

/// The keys by which orders are compared, in their order.
std::vector<std::pair<plan::Micros, std::size_t>> keys_of(const Things& things,
                                                          const std::vector<std::size_t>& order) {
    std::vector<std::pair<plan::Micros, std::size_t>> keys;
    plan::Micros last;
    for (std::size_t i = 0; i < things.moments.size(); ++i) {
        last = things.moments[i].value_or(last);
        keys.emplace_back(last, i);
    }
    std::vector<std::pair<plan::Micros, std::size_t>> sorted;
    for (const std::size_t thing : order) sorted.push_back(keys[thing]);
    return sorted;
}

bool keeps(const std::vector<Need>& needs, const std::vector<std::size_t>& order) {
    const auto places = places_of(order);
    return std::all_of(needs.begin(), needs.end(),
                       [&](const Need& need) { return places[need.before] < places[need.after]; });
}

} // namespace

TEST_CASE("a proposed order is a topological order, as Boost.Graph understands it") {
    tests::Dice dice(3);
    for (int round = 0; round < 400; ++round) {
        const Things things = random_things(dice, 40, round % 2 == 0, false);
        const std::size_t count = things.moments.size();
        Graph graph(count);
        for (const Need& need : things.needs) boost::add_edge(need.before, need.after, graph);
        std::vector<int> component(count);
        boost::strong_components(
            graph, boost::make_iterator_property_map(component.begin(),
                                                     boost::get(boost::vertex_index, graph)));
        // Within a circle no order can keep every need; all others are kept.
        std::vector<Need> kept;
        bool any_circle = false;
        for (const Need& need : things.needs) {
            if (component[need.before] == component[need.after]) {
                any_circle = true;
            } else {
                kept.push_back(need);
            }
        }
        const std::vector<std::size_t> order = order::stable_order(things);
        REQUIRE(order.size() == count);
        std::vector<std::size_t> sorted = order;
        std::sort(sorted.begin(), sorted.end());
        for (std::size_t i = 0; i < count; ++i) CHECK(sorted[i] == i);
        CHECK(keeps(kept, order));
        const auto circles = order::circles(count, things.needs);
        CHECK(circles.empty() != any_circle);
        for (const auto& circle : circles) {
            CHECK(circle.size() > 1);
            for (std::size_t i = 0; i < circle.size(); ++i) {
                const Need step{circle[i], circle[(i + 1) % circle.size()]};
                CHECK(std::count(things.needs.begin(), things.needs.end(), step) > 0);
            }
        }
    }
}

TEST_CASE("of all orders that keep the needs it is the first by moment and today's position") {
    tests::Dice dice(4);
    for (int round = 0; round < 150; ++round) {
        const Things things = random_things(dice, 6, false, false);
        const std::vector<std::size_t> order = order::stable_order(things);
        std::vector<std::size_t> any(order.size());
        std::iota(any.begin(), any.end(), 0);
        do {
            if (keeps(things.needs, any)) CHECK(keys_of(things, order) <= keys_of(things, any));
        } while (std::next_permutation(any.begin(), any.end()));
    }
}

TEST_CASE("what is pinned keeps its position, and the rest are all there") {
    tests::Dice dice(5);
    for (int round = 0; round < 300; ++round) {
        const Things things = random_things(dice, 30, round % 3 == 0, true);
        const std::vector<std::size_t> order = order::stable_order(things);
        std::vector<bool> seen(order.size());
        for (std::size_t i = 0; i < order.size(); ++i) {
            CHECK_FALSE(seen[order[i]]);
            seen[order[i]] = true;
            if (things.pinned[i]) CHECK(order[i] == i);
        }
    }
}

TEST_CASE("no move without a reason, and no fewer moves would do") {
    tests::Dice dice(6);
    for (int round = 0; round < 300; ++round) {
        const Things things = random_things(dice, 12, round % 3 == 0, round % 2 == 0);
        const std::vector<std::size_t> order = order::stable_order(things);
        const std::vector<order::Relocation> moves = order::moves_to(things, order);
        std::vector<bool> moved(order.size());
        const auto places = places_of(order);
        for (const order::Relocation& move : moves) {
            moved[move.thing] = true;
            CHECK(move.from == move.thing);
            CHECK(places[move.thing] == move.to);
            // It really passed the thing that it is said to have passed, which stayed.
            CHECK((move.thing < move.other) != (places[move.thing] < places[move.other]));
        }
        for (const order::Relocation& move : moves) CHECK_FALSE(moved[move.other]);
        // What stays keeps its order.
        std::size_t last = 0;
        for (const std::size_t thing : order) {
            if (moved[thing]) continue;
            CHECK(last <= thing);
            last = thing;
        }
        // By brute force: no longer rising run.
        std::size_t longest = 0;
        for (std::uint32_t set = 0; set < (1U << order.size()); ++set) {
            std::size_t length = 0;
            std::size_t before = 0;
            bool rising = true;
            for (std::size_t i = 0; i < order.size() && rising; ++i) {
                if ((set >> i & 1U) == 0) continue;
                rising = length == 0 || before < order[i];
                before = order[i];
                ++length;
            }
            if (rising) longest = std::max(longest, length);
        }
        CHECK(moves.size() == order.size() - longest);
    }
}

TEST_CASE("an order with nothing to say against it stays, whatever is not known") {
    Things things;
    things.moments = {plan::seconds(0), std::nullopt, plan::seconds(2), std::nullopt,
                      plan::seconds(2)};
    things.pinned.assign(5, false);
    things.needs = {{0, 1}, {2, 3}};
    CHECK(order::stable_order(things) == std::vector<std::size_t>{0, 1, 2, 3, 4});
    CHECK(order::moves_to(things, {0, 1, 2, 3, 4}).empty());
    // The last is needed at 1 s: it passes 2, and 3, which goes with 2.
    things.moments[4] = plan::seconds(1);
    CHECK(order::stable_order(things) == std::vector<std::size_t>{0, 1, 4, 2, 3});
    const auto moves = order::moves_to(things, order::stable_order(things));
    REQUIRE(moves.size() == 1);
    CHECK(moves[0].thing == 4);
    CHECK(moves[0].to == 2);
    CHECK(moves[0].other == 2);
    CHECK_FALSE(moves[0].needed);
    CHECK(order::stable_order(Things{}).empty());
}
