#pragma once
// A finding: what is wrong or suspicious, where, and how bad (docs/model.md section 10).

#include "plan/place.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <optional>
#include <string>

namespace hestrel::plan {

enum class Severity : std::uint8_t { error, warning, note };

/// One finding about one place. `name` is stable and kebab-case; `message` is one sentence.
struct Finding {
    Severity severity = Severity::error;
    std::string name;
    Place place;
    std::string message;
    std::optional<Thing> about = std::nullopt; ///< what it is about, where `allow` could stand
};

} // namespace hestrel::plan
