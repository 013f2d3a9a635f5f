#pragma once
// YAML values as JSON, by YAML's core schema.

#include "source/yaml_tree.hpp"

#include <nlohmann/json_fwd.hpp>

namespace hestrel::source {

/// Anchors and merge keys resolved; only `true` and `false` are booleans; a key that stands twice
/// counts once, the last time.
nlohmann::ordered_json yaml_as_json(const Value& value);

} // namespace hestrel::source
