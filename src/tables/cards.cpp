#include "tables/cards.hpp"

#include "loading/isolated.hpp"
#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "plan/owner.hpp"
#include "plan/questions.hpp"
#include "plan/texts.hpp"
#include "study/contents.hpp"
#include "study/level_ways.hpp"
#include "study/list_reading.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <map>
#include <set>

namespace hestrel::tables {

using plan::LevelId;
using plan::ListId;
using plan::ThingKind;
using study::StepReading;

namespace {

std::string flag_text(bool yes) {
    return yes ? "yes" : "no";
}

std::string point_text(const plan::Vec3& at) {
    return fmt::format("[{:g}, {:g}, {:g}]", at[0], at[1], at[2]);
}

std::string shape_text(const plan::Shape& shape) {
    if (const auto* box = std::get_if<plan::Box>(&shape)) {
        return fmt::format("a box from {} to {}{}", point_text(box->min), point_text(box->max),
                           box->turn == 0 ? "" : fmt::format(", turned by {:g}°", box->turn));
    }
    if (const auto* sphere = std::get_if<plan::Sphere>(&shape)) {
        return fmt::format("a sphere of {:g} m at {}", sphere->radius, point_text(sphere->at));
    }
    if (const auto* beyond = std::get_if<plan::Beyond>(&shape)) {
        static constexpr std::array<char, 3> axes{'x', 'y', 'z'};
        return fmt::format("all {} {} = {:g}", beyond->over ? "over" : "under",
                           axes.at(beyond->axis), beyond->limit);
    }
    return "none";
}

std::string fact_value_text(const plan::Plan& plan, plan::FactId fact, const plan::Value& value) {
    const bool word = value.kind == plan::ValueKind::word;
    return plan::value_text(plan, fact,
                            word ? value.word.value : static_cast<std::int64_t>(value.number));
}

template <class Id, class T>
const std::string& name_of(const plan::Plan&, const plan::Table<Id, T>& table, Id id) {
    return table[id].name;
}
std::string name_of(const plan::Plan& plan, const plan::Table<plan::ItemId, plan::Item>&,
                    plan::ItemId id) {
    return plan::item_name(plan, id);
}

/// Tells of each kind of thing that there are cards of: what it is called, and its table.
template <class Each>
void for_kinds(const plan::Plan& plan, Each each) {
    each("level", ThingKind::level, plan.levels);
    each("kit", ThingKind::kit, plan.kits);
    each("trigger", ThingKind::trigger, plan.triggers);
    each("menu", ThingKind::menu, plan.menus);
    each("fact", ThingKind::fact, plan.facts);
    each("list", ThingKind::list, plan.named_lists);
    each("group", ThingKind::group, plan.groups);
    each("gate", ThingKind::gate, plan.gates);
    each("veil", ThingKind::veil, plan.veils);
    each("waypoint", ThingKind::waypoint, plan.waypoints);
    each("purpose", ThingKind::purpose, plan.purposes);
    each("device", ThingKind::device, plan.devices);
    each("player", ThingKind::player, plan.players);
    each("edition", ThingKind::edition, plan.editions);
    each("route", ThingKind::route, plan.routes);
    each("item", ThingKind::item, plan.items);
}

/// Makes the cards of one plan.
class CardMaker {
public:
    explicit CardMaker(const study::Study& study) : study_(study), plan_(study.plan) {}

    template <class Id, class T>
    Card card(std::string_view kind, ThingKind thing, const plan::Table<Id, T>& table, Id id) {
        card_ = {std::string(kind), name_of(plan_, table, id), table[id].place, {}, {}};
        fill(id);
        const plan::Thing self{thing, static_cast<std::uint32_t>(id.value)};
        for (const plan::Allowed& each : plan_.allowed) {
            if (each.thing == self) add("allows", each.finding + ": " + each.why, each.place);
        }
        return std::move(card_);
    }

private:
    void fill(LevelId id) {
        const plan::Level& level = plan_.levels[id];
        add("title", level.title);
        add("owner", plan::owner_name(plan_, {ThingKind::level, id.value}));
        add("world", plan_.worlds[level.world]);
        if (level.parent) add("parent", plan_.levels[level.parent].name);
        std::vector<LevelId> sublevels = level.sublevels;
        std::erase_if(sublevels, [&](LevelId each) { return plan_.levels[each].grid; });
        add("sublevels", plan::level_names(plan_, sublevels));
        cells(id);
        for (const plan::Group& group : plan_.groups) {
            if (plan::contains(group.levels, id))
                add(group.one_of ? "one of" : "in group", group.name, group.place);
        }
        if (level.with_parent) add("comes", "with its parent");
        if (level.persist) add("persists", "it is never unloaded by a switch");
        if (level.near) {
            add("near", fmt::format("loaded within {:g} m, unloaded beyond {:g} m",
                                    level.near->load, level.near->unload) +
                            (level.near->when ? ", while " + plan_.conditions[level.near->when].text
                                              : std::string()));
        }
        for (const plan::Edition& edition : plan_.editions) in_edition(edition, id);
        add("provides", words(level.provides));
        purpose(id);
        add("kits", plan::joined(plan::names_in(plan_.kits, level.kits)));
        for (const plan::Entry& entry : level.entries)
            add("entries", entry.name + " at " + plan_.waypoints[entry.waypoint].name, entry.place);
        members("triggers", plan_.triggers,
                [&](const plan::Trigger& each) { return plan::contains(each.in, id); });
        members("menus", plan_.menus,
                [&](const plan::Menu& each) { return plan::contains(each.in, id); });
        members("facts", plan_.facts,
                [&](const plan::Fact& each) { return each.of == id || each.home == id; });
        members("lists", plan_.named_lists,
                [&](const plan::NamedList& each) { return each.home == id; });
        done_to(id);
        ways(id);
        card_.figures = figures(id);
    }

    void fill(plan::TriggerId id) {
        const plan::Trigger& trigger = plan_.triggers[id];
        add("in", plan::level_names(plan_, trigger.in));
        add("world", plan_.worlds[trigger.world]);
        add("shape", shape_text(trigger.shape));
        add("fires", std::string(plan::name_of(trigger.fires)));
        add("for", words(trigger.tags));
        condition("when", trigger.when);
        if (trigger.once) add("once", flag_text(true));
        if (trigger.rearm.count > 0) add("rearm", short_time(trigger.rearm));
        list(trigger.steps);
        for (const study::Meeting& meeting : study_.map.meetings[id]) {
            const plan::Path& path = plan_.paths[meeting.path];
            add("on paths",
                fmt::format("{} to {}, from {:.1f} to {:.1f} m", plan_.waypoints[path.from].name,
                            plan_.waypoints[path.to].name, meeting.from, meeting.to),
                path.place);
        }
    }

    void fill(plan::MenuId id) {
        const plan::Menu& menu = plan_.menus[id];
        add("in", plan::level_names(plan_, menu.in));
        add("pauses", flag_text(menu.pauses));
        for (const plan::ItemId item : menu.items) {
            const plan::ConditionId when = plan_.items[item].when;
            add("items",
                plan_.items[item].name +
                    (when ? " when " + plan_.conditions[when].text : std::string()),
                plan_.items[item].place);
        }
        if (menu.after) add("after", short_time(menu.after->delay), menu.after->place);
        for_steps([&](const plan::Step& step, const std::string& by) {
            if (const auto* open = std::get_if<plan::OpenStep>(&step.what))
                if (open->menu == id) add("opened by", by, step.place);
            if (const auto* close = std::get_if<plan::CloseStep>(&step.what))
                if (close->menu == id) add("closed by", by, step.place);
        });
    }

    void fill(plan::ItemId id) {
        const plan::Item& item = plan_.items[id];
        condition("when", item.when);
        add("stays", flag_text(item.stays));
        list(item.steps);
    }

    void fill(plan::FactId id) {
        const plan::Fact& fact = plan_.facts[id];
        add("initial", fact_value_text(plan_, id, fact.initial));
        if (fact.range)
            add("range", fmt::format("{} to {}", fact.range->first, fact.range->second));
        add("values", words(fact.values));
        add("lifetime", std::string(plan::name_of(fact.lifetime)));
        if (fact.of) add("of", plan_.levels[fact.of].name);
        if (fact.of_each) add("of each", "player");
        if (fact.displayed) add("displayed", "players read it");
        const auto sets = [&](const std::vector<plan::Assignment>& facts, const std::string& by) {
            for (const plan::Assignment& each : facts) {
                if (each.fact == id)
                    add("set by", by + " (" + assignments_text(plan_, {each}) + ")", each.place);
            }
        };
        for_steps([&](const plan::Step& step, const std::string& by) {
            if (const auto* set = std::get_if<plan::SetStep>(&step.what)) sets(set->facts, by);
            const auto* reset = std::get_if<plan::ResetStep>(&step.what);
            const bool of_session =
                reset != nullptr && reset->session && fact.lifetime == plan::Lifetime::session;
            if (reset != nullptr && (of_session || plan::contains(reset->facts, id)))
                add("reset by", by, step.place);
        });
        for_routes([&](const plan::RouteStep& step, const std::string& by) {
            if (const auto* set = std::get_if<plan::RouteSetStep>(&step.what)) sets(set->facts, by);
        });
        read_by(id);
    }

    void fill(plan::GroupId id) {
        const plan::Group& group = plan_.groups[id];
        if (group.one_of) add("one of", "these are variants of one place");
        add("levels", plan::level_names(plan_, group.levels));
        for (const plan::Gate& gate : plan_.gates) {
            if (plan::contains(gate.any_of, id)) add("opens", "gate " + gate.name, gate.place);
        }
        for_steps([&](const plan::Step& step, const std::string& by) {
            const auto* wait = std::get_if<plan::WaitStep>(&step.what);
            if (wait != nullptr && plan::contains(wait->any_of, id))
                add("waited for by", by, step.place);
        });
    }

    void fill(plan::GateId id) {
        const plan::Gate& gate = plan_.gates[id];
        add("needs", plan::joined(plan::lacking(plan_, gate.needs, gate.any_of,
                                                [](LevelId) { return false; })));
        for (const plan::PathId path : plan_.paths.ids()) {
            if (plan_.paths[path].gate == id)
                add("on", plan::thing_name(plan_, {plan::ThingKind::path, path.value}),
                    plan_.paths[path].place);
        }
    }

    void fill(plan::VeilId id) {
        const plan::Veil& veil = plan_.veils[id];
        add("at least", short_time(veil.min));
        plan::Bytes memory;
        for (const auto& [pool, size] : veil.memory) memory += size;
        add("memory", short_memory(memory));
        for_steps([&](const plan::Step& step, const std::string& by) {
            const StepReading reading = study::read_step(step);
            const bool switches = reading.switches != nullptr && reading.switches->veil == id;
            if (reading.raises == id || switches) add("raised by", by, step.place);
            if (reading.takes_down == id) add("taken down by", by, step.place);
        });
    }

    void fill(plan::NamedListId id) {
        const plan::NamedList& list = plan_.named_lists[id];
        for (const plan::Parameter& each : list.takes)
            add("takes", each.name + ": " + plan::with_article(plan::name_of(each.kind)),
                each.place);
        std::map<std::uint32_t, std::string> done; // by use: who does it
        for_steps([&](const plan::Step& step, const std::string& by) {
            for (std::uint32_t use = step.place.use; use != 0;
                 use = plan_.list_uses[use - 1].place.use)
                done.try_emplace(use, by);
        });
        for (const auto& [use, by] : done) {
            const plan::ListUse& each = plan_.list_uses[use - 1];
            if (each.list == id) add("done by", by, each.place);
        }
    }

    void fill(plan::KitId id) {
        const plan::Kit& kit = plan_.kits[id];
        add("needs", plan::joined(plan::names_in(plan_.kits, kit.needs)));
        members("needed by", plan_.levels,
                [&](const plan::Level& each) { return plan::contains(each.kits, id); });
        members("needed by", plan_.kits,
                [&](const plan::Kit& each) { return plan::contains(each.needs, id); });
        for (const plan::DeviceId device : plan_.devices.ids()) {
            const loading::Catalogue& catalogue = study_.catalogues[device.value];
            const loading::Piece& piece = catalogue.pieces[catalogue.piece_of(id)];
            card_.figures.push_back(
                {device, piece.unpacked, {}, piece.unpacked, piece.packed, {}, {}, {}, {}, {}});
        }
    }

    void fill(plan::WaypointId id) {
        const plan::Waypoint& waypoint = plan_.waypoints[id];
        add("at", point_text(waypoint.at));
        add("world", plan_.worlds[waypoint.world]);
        for (const LevelId level : plan_.levels.ids()) {
            if (study::stands_in(plan_, id, level)) add("in", plan_.levels[level].name);
            for (const plan::Entry& entry : plan_.levels[level].entries) {
                if (entry.waypoint == id)
                    add("entry of", plan_.levels[level].name + "." + entry.name, entry.place);
            }
        }
        for (const geometry::Leg leg : study_.map.legs_from[id]) {
            add("leads to",
                fmt::format("{}, {:.1f} m", plan_.waypoints[geometry::end_of(plan_, leg)].name,
                            study_.map.lengths[leg.path]),
                plan_.paths[leg.path].place);
        }
        for (const plan::TriggerId trigger : study_.map.around[id])
            add("inside", plan_.triggers[trigger].name, plan_.triggers[trigger].place);
    }

    void fill(plan::PurposeId id) {
        const plan::Purpose& purpose = plan_.purposes[id];
        std::vector<std::string> needs;
        for (const plan::WordId need : purpose.needs) needs.push_back(plan_.words[need]);
        add("needs", plan::joined(needs));
        members("levels", plan_.levels,
                [&](const plan::Level& each) { return each.purpose == id; });
    }

    void fill(plan::DeviceId id) {
        const plan::Device& device = plan_.devices[id];
        add("memory",
            fmt::format("{} in all, {} of it in use before anything loads",
                        short_memory(device.memory.total), short_memory(device.memory.base)));
        for (const auto& [pool, size] : device.memory.pools)
            add("pools", plan_.pools[pool] + " " + short_memory(size));
        const auto rate = [](plan::ByteRate each) {
            return plan::plain_number(plan::in_mebibytes({each.per_second})) + " MiB/s";
        };
        add("read", fmt::format("{}, latency {}, {} at once", rate(device.read.rate),
                                short_time(device.read.latency), device.read.parallel));
        if (device.unpack)
            add("unpack", fmt::format("{}, {}", rate(device.unpack->rate),
                                      counted(device.unpack->workers, "worker")));
        if (std::any_of(study_.catalogues[id.value].pieces.begin(),
                        study_.catalogues[id.value].pieces.end(),
                        [](const loading::Piece& piece) { return piece.make.has_value(); }))
            add("makers",
                fmt::format(
                    "{}, speed {}", device.makers.workers,
                    plan::plain_number(static_cast<double>(device.makers.speed.millionths) / 1e6)));
        add("frame", fmt::format("{} ms, of which {} ms base",
                                 plan::plain_number(plan::in_seconds(device.frame.period) * 1e3),
                                 plan::plain_number(plan::in_seconds(device.frame.base) * 1e3)));
    }

    void fill(plan::EditionId id) {
        const plan::Edition& edition = plan_.editions[id];
        for (std::size_t i = 0; i < edition.levels.size(); ++i)
            add("levels", fmt::format("{} {}", i, plan_.levels[edition.levels[i]].name),
                edition.level_places[i]);
        for (const plan::Parcel& parcel : edition.parcels)
            add("parcels", parcel.name + ": " + plan::level_names(plan_, parcel.levels),
                parcel.place);
    }

    void fill(plan::RouteId id) {
        const plan::Route& route = plan_.routes[id];
        if (route.edition) add("edition", plan_.editions[route.edition].name);
        add("starts", plan_.levels[route.start.level].name +
                          (route.start.at ? ", at " + plan_.waypoints[route.start.at].name : ""));
        for (const plan::RoutePlayer& player : route.players) {
            for (const plan::RouteStep& step : player.steps) {
                add(route.players.size() == 1 ? "steps" : player.name, route_step_text(plan_, step),
                    step.place);
            }
        }
    }

    void fill(plan::PlayerKindId id) {
        const plan::PlayerKind& kind = plan_.players[id];
        add("count", std::to_string(kind.count));
        add("tags", words(kind.tags));
        for (const plan::Speed& speed : kind.speeds)
            add("speeds", fmt::format("{} {:g} m/s", speed.name, speed.metres_per_second),
                speed.place);
    }

    void add(const std::string& label, std::string text,
             std::optional<plan::Place> place = std::nullopt) {
        if (text.empty()) return;
        auto section = std::find_if(card_.sections.begin(), card_.sections.end(),
                                    [&](const CardSection& each) { return each.label == label; });
        if (section == card_.sections.end()) section = card_.sections.insert(section, {label, {}});
        section->lines.push_back({std::move(text), place});
    }
    void condition(const std::string& label, plan::ConditionId id) {
        if (id) add(label, plan_.conditions[id].text, plan_.conditions[id].place);
    }
    [[nodiscard]] std::string words(const std::vector<plan::WordId>& ids) const {
        std::vector<std::string> texts;
        for (const plan::WordId id : ids) texts.push_back(plan_.words[id]);
        return plan::joined(texts);
    }
    template <class Table, class Which>
    void members(const std::string& label, const Table& table, Which which) {
        for (const auto& each : table) {
            if (which(each)) add(label, each.name, each.place);
        }
    }
    void in_edition(const plan::Edition& edition, LevelId id) {
        for (std::size_t i = 0; i < edition.levels.size(); ++i) {
            if (edition.levels[i] != id) continue;
            std::string text = fmt::format("{}, position {}", edition.name, i);
            for (const plan::Parcel& parcel : edition.parcels) {
                if (plan::contains(parcel.levels, id)) text += ", in parcel " + parcel.name;
            }
            add("editions", text, edition.level_places[i]);
        }
    }

    /// Every step with the name of the list that it belongs to.
    template <class Each>
    void for_steps(Each each) const {
        for (const ListId id : plan_.lists.ids()) {
            const std::string by = plan::list_name(plan_, plan::top_list(plan_, id));
            for (const plan::Step& step : plan_.lists[id].steps) each(step, by);
        }
    }
    template <class Each>
    void for_routes(Each each) const {
        for (const plan::Route& route : plan_.routes) {
            for (const plan::RoutePlayer& player : route.players) {
                for (const plan::RouteStep& step : player.steps) each(step, "route " + route.name);
            }
        }
    }

    /// Who loads, shows, hides and unloads a level, and who switches to it.
    void done_to(LevelId id) {
        for_steps([&](const plan::Step& step, const std::string& by) {
            const StepReading reading = study::read_step(step);
            const bool asks = plan::contains(reading.asks, id);
            if (asks && reading.switches != nullptr) {
                add("switched to by", by, step.place);
            } else if (asks) {
                add(reading.shows ? "shown by" : "loaded by", by, step.place);
            }
            if (reading.hides != nullptr && plan::contains(*reading.hides, id))
                add("hidden by", by, step.place);
            if (reading.unloads != nullptr && plan::contains(*reading.unloads, id))
                add("unloaded by", by, step.place);
            if (reading.keeps != nullptr && !plan::contains(*reading.keeps, id))
                add("unloaded by", by + " (keep-only)", step.place);
            if (reading.marks == id) add("marked by", by, step.place);
        });
        for (const plan::Gate& gate : plan_.gates) {
            if (plan::needs(plan_, gate, id)) add("opens", "gate " + gate.name, gate.place);
        }
    }
    void ways(LevelId id) {
        for (const study::LevelWay& way : study::level_ways(plan_)) {
            const plan::Place place = plan::owner_of(plan_, way.list).place;
            const std::string by = plan::list_name(plan_, way.list);
            if (way.to == id && way.from)
                add("comes from", plan_.levels[way.from].name + " by " + by, place);
            if (way.from == id) add("leads to", plan_.levels[way.to].name + " by " + by, place);
        }
    }
    void read_by(plan::FactId id) {
        const auto look = [&](plan::ConditionId condition, const std::string& by) {
            if (!condition) return;
            for (const plan::Term& term : plan_.conditions[condition].terms) {
                if (term.operation != plan::Operation::fact || term.fact != id) continue;
                add("read by", by + " (" + plan_.conditions[condition].text + ")", term.place);
                return;
            }
        };
        for (const plan::Trigger& each : plan_.triggers) look(each.when, "trigger " + each.name);
        for (const plan::ItemId item : plan_.items.ids())
            look(plan_.items[item].when, "item " + plan::item_name(plan_, item));
        for_steps([&](const plan::Step& step, const std::string& by) {
            if (const auto* wait = std::get_if<plan::WaitStep>(&step.what)) look(wait->until, by);
            const auto* cases = std::get_if<plan::CaseStep>(&step.what);
            if (cases != nullptr && cases->by == id)
                add("read by", by + " (levels by it)", step.place);
            else if (cases != nullptr)
                look(cases->cases.front().when, by);
        });
        for (const plan::Level& each : plan_.levels) {
            if (each.near) look(each.near->when, "level " + each.name + ", coming near");
        }
        for (const plan::Rule& rule : plan_.rules) {
            look(rule.condition, "the rule " + rule.text);
            look(rule.when, "the rule " + rule.text);
        }
        for_routes([&](const plan::RouteStep& step, const std::string& by) {
            look(step.when, by);
            if (const auto* until = std::get_if<plan::UntilStep>(&step.what))
                look(until->condition, by);
            if (const auto* expect = std::get_if<plan::ExpectStep>(&step.what))
                look(expect->condition, by + ", expecting");
        });
    }

    /// What a list does, in order.
    void list(ListId id) {
        for (const plan::Step& step : plan_.lists[id].steps)
            add("steps", step_text(step), step.place);
    }
    [[nodiscard]] std::string step_text(const plan::Step& step) const {
        const StepReading reading = study::read_step(step);
        const auto levels = [&](const std::vector<LevelId>& all) {
            return plan::level_names(plan_, all);
        };
        if (reading.switches != nullptr) {
            return reading.asks.empty() ? "switches along the edition"
                                        : "switches to " + levels(reading.asks);
        }
        if (!reading.asks.empty())
            return (reading.shows ? "shows " : "loads ") + levels(reading.asks);
        if (reading.hides != nullptr) return "hides " + levels(*reading.hides);
        if (reading.unloads != nullptr) return "unloads " + levels(*reading.unloads);
        if (reading.keeps != nullptr) return "keeps only " + levels(*reading.keeps);
        if (reading.waits != nullptr) return wait_text(*reading.waits);
        if (reading.raises) return "raises veil " + plan_.veils[reading.raises].name;
        if (reading.takes_down) return "takes down veil " + plan_.veils[reading.takes_down].name;
        if (reading.marks) return "marks " + plan_.levels[reading.marks].name;
        if (const auto* set = std::get_if<plan::SetStep>(&step.what))
            return "sets " + assignments_text(plan_, set->facts);
        if (const auto* reset = std::get_if<plan::ResetStep>(&step.what)) {
            return "resets " + (reset->session
                                    ? std::string("the session")
                                    : plan::joined(plan::names_in(plan_.facts, reset->facts)));
        }
        if (const auto* open = std::get_if<plan::OpenStep>(&step.what))
            return "opens " + plan_.menus[open->menu].name;
        if (const auto* close = std::get_if<plan::CloseStep>(&step.what))
            return "closes " + plan_.menus[close->menu].name;
        if (const auto* choose = std::get_if<plan::ChooseStep>(&step.what)) {
            std::vector<std::string> names;
            for (const plan::Branch& branch : choose->branches)
                names.push_back(plan_.words[branch.name]);
            return "chooses " + plan::joined(names, " or ");
        }
        if (const auto* cases = std::get_if<plan::CaseStep>(&step.what)) {
            if (cases->by) return "does what goes by " + plan_.facts[cases->by].name;
            return "does something when " + plan_.conditions[cases->cases.front().when].text;
        }
        if (const auto* place = std::get_if<plan::PlaceStep>(&step.what))
            return "places at " + plan_.waypoints[place->at].name;
        if (reading.freezes) return "freezes players";
        if (reading.thaws) return "thaws players";
        if (reading.returns) return "returns to the checkpoint";
        if (std::holds_alternative<plan::SaveStep>(step.what)) return "saves";
        if (std::holds_alternative<plan::RestoreStep>(step.what)) return "restores";
        return "ends the session";
    }
    [[nodiscard]] std::string wait_text(const plan::WaitStep& wait) const {
        std::string text = "waits for " + plan::level_names(plan_, wait.levels) + " to be " +
                           (wait.awaited == plan::Awaited::shown ? "shown" : "ready");
        if (wait.time) text = "waits " + short_time(*wait.time);
        if (wait.until) text = "waits until " + plan_.conditions[wait.until].text;
        return text + (wait.at_most ? ", at most " + short_time(*wait.at_most) : std::string());
    }

    /// A level's own cells; of a cell, where it is.
    void cells(LevelId id) {
        for (const plan::GridId grid : plan_.grids.ids()) {
            const plan::Grid& of = plan_.grids[grid];
            if (of.level == id) {
                add("cells",
                    fmt::format("{}, in {} by {}, of {} by {} m", plan::cells_text(plan_, grid),
                                counted(of.columns, "column"), counted(of.rows, "row"),
                                plan::plain_number(of.size[0]), plan::plain_number(of.size[1])),
                    of.place);
            }
        }
        const plan::GridId grid = plan_.levels[id].grid;
        if (!grid) return;
        const plan::Grid& of = plan_.grids[grid];
        const auto at = static_cast<std::uint32_t>(std::find(of.cells.begin(), of.cells.end(), id) -
                                                   of.cells.begin());
        add("cell", fmt::format("column {}, row {} of {}", at % of.columns, at / of.columns,
                                plan::cells_text(plan_, grid)));
    }

    /// What a level is for, and what of that comes from others or is missing.
    void purpose(LevelId id) {
        const plan::PurposeId purpose = plan_.levels[id].purpose;
        if (!purpose) return;
        add("purpose", plan_.purposes[purpose].name, plan_.purposes[purpose].place);
        for (const study::Contents& contents : study::contents_of(study_)) {
            if (contents.level != id) continue;
            const auto names = [&](const std::vector<plan::WordId>& words) {
                std::vector<std::string> all;
                for (const plan::WordId word : words) all.push_back(plan_.words[word]);
                return plan::joined(all);
            };
            if (!contents.from_others.empty())
                add("needs", names(contents.from_others) + ", which others provide");
            if (!contents.missing.empty()) add("lacks", names(contents.missing));
        }
    }

    [[nodiscard]] std::vector<CardFigures> figures(LevelId id) const {
        std::vector<CardFigures> all;
        for (const plan::DeviceId device : plan_.devices.ids()) {
            const loading::Catalogue& catalogue = study_.catalogues[device.value];
            const loading::Piece& own = catalogue.pieces[catalogue.piece_of(id)];
            CardFigures figures{device, own.unpacked, {}, {}, own.packed, {}, {}, {}, {}, {}};
            std::set<loading::PieceId> pieces;
            for (const loading::PieceId kit : catalogue.levels[id].kits)
                figures.kits += catalogue.pieces[kit].unpacked;
            std::vector<LevelId> family = plan::ancestors_of(catalogue.tree, id);
            family.push_back(id);
            for (const LevelId level : family)
                catalogue.for_pieces(level, [&](loading::PieceId piece) { pieces.insert(piece); });
            for (const loading::PieceId piece : pieces)
                figures.all += catalogue.pieces[piece].unpacked;
            const loading::AloneLoader alone(catalogue, {{}, {id}});
            std::vector<std::size_t> order;
            for (std::size_t i = 0; i < alone.count(); ++i) order.push_back(i);
            for (const loading::AlonePiece& piece : alone.detail_of(order)) {
                if (piece.piece != catalogue.piece_of(id)) continue;
                figures.read = piece.read_end;
                figures.unpacked = piece.unpack_end;
                figures.made = piece.make_end;
                figures.frame = catalogue.levels[id].frame_cost;
                figures.shown = piece.shown;
            }
            all.push_back(figures);
        }
        return all;
    }

    const study::Study& study_;
    const plan::Plan& plan_;
    Card card_;
};

} // namespace

std::vector<Card> cards_of(const study::Study& study, std::string_view name) {
    CardMaker maker(study);
    std::vector<Card> cards;
    for_kinds(study.plan, [&](std::string_view kind, ThingKind thing, const auto& table) {
        for (const auto id : table.ids()) {
            if (name_of(study.plan, table, id) == name)
                cards.push_back(maker.card(kind, thing, table, id));
        }
    });
    return cards;
}

std::vector<std::string> card_names(const plan::Plan& plan) {
    std::set<std::string> names;
    for_kinds(plan, [&](std::string_view, ThingKind, const auto& table) {
        for (const auto id : table.ids()) names.insert(name_of(plan, table, id));
    });
    return {names.begin(), names.end()};
}

} // namespace hestrel::tables
