#include "tables/verify_tables.hpp"

#include "plan/names.hpp"
#include "tables/findings.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>

namespace hestrel::tables {

using plan::Micros;
using verify::Outcome;
using walk::Cue;

namespace {

/// One of something that stands in a session of a play.
template <class Thing>
struct Of {
    const verify::PlayResult* play;
    const verify::Log* log;
    std::size_t number; ///< of the session, from 1
    const verify::SessionResult* session;
    const Thing* thing;
    std::size_t index; ///< among those of the session

    /// On the game's clock.
    [[nodiscard]] Micros clock(Micros at) const { return at + session->session.boot_end; }
};

template <class Thing, class Things>
std::vector<Of<Thing>> all_of(const Plays& plays, Things&& things) {
    std::vector<Of<Thing>> all;
    for (std::size_t play = 0; play < plays.results.size(); ++play) {
        const verify::PlayResult& result = plays.results[play];
        for (std::size_t i = 0; i < result.sessions.size(); ++i) {
            const std::vector<Thing>& in = things(result.sessions[i]);
            for (std::size_t index = 0; index < in.size(); ++index)
                all.push_back(
                    {&result, &plays.logs[play], i + 1, &result.sessions[i], &in[index], index});
        }
    }
    return all;
}

template <class Thing>
Columns<Of<Thing>> place_columns() {
    return {{"play", [](const Of<Thing>& of) { return of.play->name; }},
            {"session", [](const Of<Thing>& of) { return of.number; }}};
}

std::string_view word_of(Cue::What what) {
    constexpr std::array<std::string_view, 8> words{"fired",          "pressed",  "after",
                                                    "came-near",      "went-far", "came by itself",
                                                    "went by itself", "fact-set"};
    return words.at(static_cast<std::size_t>(what));
}

std::string subject_of(const plan::Plan& plan, const Cue& cue) {
    switch (cue.what) {
    case Cue::What::fired: return plan.triggers[plan::TriggerId{cue.subject}].name;
    case Cue::What::pressed: return plan::item_name(plan, plan::ItemId{cue.subject});
    case Cue::What::after: return plan.menus[plan::MenuId{cue.subject}].name;
    case Cue::What::fact_set: return plan.facts[plan::FactId{cue.subject}].name;
    default: return plan.levels[plan::LevelId{cue.subject}].name;
    }
}

std::string_view word_of(flow::Objection objection) {
    constexpr std::array<std::string_view, 12> words{"as planned",   "not for that player",
                                                     "not live",     "does not hold",
                                                     "spent",        "running",
                                                     "too soon",     "not open",
                                                     "never comes",  "never streams",
                                                     "session over", "never booted"};
    return words.at(static_cast<std::size_t>(objection));
}

std::string_view word_of(Outcome::What what) {
    constexpr std::array<std::string_view, 5> words{"as planned", "later", "earlier", "missing",
                                                    "unplanned"};
    return words.at(static_cast<std::size_t>(what));
}

std::string event_word(walk::EventKind kind) {
    return std::string(tables::word_of(kind));
}

/// What a transition of a session is.
std::string cause_of(const plan::Plan& plan, const verify::SessionResult& session,
                     std::uint32_t number) {
    if (number == 0) return {};
    return cause_text(plan, session.replay.record.transitions[number - 1]);
}

struct PlayRow {
    const verify::PlayResult* play;
    verify::PlaySummary summary;
};
std::vector<PlayRow> play_rows(const Plays& plays) {
    std::vector<PlayRow> rows;
    for (std::size_t i = 0; i < plays.results.size(); ++i)
        rows.push_back({&plays.results[i], verify::summary_of(plays.logs[i], plays.results[i])});
    return rows;
}
Columns<PlayRow> play_columns() {
    return {{"play", [](const PlayRow& row) { return row.play->name; }},
            {"sessions", [](const PlayRow& row) { return row.play->sessions.size(); }},
            {"firings", [](const PlayRow& row) { return row.summary.firings; }},
            {"unplanned_firings", [](const PlayRow& row) { return row.summary.unplanned; }},
            {"loads", [](const PlayRow& row) { return row.summary.loads; }},
            {"later", [](const PlayRow& row) { return row.summary.later; }},
            {"earlier", [](const PlayRow& row) { return row.summary.earlier; }},
            {"missing", [](const PlayRow& row) { return row.summary.missing; }},
            {"by_itself", [](const PlayRow& row) { return row.summary.by_itself; }},
            {"latest_s", [](const PlayRow& row) { return row.summary.latest; }},
            {"most_over_mib", [](const PlayRow& row) { return row.summary.most_over; }},
            {"hitches", [](const PlayRow& row) { return row.summary.hitches; }},
            {"planned_hitches", [](const PlayRow& row) { return row.summary.planned_hitches; }},
            {"findings", [](const PlayRow& row) { return row.play->findings.size(); }}};
}

Columns<verify::LoadSpread> spread_columns(const plan::Plan& plan, const Plays& plays) {
    using Row = verify::LoadSpread;
    return {{"cause", [&](const Row& row) { return cause_text(plan, row); }},
            {"level", [&](const Row& row) { return plan.levels[row.level].name; }},
            {"plays", [](const Row& row) { return row.plays; }},
            {"loads", [](const Row& row) { return row.loads; }},
            {"late", [](const Row& row) { return row.late; }},
            {"missing", [](const Row& row) { return row.missing; }},
            {"planned_s", [](const Row& row) { return row.planned; }},
            {"least_s", [](const Row& row) { return row.least; }},
            {"median_s", [](const Row& row) { return row.median; }},
            {"most_s", [](const Row& row) { return row.most; }},
            {"worst_play", [&](const Row& row) {
                 return row.most ? plays.results[row.worst_play].name : std::string();
             }}};
}

} // namespace

std::string cause_text(const plan::Plan& plan, const verify::LoadSpread& spread) {
    if (!spread.list && !spread.near) return "boot";
    return plan::cause_name(plan, spread.list, spread.near);
}

std::string plays_csv(const Plays& plays) {
    return csv_of(play_columns(), play_rows(plays));
}

std::string told_csv(const plan::Plan& plan, const Plays& plays) {
    using Row = Of<Cue>;
    Columns<Row> columns = place_columns<Cue>();
    const auto judged = [](const Row& row) -> const walk::Judged& {
        return row.session->replay.judged[row.index];
    };
    columns.push_back({"time_s", [](const Row& row) { return row.clock(row.thing->at); }});
    columns.push_back({"event", [](const Row& row) { return word_of(row.thing->what); }});
    columns.push_back({"subject", [&](const Row& row) { return subject_of(plan, *row.thing); }});
    columns.push_back({"player", [](const Row& row) {
                           const flow::PlayerId player = row.thing->player;
                           return player ? row.play->play.players[player.value] : std::string();
                       }});
    columns.push_back(
        {"plan_says", [&](const Row& row) { return word_of(judged(row).objection); }});
    columns.push_back({"transition", [&](const Row& row) {
                           const std::uint32_t number = judged(row).transition;
                           return number == 0 ? Cell() : Cell(number);
                       }});
    columns.push_back({"line", [](const Row& row) {
                           const std::size_t line = row.session->session.cue_lines[row.index];
                           return row.log->events[line].place.line;
                       }});
    std::vector<Row> rows = all_of<Cue>(
        plays, [](const auto& session) -> const auto& { return session.session.script.cues; });
    std::erase_if(rows, [](const Row& row) { return row.thing->says_where(); });
    return csv_of(columns, rows);
}

std::string compared_csv(const plan::Plan& plan, const Plays& plays) {
    using Row = Of<Outcome>;
    Columns<Row> columns = place_columns<Outcome>();
    const auto clock = [](const Row& row, const std::optional<Micros>& at) {
        return at ? std::optional(row.clock(*at)) : std::nullopt;
    };
    columns.push_back({"transition", [](const Row& row) {
                           return row.thing->transition == 0 ? Cell() : Cell(row.thing->transition);
                       }});
    columns.push_back({"cause", [&](const Row& row) {
                           return cause_of(plan, *row.session, row.thing->transition);
                       }});
    columns.push_back({"piece", [&](const Row& row) {
                           return piece_name(plan, loading::PieceId{row.thing->subject});
                       }});
    columns.push_back({"event", [](const Row& row) { return event_word(row.thing->kind); }});
    columns.push_back(
        {"planned_s", [&](const Row& row) { return clock(row, row.thing->planned); }});
    columns.push_back(
        {"measured_s", [&](const Row& row) { return clock(row, row.thing->measured); }});
    columns.push_back({"difference_s", [](const Row& row) {
                           const bool both = row.thing->planned && row.thing->measured;
                           return both ? Cell(row.thing->off) : Cell();
                       }});
    columns.push_back({"verdict", [](const Row& row) {
                           return row.thing->adopted ? std::string_view("by itself")
                                                     : word_of(row.thing->what);
                       }});
    return csv_of(columns,
                  all_of<Outcome>(
                      plays, [](const auto& session) -> const auto& { return session.outcomes; }));
}

std::string compared_memory_csv(const Plays& plays) {
    using Row = Of<verify::MemoryAt>;
    Columns<Row> columns = place_columns<verify::MemoryAt>();
    columns.push_back({"time_s", [](const Row& row) { return row.clock(row.thing->at); }});
    columns.push_back({"planned_mib", [](const Row& row) { return row.thing->planned; }});
    columns.push_back({"measured_mib", [](const Row& row) { return row.thing->measured; }});
    columns.push_back({"difference_mib",
                       [](const Row& row) { return row.thing->measured - row.thing->planned; }});
    return csv_of(columns,
                  all_of<verify::MemoryAt>(
                      plays, [](const auto& session) -> const auto& { return session.memory; }));
}

std::string load_spread_csv(const plan::Plan& plan, const Plays& plays,
                            const std::vector<verify::LoadSpread>& spreads) {
    return csv_of(spread_columns(plan, plays), spreads);
}

std::string verify_json(const plan::Plan& plan, const Plays& plays,
                        const std::vector<verify::LoadSpread>& spreads,
                        const std::vector<plan::Finding>& findings) {
    source::Json found = source::Json::array();
    for (const plan::Finding& each : findings) found.push_back(finding_json(plan, each));
    return source::file_text({{"plays", json_of(play_columns(), play_rows(plays))},
                              {"loads", json_of(spread_columns(plan, plays), spreads)},
                              {"findings", std::move(found)}});
}

std::string measured_sizes_csv(const plan::Plan& plan, plan::DeviceId device,
                               const std::vector<verify::MeasuredSize>& sizes) {
    const loading::Catalogue catalogue = loading::catalogue_for(plan, device);
    Csv csv{"piece", "device", "pool", "memory"};
    for (const verify::MeasuredSize& each : sizes) {
        const loading::Piece& piece = catalogue.pieces[each.piece];
        for (const plan::PoolId pool : plan.pools.ids()) {
            const plan::Bytes planned = piece.memory[pool.value];
            if (planned.count == 0) continue;
            const double share =
                static_cast<double>(planned.count) / static_cast<double>(piece.unpacked.count);
            const auto bytes =
                static_cast<std::int64_t>(share * static_cast<double>(each.memory.count));
            csv.add(piece_name(plan, each.piece)).add(plan.devices[device].name);
            csv.add(plan.pools[pool]).add(plan::Bytes{bytes});
            csv.end_row();
        }
    }
    return csv.take();
}

} // namespace hestrel::tables
