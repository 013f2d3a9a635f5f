#include "tables/order_tables.hpp"

#include "plan/names.hpp"
#include "source/json.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>

namespace hestrel::tables {

using plan::LevelId;
using source::Json;

namespace {

std::string name_of(const plan::Plan& plan, LevelId level) {
    return level ? plan.levels[level].name : std::string();
}

std::vector<std::string> level_needs(const plan::Plan& plan, const order::ListedLevel& listed) {
    std::vector<std::string> names;
    for (const order::LevelNeed& need : listed.needs) names.push_back(plan.levels[need.needs].name);
    return names;
}

std::vector<std::string> proposed_names(const plan::Plan& plan, const order::ParcelOrder& order) {
    std::vector<std::string> names;
    for (const std::size_t parcel : order.proposed)
        names.push_back(plan.editions[order.edition].parcels[parcel].name);
    return names;
}

/// One level of an edition.
struct OrderRow {
    std::size_t position = 0;
    std::size_t proposed = 0;
    std::string reason; ///< why it moves
    const order::ListedLevel* listed = nullptr;
    const walk::Record* asked_on = nullptr; ///< null: no walk asks for it
};

std::vector<OrderRow> rows_of(const plan::Plan& plan, const order::EditionOrder& order,
                              const std::vector<walk::Record>& records) {
    std::vector<OrderRow> rows(order.levels.size());
    for (std::size_t i = 0; i < order.proposed.size(); ++i) rows[order.proposed[i]].proposed = i;
    for (const order::Relocation& move : order.moves)
        rows[move.thing].reason = move_reason(plan, order, move);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        rows[i].position = i;
        rows[i].listed = &order.levels[i];
        if (order.levels[i].asked) rows[i].asked_on = &records[order.levels[i].asked->record];
    }
    return rows;
}

Columns<OrderRow> order_columns(const plan::Plan& plan) {
    using Row = OrderRow;
    return {{"position", [](const Row& row) { return row.position; }},
            {"level", [&](const Row& row) { return plan.levels[row.listed->level].name; }},
            {"proposed", [](const Row& row) { return row.proposed; }},
            {"first_asked_s",
             [](const Row& row) { return row.asked_on ? Cell(row.listed->asked->at) : Cell(); }},
            {"route",
             [&](const Row& row) {
                 return row.asked_on ? plan.routes[row.asked_on->route].name : std::string();
             }},
            {"device",
             [&](const Row& row) {
                 return row.asked_on ? plan.devices[row.asked_on->device].name : std::string();
             }},
            {"moves", [](const Row& row) { return row.listed->moves; }},
            {"needs", [&](const Row& row) { return level_needs(plan, *row.listed); }},
            {"kits", [&](const Row& row) { return plan::names_in(plan.kits, row.listed->kits); }},
            {"goes_to",
             [&](const Row& row) { return plan::names_in(plan.levels, row.listed->goes_to); }},
            {"pinned", [](const Row& row) { return row.listed->pinned; }},
            {"reason", [](const Row& row) { return row.reason; }}};
}

/// One parcel on one route and device.
struct ParcelRow {
    const order::ParcelOrder* order = nullptr;
    const order::RouteDelivery* route = nullptr;
    const order::ParcelArrival* parcel = nullptr;
};

Columns<ParcelRow> arrival_columns(const plan::Plan& plan) {
    using Row = ParcelRow;
    return {{"parcel",
             [&](const Row& row) {
                 return plan.editions[row.order->edition].parcels[row.parcel->parcel].name;
             }},
            {"size_mib", [](const Row& row) { return row.parcel->size; }},
            {"arrives_s", [](const Row& row) { return row.parcel->arrives; }},
            {"proposed_s", [](const Row& row) { return row.parcel->then; }},
            {"needed_s", [](const Row& row) { return row.parcel->needed; }},
            {"late_s", [](const Row& row) { return row.parcel->late; }}};
}

Columns<order::PositionUse> use_columns(const plan::Plan& plan) {
    using Use = order::PositionUse;
    return {{"file", [&](const Use& use) { return plan.files[use.place.file]; }},
            {"line", [](const Use& use) { return use.place.line; }},
            {"list", [&](const Use& use) { return plan::list_name(plan, use.list); }},
            {"use", [&](const Use& use) { return use_text(plan, use); }},
            {"from", [&](const Use& use) { return name_of(plan, use.from); }},
            {"today", [&](const Use& use) { return name_of(plan, use.today); }},
            {"proposed", [&](const Use& use) { return name_of(plan, use.then); }}};
}

Columns<order::TransitionOrder> transition_columns(const plan::Plan& plan) {
    using Row = order::TransitionOrder;
    return {{"transition", [&](const Row& row) { return transition_name(plan, row); }},
            {"device", [&](const Row& row) { return plan.devices[row.device].name; }},
            {"asked", [&](const Row& row) { return plan::names_in(plan.levels, row.asked); }},
            {"awaited", [&](const Row& row) { return plan::names_in(plan.levels, row.awaited); }},
            {"takes_s", [](const Row& row) { return row.takes; }},
            {"best_order", [&](const Row& row) { return plan::names_in(plan.levels, row.best); }},
            {"best_s", [](const Row& row) { return row.best_takes; }},
            {"saves_s", [](const Row& row) { return row.takes - row.best_takes; }},
            {"bound_s", [](const Row& row) { return row.bound; }},
            {"exact", [](const Row& row) { return row.exact; }}};
}

Json parcels_json(const plan::Plan& plan, const order::ParcelOrder& order,
                  const std::vector<walk::Record>& records) {
    const auto seconds = [](plan::Micros time) { return Json(plan::in_seconds(time)); };
    Json routes = Json::array();
    for (const order::RouteDelivery& route : order.routes) {
        Json list = Json::array();
        for (const order::ParcelArrival& parcel : route.parcels)
            list.push_back(json_of_row(arrival_columns(plan), ParcelRow{&order, &route, &parcel}));
        routes.push_back({{"route", plan.routes[records[route.record].route].name},
                          {"waits_s", seconds(route.waits)},
                          {"ahead_mib", plan::in_mebibytes(route.ahead)},
                          {"parcels", list}});
    }
    return {{"device", plan.devices[order.device].name},
            {"waits_s", seconds(order.waits)},
            {"proposed", proposed_names(plan, order)},
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
    std::vector<std::string> names = level_needs(plan, listed);
    for (const plan::KitId kit : listed.kits) names.push_back(plan.kits[kit].name);
    return plan::joined(names);
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
    return csv_of(order_columns(plan), rows_of(plan, order, records));
}

std::string position_uses_csv(const plan::Plan& plan, const order::EditionOrder& order) {
    return csv_of(use_columns(plan), order.uses);
}

std::string parcels_csv(const plan::Plan& plan, const std::vector<order::ParcelOrder>& orders,
                        const std::vector<walk::Record>& records) {
    using Row = ParcelRow;
    Columns<Row> columns{
        {"route",
         [&](const Row& row) { return plan.routes[records[row.route->record].route].name; }},
        {"device", [&](const Row& row) { return plan.devices[row.order->device].name; }}};
    for (Column<Row>& column : arrival_columns(plan)) columns.push_back(std::move(column));
    columns.push_back({"ahead_mib", [](const Row& row) { return row.route->ahead; }});
    std::vector<Row> rows;
    for (const order::ParcelOrder& order : orders) {
        for (const order::RouteDelivery& route : order.routes) {
            for (const order::ParcelArrival& parcel : route.parcels)
                rows.push_back({&order, &route, &parcel});
        }
    }
    return csv_of(columns, rows);
}

std::string transition_name(const plan::Plan& plan, const order::TransitionOrder& order) {
    return plan::cause_name(plan, order.list, order.near);
}

std::string transition_orders_csv(const plan::Plan& plan,
                                  const std::vector<order::TransitionOrder>& orders) {
    return csv_of(transition_columns(plan), orders);
}

std::string transition_pieces_csv(const plan::Plan& plan,
                                  const std::vector<order::TransitionOrder>& orders) {
    struct Row {
        const order::TransitionOrder* order;
        std::string_view which;
        const loading::AlonePiece* piece;
    };
    std::vector<Row> rows;
    for (const order::TransitionOrder& order : orders) {
        for (const loading::AlonePiece& piece : order.pieces)
            rows.push_back({&order, "today", &piece});
        for (const loading::AlonePiece& piece : order.best_pieces)
            rows.push_back({&order, "best", &piece});
    }
    Columns<Row> columns{
        {"transition", [&](const Row& row) { return transition_name(plan, *row.order); }},
        {"device", [&](const Row& row) { return plan.devices[row.order->device].name; }},
        {"order", [](const Row& row) { return row.which; }},
        {"piece", [&](const Row& row) { return piece_name(plan, row.piece->piece); }},
        {"kind", [&](const Row& row) { return piece_kind(plan, row.piece->piece); }}};
    for (const loading::PieceTime& each : loading::piece_times)
        columns.push_back({each.column, [each](const Row& row) { return row.piece->*each.time; }});
    columns.push_back({"shown_s", [](const Row& row) { return row.piece->shown; }});
    return csv_of(columns, rows);
}

std::string parcel_names(const plan::Plan& plan, const order::ParcelOrder& order) {
    return plan::joined(proposed_names(plan, order));
}

std::string orders_json(const plan::Plan& plan, const std::vector<order::EditionOrder>& orders,
                        const std::vector<order::ParcelOrder>& parcels,
                        const std::vector<order::TransitionOrder>& transitions,
                        const std::vector<walk::Record>& records) {
    Json editions = Json::array();
    for (const order::EditionOrder& order : orders) {
        Json edition{{"edition", plan.editions[order.edition].name}};
        edition["levels"] = json_of(order_columns(plan), rows_of(plan, order, records));
        edition["uses"] = json_of(use_columns(plan), order.uses);
        edition["not_shipped"] = Json::array();
        for (const order::NotShipped& each : order.not_shipped) {
            edition["not_shipped"].push_back({{"place", plan::place_text(plan, each.place)},
                                              {"list", plan::list_name(plan, each.list)},
                                              {"level", name_of(plan, each.level)}});
        }
        edition["circles"] = Json::array();
        for (const order::NeedCircle& circle : order.circles)
            edition["circles"].push_back(circle_text(plan, circle));
        edition["parcels"] = Json::array();
        for (const order::ParcelOrder& each : parcels) {
            if (each.edition == order.edition)
                edition["parcels"].push_back(parcels_json(plan, each, records));
        }
        editions.push_back(std::move(edition));
    }
    return source::file_text(Json{{"plan", plan.name},
                                  {"editions", editions},
                                  {"transitions", json_of(transition_columns(plan), transitions)}});
}

} // namespace hestrel::tables
