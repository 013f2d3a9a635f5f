#include "report/sessions_section.hpp"

#include "figure/svg.hpp"
#include "report/html_table.hpp"
#include "source/xml.hpp"
#include "tables/role_tables.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/roles.hpp"
#include "walk/summary.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::report {

using tables::short_time;

namespace {

/// Which device is worst in which role.
std::string matrix_table(const plan::Plan& plan, const walk::RoleMatrix& matrix) {
    std::vector<HtmlTable::Column> columns{{tables::roles_text(plan, matrix)}};
    for (std::size_t column = 0; column < matrix.columns.size(); ++column)
        columns.push_back({tables::column_text(plan, matrix, column)});
    HtmlTable table(std::move(columns));
    for (std::size_t row = 0; row < matrix.rows.size(); ++row) {
        const std::string& name = plan.devices[matrix.rows[row]].name;
        std::vector<HtmlTable::Cell> cells{{name, name}};
        for (std::size_t column = 0; column < matrix.columns.size(); ++column) {
            const walk::RoleOutcome& outcome = matrix.at(row, column);
            const bool is_worst = &outcome == &matrix.outcomes[matrix.worst];
            cells.emplace_back(tables::role_outcome_text(plan, matrix, outcome) +
                                   (is_worst ? " – the worst" : ""),
                               std::to_string(static_cast<int>(outcome.worst->verdict)),
                               grade_of(outcome.worst->verdict));
        }
        table.row(std::move(cells));
    }
    return table.html("Which device is worst in which role");
}

/// Transitions in which any machine waits for another, those first in which it waits longest.
std::string waits_table(const plan::Plan& plan, std::span<const walk::Record> session) {
    struct Row {
        const walk::Record* record;
        const walk::WaitedFor* waited;
    };
    std::vector<Row> rows;
    for (const walk::Record& record : session) {
        for (const walk::WaitedFor& each : record.waited) rows.push_back({&record, &each});
    }
    if (rows.empty()) return "<p>No machine waits for another.</p>\n";
    std::stable_sort(rows.begin(), rows.end(), [](const Row& one, const Row& other) {
        return one.waited->waited > other.waited->waited;
    });
    HtmlTable table({{"transition"}, {"machine"}, {"waits", true}, {"longest for"}});
    for (const auto& [record, waited] : rows) {
        const auto& machines = plan.routes[record->route].machines;
        const walk::Transition& transition = record->transitions[waited->transition - 1];
        const std::string cause =
            fmt::format("{} {}", transition.number, tables::cause_text(plan, transition));
        table.row({{cause, std::to_string(transition.number)},
                   {machines[record->machine].name, machines[record->machine].name},
                   waited->waited,
                   {machines[waited->whom].name, machines[waited->whom].name}});
    }
    return table.html("Who waits for whom");
}

} // namespace

std::vector<std::size_t> drawn_sessions(std::span<const walk::Record> records) {
    const std::vector<std::span<const walk::Record>> sessions = walk::sessions_in(records);
    const auto worst_of = [](std::span<const walk::Record> session) -> const walk::Record& {
        return *std::min_element(session.begin(), session.end(), &walk::worse);
    };
    std::vector<std::size_t> drawn;
    for (std::size_t i = 0; i < sessions.size(); ++i) {
        const auto same = std::find_if(drawn.begin(), drawn.end(), [&](std::size_t other) {
            return sessions[other].front().route == sessions[i].front().route;
        });
        if (same == drawn.end())
            drawn.push_back(i);
        else if (walk::worse(worst_of(sessions[i]), worst_of(sessions[*same])))
            *same = i;
    }
    return drawn;
}

std::string sessions_section(const plan::Plan& plan, std::span<const walk::Record> records,
                             const std::vector<std::string>& pictures) {
    const std::vector<std::span<const walk::Record>> sessions = walk::sessions_in(records);
    std::string html;
    for (const walk::RoleMatrix& matrix : walk::role_matrices(plan, records)) {
        html += fmt::format("<h3>{}: which device in which role</h3>\n",
                            source::xml_text(plan.routes[matrix.route].name));
        html += matrix_table(plan, matrix);
    }
    for (std::size_t i = 0; i < sessions.size(); ++i) {
        const walk::Record& keeper = sessions[i].front();
        html +=
            fmt::format("<h3>{}</h3>\n",
                        source::xml_text(fmt::format("{} on {}", plan.routes[keeper.route].name,
                                                     walk::devices_text(plan, keeper.devices))));
        if (i < pictures.size() && !pictures[i].empty())
            html += figure::figure_html(pictures[i], fmt::format("s{}", i));
        html += waits_table(plan, sessions[i]);
    }
    return html;
}

} // namespace hestrel::report
