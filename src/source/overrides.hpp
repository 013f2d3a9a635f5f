#pragma once
// `--set path=value`: a value tried without editing the plan.

#include "plan/place.hpp"

#include <string>
#include <vector>

namespace hestrel::source {

/// One value to put at a path of keys, `devices.handheld.read.rate` = `60`. Elements of lists are
/// named by their number, from 0.
struct Override {
    std::vector<std::string> path;
    std::string value; ///< YAML
};

/// Cuts `path=value`; throws std::invalid_argument with the reason where it is none.
Override parse_override(const std::string& text);

} // namespace hestrel::source
