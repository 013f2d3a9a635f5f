#pragma once
// A step is a mapping with one key that names it, and perhaps some that stand beside it.

#include "source/read_context.hpp"

#include <string_view>

namespace hestrel::source {

/// The key that names a step; empty, and a finding, where there is not exactly one.
std::string_view step_name(ReadContext& reading, const Value& value, const Fields& fields,
                           const ObjectKeys& keys);

} // namespace hestrel::source
