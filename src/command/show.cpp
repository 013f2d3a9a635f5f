// hestrel show PLAN [NAME]: all about one thing, the ways between two, lists.

#include "command/output.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "command/walk.hpp"
#include "plan/names.hpp"
#include "plan/owner.hpp"
#include "plan/questions.hpp"
#include "study/level_ways.hpp"
#include "tables/cards.hpp"
#include "tables/contents_table.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <array>
#include <boost/program_options/value_semantic.hpp>
#include <deque>
#include <fmt/ranges.h>

namespace hestrel::command {

namespace {

using plan::LevelId;
using tables::Cell;
using tables::Columns;

/// A list of one kind of thing, in its three forms.
struct Listed {
    std::string text, json, csv;
};

template <class Row>
Listed listed(const Columns<Row>& columns, const std::vector<Row>& rows) {
    Listed list;
    list.text =
        rows.empty() ? "there are none\n" : TextTable::of(columns, rows, rows.size()).text();
    list.json = source::file_text(tables::json_of(columns, rows));
    list.csv = tables::csv_of(columns, rows);
    return list;
}

// --- lists -------------------------------------------------------------------

/// What is there of a kind, for who owns the level that it belongs to (or where nobody was named).
class Lister {
public:
    Lister(const study::Study& study, std::string owner, std::vector<plan::DeviceId> devices)
        : study_(study), plan_(study.plan), owner_(std::move(owner)), devices_(std::move(devices)) {
    }

    [[nodiscard]] Listed levels() const {
        Columns<LevelId> columns{{"level",
                                  [&](const LevelId& id) {
                                      const plan::GridId grid = plan_.levels[id].grid;
                                      return grid ? plan::cells_text(plan_, grid)
                                                  : plan_.levels[id].name;
                                  }},
                                 {"parent",
                                  [&](const LevelId& id) {
                                      const LevelId parent = plan_.levels[id].parent;
                                      return parent ? Cell(plan_.levels[parent].name) : Cell();
                                  }},
                                 {"owner", [&](const LevelId& id) { return owner_of(id); }},
                                 {"editions", [&](const LevelId& id) { return editions_of(id); }}};
        for (const plan::DeviceId device : devices_) {
            const std::string& name = plan_.devices[device].name;
            columns.push_back({name + "_mib",
                               [this, device](const LevelId& id) {
                                   return Cell(
                                       in_all(id, [&](LevelId each) { return own(each, device); }));
                               },
                               true});
            columns.push_back({name + "_with_kits_mib",
                               [this, device](const LevelId& id) {
                                   return Cell(
                                       in_all(id, [&](LevelId each) { return own(each, device); }) +
                                       kits(id, device));
                               },
                               true});
        }
        std::vector<LevelId> rows;
        for (const LevelId id : plan_.levels.ids()) {
            if (is_owned(id) && plan::listed_as(plan_, id) == id) rows.push_back(id);
        }
        return listed(columns, rows);
    }

    [[nodiscard]] Listed triggers() const {
        using Id = plan::TriggerId;
        return of(
            plan_.triggers, [&](Id id) { return plan::first_of(plan_.triggers[id].in); },
            Columns<Id>{
                {"trigger", [&](const Id& id) { return plan_.triggers[id].name; }},
                {"in", [&](const Id& id) { return levels(plan_.triggers[id].in); }},
                {"when", [&](const Id& id) { return condition(plan_.triggers[id].when); }},
                {"once", [&](const Id& id) { return plan_.triggers[id].once; }},
                {"steps", [&](const Id& id) { return steps(plan_.triggers[id].steps); }, true},
                {"asks_for",
                 [&](const Id& id) {
                     return plan::names_in(plan_.levels,
                                           study_.effects[plan_.triggers[id].steps].asks);
                 }},
                {"place", [&](const Id& id) { return place(plan_.triggers[id].place); }}});
    }

    [[nodiscard]] Listed menus() const {
        using Id = plan::ItemId;
        const auto menu = [&](Id id) -> const plan::Menu& {
            return plan_.menus[plan_.items[id].menu];
        };
        return of(
            plan_.items, [&](Id id) { return plan::first_of(menu(id).in); },
            Columns<Id>{{"item", [&](const Id& id) { return plan::item_name(plan_, id); }},
                        {"in", [=, this](const Id& id) { return levels(menu(id).in); }},
                        {"when", [&](const Id& id) { return condition(plan_.items[id].when); }},
                        {"steps", [&](const Id& id) { return steps(plan_.items[id].steps); }, true},
                        {"place", [&](const Id& id) { return place(plan_.items[id].place); }}});
    }

    [[nodiscard]] Listed facts() const {
        using Id = plan::FactId;
        return of(
            plan_.facts, [&](Id id) { return plan_.facts[id].of; },
            Columns<Id>{
                {"fact", [&](const Id& id) { return plan_.facts[id].name; }},
                {"lifetime", [&](const Id& id) { return plan::name_of(plan_.facts[id].lifetime); }},
                {"of", [&](const Id& id) { return level(plan_.facts[id].of); }},
                {"set", [&](const Id& id) { return study_.facts[id].set; }},
                {"read", [&](const Id& id) { return study_.facts[id].read; }},
                {"place", [&](const Id& id) { return place(plan_.facts[id].place); }}});
    }

    [[nodiscard]] Listed groups() const {
        using Id = plan::GroupId;
        return of(
            plan_.groups, [&](Id id) { return plan::first_of(plan_.groups[id].levels); },
            Columns<Id>{{"group", [&](const Id& id) { return plan_.groups[id].name; }},
                        {"one_of", [&](const Id& id) { return plan_.groups[id].one_of; }},
                        {"levels",
                         [&](const Id& id) {
                             return plan::names_in(plan_.levels, plan_.groups[id].levels);
                         }},
                        {"place", [&](const Id& id) { return place(plan_.groups[id].place); }}});
    }

    [[nodiscard]] Listed entries() const {
        struct Row {
            LevelId level;
            const plan::Entry* entry;
        };
        std::vector<Row> rows;
        for (const LevelId id : plan_.levels.ids()) {
            if (!is_owned(id)) continue;
            for (const plan::Entry& entry : plan_.levels[id].entries) rows.push_back({id, &entry});
        }
        return listed(
            Columns<Row>{
                {"entry",
                 [&](const Row& row) {
                     return plan_.levels[row.level].name + "." + row.entry->name;
                 }},
                {"waypoint",
                 [&](const Row& row) { return plan_.waypoints[row.entry->waypoint].name; }},
                {"place", [&](const Row& row) { return place(row.entry->place); }}},
            rows);
    }

    [[nodiscard]] Listed todos() const {
        std::vector<plan::Todo> rows;
        for (const plan::Todo& each : plan_.todos) {
            if (owner_.empty() || plan::owner_name(plan_, each.thing) == owner_)
                rows.push_back(each);
        }
        return listed(
            Columns<plan::Todo>{
                {"about",
                 [&](const plan::Todo& each) { return plan::thing_name(plan_, each.thing); }},
                {"todo", [](const plan::Todo& each) { return each.text; }},
                {"owner",
                 [&](const plan::Todo& each) { return plan::owner_name(plan_, each.thing); }},
                {"place", [&](const plan::Todo& each) { return place(each.place); }}},
            rows);
    }

    [[nodiscard]] Listed allowed() const {
        return listed(
            Columns<plan::Allowed>{
                {"finding", [](const plan::Allowed& each) { return each.finding; }},
                {"about",
                 [&](const plan::Allowed& each) { return plan::thing_name(plan_, each.thing); }},
                {"why", [](const plan::Allowed& each) { return each.why; }},
                {"place", [&](const plan::Allowed& each) { return place(each.place); }}},
            plan_.allowed);
    }

    [[nodiscard]] Listed routes() const {
        using Id = plan::RouteId;
        const auto count = [&](Id id, bool expecting) {
            std::size_t steps = 0;
            for (const plan::RoutePlayer& player : plan_.routes[id].players) {
                for (const plan::RouteStep& step : player.steps)
                    steps +=
                        !expecting || std::holds_alternative<plan::ExpectStep>(step.what) ? 1 : 0;
            }
            return steps;
        };
        return of(
            plan_.routes, [](Id) { return LevelId{}; },
            Columns<Id>{
                {"route", [&](const Id& id) { return plan_.routes[id].name; }},
                {"players", [&](const Id& id) { return plan_.routes[id].players.size(); }, true},
                {"steps", [=](const Id& id) { return count(id, false); }, true},
                {"expectations", [=](const Id& id) { return count(id, true); }, true},
                {"place", [&](const Id& id) { return place(plan_.routes[id].place); }}});
    }

    /// What levels provide, and what they lack for what they are for.
    [[nodiscard]] Listed contents() const {
        std::vector<study::Contents> rows = study::contents_of(study_);
        std::erase_if(rows, [&](const study::Contents& row) { return !is_owned(row.level); });
        return listed(tables::content_columns(plan_), rows);
    }

    /// Kits, gates, veils, waypoints, named lists, editions, devices: by name and place.
    template <class Table>
    [[nodiscard]] Listed plain(const std::string& kind, const Table& table) const {
        using Id = decltype(*table.ids().begin());
        using Plain = std::remove_cvref_t<Id>;
        const auto home = [&]([[maybe_unused]] Plain id) -> LevelId {
            if constexpr (std::is_base_of_v<plan::Belonging,
                                            std::remove_cvref_t<decltype(table[id])>>)
                return table[id].home;
            else
                return {};
        };
        return of(
            table, home,
            Columns<Plain>{{kind, [&](const Plain& id) { return table[id].name; }},
                           {"place", [&](const Plain& id) { return place(table[id].place); }}});
    }

private:
    template <class Table, class LevelOf, class Id>
    [[nodiscard]] Listed of(const Table& table, LevelOf level_of,
                            const Columns<Id>& columns) const {
        std::vector<Id> rows;
        for (const Id id : table.ids()) {
            if (is_owned(level_of(id))) rows.push_back(id);
        }
        return listed(columns, rows);
    }
    [[nodiscard]] bool is_owned(LevelId level) const {
        return owner_.empty() || (level && owner_of(level) == owner_);
    }
    [[nodiscard]] std::string owner_of(LevelId id) const {
        return plan::owner_name(plan_, {plan::ThingKind::level, id.value});
    }
    [[nodiscard]] Cell level(LevelId id) const { return id ? Cell(plan_.levels[id].name) : Cell(); }
    [[nodiscard]] Cell levels(const std::vector<LevelId>& ids) const {
        return ids.empty() ? Cell() : Cell(plan::level_names(plan_, ids));
    }
    [[nodiscard]] Cell condition(plan::ConditionId id) const {
        return id ? Cell(plan_.conditions[id].text) : Cell();
    }
    [[nodiscard]] Cell steps(plan::ListId id) const { return plan_.lists[id].steps.size(); }
    [[nodiscard]] Cell place(plan::Place at) const { return plan::place_text(plan_, at); }
    /// Of a level; where it stands for the cells of a grid, of all of them.
    template <class Of>
    [[nodiscard]] plan::Bytes in_all(LevelId id, Of of) const {
        const plan::GridId grid = plan_.levels[id].grid;
        if (!grid) return of(id);
        plan::Bytes sum;
        for (const LevelId cell : plan_.grids[grid].cells) sum += cell ? of(cell) : plan::Bytes{};
        return sum;
    }
    [[nodiscard]] plan::Bytes own(LevelId id, plan::DeviceId device) const {
        const loading::Catalogue& catalogue = study_.catalogues[device.value];
        return catalogue.pieces[catalogue.piece_of(id)].unpacked;
    }
    [[nodiscard]] plan::Bytes kits(LevelId id, plan::DeviceId device) const {
        const loading::Catalogue& catalogue = study_.catalogues[device.value];
        plan::Bytes sum;
        for (const loading::PieceId kit : catalogue.levels[id].kits)
            sum += catalogue.pieces[kit].unpacked;
        return sum;
    }
    [[nodiscard]] std::vector<std::string> editions_of(LevelId id) const {
        std::vector<std::string> names;
        for (const plan::Edition& edition : plan_.editions) {
            if (plan::contains(edition.levels, id)) names.push_back(edition.name);
        }
        return names;
    }

    const study::Study& study_;
    const plan::Plan& plan_;
    std::string owner_;
    std::vector<plan::DeviceId> devices_;
};

Listed list_of(const Lister& lister, const plan::Plan& plan, const std::string& kind) {
    if (kind == "levels") return lister.levels();
    if (kind == "triggers") return lister.triggers();
    if (kind == "menus") return lister.menus();
    if (kind == "facts") return lister.facts();
    if (kind == "entries") return lister.entries();
    if (kind == "routes") return lister.routes();
    if (kind == "allowed") return lister.allowed();
    if (kind == "contents") return lister.contents();
    if (kind == "purposes") return lister.plain("purpose", plan.purposes);
    if (kind == "todo") return lister.todos();
    if (kind == "kits") return lister.plain("kit", plan.kits);
    if (kind == "groups") return lister.groups();
    if (kind == "gates") return lister.plain("gate", plan.gates);
    if (kind == "veils") return lister.plain("veil", plan.veils);
    if (kind == "lists") return lister.plain("list", plan.named_lists);
    if (kind == "waypoints") return lister.plain("waypoint", plan.waypoints);
    if (kind == "editions") return lister.plain("edition", plan.editions);
    if (kind == "devices") return lister.plain("device", plan.devices);
    const std::vector<std::string_view> known{
        "levels",  "triggers", "menus",  "facts", "entries",   "routes",
        "allowed", "kits",     "gates",  "veils", "waypoints", "editions",
        "devices", "lists",    "groups", "todo",  "contents",  "purposes"};
    throw UsageError(fmt::format("there is no list of \"{}\"{}; there is one of {}", kind,
                                 source::hint(kind, known), fmt::join(known, ", ")));
}

// --- ways between two levels ------------------------------------------------

LevelId level_called(const plan::Plan& plan, const std::string& name) {
    std::vector<std::string_view> known;
    for (const LevelId id : plan.levels.ids()) {
        if (plan.levels[id].name == name) return id;
        known.push_back(plan.levels[id].name);
    }
    throw UsageError(
        fmt::format("no level of this plan is called \"{}\"{}", name, source::hint(name, known)));
}

/// The levels passed on the way with the fewest steps, both ends included; empty: there is none.
std::vector<LevelId> chain(const std::vector<study::LevelWay>& ways, LevelId from, LevelId to,
                           std::size_t levels) {
    plan::Table<LevelId, LevelId> came(levels);
    std::deque<LevelId> open{from};
    while (!open.empty() && !came[to]) {
        const LevelId at = open.front();
        open.pop_front();
        for (const study::LevelWay& way : ways) {
            const bool next = (way.from == at || !way.from) && way.to != from && !came[way.to];
            if (!next) continue;
            came[way.to] = at;
            open.push_back(way.to);
        }
    }
    std::vector<LevelId> passed;
    if (!came[to]) return passed;
    for (LevelId at = to; at != from; at = came[at]) passed.push_back(at);
    passed.push_back(from);
    std::reverse(passed.begin(), passed.end());
    return passed;
}

/// One way, and the least slack that any walk had on it.
struct WayRow {
    study::LevelWay way;
    std::optional<plan::Micros> slack;
    std::string on; ///< which walk
    std::size_t times = 0;
    bool late = false; ///< asked for, and never shown
};

std::vector<WayRow> ways_between(const plan::Plan& plan, LevelId from, LevelId to,
                                 const std::vector<study::LevelWay>& ways,
                                 const std::vector<walk::Record>& walks) {
    std::vector<WayRow> rows;
    for (const study::LevelWay& way : ways) {
        if (way.to != to || (way.from && way.from != from)) continue;
        WayRow row{way, {}, {}, 0, false};
        for (const walk::Record& record : walks) {
            for (const walk::LevelOutcome& outcome : record.outcomes) {
                const walk::Transition& transition = record.transitions[outcome.transition - 1];
                if (outcome.level != to || transition.list != way.list) continue;
                ++row.times;
                if (!outcome.slack || outcome.held || (row.slack && *outcome.slack >= *row.slack))
                    continue;
                row.slack = outcome.slack;
                row.on = plan.routes[record.route].name + " on " + walk::device_text(plan, record);
            }
        }
        rows.push_back(row);
    }
    return rows;
}

Listed ways_listed(const plan::Plan& plan, const std::vector<WayRow>& rows) {
    const Columns<WayRow> columns{
        {"by", [&](const WayRow& row) { return plan::list_name(plan, row.way.list); }},
        {"how", [](const WayRow& row) { return row.way.switches ? "switches" : "streams"; }},
        {"walked", [](const WayRow& row) { return row.times; }, true},
        {"worst_slack_s", [](const WayRow& row) { return Cell(row.slack); }, true},
        {"on", [](const WayRow& row) { return row.on; }},
        {"place", [&](const WayRow& row) {
             return plan::place_text(plan, plan::owner_of(plan, row.way.list).place);
         }}};
    return listed(columns, rows);
}

int show_ways(const study::Study& study, const Call& call, Output& output) {
    const plan::Plan& plan = study.plan;
    const CommonOptions& options = call.common();
    const LevelId from = level_called(plan, call.text("name"));
    const LevelId to = level_called(plan, call.text("to"));
    const auto ways = study::level_ways(plan);
    const std::vector<LevelId> passed = chain(ways, from, to, plan.levels.size());
    if (passed.empty()) {
        output.print("[]\n", "", [&] {
            return fmt::format("no list leads from {} to {}\n", plan.levels[from].name,
                               plan.levels[to].name);
        });
        return exit_code::fine;
    }
    std::vector<walk::Record> walks;
    if (!plan.devices.empty()) {
        Progress progress;
        walks =
            walk_all(plan, chosen(plan.routes, options.routes, "route"),
                     chosen(plan.devices, options.devices, "device"), {}, options.jobs, progress);
    }
    std::string text;
    Listed all;
    std::vector<WayRow> rows;
    for (std::size_t i = 1; i < passed.size(); ++i) {
        const auto some = ways_between(plan, passed[i - 1], passed[i], ways, walks);
        if (passed.size() > 2)
            text += fmt::format("{}{} to {}\n", i > 1 ? "\n" : "", plan.levels[passed[i - 1]].name,
                                plan.levels[passed[i]].name);
        text += ways_listed(plan, some).text;
        rows.insert(rows.end(), some.begin(), some.end());
    }
    all = ways_listed(plan, rows);
    output.print(all.json, all.csv, [&] { return text; });
    return exit_code::fine;
}

// --- cards -------------------------------------------------------------------

int show_cards(const study::Study& study, const std::string& name, Output& output) {
    const plan::Plan& plan = study.plan;
    const std::vector<tables::Card> cards = tables::cards_of(study, name);
    if (cards.empty()) {
        const std::vector<std::string> names = tables::card_names(plan);
        throw UsageError(fmt::format(
            "nothing in this plan is called \"{}\"{}", name,
            source::hint(name, std::vector<std::string_view>(names.begin(), names.end()))));
    }
    source::Json json = source::Json::array();
    for (const tables::Card& card : cards) json.push_back(tables::card_json(plan, card));
    output.print(source::file_text(json), tables::cards_csv(plan, cards), [&] {
        std::string text;
        for (const tables::Card& card : cards)
            text += (text.empty() ? "" : "\n") + tables::card_text(plan, card);
        return text;
    });
    return exit_code::fine;
}

int run_show(const Call& call) {
    const CommonOptions& options = call.common();
    Output output(options);
    const auto plan = load_plan(options.plan_path, options.sets, output.inputs());
    if (!plan) return exit_code::problems_found;
    const study::Study study(*plan, {});
    const bool lists = call.has("list") || call.has("owner");
    if (call.has("name") && lists)
        throw UsageError("show tells of one thing, or lists many: not both");
    if (call.has("to")) return show_ways(study, call, output);
    if (call.has("name")) return show_cards(study, call.text("name"), output);
    const Lister lister(study, call.text("owner"),
                        chosen(plan->devices, options.devices, "device"));
    const Listed list = list_of(lister, *plan, call.has("list") ? call.text("list") : "levels");
    output.print(list.json, list.csv, [&] { return list.text; });
    return exit_code::fine;
}

constexpr std::string_view show_usage = R"(usage: hestrel show PLAN [NAME [LEVEL]] [options]

Tells all about one thing of a plan: where it is defined, what it costs, who brings it,
who lets it go, who reads and sets it, each with its place.
Of two levels: the ways from one to the other, with the least slack of any route.
Without a name: every level with its totals, or another list.

lists: levels, triggers, menus, facts, entries, routes, allowed, todo, contents,
purposes, kits, gates, groups, lists, veils, waypoints, editions, devices)";

} // namespace

Command show_command() {
    namespace po = boost::program_options;
    auto described = options_for("show", {Group::devices, Group::routes, Group::values});
    described.add_options()("list", po::value<std::string>()->value_name("LIST"),
                            "list these (levels)")("owner",
                                                   po::value<std::string>()->value_name("NAME"),
                                                   "only what belongs to this owner's levels")(
        "format", po::value<std::string>()->default_value("text")->value_name("text|json|csv"),
        "of what goes to standard output");
    return {"show",
            "PLAN [NAME [LEVEL]]",
            "all about one thing: its cost, who brings it, who lets it go",
            show_usage,
            described,
            &run_show,
            {"plan", "name", "to"},
            1,
            "which plan?"};
}

} // namespace hestrel::command
