#pragma once
// A route put into a plan file, in place: comments and layout kept.

#include <string>

namespace hestrel::edit {

/// The text of a plan file with a route put behind its others. `block`: the route under its name,
/// by indentation from the margin, as a plan writes it. Throws ApplyError where the file can't be
/// added to in place.
std::string with_route(const std::string& text, const std::string& name, const std::string& block);

} // namespace hestrel::edit
