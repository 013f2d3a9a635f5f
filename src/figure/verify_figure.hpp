#pragma once
// The verify figure: how long each load took in a play, above how long it takes by the plan, on one
// axis of time.

#include "figure/sheet.hpp"
#include "verify/overall.hpp"

#include <string>

namespace hestrel::figure {

/// Of one session, on the game's clock; where there are too many loads, those that differ most.
Figure verify_figure(const plan::Plan& plan, const std::string& log,
                     const verify::SessionResult& session);

} // namespace hestrel::figure
