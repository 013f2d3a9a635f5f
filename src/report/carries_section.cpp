#include "report/carries_section.hpp"

#include "plan/names.hpp"
#include "report/html_table.hpp"
#include "tables/carries_table.hpp"

#include <array>
#include <map>
#include <utility>

namespace hestrel::report {

namespace {

/// How often each thing became of a fact in one kind of transition.
using Counts = std::array<std::size_t, 5>;

} // namespace

std::string carries_section(const plan::Plan& plan, const std::vector<walk::Record>& records,
                            const std::vector<ExploredEdition>& editions) {
    flow::Carries carries;
    for (const walk::Record& record : records) add(carries, record.carries);
    for (const ExploredEdition& edition : editions)
        add(carries, tables::explored_carries(*edition.explored.explorer));
    std::map<std::pair<plan::FactId, flow::CarryCause>, Counts> rows;
    for (const auto& [carried, times] : carries)
        rows[{carried.fact, carried.by}].at(static_cast<std::size_t>(carried.how)) += times;
    if (rows.empty()) return {};
    HtmlTable table({{"fact"},
                     {"lifetime"},
                     {"in"},
                     {"kept", true},
                     {"set", true},
                     {"reset", true},
                     {"saved", true},
                     {"restored", true}});
    for (const auto& [key, counts] : rows) {
        const plan::Fact& fact = plan.facts[key.first];
        std::vector<HtmlTable::Cell> row{fact.name, std::string(plan::name_of(fact.lifetime)),
                                         flow::name_of(plan, key.second)};
        for (const std::size_t count : counts)
            row.push_back(count == 0 ? HtmlTable::Cell{} : HtmlTable::Cell{count});
        table.row(std::move(row));
    }
    return "<p>What becomes of each fact that has another value than at the beginning, over all "
           "walks and all moves that players could make. Counts of moves are of those that go "
           "differently.</p>\n" +
           table.html("What becomes of facts in transitions");
}

} // namespace hestrel::report
