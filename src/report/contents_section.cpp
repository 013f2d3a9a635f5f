#include "report/contents_section.hpp"

#include "report/html_table.hpp"
#include "study/study.hpp"
#include "tables/contents_table.hpp"

namespace hestrel::report {

std::string contents_section(const plan::Plan& plan) {
    if (plan.purposes.empty()) return {};
    const study::Study study(plan, {});
    const tables::Columns<study::Contents> said = tables::content_columns(plan);
    std::vector<HtmlTable::Column> columns;
    for (const auto& column : said) columns.push_back({column.name});
    HtmlTable table(std::move(columns));
    for (const study::Contents& contents : study::contents_of(study)) {
        std::vector<HtmlTable::Cell> row;
        for (const auto& column : said) {
            const std::string text = column.of(contents).text();
            row.push_back(HtmlTable::graded({text, text}, text == "missing" ? "bad" : ""));
        }
        table.row(std::move(row), plan.levels[contents.level].name);
    }
    return "<p>What each level provides by itself (own), what it needs for its purpose and has "
           "from "
           "levels that can be shown with it (others), and what nothing provides (missing).</p>\n" +
           table.html("What levels provide and what they lack");
}

} // namespace hestrel::report
