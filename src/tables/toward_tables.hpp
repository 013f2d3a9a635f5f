#pragma once
// A situation that was looked for, and what came of it.

#include "explore/explorer.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// "12 moves lead to a situation in which memory > 1500, on handheld", and the way; or that there
/// is none, or that not all could be looked at.
std::string toward_text(const explore::Explorer& explorer);
/// `edition,toward,found,device,moves,situations,complete,way`, of one edition each.
std::string toward_csv(const std::vector<const explore::Explorer*>& explorers);
/// The same as an object.
std::string toward_json(const explore::Explorer& explorer);

} // namespace hestrel::tables
