#pragma once
// Which levels can be there at one time, as far as that can be told without simulating.

#include "study/study.hpp"

#include <cstddef>
#include <vector>

namespace hestrel::study {

/// Levels that can be there together, as sets that a step can join; what belongs to no set of its
/// own (persisting, near, brought from anywhere) can be there with any.
class Together {
public:
    explicit Together(const Study& study);
    [[nodiscard]] bool can_be(plan::LevelId one, plan::LevelId other) {
        return with_any_[one.value] || with_any_[other.value] || root(one) == root(other);
    }

private:
    std::size_t root(plan::LevelId level) {
        std::size_t at = level.value;
        while (set_[at] != at) at = set_[at] = set_[set_[at]];
        return at;
    }
    void join(plan::LevelId one, plan::LevelId other) { set_[root(one)] = root(other); }

    std::vector<std::size_t> set_;
    std::vector<bool> with_any_;
};

} // namespace hestrel::study
