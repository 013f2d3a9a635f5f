#pragma once
// What frames take while nothing is attached or released: `base`, and what is shown (docs/model.md
// section 4). Such frames are not laid out one by one.

#include "loading/catalogue.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

namespace hestrel::walk {

/// Sets the longest frame and the stretches of slow frames from the record's events and frames.
/// Boots, standstills and times under a veil are left out.
void add_frames(const plan::Plan& plan, const loading::Catalogue& catalogue, Record& record);

} // namespace hestrel::walk
