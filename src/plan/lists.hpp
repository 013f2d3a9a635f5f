#pragma once
// Small questions to lists of ids.

#include "plan/ids.hpp"

#include <algorithm>
#include <unordered_set>
#include <vector>

namespace hestrel::plan {

template <class T>
bool contains(const std::vector<T>& all, const T& one) {
    return std::find(all.begin(), all.end(), one) != all.end();
}

/// Whether a sorted list holds `one`.
template <class T>
bool among(const std::vector<T>& sorted, const T& one) {
    return std::binary_search(sorted.begin(), sorted.end(), one);
}

/// Appends `one` where it is not there yet.
inline void append_new(std::vector<LevelId>& levels, LevelId one) {
    if (!contains(levels, one)) levels.push_back(one);
}

/// Appends those of `more` that are not there yet.
inline void append_new(std::vector<LevelId>& levels, const std::vector<LevelId>& more) {
    std::unordered_set<std::uint32_t> seen;
    for (const LevelId level : levels) seen.insert(level.value);
    for (const LevelId level : more) {
        if (seen.insert(level.value).second) levels.push_back(level);
    }
}

} // namespace hestrel::plan
