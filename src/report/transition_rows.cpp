#include "report/transition_rows.hpp"

#include "tables/walk_tables.hpp"
#include "tables/words.hpp"

namespace hestrel::report {

std::vector<TransitionRow> transition_rows(const plan::Plan& plan, const walk::Record& record) {
    std::vector<TransitionRow> all(record.transitions.size());
    for (std::size_t i = 0; i < all.size(); ++i) {
        all[i].transition = &record.transitions[i];
        all[i].outcome = &record.transition_outcomes[i];
        if (!record.transitions[i].elsewhere)
            all[i].cause = tables::cause_text(plan, record.transitions[i]);
    }
    for (const walk::LevelOutcome& outcome : record.outcomes) {
        TransitionRow& row = all[outcome.transition - 1];
        row.levels += (row.levels.empty() ? "" : ", ") + plan.levels[outcome.level].name;
        if (outcome.slack && !outcome.held && (!row.slack || *outcome.slack < *row.slack))
            row.slack = outcome.slack;
    }
    std::erase_if(all, [](const TransitionRow& row) { return row.transition->elsewhere; });
    return all;
}

} // namespace hestrel::report
