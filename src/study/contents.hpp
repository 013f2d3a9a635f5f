#pragma once
// What levels are for, and what of that is not there (docs/model.md section 6).

#include "study/study.hpp"

#include <vector>

namespace hestrel::study {

/// One level and what it needs.
struct Contents {
    plan::LevelId level;
    std::vector<plan::WordId> from_others; ///< needed, not its own, and provided by what can be
                                           ///< shown with it
    std::vector<plan::WordId> missing;     ///< needed, and provided by nothing that can be
};

/// Every level that has a purpose or provides anything, in plan order.
std::vector<Contents> contents_of(const Study& study);

} // namespace hestrel::study
