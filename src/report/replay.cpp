#include "report/replay.hpp"

#include "figure/loads_figure.hpp"
#include "figure/memory_figure.hpp"
#include "figure/palette.hpp"
#include "geometry/crossing.hpp"
#include "geometry/footprints.hpp"
#include "plan/names.hpp"
#include "plan/owner.hpp"
#include "plan/questions.hpp"
#include "report/html_table.hpp"
#include "report/transition_rows.hpp"
#include "report/walk_words.hpp"
#include "source/json.hpp"
#include "tables/file_names.hpp"
#include "tables/walk_tables.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/places.hpp"
#include "walk/seen.hpp"

#include <array>
#include <cctype>
#include <cmath>
#include <fmt/format.h>

namespace hestrel::report {

using plan::Bytes;
using plan::Micros;
using source::Json;

namespace {

/// A length to the millimetre.
double metres(double value) {
    constexpr double per_metre = 1000;
    return std::round(value * per_metre) / per_metre;
}
Json point(const std::array<double, 2>& at) {
    return {metres(at[0]), metres(at[1])};
}
Json place(const plan::Vec3& at) {
    return {metres(at[0]), metres(at[1]), metres(at[2])};
}

/// -1 where it is unset.
template <class Id>
Json number(Id id) {
    return id ? Json(id.value) : Json(-1);
}
Json moment(const std::optional<Micros>& at) {
    return at ? Json(at->count) : Json();
}

/// Differences from one value to the next, the first from 0.
template <class Values, class Count>
Json rising(const Values& values, Count count) {
    Json all = Json::array();
    std::int64_t before = 0;
    for (const auto& value : values) {
        const std::int64_t now = count(value);
        all.push_back(now - before);
        before = now;
    }
    return all;
}

// --- the plan ----------------------------------------------------------------

/// A shape from above: [corners, lowest y, highest y].
Json footprint(const geometry::Footprint& of) {
    Json corners = Json::array();
    for (const auto& corner : of.corners) corners.push_back(point(corner));
    return {std::move(corners), metres(of.low), metres(of.high)};
}
Json footprint(const plan::Box& box) {
    return footprint(geometry::Footprint{geometry::corners_of(box), box.min[1], box.max[1]});
}

Json levels_json(const plan::Plan& plan) {
    const auto footprints = geometry::footprints_of(plan);
    Json all = Json::array();
    for (const plan::LevelId id : plan.levels.ids()) {
        const plan::Level& level = plan.levels[id];
        Json area = Json::array();
        for (const geometry::Footprint& each : footprints[id]) area.push_back(footprint(each));
        Json seen_from = Json::array();
        for (const plan::Box& box : level.seen_from) seen_from.push_back(footprint(box));
        Json one{{"name", level.name}, {"world", number(level.world)}};
        if (!level.title.empty()) one["title"] = level.title;
        const std::string& owner = plan::owner_name(plan, {plan::ThingKind::level, id.value});
        if (!owner.empty()) one["owner"] = owner;
        if (level.grid) one["grid"] = level.grid.value;
        if (!area.empty()) one["area"] = std::move(area);
        if (!seen_from.empty()) one["seen"] = std::move(seen_from);
        all.push_back(std::move(one));
    }
    return all;
}

/// A trigger's shape: {box}, {sphere: [x, z, radius, lowest y, highest y]} or {beyond: [axis,
/// limit]}.
Json shape_json(const plan::Shape& shape) {
    if (const auto* box = std::get_if<plan::Box>(&shape)) return {{"box", footprint(*box)}};
    if (const auto* sphere = std::get_if<plan::Sphere>(&shape))
        return {{"sphere",
                 {metres(sphere->at[0]), metres(sphere->at[2]), metres(sphere->radius),
                  metres(sphere->at[1] - sphere->radius), metres(sphere->at[1] + sphere->radius)}}};
    if (const auto* beyond = std::get_if<plan::Beyond>(&shape))
        return {{"beyond", {beyond->axis, metres(beyond->limit)}}};
    return Json::object();
}

Json triggers_json(const plan::Plan& plan) {
    Json all = Json::array();
    for (const plan::Trigger& trigger : plan.triggers) {
        Json one = shape_json(trigger.shape);
        one["name"] = trigger.name;
        one["world"] = number(trigger.world);
        all.push_back(std::move(one));
    }
    return all;
}

/// [world, one way, [x, y, z] of each corner…], and the gate's name where one stands on it.
Json paths_json(const plan::Plan& plan) {
    Json all = Json::array();
    for (const plan::Path& path : plan.paths) {
        Json points = Json::array();
        points.push_back(place(plan.waypoints[path.from].at));
        for (const plan::Vec3& via : path.via) points.push_back(place(via));
        points.push_back(place(plan.waypoints[path.to].at));
        Json one{{"world", number(plan.waypoints[path.from].world)}, {"points", std::move(points)}};
        if (path.one_way) one["oneWay"] = true;
        if (path.gate) one["gate"] = plan.gates[path.gate].name;
        all.push_back(std::move(one));
    }
    return all;
}

template <class Things>
Json names_json(const Things& things) {
    Json all = Json::array();
    for (const auto& thing : things) {
        if constexpr (requires { thing.name; })
            all.push_back(thing.name);
        else
            all.push_back(thing);
    }
    return all;
}

template <class Texts>
Json texts_json(const Texts& texts) {
    Json all = Json::array();
    for (const auto& text : texts) all.push_back(std::string(text));
    return all;
}

/// By number of the condition: [word, colour].
Json conditions_json() {
    Json all = Json::array();
    for (int i = 0; i <= static_cast<int>(walk::LevelCondition::leaving); ++i) {
        const auto condition = static_cast<walk::LevelCondition>(i);
        all.push_back(
            {std::string(figure::word_of(condition)), std::string(figure::colour_of(condition))});
    }
    return all;
}

// --- a walk ------------------------------------------------------------------

/// By piece that was ever there: [piece, [condition, from, to]…].
Json pieces_json(const walk::Timeline& timeline) {
    Json all = Json::array();
    for (const loading::PieceId piece : timeline.ids()) {
        if (timeline[piece].empty()) continue;
        Json one{piece.value};
        for (const walk::Stretch& stretch : timeline[piece])
            one.push_back(
                {static_cast<int>(stretch.condition), stretch.from.count, stretch.to.count});
        all.push_back(std::move(one));
    }
    return all;
}

/// The rows of the loads chart: [name, piece] of one piece, or [name, -1, [condition, from, to]…].
Json rows_json(const figure::LoadRows& rows) {
    Json all = Json::array();
    for (const figure::LoadRows::Row& row : rows.rows) {
        if (row.alone()) {
            all.push_back({row.name, row.pieces.front().value});
            continue;
        }
        Json one{row.name, -1};
        for (const walk::Stretch& stretch : row.stretches)
            one.push_back(
                {static_cast<int>(stretch.condition), stretch.from.count, stretch.to.count});
        all.push_back(std::move(one));
    }
    return all;
}

Json memory_json(const plan::Plan& plan, const walk::Record& record) {
    const auto of = [&](auto size) {
        return rising(record.memory,
                      [&](const loading::MemoryRow& row) { return size(row).count; });
    };
    Json pools = Json::array();
    for (const plan::PoolId pool : plan.pools.ids())
        pools.push_back(of([&](const loading::MemoryRow& row) { return row.pools[pool.value]; }));
    const figure::MemoryStack stack = figure::memory_stack(plan, record);
    Json bands = Json::array();
    for (const figure::Band& band : stack.bands)
        bands.push_back({{"name", band.name},
                         {"colour", std::string(band.colour)},
                         {"sizes", rising(band.sizes, [](Bytes size) { return size.count; })}});
    return {{"times", rising(stack.times, [](Micros at) { return at.count; })},
            {"total", of([](const loading::MemoryRow& row) { return row.total; })},
            {"pools", std::move(pools)},
            {"bands", std::move(bands)}};
}

/// [trigger, at, player].
Json fired_json(const walk::Record& record) {
    Json all = Json::array();
    for (const walk::Event& event : record.events) {
        if (event.kind == walk::EventKind::fired)
            all.push_back({event.subject, event.at.count, number(event.player)});
    }
    return all;
}

/// By player of the machine: {player, seen: [what, subject, from]…}; each holds until the next.
Json seen_json(const plan::Plan& plan, const walk::Record& record) {
    Json all = Json::array();
    const auto players = static_cast<std::uint32_t>(plan.routes[record.route].players.size());
    for (std::uint32_t player = 0; player < players; ++player) {
        const std::vector<walk::Seen> seen = walk::seen_by(plan, record, player);
        if (seen.empty()) continue;
        Json stretches = Json::array();
        for (const walk::Seen& each : seen)
            stretches.push_back(
                {static_cast<int>(each.what),
                 each.subject == walk::Seen::no_level ? Json(-1) : Json(each.subject),
                 each.from.count});
        all.push_back({{"player", player}, {"seen", std::move(stretches)}});
    }
    return all;
}

/// [player, veil, from, to].
Json veils_json(const walk::Record& record) {
    Json all = Json::array();
    for (const walk::Veiled& each : record.veiled)
        all.push_back({each.player, each.veil.value, each.from.count, each.to.count});
    return all;
}

/// [player, level, from, to].
Json gaps_json(const walk::Record& record) {
    Json all = Json::array();
    for (const walk::Gap& each : record.gaps)
        all.push_back({each.player, each.level.value, each.from.count, each.to.count});
    return all;
}

/// [player, doing, from, to].
Json spells_json(const walk::Record& record) {
    Json all = Json::array();
    for (const walk::Spell& each : record.spells)
        all.push_back({each.player, static_cast<int>(each.doing), each.from.count, each.to.count});
    return all;
}

/// [number, fired, took, cause, levels, slack, stall, peak, old and new together].
Json transitions_json(const plan::Plan& plan, const walk::Record& record) {
    Json all = Json::array();
    for (const TransitionRow& row : transition_rows(plan, record))
        all.push_back({row.transition->number, row.transition->fired.count, row.took().count,
                       row.cause, row.levels, moment(row.slack), row.outcome->stall.count,
                       row.outcome->peak.count, row.outcome->overlap.count});
    return all;
}

/// [severity, name, message, from, level].
Json findings_json(const walk::Record& record) {
    Json all = Json::array();
    for (const plan::Finding& each : record.findings)
        all.push_back({std::string(plan::severity_name(each.severity)), each.name, each.message,
                       moment(each.from), number(each.level)});
    return all;
}

/// [at, work, whether it stands still]: what every frame takes from then on.
Json frames_json(const walk::Record& record) {
    Json all = Json::array();
    for (const loading::FrameRow& row : record.frames)
        all.push_back({row.at.count, row.work.count, row.blocked ? 1 : 0});
    return all;
}

Json peak_json(const plan::Plan& plan, const walk::Record& record) {
    Json all = Json::array();
    for (const loading::Holding& holding : record.at_peak)
        all.push_back({tables::holder_name(plan, holding), holding.size.count});
    return all;
}

Json machine_json(const plan::Plan& plan, const walk::Record& record) {
    const plan::Device& device = plan.devices[record.device];
    Json pools = Json::array();
    for (std::size_t pool = 0; pool < plan.pools.size(); ++pool) pools.push_back(nullptr);
    for (const auto& [pool, budget] : device.memory.pools) pools[pool.value] = budget.count;
    const walk::Timeline timeline = walk::timeline_of(plan, record);
    Json json{{"name", walk::device_text(plan, record)},
              {"verdict", tables::verdict_name(record.verdict)},
              {"grade", std::string(grade_of(record.verdict))},
              {"summary", summary_of(plan, record)},
              {"end", record.end.count},
              {"boot", moment(record.boot)},
              {"budget", device.memory.total.count},
              {"pools", std::move(pools)},
              {"peak", {record.peak.count, record.peak_at.count}},
              {"held", peak_json(plan, record)},
              {"memory", memory_json(plan, record)},
              {"pieces", pieces_json(timeline)},
              {"rows", rows_json(figure::load_rows(plan, record))},
              {"fired", fired_json(record)},
              {"seen", seen_json(plan, record)},
              {"veiled", veils_json(record)},
              {"gaps", gaps_json(record)},
              {"spells", spells_json(record)},
              {"transitions", transitions_json(plan, record)},
              {"findings", findings_json(record)}};
    if (plan::has_frame_costs(plan)) {
        json["frames"] = frames_json(record);
        json["longestFrame"] = plan::longest_frame(plan, device).count;
    }
    if (walk::is_headless(plan, record)) json["headless"] = true;
    return json;
}

} // namespace

std::string walk_id(const plan::Plan& plan, const walk::Record& record) {
    return tables::walk_folder(plan, record.route, walk::cast_of(record).devices);
}

std::string replay_address(const plan::Plan& plan, const walk::Record& record,
                           const std::optional<Micros>& at) {
    std::string address = "#";
    for (const char each : walk_id(plan, record)) { // as RFC 3986 has it
        const bool plain = std::isalnum(static_cast<unsigned char>(each)) != 0 || each == '-' ||
                           each == '.' || each == '_' || each == '~';
        address +=
            plain ? std::string(1, each) : fmt::format("%{:02X}", static_cast<unsigned char>(each));
    }
    return at ? address + fmt::format("@{:.3f}", plan::in_seconds(*at)) : address;
}

std::string replay_plan(const plan::Plan& plan) {
    Json waypoints = Json::array();
    for (const plan::Waypoint& waypoint : plan.waypoints)
        waypoints.push_back({waypoint.name, number(waypoint.world), place(waypoint.at)});
    Json floors = Json::array();
    for (const plan::WorldId world : plan.worlds.ids()) {
        Json heights = Json::array();
        for (const double height : geometry::floors_of(plan, world))
            heights.push_back(metres(height));
        floors.push_back(std::move(heights));
    }
    const Json json{{"name", plan.name},
                    {"levels", levels_json(plan)},
                    {"kits", names_json(plan.kits)},
                    {"pools", names_json(plan.pools)},
                    {"veils", names_json(plan.veils)},
                    {"worlds", names_json(plan.worlds)},
                    {"floors", std::move(floors)},
                    {"triggers", triggers_json(plan)},
                    {"paths", paths_json(plan)},
                    {"waypoints", std::move(waypoints)},
                    {"conditions", conditions_json()},
                    {"walkedColours", texts_json(figure::palette::walked)},
                    {"poolColours", texts_json(figure::palette::levels)}};
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

std::string replay_walk(const plan::Plan& plan, std::span<const walk::Record> machines) {
    const walk::Record& first = machines.front();
    const plan::Route& route = plan.routes[first.route];
    Json players = Json::array();
    for (std::uint32_t player = 0; player < route.players.size(); ++player) {
        Json places = Json::array(); // [at, world, x, y, z]
        for (const walk::Keyframe& each : walk::places_of(plan, machines, player))
            places.push_back(
                {each.at.count, number(each.world), each.place[0], each.place[1], each.place[2]});
        players.push_back({{"name", route.players[player].name}, {"places", std::move(places)}});
    }
    Json all = Json::array();
    Micros end;
    for (const walk::Record& record : machines) {
        all.push_back(machine_json(plan, record));
        end = std::max(end, record.end);
    }
    const Json json{{"route", route.name},
                    {"end", end.count},
                    {"players", std::move(players)},
                    {"machines", std::move(all)}};
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

} // namespace hestrel::report
