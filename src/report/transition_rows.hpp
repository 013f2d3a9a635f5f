#pragma once
// The transitions of a walk, as the page lists them.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <optional>
#include <string>
#include <vector>

namespace hestrel::report {

/// One transition and what came of it.
struct TransitionRow {
    const walk::Transition* transition = nullptr;
    const walk::TransitionOutcome* outcome = nullptr;
    std::string cause;
    std::string levels;                ///< that it asked for or showed, in order
    std::optional<plan::Micros> slack; ///< the least of them that players could outrun

    [[nodiscard]] plan::Micros took() const { return outcome->settled - transition->fired; }
    /// It took no time and loaded nothing.
    [[nodiscard]] bool is_quiet() const { return levels.empty() && took().count == 0; }
};

/// In order of firing, without those of other machines.
std::vector<TransitionRow> transition_rows(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::report
