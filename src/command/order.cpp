// hestrel order PLAN: which levels ship, in which order, and why.

#include "command/orders.hpp"
#include "command/output.hpp"
#include "command/progress.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "command/walk.hpp"
#include "edit/reorder.hpp"
#include "figure/order_figure.hpp"
#include "order/edition_order.hpp"
#include "order/parcel_order.hpp"
#include "order/transition_order.hpp"
#include "plan/names.hpp"
#include "source/disk.hpp"
#include "source/plan_reader.hpp"
#include "tables/file_names.hpp"
#include "tables/order_tables.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

using order::EditionOrder;
using Align = TextTable::Align;

std::string table_of(const plan::Plan& plan, const EditionOrder& order,
                     const std::vector<walk::Record>& records) {
    TextTable table({{"position", Align::right},
                     {"level"},
                     {"first asked for", Align::right},
                     {"on route"},
                     {"needs before it"},
                     {"proposed", Align::right}});
    std::vector<std::size_t> proposed(order.levels.size());
    for (std::size_t i = 0; i < order.proposed.size(); ++i) proposed[order.proposed[i]] = i;
    for (std::size_t i = 0; i < order.levels.size(); ++i) {
        const order::ListedLevel& listed = order.levels[i];
        table.row({std::to_string(i), plan.levels[listed.level].name,
                   tables::first_asked_text(listed),
                   listed.asked ? plan.routes[records[listed.asked->record].route].name : "",
                   tables::needs_text(plan, listed),
                   proposed[i] == i ? "" : std::to_string(proposed[i])});
    }
    return table.text();
}

std::string moves_text(const plan::Plan& plan, const EditionOrder& order) {
    if (order.moves.empty()) return "no move proposed\n";
    std::string text = tables::counted(order.moves.size(), "move") + " proposed:\n";
    for (const order::Relocation& move : order.moves) {
        text += fmt::format("  {} from {} to {}: {}\n",
                            plan.levels[order.levels[move.thing].level].name, move.from, move.to,
                            tables::move_reason(plan, order, move));
    }
    return text;
}

/// Steps that go by position, and what is wrong.
std::string uses_text(const plan::Plan& plan, const EditionOrder& order) {
    std::string text;
    const auto name = [&](plan::LevelId level) {
        return level ? plan.levels[level].name : std::string("nowhere: that is beyond the edition");
    };
    for (const order::PositionUse& use : order.uses) {
        text +=
            fmt::format("{}: {} leads to {}{}\n", plan::place_text(plan, use.place),
                        tables::use_text(plan, use), name(use.today),
                        use.today == use.then ? "" : ", and would then lead to " + name(use.then));
    }
    for (const order::NotShipped& each : order.not_shipped) {
        text += fmt::format("{}: {} asks for {}, which the edition does not ship\n",
                            plan::place_text(plan, each.place), plan::list_name(plan, each.list),
                            plan.levels[each.level].name);
    }
    for (const order::NeedCircle& circle : order.circles)
        text += "a circle: " + tables::circle_text(plan, circle) + "\n";
    return text;
}

/// The parcels that the proposed order brings later.
std::string later_text(const plan::Plan& plan, const order::ParcelOrder& order,
                       const order::RouteDelivery& route) {
    std::string text;
    for (const order::ParcelArrival& parcel : route.parcels) {
        if (parcel.then <= parcel.arrives) continue;
        text += fmt::format("{}{} (at {})", text.empty() ? "; later then: " : ", ",
                            plan.editions[order.edition].parcels[parcel.parcel].name,
                            tables::short_time(parcel.then));
    }
    return text;
}

/// Delivery on one device: along the route on which players wait longest.
std::string parcels_text(const plan::Plan& plan, const order::ParcelOrder& order,
                         const std::vector<walk::Record>& records) {
    const order::RouteDelivery& worst = order.worst();
    std::string text = fmt::format(
        "\nparcels on {}, downloaded at {:g} MiB/s, on {}:\n", plan.devices[order.device].name,
        plan::in_mebibytes({plan.devices[order.device].download->per_second}),
        plan.routes[records[worst.record].route].name);
    TextTable table({{"  parcel"},
                     {"MiB", Align::right},
                     {"arrives", Align::right},
                     {"needed", Align::right},
                     {"late", Align::right}});
    for (const order::ParcelArrival& parcel : worst.parcels) {
        table.row({"  " + plan.editions[order.edition].parcels[parcel.parcel].name,
                   tables::short_mebibytes(parcel.size), tables::short_time(parcel.arrives),
                   parcel.needed ? tables::short_time(*parcel.needed) : "never",
                   parcel.late.count == 0 ? "" : tables::short_time(parcel.late)});
    }
    text += table.text();
    text += worst.waits.count == 0
                ? std::string("  nobody waits")
                : "  players wait " + tables::short_time(worst.waits) + " in all";
    text += fmt::format("; {} must be there before play begins so that nobody does\n",
                        tables::short_memory(worst.ahead));
    if (order.waits_then < order.waits)
        text += fmt::format("  in the order {} they wait {} at most{}\n",
                            tables::parcel_names(plan, order), tables::short_time(order.waits_then),
                            later_text(plan, order, worst));
    else if (order.waits.count > 0)
        text += order.exact ? "  in no other order do they wait less\n"
                            : "  in order of need they would wait no less\n";
    return text;
}

/// What lists ask for, and what another order of asking would save, most first.
std::string transitions_text(const plan::Plan& plan,
                             const std::vector<order::TransitionOrder>& transitions) {
    constexpr std::size_t most_rows = 12;
    constexpr plan::Micros worth_it = plan::milliseconds(1);
    std::vector<const order::TransitionOrder*> quicker;
    for (const order::TransitionOrder& each : transitions) {
        if (each.takes - each.best_takes >= worth_it) quicker.push_back(&each);
    }
    std::stable_sort(quicker.begin(), quicker.end(), [](const auto* one, const auto* other) {
        return one->takes - one->best_takes > other->takes - other->best_takes;
    });
    if (quicker.empty())
        return fmt::format("\norder of asking: in none of {} would another save a millisecond\n",
                           tables::counted(transitions.size(), "transition"));
    TextTable table({{"order of asking in"},
                     {"on"},
                     {"takes", Align::right},
                     {"could take", Align::right},
                     {"asking for"}});
    for (std::size_t i = 0; i < std::min(quicker.size(), most_rows); ++i) {
        const order::TransitionOrder& each = *quicker[i];
        const std::string quickest = tables::short_time(each.best_takes);
        table.row({tables::transition_name(plan, each), plan.devices[each.device].name,
                   tables::short_time(each.takes),
                   each.exact ? quickest
                              : fmt::format("{} (no less than {})", quickest,
                                            tables::short_time(each.bound)),
                   plan::level_names(plan, each.best)});
    }
    std::string text = "\n" + table.text();
    if (quicker.size() > most_rows)
        text += fmt::format("and {} more, in transitions.csv\n", quicker.size() - most_rows);
    return text;
}

std::string text_for_people(const plan::Plan& plan, const std::vector<EditionOrder>& orders,
                            const std::vector<order::ParcelOrder>& parcels,
                            const std::vector<order::TransitionOrder>& transitions,
                            const std::vector<walk::Record>& records) {
    std::string text;
    for (const EditionOrder& order : orders) {
        const plan::Edition& edition = plan.editions[order.edition];
        if (!text.empty()) text += "\n";
        text += fmt::format("edition {}: {}", edition.name,
                            tables::counted(edition.levels.size(), "level"));
        if (!edition.levels.empty())
            text += fmt::format(", first {}, last {}", plan.levels[edition.levels.front()].name,
                                plan.levels[edition.levels.back()].name);
        text += "\n\n" + table_of(plan, order, records) + "\n" + moves_text(plan, order) +
                uses_text(plan, order);
        for (const order::ParcelOrder& each : parcels) {
            if (each.edition == order.edition) text += parcels_text(plan, each, records);
        }
    }
    return text + transitions_text(plan, transitions);
}

bool is_at_fault(const EditionOrder& order) {
    return !order.not_shipped.empty() || !order.circles.empty() ||
           std::any_of(order.uses.begin(), order.uses.end(),
                       [](const order::PositionUse& use) { return !use.today; });
}

/// The moves to write, with a word on what was written.
void write_orders(const plan::Plan& plan, const std::string& path,
                  const std::vector<EditionOrder>& orders, Output& output) {
    std::vector<edit::NewOrder> news;
    for (const EditionOrder& order : orders)
        news.push_back({order.edition, order.proposed_levels()});
    PlanOnDisk on_disk(path);
    const auto changed = edit::reorder(on_disk.disk(), path, plan, news);
    on_disk.disk().change(changed);
    for (const auto& [file, text] : changed) output.say("written: " + file);
}

/// What the files about an edition begin with.
std::string file_of(const plan::Plan& plan, plan::EditionId edition) {
    return tables::edition_file(plan.editions[edition].name, {"transitions", "pieces", "parcels"},
                                {"-positions"});
}

/// One figure for each edition with parcels.
void draw_figures(const plan::Plan& plan, const std::vector<plan::EditionId>& editions,
                  const std::vector<order::ParcelOrder>& parcels,
                  const std::vector<walk::Record>& records, Output& output) {
    NamedFigures figures;
    for (const plan::EditionId edition : editions) {
        const auto of_edition = order::parcels_of(parcels, edition);
        if (!of_edition.empty())
            figures.add(file_of(plan, edition) + "-order",
                        figure::order_figure(plan, of_edition, records));
    }
    output.draw(figures);
    output.require_drawn();
}

std::vector<plan::EditionId> chosen_editions(const plan::Plan& plan,
                                             const std::vector<std::string>& names) {
    std::vector<plan::EditionId> editions = chosen(plan.editions, names, "edition");
    if (editions.empty()) throw UsageError("the plan has no editions to order");
    return editions;
}

int run_order(const Call& call) {
    const CommonOptions& options = call.common();
    Output output(options);
    const auto plan = load_plan(options.plan_path, options.sets, output.inputs());
    if (!plan) return exit_code::problems_found;
    const auto editions = chosen_editions(*plan, call.names("edition"));
    const bool write = call.has("write");
    if (write && !options.sets.empty())
        throw UsageError("--write goes without --set: it would write what was only tried");
    Progress progress(output);
    const auto records =
        walk_all(*plan, chosen(plan->routes, options.routes, "route"),
                 chosen(plan->devices, options.devices, "device"), {}, options.jobs, progress);
    const bool keep_positions = !call.has("move-all");
    const report::Orders all = order_all(
        *plan, {editions, chosen(plan->devices, options.devices, "device"), keep_positions},
        records, options.jobs, progress);
    progress.end();
    const auto& orders = all.editions;
    const auto& parcels = all.parcels;
    const auto& transitions = all.transitions;

    std::string tables;
    for (const EditionOrder& order : orders) {
        const std::string name = file_of(*plan, order.edition);
        const std::string table = tables::edition_order_csv(*plan, order, records);
        tables += table;
        output.write(name + ".csv", table);
        output.write(name + "-positions.csv", tables::position_uses_csv(*plan, order));
    }
    const std::string json = tables::orders_json(*plan, orders, parcels, transitions, records);
    output.write("order.json", json);
    output.write("transitions.csv", tables::transition_orders_csv(*plan, transitions));
    output.write("pieces.csv", tables::transition_pieces_csv(*plan, transitions));
    output.write("parcels.csv", tables::parcels_csv(*plan, parcels, records));
    output.print(json, tables,
                 [&] { return text_for_people(*plan, orders, parcels, transitions, records); });
    output.say_files();
    if (write) {
        try {
            write_orders(*plan, options.plan_path, orders, output);
        } catch (const edit::ReorderError& error) {
            throw UsageError(error.what());
        }
    }
    if (output.draws()) draw_figures(*plan, editions, parcels, records, output);
    return std::any_of(orders.begin(), orders.end(), is_at_fault) ? exit_code::problems_found
                                                                  : exit_code::fine;
}

constexpr std::string_view order_usage = R"(usage: hestrel order PLAN [options]

Says for each edition which levels ship, in which order, and why: what each needs before
it, when any route asks for it first, and what goes by position.
Proposes an order that changes little.
Exits with 1 where something leads outside the edition, or levels need each other in a
circle.)";

} // namespace

Command order_command() {
    auto described = options_for("order", {Group::devices, Group::routes, Group::editions,
                                           Group::values, Group::files, Group::pictures});
    described.add_options()("write", "put the proposed order into the plan file")(
        "move-all", "propose moves of levels, too, that a position, next or back leads to");
    return {"order",     "PLAN",    "build order: of each edition, and why",
            order_usage, described, &run_order};
}

} // namespace hestrel::command
