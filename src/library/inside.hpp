#pragma once
// What the public headers do not show: the plan behind a `Plan`, and findings with names for ids.

#include <hestrel/plan.hpp>

#include "plan/finding.hpp"
#include "plan/names.hpp"
#include "plan/plan.hpp"
#include "source/did_you_mean.hpp"

#include <optional>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel {

struct Plan::Inside {
    plan::Plan plan;
};

namespace library {

Finding public_finding(const plan::Plan& plan, const plan::Finding& finding);
std::vector<Finding> public_findings(const plan::Plan& plan,
                                     const std::vector<plan::Finding>& findings);

/// The name of a thing; empty where the id is unset.
template <class Id, class T>
std::string name_or_none(const plan::Table<Id, T>& table, Id id) {
    return id ? table[id].name : std::string();
}

inline std::optional<double> seconds(const std::optional<plan::Micros>& time) {
    return time ? std::optional(plan::in_seconds(*time)) : std::nullopt;
}

/// The things that were named; throws std::invalid_argument for a name that the table lacks.
template <class Id, class T>
std::vector<Id> chosen(const plan::Table<Id, T>& table, const std::vector<std::string>& names,
                       std::string_view kind) {
    const std::string unknown = source::unknown_in(table, names, kind);
    if (!unknown.empty()) throw std::invalid_argument(unknown);
    return plan::named_in(table, names);
}

} // namespace library
} // namespace hestrel
