#include "flow/conditions.hpp"

#include <algorithm>
#include <boost/container/small_vector.hpp>
#include <vector>

namespace hestrel::flow {

namespace {

using plan::Operation;

/// Whether it is so of a level, or of a group: of any of its levels where it is one-of, else of
/// all. Each is asked about, as terms are.
bool of_levels(const plan::Term& term, const ConditionWorld& world, const auto& so) {
    if (!term.group) return so(term.level);
    const plan::Group& group = world.group(term.group);
    std::size_t are = 0;
    for (const plan::LevelId level : group.levels) are += so(level) ? 1 : 0;
    return group.one_of ? are > 0 : are == group.levels.size();
}

bool asks_level(const plan::Term& term, const ConditionWorld& world, plan::LevelId level) {
    switch (term.operation) {
    case Operation::shown: return world.shown_now(level);
    case Operation::ready: return world.ready_now(level);
    case Operation::delivered: return world.delivered_now(level);
    default: return world.queued_now(level);
    }
}

double leaf(const plan::Term& term, const ConditionWorld& world, PlayerId player) {
    switch (term.operation) {
    case Operation::value: return plan::as_compared(term.value);
    case Operation::fact: return static_cast<double>(world.fact_now(term.fact, player));
    case Operation::speed: return world.speed_now(player);
    case Operation::veiled: return world.veiled_now() ? 1 : 0;
    case Operation::shown:
    case Operation::ready:
    case Operation::delivered:
    case Operation::queued:
        return of_levels(term, world,
                         [&](plan::LevelId level) { return asks_level(term, world, level); })
                   ? 1
                   : 0;
    case Operation::memory: return world.memory_now(player);
    case Operation::at: return world.at_now(term.waypoint, player) ? 1 : 0;
    case Operation::inside: {
        const bool inside = term.trigger ? world.inside_now(term.trigger, player)
                                         : world.inside_now(term.level, player);
        return inside ? 1 : 0;
    }
    case Operation::open: return world.open_now(term.menu, player) ? 1 : 0;
    case Operation::frozen: return world.frozen_now(player) ? 1 : 0;
    default: return 0;
    }
}

bool joined(Operation operation, double left, double right) {
    switch (operation) {
    case Operation::both: return left != 0 && right != 0;
    case Operation::either: return left != 0 || right != 0;
    case Operation::negation: return left == 0;
    default: return plan::compares(operation, left, right);
    }
}

/// Terms stand behind what they use, so one pass is enough. Most conditions are short.
using Values = boost::container::small_vector<double, 8>;
Values values_for(const plan::Condition& condition, const ConditionWorld& world, PlayerId player) {
    Values values;
    for (const plan::Term& term : condition.terms) {
        values.push_back(
            plan::is_leaf(term.operation)
                ? leaf(term, world, player)
                : (joined(term.operation, values[term.left], values[term.right]) ? 1.0 : 0.0));
    }
    return values;
}

/// The same; where nobody fired, what asks about facts that each player has holds if it does for
/// any.
Values values_of(const plan::Condition& condition, const ConditionWorld& world, PlayerId player) {
    Values values = values_for(condition, world, player);
    if (player || std::none_of(condition.terms.begin(), condition.terms.end(),
                               [](const plan::Term& term) { return term.of_each; }))
        return values;
    std::vector<bool> any(values.size(), false); // by term
    for (std::size_t number = 0; number < world.players(); ++number) {
        const Values each = values_for(condition, world, PlayerId{number});
        for (std::size_t i = 0; i < any.size(); ++i) any[i] = any[i] || each[i] != 0;
    }
    for (std::size_t i = 0; i < values.size(); ++i) {
        const plan::Term& term = condition.terms[i];
        const bool compares =
            term.operation >= Operation::equal && term.operation < Operation::both;
        const bool asks_each =
            compares && (condition.terms[term.left].of_each || condition.terms[term.right].of_each);
        if (term.of_each || asks_each) { // by itself: a flag, or what is compared
            values[i] = any[i] ? 1 : 0;
        } else if (!plan::is_leaf(term.operation)) {
            values[i] = joined(term.operation, values[term.left], values[term.right]) ? 1 : 0;
        }
    }
    return values;
}

/// The parts of a condition that are joined by `by` and come out as `wanted`.
std::vector<std::uint32_t> parts_of(const plan::Condition& condition, const Values& values,
                                    Operation by, bool wanted) {
    std::vector<std::uint32_t> parts;
    std::vector<std::uint32_t> left{static_cast<std::uint32_t>(values.size() - 1)};
    while (!left.empty()) {
        const std::uint32_t part = left.back();
        left.pop_back();
        if ((values[part] != 0) != wanted) continue;
        const plan::Term& term = condition.terms[part];
        if (term.operation == by) {
            left.push_back(term.right);
            left.push_back(term.left);
        } else {
            parts.push_back(part);
        }
    }
    return parts;
}

} // namespace

bool holds(const plan::Condition& condition, const ConditionWorld& world, PlayerId player) {
    return values_of(condition, world, player).back() != 0;
}

std::vector<std::uint32_t> unmet(const plan::Condition& condition, const ConditionWorld& world,
                                 PlayerId player) {
    return parts_of(condition, values_of(condition, world, player), Operation::both, false);
}

std::vector<plan::TermValue> leaf_values(const plan::Condition& condition,
                                         const ConditionWorld& world, PlayerId player) {
    std::vector<plan::TermValue> values;
    for (std::uint32_t i = 0; i < condition.terms.size(); ++i) {
        const plan::Term& term = condition.terms[i];
        if (plan::is_leaf(term.operation) && term.operation != Operation::value)
            values.push_back({i, leaf(term, world, player)});
    }
    return values;
}

std::vector<std::uint32_t> met(const plan::Condition& condition, const ConditionWorld& world,
                               PlayerId player) {
    return parts_of(condition, values_of(condition, world, player), Operation::either, true);
}

} // namespace hestrel::flow
