#pragma once
// Conditions: what `when`, `until` and rules say (docs/model.md section 6).

#include "plan/ids.hpp"
#include "plan/place.hpp"

#include <algorithm>
#include <cstdint>
#include <initializer_list>
#include <string>
#include <vector>

namespace hestrel::plan {

enum class ValueKind : std::uint8_t { flag, number, word };

/// A fact's value, or a value written in a condition.
struct Value {
    ValueKind kind = ValueKind::flag;
    double number = 0; ///< of a flag: 0 or 1; facts hold whole numbers only
    WordId word;       ///< of a word
    bool operator==(const Value&) const = default;
};

/// As conditions compare it: a word by its number.
inline double as_compared(const Value& value) {
    return value.kind == ValueKind::word ? static_cast<double>(value.word.value) : value.number;
}

enum class Operation : std::uint8_t {
    value,     ///< `value`
    fact,      ///< `fact`
    speed,     ///< of the firing player, m/s; 0 when standing
    veiled,    ///< any veil is up
    shown,     ///< `level`
    ready,     ///< `level` is loaded
    delivered, ///< `level` has arrived (section 9)
    at,        ///< the player stands at `waypoint`
    inside,    ///< the player is inside the shape of `trigger`, or the area of `level`
    open,      ///< `menu` is open
    queued,    ///< `level` is; only where a route asks
    memory,    ///< in use on the device, MiB; only where a route asks
    frozen,    ///< the player is frozen
    equal,
    not_equal,
    less,
    at_most,
    more,
    at_least, ///< `left`, `right`
    both,
    either,   ///< and, or: `left`, `right`
    negation, ///< not: `left`
};

/// Whether it stands for itself, joining no others.
constexpr bool is_leaf(Operation operation) {
    return operation < Operation::equal;
}

/// Whether a comparison holds between two numbers; any other operation does not.
constexpr bool compares(Operation operation, double left, double right) {
    switch (operation) {
    case Operation::equal: return left == right;
    case Operation::not_equal: return left != right;
    case Operation::less: return left < right;
    case Operation::at_most: return left <= right;
    case Operation::more: return left > right;
    case Operation::at_least: return left >= right;
    default: return false;
    }
}

/// One operation of a condition. `left` and `right` are indices of operations that stand before it.
struct Term {
    Operation operation = Operation::value;
    Place place;
    Value value;
    FactId fact;
    LevelId level;
    GroupId group; ///< set instead of `level`: any level of it that is one-of, else all of it
    WaypointId waypoint;
    TriggerId trigger;
    MenuId menu;
    bool of_each = false; ///< `fact` has a value for each player
    std::uint32_t left = 0;
    std::uint32_t right = 0;
    std::uint32_t text_from = 0; ///< the part of the condition's text that it is
    std::uint32_t text_to = 0;   ///< behind that
};

/// What a fact or word of a condition was at some moment.
struct TermValue {
    std::uint32_t term = 0;
    double value = 0; ///< as conditions compare it
    bool operator==(const TermValue&) const = default;
};

/// A condition: its terms in an order in which each comes after what it uses; the last is the
/// whole.
struct Condition {
    Place place;
    std::string text; ///< as written
    std::vector<Term> terms;

    /// Whether any term is one of these.
    [[nodiscard]] bool asks(std::initializer_list<Operation> about) const {
        return std::any_of(terms.begin(), terms.end(), [&](const Term& term) {
            return std::find(about.begin(), about.end(), term.operation) != about.end();
        });
    }
    /// One term as written.
    [[nodiscard]] std::string text_of(std::uint32_t term) const {
        return text.substr(terms[term].text_from, terms[term].text_to - terms[term].text_from);
    }
};

} // namespace hestrel::plan
