#include "tables/toward_tables.hpp"

#include "explore/explored.hpp"
#include "source/json.hpp"
#include "tables/explore_tables.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>

namespace hestrel::tables {

using explore::Explorer;

namespace {

struct Row {
    const Explorer* explorer;

    [[nodiscard]] const std::string& toward() const {
        return explorer->plan().conditions[explorer->options().toward].text;
    }
    [[nodiscard]] explore::Way way() const {
        return explorer->found() ? explorer->trace_to(*explorer->found()) : explore::Way{};
    }
    /// On which it was found; empty where that makes no difference.
    [[nodiscard]] std::string device() const {
        if (!explorer->found() || !explorer->goal()->asks_for_memory()) return {};
        const std::size_t device = explorer->goal()->holds_on(explorer->row(*explorer->found()));
        return explorer->plan().devices[explorer->options().devices[device]].name;
    }
    [[nodiscard]] std::vector<std::string> moves() const {
        std::vector<std::string> moves;
        const explore::Way taken = way();
        for (std::size_t i = 1; i < taken.size(); ++i)
            moves.push_back(move_text(*explorer, taken[i]));
        return moves;
    }
};

const Columns<Row>& columns() {
    static const Columns<Row> all{
        {"edition", [](const Row& row) { return explore::edition_name(*row.explorer); }},
        {"toward", [](const Row& row) { return row.toward(); }},
        {"found", [](const Row& row) { return row.explorer->found().has_value(); }},
        {"device", [](const Row& row) { return row.device(); }},
        {"moves", [](const Row& row) { return row.moves().size(); }},
        {"situations", [](const Row& row) { return row.explorer->situations(); }},
        {"complete",
         [](const Row& row) { return row.explorer->found() || row.explorer->complete(); }},
        {"way", [](const Row& row) { return row.moves(); }}};
    return all;
}

} // namespace

std::string toward_text(const Explorer& explorer) {
    const Row row{&explorer};
    const std::string situations = counted(explorer.situations(), "situation");
    if (!explorer.found()) {
        return explorer.complete()
                   ? fmt::format("in none of {} {} holds\n", situations, row.toward())
                   : fmt::format("{} held in none of {}: cut off at a limit\n", row.toward(),
                                 situations);
    }
    const std::size_t moves = row.moves().size();
    const std::string device = row.device();
    return fmt::format("{} {} to a situation in which {}{} holds ({} looked for)\n    {}\n",
                       counted(moves, "move"), moves == 1 ? "leads" : "lead", row.toward(),
                       device.empty() ? "" : " on " + device, situations,
                       way_text(explorer, row.way()));
}

std::string toward_csv(const std::vector<const Explorer*>& explorers) {
    std::vector<Row> rows;
    for (const Explorer* each : explorers) rows.push_back({each});
    return csv_of(columns(), rows);
}

std::string toward_json(const Explorer& explorer) {
    return source::file_text(json_of_row(columns(), Row{&explorer}));
}

} // namespace hestrel::tables
