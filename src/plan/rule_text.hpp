#pragma once
// What a finding's name means, for people.

#include "plan/finding.hpp"

#include <string_view>

namespace hestrel::plan {

/// A kind of finding: what it is called, how bad it is, what it means, and what to do about it.
struct RuleText {
    std::string_view name;
    Severity severity = Severity::error;
    std::string_view sentence; ///< what it finds
    std::string_view help;     ///< why that matters and what to do, with an example
};

} // namespace hestrel::plan
