#pragma once
// The part of the page about what would mend the plan.

#include "advise/advice.hpp"
#include "plan/plan.hpp"
#include "tables/advice_tables.hpp"

#include <string>

namespace hestrel::report {

/// All that `advise` works out, and what to set to try it.
struct Advice {
    advise::Advised advised;
    tables::AdviceSettings settings;
};

/// As HTML; empty where there is nothing to advise.
std::string advice_section(const plan::Plan& plan, const Advice& advice);

} // namespace hestrel::report
