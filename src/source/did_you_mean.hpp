#pragma once
// The nearest right name for a wrong one.

#include "plan/ids.hpp"

#include <algorithm>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tsl/robin_map.h>
#include <vector>

namespace hestrel::source {

/// The candidate that differs from `wrong` in the fewest typed characters (a swap of neighbours
/// counts as one), if that is few enough to be a slip; empty otherwise. Of equals, the first.
std::string_view nearest(std::string_view wrong, std::span<const std::string_view> candidates);

/// Whether the two differ only in capital letters.
bool differs_only_in_capitals(std::string_view one, std::string_view other);

/// What to append to a message about a wrong name: "; did you mean X?", "; X is spelled with other
/// capitals", or nothing.
std::string hint(std::string_view wrong, std::span<const std::string_view> candidates);
/// The same among names some of which are `level.name`: these may also be meant by their plain
/// ones.
std::string hint_by_parts(std::string_view wrong, std::span<const std::string_view> candidates);
/// What is wrong with the first of `names` that nothing in a table is called; empty where all are
/// known, as "all" always is.
template <class Id, class T>
std::string unknown_in(const plan::Table<Id, T>& table, const std::vector<std::string>& names,
                       std::string_view kind) {
    std::vector<std::string_view> known;
    for (const T& each : table) known.push_back(each.name);
    for (const std::string& name : names) {
        if (name != "all" && std::find(known.begin(), known.end(), name) == known.end())
            return "no " + std::string(kind) + " of this plan is called \"" + name + "\"" +
                   hint(name, known);
    }
    return {};
}
/// "; did you mean X?"
std::string meant_hint(std::string_view right);
/// What `hint` says where `right` differs only in capitals; nothing where it is empty.
std::string capitals_hint(std::string_view right);

/// What a message that ends in such a hint says: the name that stands there, the last in quotes
/// before the hint, and the one that may be meant.
struct Slip {
    std::string_view wrong;
    std::string_view right;
};
/// Nothing where there is no hint.
std::optional<Slip> slip_in(std::string_view message);

/// Names by their small letters, so that one that differs only in capitals is found at once.
class SmallLetters {
public:
    /// The first that differs from `wrong` only in capitals; `names` only grows between calls.
    std::string_view find(std::string_view wrong, std::span<const std::string_view> names);

private:
    tsl::robin_map<std::string, std::string_view> names_;
    std::size_t known_ = 0; ///< so many of them are in it
};

/// Looking for the nearest of many names, for many wrong ones, takes its time: so many comparisons
/// and no more. After that only capitals are told.
class HintBudget {
public:
    [[nodiscard]] bool spend(std::size_t comparisons) {
        if (comparisons > left_) return false;
        left_ -= comparisons;
        return true;
    }

private:
    std::size_t left_ = 200'000;
};

} // namespace hestrel::source
