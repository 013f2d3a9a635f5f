#include "tables/explore_tables.hpp"

#include "explore/witness.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "source/json.hpp"
#include "source/plan_reader.hpp"
#include "source/yaml_writer.hpp"
#include "tables/findings.hpp"
#include "tables/route_yaml.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>
#include <map>
#include <unordered_map>

namespace hestrel::tables {

using explore::Explorer;
using plan::LevelId;
using source::Json;
namespace {

std::string names(const plan::Plan& plan, const std::vector<LevelId>& levels) {
    return plan::level_names(plan, levels, " ");
}

std::string names(const plan::Plan& plan, const std::vector<explore::LevelThere>& levels) {
    std::vector<LevelId> all;
    for (const explore::LevelThere& there : levels) all.push_back(there.level);
    return names(plan, all);
}

std::string_view how_often(std::uint64_t times, std::uint64_t of) {
    if (times == 0) return "never";
    return times == of ? "always" : "sometimes";
}

std::string budget_of(const plan::Plan& plan, const explore::WorstUse& worst) {
    return worst.pool ? plan.pools[worst.pool] : std::string("total");
}

/// As witnesses name the players.
std::string player_name(const Explorer& explorer, flow::PlayerId player) {
    return explore::player_name(explorer, player.value);
}

/// How many moves a way is, the boot aside.
std::size_t moves_in(const std::vector<std::uint32_t>& way) {
    return way.size() - 1;
}

Columns<explore::WorstUse> worst_columns(const Explorer& explorer) {
    using Row = explore::WorstUse;
    const plan::Plan& plan = explorer.plan();
    return {
        {"device",
         [&](const Row& row) { return plan.devices[explorer.options().devices[row.device]].name; }},
        {"budget", [&](const Row& row) { return budget_of(plan, row); }},
        {"when", [](const Row& row) { return row.during ? "move" : "settled"; }},
        {"used_mib", [](const Row& row) { return row.used; }},
        {"budget_mib", [](const Row& row) { return row.budget; }},
        {"moves", [](const Row& row) { return moves_in(row.way); }},
        {"levels", [&](const Row& row) {
             std::vector<std::string> names;
             for (const auto& there : explorer.all_levels(explorer.row(row.situation)))
                 names.push_back(plan.levels[there.level].name);
             return names;
         }}};
}

Columns<explore::WorstFrame> frame_columns(const Explorer& explorer) {
    using Row = explore::WorstFrame;
    const plan::Plan& plan = explorer.plan();
    return {
        {"device",
         [&](const Row& row) { return plan.devices[explorer.options().devices[row.device]].name; }},
        {"when", [](const Row& row) { return row.during ? "move" : "settled"; }},
        {"work_s", [](const Row& row) { return row.work; }},
        {"most_s", [](const Row& row) { return row.most; }},
        {"moves", [](const Row& row) { return moves_in(row.way); }},
        {"levels", [&](const Row& row) {
             std::vector<std::string> names;
             for (const auto& [level, cost] : row.levels) names.push_back(plan.levels[level].name);
             return names;
         }}};
}

} // namespace

std::string move_text(const Explorer& explorer, std::uint32_t taken) {
    const plan::Plan& plan = explorer.plan();
    const explore::MoveTaken& number = explorer.taken(taken);
    const explore::Move& move = explorer.moves()[number.move];
    std::string text;
    switch (move.kind) {
    case explore::Move::Kind::boot: text = "start"; break;
    case explore::Move::Kind::go: {
        text = "go " + plan.waypoints[geometry::end_of(plan, move.leg)].name;
        const auto& speeds = plan.players[explorer.players()[move.player.value]].speeds;
        if (move.speed > 0) text += " (" + speeds[move.speed].name + ")";
        break;
    }
    case explore::Move::Kind::press: text = "press " + plan::item_name(plan, move.item); break;
    case explore::Move::Kind::after: text = "after " + plan.menus[move.menu].name; break;
    case explore::Move::Kind::launch: text = "launch again"; break;
    case explore::Move::Kind::arrive:
        text = "(" + plan.levels[move.level].name + " is ready)";
        break;
    case explore::Move::Kind::attach:
        text = "(" + plan.levels[move.level].name + " is shown)";
        break;
    case explore::Move::Kind::attach_block: text = "(the switch's levels are shown)"; break;
    case explore::Move::Kind::wake: text = "(a wait is over)"; break;
    case explore::Move::Kind::sweep: text = "(what was unloaded is released)"; break;
    case explore::Move::Kind::drop: text = "(nothing more comes)"; break;
    }
    for (const explore::MoveLog::Taken& each : number.branches)
        text += ", picking " + plan.words[each.choose->branches[each.branch].name];
    return text;
}

std::vector<WayMove> way_moves(const Explorer& explorer, const std::vector<std::uint32_t>& way) {
    using Kind = explore::Move::Kind;
    std::vector<WayMove> moves;
    for (std::size_t i = 0; i < way.size(); ++i) {
        const explore::MoveTaken& taken = explorer.taken(way[i]);
        const explore::Move& move = explorer.moves()[taken.move];
        if (i == 0 && taken.branches.empty()) continue;
        const bool somebody =
            explorer.players().size() > 1 &&
            (move.kind == Kind::go || move.kind == Kind::press || move.kind == Kind::after);
        moves.push_back({somebody ? player_name(explorer, move.player) : std::string(),
                         move_text(explorer, way[i])});
    }
    return moves;
}

std::string way_text(const Explorer& explorer, const std::vector<std::uint32_t>& way) {
    constexpr std::size_t most_said = 10;
    std::string text;
    std::string player;
    const std::vector<WayMove> moves = way_moves(explorer, way);
    const std::size_t boot = way.size() - moves.size(); // told or not, it counts
    for (std::size_t i = boot; i < way.size(); ++i) {
        if (way.size() > most_said + 2 && i == most_said / 2 + 1)
            text += fmt::format(", … {} more …", way.size() - most_said - 1);
        if (way.size() > most_said + 2 && i > most_said / 2 && i < way.size() - most_said / 2)
            continue;
        const WayMove& move = moves[i - boot];
        const bool other = !move.player.empty() && move.player != player;
        if (!text.empty()) text += other ? "; " : ", ";
        if (other) text += move.player + ": ";
        if (other) player = move.player;
        text += move.move;
    }
    return text.empty() ? "at the start" : text;
}

std::string worst_csv(const Explorer& explorer, const std::vector<explore::WorstUse>& worst) {
    return csv_of(worst_columns(explorer), worst);
}

std::string worst_frames_csv(const Explorer& explorer,
                             const std::vector<explore::WorstFrame>& frames) {
    return csv_of(frame_columns(explorer), frames);
}

std::string looked_at_text(const Explorer& explorer) {
    std::string text =
        fmt::format("{}, {} between them, the farthest {} from the start\n",
                    counted(explorer.situations(), "situation"),
                    counted(explorer.moves_made(), "move"), counted(explorer.depth(), "move"));
    if (explorer.too_many_running())
        text += fmt::format("no more than {} at once: moves that would have more running were not "
                            "made\n",
                            counted(explorer.options().most_running, "list"));
    if (explorer.folded().any())
        text += fmt::format("{} by distance and nothing goes by them: which of those between their "
                            "two distances\nare there is not told apart, and memory counts all "
                            "that may be (--fold-near no)\n",
                            explorer.folded().count() == 1
                                ? std::string("1 level streams")
                                : counted(explorer.folded().count(), "level") + " stream");
    if (explorer.complete()) return text;
    return text + fmt::format("cut off {}: {} not looked at; what takes up to {} is "
                              "covered;\nwhat never happens, and what can't be got out of, is not "
                              "known\n",
                              explorer.out_of_room() ? "as neither memory nor the disk has room"
                                                     : "at a limit",
                              counted(explorer.situations() - explorer.visited(), "situation"),
                              counted(explorer.depth(), "move"));
}

std::vector<Presence> presences(const Explorer& explorer) {
    // How often each set of levels is there at each place; then what that says of each level.
    std::map<plan::WaypointId, std::unordered_map<std::uint32_t, std::uint64_t>> sets;
    // Of levels that are left out of situations: those that may be there, and those shown.
    std::map<plan::WaypointId, std::map<LevelId, Presence>> near;
    for (std::uint32_t situation = 0; situation < explorer.visited(); ++situation) {
        const explore::Word* row = explorer.row(situation);
        const std::uint32_t set = explorer.level_number(row);
        for (std::size_t player = 0; player < explorer.players().size(); ++player) {
            const explore::PlayerNow& now = explorer.player_of(row, player);
            if (!now.on_the_way()) ++sets[now.at][set];
        }
        if (!explorer.folded().any()) continue;
        const std::vector<explore::LevelThere> levels = explorer.near_levels(row);
        for (std::size_t player = 0; player < explorer.players().size(); ++player) {
            const explore::PlayerNow& now = explorer.player_of(row, player);
            if (now.on_the_way()) continue;
            for (const explore::LevelThere& there : levels) {
                Presence& presence = near[now.at][there.level];
                ++presence.loaded;
                if (there.shown) ++presence.shown;
            }
        }
    }
    std::vector<Presence> all;
    for (const auto& [at, of_sets] : sets) {
        std::map<LevelId, Presence> found = near[at];
        std::uint64_t situations = 0;
        for (const auto& [set, times] : of_sets) {
            situations += times;
            explorer.level_sets().for_levels(set,
                                             [&, count = times](LevelId level, std::uint32_t code) {
                                                 Presence& presence = found[level];
                                                 presence.loaded += count;
                                                 if (explore::LevelSets::shows(code))
                                                     presence.shown += count;
                                             });
        }
        for (auto& [level, presence] : found) {
            presence.at = at;
            presence.level = level;
            presence.situations = situations;
            all.push_back(presence);
        }
    }
    return all;
}

std::string places_csv(const Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    using Row = Presence;
    const Columns<Row> columns{
        {"place",
         [&](const Row& row) {
             return row.at ? plan.waypoints[row.at].name : std::string("nowhere");
         }},
        {"level", [&](const Row& row) { return plan.levels[row.level].name; }},
        {"loaded", [](const Row& row) { return how_often(row.loaded, row.situations); }},
        {"shown", [](const Row& row) { return how_often(row.shown, row.situations); }},
        {"situations", [](const Row& row) { return row.situations; }},
        {"loaded_in", [](const Row& row) { return row.loaded; }},
        {"shown_in", [](const Row& row) { return row.shown; }}};
    return csv_of(columns, presences(explorer));
}

std::string heat_csv(const Explorer& explorer, const std::vector<explore::Heat>& heat) {
    using Row = explore::Heat;
    const plan::Plan& plan = explorer.plan();
    Columns<Row> columns{
        {"device",
         [&](const Row& row) { return plan.devices[explorer.options().devices[row.device]].name; }},
        {"place", [&](const Row& row) { return plan.waypoints[row.at].name; }},
        {"world", [&](const Row& row) { return plan.worlds[plan.waypoints[row.at].world]; }},
        {"total_mib", [](const Row& row) { return row.most.total; }}};
    for (const plan::PoolId pool : plan.pools.ids())
        columns.push_back({plan.pools[pool] + "_mib",
                           [pool](const Row& row) { return row.most.pools[pool.value]; }});
    if (plan::has_frame_costs(plan))
        columns.push_back({"frame_ms", [](const Row& row) {
                               return fmt::format("{:.3f}", plan::in_seconds(row.most.frame) * 1e3);
                           }});
    return csv_of(columns, heat);
}

std::string moves_csv(const Explorer& explorer) {
    const plan::Plan& plan = explorer.plan();
    struct Row {
        std::string move, from, loads, frees, shows;
        auto operator<=>(const Row&) const = default;
    };
    std::map<Row, std::size_t> seen;
    std::vector<Row> order;
    explorer.for_outcomes([&](const explore::Outcome& outcome) {
        const explore::Effect& effect = explorer.effects()[outcome.effect];
        if (effect.log.asked.empty() && effect.log.unloaded.empty()) return;
        Row row{move_text(explorer, outcome.taken),
                names(plan, explorer.levels_of(explorer.row(outcome.first))),
                names(plan, effect.log.asked), names(plan, effect.log.unloaded),
                names(plan, effect.log.shown)};
        const auto [found, fresh] = seen.emplace(row, 0);
        ++found->second;
        if (fresh) order.push_back(std::move(row));
    });
    Csv csv{"move", "from", "loads", "frees", "shows", "times"};
    for (const Row& row : order)
        csv.row(
            {row.move, row.from, row.loads, row.frees, row.shows, std::to_string(seen.at(row))});
    return csv.take();
}

std::string explore_json(const explore::Explored& explored) {
    const Explorer& explorer = *explored.explorer;
    const plan::Plan& plan = explorer.plan();
    const auto moves = [&](const std::vector<std::uint32_t>& way) {
        Json list = Json::array();
        for (std::size_t i = 1; i < way.size(); ++i) list.push_back(move_text(explorer, way[i]));
        return list;
    };
    Json json{{"plan", plan.name},
              {"hurried", explorer.options().pace == explore::Pace::hurried},
              {"edition", explorer.options().edition
                              ? Json(plan.editions[explorer.options().edition].name)
                              : Json()},
              {"situations", explorer.situations()},
              {"visited", explorer.visited()},
              {"complete", explorer.complete()},
              {"moves", explorer.moves_made()},
              {"farthest", explorer.depth()}};
    Json list = Json::array();
    for (const explore::Found& each : explored.found) {
        Json finding = finding_json(plan, each.finding);
        finding["way"] = each.way ? moves(*each.way) : Json();
        list.push_back(std::move(finding));
    }
    json["findings"] = list;
    list = Json::array();
    for (const explore::WorstUse& each : explored.worst) {
        Json use = json_of_row(worst_columns(explorer), each);
        use["way"] = moves(each.way);
        list.push_back(std::move(use));
    }
    json["worst"] = list;
    for (const explore::WorstFrame& each : explored.frames) {
        Json frame = json_of_row(frame_columns(explorer), each);
        frame["way"] = moves(each.way);
        json["worst_frames"].push_back(std::move(frame));
    }
    return source::file_text(json);
}

std::string witness_yaml(const plan::Plan& plan, const plan::Route& route,
                         const std::string& include, const std::string& about) {
    source::BlockYaml yaml;
    yaml.comment(about);
    yaml.entry("hestrel", "1");
    yaml.entry("include", source::flow_list({Json(include).dump()}));
    yaml.begin("routes");
    add_route(yaml, plan, route);
    return yaml.text();
}

} // namespace hestrel::tables
