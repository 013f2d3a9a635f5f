#pragma once
// Values written as one line of YAML.

#include "source/yaml_tree.hpp"

#include <string>
#include <string_view>

namespace hestrel::source {

/// `{min: [0, 0, 0], max: [1, 1, 1]}`: reads as the same value again. Aliases and merge keys are
/// written out.
std::string flow_yaml(const Value& value);

/// A text as a scalar that reads as that text: quoted only where it must be.
std::string scalar_yaml(std::string_view text);

} // namespace hestrel::source
