#pragma once
// What the names of findings mean, for people: docs/findings.md, which is part of the program.

#include "plan/finding_kinds.hpp"

#include <string>

namespace hestrel::tables {

struct FindingText {
    std::string sentence; ///< what it finds
    std::string help;     ///< why that matters and what to do, with an example; ends with a newline
    std::string heading;  ///< how bad it is and who finds it, as the page says
};

/// Of one of `plan::finding_kinds`. Throws std::logic_error where the page lacks it.
const FindingText& text_of(const plan::FindingKind& kind);

/// All that the page says of it: its name and severity, the sentence, the help.
std::string explained(const plan::FindingKind& kind);

} // namespace hestrel::tables
