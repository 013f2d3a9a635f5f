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

/// A mention with its place; nothing where it is written in a way that has none, as with escapes.
std::optional<Mention> placed(const PlanRead& read, const source::NameUse& use);

/// The mention that covers a byte of a file, which must be as it was when the plan was read;
/// nothing where none does.
std::optional<Mention> mention_at(const PlanRead& read, const std::string& path,
                                  const Document& document, std::size_t offset);

/// Every mention of the same thing, each place once: definitions first, then in file order.
std::vector<Mention> mentions_of(const PlanRead& read, const source::NameUse& use);

/// The name with that of what it belongs to: "front-desk.begin".
std::string full_name(const source::NameUse& use);

/// `{"uri": …, "range": …}`.
source::Json location_json(const Mention& mention);

} // namespace hestrel::serve
