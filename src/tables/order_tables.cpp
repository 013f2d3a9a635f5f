#include "tables/order_tables.hpp"

#include "plan/names.hpp"
#include "source/json.hpp"
#include "source/plan_reader.hpp"
#include "tables/csv.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::tables {

using plan::LevelId;

namespace {

std::string name_of(const plan::Plan& plan, LevelId level) {
    return level ? plan.levels[level].name : std::string();
}

/// Names separated by blanks.
template <class Ids, class Name>
std::string joined(const Ids& ids, Name name) {
    std::string text;
    for (const auto& id : ids) text += (text.empty() ? "" : " ") + name(id);
    return text;
}

/// Everything that is said of one level of an edition.
struct Row {
    std::size_t proposed = 0;
    std::string first_asked, route, device, moves, needs, kits, goes_to, reason;
};

std::vector<Row> rows_of(const plan::Plan& plan, const order::EditionOrder& order,
                         const std::vector<walk::Record>& records) {
    std::vector<Row> rows(order.levels.size());
    for (std::size_t i = 0; i < order.proposed.size(); ++i) rows[order.proposed[i]].proposed = i;
    for (const order::Relocation& move : order.moves)
        rows[move.thing].reason = move_reason(plan, order, move);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const order::ListedLevel& listed = order.levels[i];
        Row& row = rows[i];
        if (listed.asked) {
            const walk::Record& record = records[listed.asked->record];
            row.first_asked = seconds_text(listed.asked->at);
            row.route = plan.routes[record.route].name;
            row.device = plan.devices[record.device].name;
        }
        if (listed.moves) row.moves = std::to_string(*listed.moves);
        row.needs = joined(listed.needs, [&](const order::LevelNeed& need) {
            return plan.levels[need.needs].name;
        });
        row.kits = joined(listed.kits, [&](plan::KitId kit) { return plan.kits[kit].name; });
        row.goes_to =
            joined(listed.goes_to, [&](LevelId level) { return plan.levels[level].name; });
    }
    return rows;
}

source::Json listed_moves(const order::ListedLevel& listed) {
    return listed.moves ? source::Json(*listed.moves) : source::Json();
}

source::Json levels_json(const plan::Plan& plan, const order::EditionOrder& order,
                         const std::vector<walk::Record>& records) {
    source::Json list = source::Json::array();
    const std::vector<Row> rows = rows_of(plan, order, records);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const Row& row = rows[i];
        list.push_back({{"position", i},
                        {"level", plan.levels[order.levels[i].level].name},
                        {"proposed", row.proposed},
                        {"first_asked_s",
                         row.first_asked.empty() ? source::Json() : source::Json(row.first_asked)},
                        {"route", row.route},
                        {"device", row.device},
                        {"moves", listed_moves(order.levels[i])},
                        {"needs", row.needs},
                        {"kits", row.kits},
                        {"goes_to", row.goes_to},
                        {"pinned", order.levels[i].pinned},
                        {"reason", row.reason}});
    }
    return list;
}

source::Json parcels_json(const plan::Plan& plan, const order::ParcelOrder& order,
                          const std::vector<walk::Record>& records) {
    const auto seconds = [](plan::Micros time) { return source::Json(plan::in_seconds(time)); };
    source::Json routes = source::Json::array();
    for (const order::RouteDelivery& route : order.routes) {
        source::Json list = source::Json::array();
        for (const order::ParcelArrival& parcel : route.parcels) {
            list.push_back({{"parcel", plan.editions[order.edition].parcels[parcel.parcel].name},
                            {"size_mib", plan::in_mebibytes(parcel.size)},
                            {"arrives_s", seconds(parcel.arrives)},
                            {"proposed_s", seconds(parcel.then)},
                            {"needed_s", parcel.needed ? seconds(*parcel.needed) : source::Json()},
                            {"late_s", seconds(parcel.late)}});
        }
        routes.push_back({{"route", plan.routes[records[route.record].route].name},
                          {"waits_s", seconds(route.waits)},
                          {"ahead_mib", plan::in_mebibytes(route.ahead)},
                          {"parcels", list}});
    }
    return {{"device", plan.devices[order.device].name},
            {"waits_s", seconds(order.waits)},
            {"proposed", parcel_names(plan, order)},
            {"proposed_waits_s", seconds(order.waits_then)},
            {"exact", order.exact},
            {"routes", routes}};
}

} // namespace

std::string first_asked_text(const order::ListedLevel& listed) {
    if (listed.asked) return short_time(listed.asked->at);
    return listed.moves ? "after " + counted(*listed.moves, "move") : "never";
}

std::string move_reason(const plan::Plan& plan, const order::EditionOrder& order,
                        const order::Relocation& move) {
    const order::ListedLevel& moved = order.levels[move.thing];
    const order::ListedLevel& other = order.levels[move.other];
    const std::string& other_name = plan.levels[other.level].name;
    const bool earlier = move.to < move.from;
    if (move.needed)
        return earlier ? other_name + " needs it before" : "it needs " + other_name + " before";
    const auto is_known = [](const order::ListedLevel& level) {
        return level.asked || level.moves;
    };
    if (!is_known(moved) && !is_known(other)) return "goes with what stands before it";
    const auto when = [](const order::ListedLevel& level) {
        return (level.asked ? "at " : "") + first_asked_text(level);
    };
    return fmt::format("first asked for {}, {} {}", when(moved), other_name, when(other));
}

std::string needs_text(const plan::Plan& plan, const order::ListedLevel& listed) {
    std::string text;
    const auto add = [&](const std::string& name) { text += (text.empty() ? "" : ", ") + name; };
    for (const order::LevelNeed& need : listed.needs) add(plan.levels[need.needs].name);
    for (const plan::KitId kit : listed.kits) add(plan.kits[kit].name);
    return text;
}

std::string use_text(const plan::Plan& plan, const order::PositionUse& use) {
    switch (use.kind) {
    case order::PositionUse::Kind::position: return fmt::format("position {}", use.position);
    case order::PositionUse::Kind::next: return "next from " + name_of(plan, use.from);
    case order::PositionUse::Kind::back: return "back from " + name_of(plan, use.from);
    }
    return {};
}

std::string circle_text(const plan::Plan& plan, const order::NeedCircle& circle) {
    std::string text;
    for (const order::LevelNeed& need : circle) {
        text += fmt::format("{}{} needs {} before it ({})", text.empty() ? "" : ", ",
                            plan.levels[need.level].name, plan.levels[need.needs].name,
                            plan::place_text(plan, need.place));
    }
    return text;
}

std::string edition_order_csv(const plan::Plan& plan, const order::EditionOrder& order,
                              const std::vector<walk::Record>& records) {
    Csv csv{"position", "level", "proposed", "first_asked_s", "route",  "device",
            "moves",    "needs", "kits",     "goes_to",       "pinned", "reason"};
    const std::vector<Row> rows = rows_of(plan, order, records);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const Row& row = rows[i];
        csv.row({std::to_string(i), plan.levels[order.levels[i].level].name,
                 std::to_string(row.proposed), row.first_asked, row.route, row.device, row.moves,
                 row.needs, row.kits, row.goes_to, order.levels[i].pinned ? "yes" : "no",
                 row.reason});
    }
    return csv.text();
}

std::string position_uses_csv(const plan::Plan& plan, const order::EditionOrder& order) {
    Csv csv{"file", "line", "list", "use", "from", "today", "proposed"};
    for (const order::PositionUse& use : order.uses) {
        csv.row({plan.files[use.place.file], std::to_string(use.place.line),
                 plan::list_name(plan, use.list), use_text(plan, use), name_of(plan, use.from),
                 name_of(plan, use.today), name_of(plan, use.then)});
    }
    return csv.text();
}

std::string parcels_csv(const plan::Plan& plan, const std::vector<order::ParcelOrder>& orders,
                        const std::vector<walk::Record>& records) {
    Csv csv{"route",      "device",   "parcel", "size_mib", "arrives_s",
            "proposed_s", "needed_s", "late_s", "ahead_mib"};
    for (const order::ParcelOrder& order : orders) {
        for (const order::RouteDelivery& route : order.routes) {
            for (const order::ParcelArrival& parcel : route.parcels) {
                csv.row({plan.routes[records[route.record].route].name,
                         plan.devices[order.device].name,
                         plan.editions[order.edition].parcels[parcel.parcel].name,
                         mebibytes_text(parcel.size), seconds_text(parcel.arrives),
                         seconds_text(parcel.then), seconds_text(parcel.needed),
                         seconds_text(parcel.late), mebibytes_text(route.ahead)});
            }
        }
    }
    return csv.text();
}

std::string transition_name(const plan::Plan& plan, const order::TransitionOrder& order) {
    return plan::cause_name(plan, order.list, order.near);
}

std::string transition_orders_csv(const plan::Plan& plan,
                                  const std::vector<order::TransitionOrder>& orders) {
    Csv csv{"transition", "device", "asked",   "awaited", "takes_s",
            "best_order", "best_s", "saves_s", "bound_s", "exact"};
    for (const order::TransitionOrder& order : orders) {
        csv.row({transition_name(plan, order), plan.devices[order.device].name,
                 plan::level_names(plan, order.asked, " "),
                 plan::level_names(plan, order.awaited, " "), seconds_text(order.takes),
                 plan::level_names(plan, order.best, " "), seconds_text(order.best_takes),
                 seconds_text(order.takes - order.best_takes), seconds_text(order.bound),
                 order.exact ? "yes" : "no"});
    }
    return csv.text();
}

std::string transition_pieces_csv(const plan::Plan& plan,
                                  const std::vector<order::TransitionOrder>& orders) {
    Csv csv{"transition",   "device",     "order",          "piece",        "kind",
            "read_start_s", "read_end_s", "unpack_start_s", "unpack_end_s", "shown_s"};
    for (const order::TransitionOrder& order : orders) {
        const auto rows = [&](std::string_view which,
                              const std::vector<loading::AlonePiece>& pieces) {
            for (const loading::AlonePiece& piece : pieces) {
                csv.row({transition_name(plan, order), plan.devices[order.device].name, which,
                         piece_name(plan, piece.piece), piece_kind(plan, piece.piece),
                         seconds_text(piece.read_start), seconds_text(piece.read_end),
                         seconds_text(piece.unpack_start), seconds_text(piece.unpack_end),
                         seconds_text(piece.shown)});
            }
        };
        rows("today", order.pieces);
        rows("best", order.best_pieces);
    }
    return csv.text();
}

std::string parcel_names(const plan::Plan& plan, const order::ParcelOrder& order) {
    std::string names;
    for (const std::size_t parcel : order.proposed)
        names += (names.empty() ? "" : ", ") + plan.editions[order.edition].parcels[parcel].name;
    return names;
}

std::string orders_json(const plan::Plan& plan, const std::vector<order::EditionOrder>& orders,
                        const std::vector<order::ParcelOrder>& parcels,
                        const std::vector<order::TransitionOrder>& transitions,
                        const std::vector<walk::Record>& records) {
    source::Json editions = source::Json::array();
    for (const order::EditionOrder& order : orders) {
        source::Json edition{{"edition", plan.editions[order.edition].name}};
        edition["levels"] = levels_json(plan, order, records);
        edition["uses"] = source::Json::array();
        for (const order::PositionUse& use : order.uses) {
            edition["uses"].push_back({{"place", plan::place_text(plan, use.place)},
                                       {"list", plan::list_name(plan, use.list)},
                                       {"use", use_text(plan, use)},
                                       {"today", name_of(plan, use.today)},
                                       {"proposed", name_of(plan, use.then)}});
        }
        edition["not_shipped"] = source::Json::array();
        for (const order::NotShipped& each : order.not_shipped) {
            edition["not_shipped"].push_back({{"place", plan::place_text(plan, each.place)},
                                              {"list", plan::list_name(plan, each.list)},
                                              {"level", name_of(plan, each.level)}});
        }
        edition["circles"] = source::Json::array();
        for (const order::NeedCircle& circle : order.circles)
            edition["circles"].push_back(circle_text(plan, circle));
        edition["parcels"] = source::Json::array();
        for (const order::ParcelOrder& each : parcels) {
            if (each.edition == order.edition)
                edition["parcels"].push_back(parcels_json(plan, each, records));
        }
        editions.push_back(std::move(edition));
    }
    source::Json inside = source::Json::array();
    for (const order::TransitionOrder& order : transitions) {
        inside.push_back({{"transition", transition_name(plan, order)},
                          {"device", plan.devices[order.device].name},
                          {"asked", plan::level_names(plan, order.asked, " ")},
                          {"awaited", plan::level_names(plan, order.awaited, " ")},
                          {"takes_s", plan::in_seconds(order.takes)},
                          {"best_order", plan::level_names(plan, order.best, " ")},
                          {"best_s", plan::in_seconds(order.best_takes)},
                          {"bound_s", plan::in_seconds(order.bound)},
                          {"exact", order.exact}});
    }
    return source::file_text(
        source::Json{{"plan", plan.name}, {"editions", editions}, {"transitions", inside}});
}

} // namespace hestrel::tables
