#pragma once
// Names in the files of a plan: which one stands at the cursor, where it is defined and used.

#include "serve/workspace.hpp"

#include <optional>
#include <string>
#include <vector>

namespace hestrel::serve {

/// A mention of a name, and where in its file it stands.
struct Mention {
    const source::NameUse* use = nullptr;
    const PlanFile* file = nullptr;
    Stretch stretch;
};

/// The mention that covers a byte of a file; nothing where none does.
std::optional<Mention> mention_at(const PlanRead& read, std::uint32_t file, std::size_t offset);

/// Every mention of the same thing, each place once: definitions first, then in file order.
std::vector<Mention> mentions_of(const PlanRead& read, const source::NameUse& use);

/// The name with that of what it belongs to: "front-desk.begin".
std::string full_name(const source::NameUse& use);

/// `{"uri": …, "range": …}`.
source::Json location_json(const Mention& mention);

} // namespace hestrel::serve
