#pragma once
// What levels provide, and what they need for what they are for: levels down, words across.

#include "study/contents.hpp"
#include "tables/table.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// Of a word and a level: "own" (it provides it), "others" (it needs it, and something that can be
/// shown with it provides it), "missing" (it needs it, and nothing does), or nothing.
std::string_view content_word(const plan::Plan& plan, const study::Contents& contents,
                              plan::WordId word);
/// All words that levels provide or purposes need, in the order in which the plan names them.
std::vector<plan::WordId> content_words(const plan::Plan& plan);

/// `level,purpose,<word>…`.
Columns<study::Contents> content_columns(const plan::Plan& plan);
std::string contents_csv(const study::Study& study);

} // namespace hestrel::tables
