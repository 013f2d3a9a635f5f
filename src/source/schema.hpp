#pragma once
// What a plan file may say, for machines and for people, both made from the table of keys.

#include <string>

namespace hestrel::source {

/// The JSON Schema (draft 7) of one plan file, with descriptions: for editors to complete and check
/// from. It accepts every file that the reader takes; names, places and sums are the reader's.
std::string plan_schema();

/// Every key with its unit, default, meaning and an example, as Markdown: the second half of
/// docs/plan-format.md.
std::string plan_keys_markdown();

} // namespace hestrel::source
