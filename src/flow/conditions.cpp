#include "flow/conditions.hpp"

#include <boost/container/small_vector.hpp>

namespace hestrel::flow {

namespace {

using plan::Operation;

double leaf(const plan::Term& term, const ConditionWorld& world, PlayerId player) {
    switch (term.operation) {
    case Operation::value:
        return term.value.kind == plan::ValueKind::word ? static_cast<double>(term.value.word.value)
                                                        : term.value.number;
    case Operation::fact: return static_cast<double>(world.fact_now(term.fact));
    case Operation::speed: return world.speed_now(player);
    case Operation::veiled: return world.veiled_now() ? 1 : 0;
    case Operation::shown: return world.shown_now(term.level) ? 1 : 0;
    case Operation::ready: return world.ready_now(term.level) ? 1 : 0;
    case Operation::delivered: return world.delivered_now(term.level) ? 1 : 0;
    default: return 0;
    }
}

bool joined(Operation operation, double left, double right) {
    switch (operation) {
    case Operation::equal: return left == right;
    case Operation::not_equal: return left != right;
    case Operation::less: return left < right;
    case Operation::at_most: return left <= right;
    case Operation::more: return left > right;
    case Operation::at_least: return left >= right;
    case Operation::both: return left != 0 && right != 0;
    case Operation::either: return left != 0 || right != 0;
    case Operation::negation: return left == 0;
    default: return false;
    }
}

} // namespace

bool holds(const plan::Condition& condition, const ConditionWorld& world, PlayerId player) {
    // Terms stand behind what they use, so one pass is enough. Most conditions are short.
    boost::container::small_vector<double, 8> values;
    for (const plan::Term& term : condition.terms) {
        const bool is_leaf = term.operation < Operation::equal;
        values.push_back(
            is_leaf ? leaf(term, world, player)
                    : (joined(term.operation, values[term.left], values[term.right]) ? 1.0 : 0.0));
    }
    return values.back() != 0;
}

} // namespace hestrel::flow
