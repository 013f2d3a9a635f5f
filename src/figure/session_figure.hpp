#pragma once
// The machines of a session below one another on one time axis: loads and memory of each, and how
// long orders of the game's keeper are on their way (docs/model.md section 11).

#include "figure/sheet.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <span>

namespace hestrel::figure {

/// More machines are not drawn; the figure says how many there are.
constexpr std::size_t most_machines_drawn = 8;

/// `machines`: the records of one session, the keeper's first.
Figure session_figure(const plan::Plan& plan, std::span<const walk::Record> machines);

} // namespace hestrel::figure
