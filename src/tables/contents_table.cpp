#include "tables/contents_table.hpp"

#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <set>

namespace hestrel::tables {

using plan::WordId;
using study::Contents;

std::string_view content_word(const plan::Plan& plan, const Contents& contents, WordId word) {
    const plan::Level& level = plan.levels[contents.level];
    if (plan::contains(contents.missing, word)) return "missing";
    if (plan::contains(contents.from_others, word)) return "others";
    return plan::has_itself(plan, level, word) ? "own" : "";
}

std::vector<WordId> content_words(const plan::Plan& plan) {
    std::set<WordId> words;
    for (const plan::Level& level : plan.levels)
        words.insert(level.provides.begin(), level.provides.end());
    for (const plan::Purpose& purpose : plan.purposes)
        words.insert(purpose.needs.begin(), purpose.needs.end());
    return {words.begin(), words.end()};
}

Columns<Contents> content_columns(const plan::Plan& plan) {
    Columns<Contents> columns{
        {"level", [&](const Contents& row) { return plan.levels[row.level].name; }},
        {"purpose", [&](const Contents& row) {
             const plan::PurposeId purpose = plan.levels[row.level].purpose;
             return purpose ? plan.purposes[purpose].name : std::string();
         }}};
    for (const WordId word : content_words(plan))
        columns.push_back({plan.words[word], [&, word](const Contents& row) {
                               return content_word(plan, row, word);
                           }});
    return columns;
}

std::string contents_csv(const study::Study& study) {
    return csv_of(content_columns(study.plan), study::contents_of(study));
}

} // namespace hestrel::tables
