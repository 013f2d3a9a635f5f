#pragma once
// The saved store between runs, as JSON: `{"facts": {"saved_round": 2}, "checkpoint":
// "quay.steps"}`.

#include "flow/facts.hpp"
#include "plan/plan.hpp"

#include <stdexcept>
#include <string>

namespace hestrel::tables {

/// A saved store that is none for this plan; the message says what is wrong.
class SavedStoreError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// Throws SavedStoreError on broken JSON, facts that the plan does not save, values they can't
/// have, and places that are none.
flow::KeptStore parse_saved_store(const plan::Plan& plan, const std::string& text);

std::string saved_store_json(const plan::Plan& plan, const flow::KeptStore& store);

} // namespace hestrel::tables
