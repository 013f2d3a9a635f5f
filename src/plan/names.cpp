#include "plan/names.hpp"

#include "plan/texts.hpp"

#include <algorithm>
#include <array>
#include <utility>

namespace hestrel::plan {

std::string full_name(const Plan& plan, LevelId home, std::string_view plain) {
    return home ? plan.levels[home].name + "." + std::string(plain) : std::string(plain);
}

std::string_view plain_name(std::string_view full) {
    return full.substr(full.rfind('.') + 1); // npos + 1 is 0
}

std::string_view name_inside(const Belonging& thing, LevelId home) {
    return thing.home && thing.home == home ? plain_name(thing.name) : std::string_view(thing.name);
}

std::string item_name(const Plan& plan, ItemId item) {
    return plan.menus[plan.items[item].menu].name + "." + plan.items[item].name;
}

std::string list_name(const Plan& plan, ListId list) {
    const StepList& steps = plan.lists[list];
    switch (steps.owner) {
    case OwnerKind::trigger: return "trigger " + plan.triggers[TriggerId{steps.index}].name;
    case OwnerKind::item: return "item " + item_name(plan, ItemId{steps.index});
    case OwnerKind::after: return "after " + plan.menus[MenuId{steps.index}].name;
    case OwnerKind::arrive: return "arrive of " + plan.levels[LevelId{steps.index}].name;
    case OwnerKind::leave: return "leave of " + plan.levels[LevelId{steps.index}].name;
    }
    return {};
}

std::string cause_name(const Plan& plan, ListId list, LevelId near) {
    return list ? list_name(plan, list) : "near " + plan.levels[near].name;
}

std::string thing_name(const Plan& plan, const Thing& thing) {
    const auto index = static_cast<std::size_t>(thing.index);
    switch (thing.kind) {
    case ThingKind::plan: return "plan";
    case ThingKind::device: return "device " + plan.devices[DeviceId{index}].name;
    case ThingKind::kit: return "kit " + plan.kits[KitId{index}].name;
    case ThingKind::level: return "level " + plan.levels[LevelId{index}].name;
    case ThingKind::group: return "group " + plan.groups[GroupId{index}].name;
    case ThingKind::waypoint: return "waypoint " + plan.waypoints[WaypointId{index}].name;
    case ThingKind::path: {
        const Path& path = plan.paths[PathId{index}];
        return "path " + plan.waypoints[path.from].name + " to " + plan.waypoints[path.to].name;
    }
    case ThingKind::gate: return "gate " + plan.gates[GateId{index}].name;
    case ThingKind::trigger: return "trigger " + plan.triggers[TriggerId{index}].name;
    case ThingKind::menu: return "menu " + plan.menus[MenuId{index}].name;
    case ThingKind::item: return "item " + item_name(plan, ItemId{index});
    case ThingKind::veil: return "veil " + plan.veils[VeilId{index}].name;
    case ThingKind::fact: return "fact " + plan.facts[FactId{index}].name;
    case ThingKind::list: return "list " + plan.named_lists[NamedListId{index}].name;
    case ThingKind::player: return "player " + plan.players[PlayerKindId{index}].name;
    case ThingKind::purpose: return "purpose " + plan.purposes[PurposeId{index}].name;
    case ThingKind::rule: return "rule " + std::to_string(index + 1);
    case ThingKind::edition: return "edition " + plan.editions[EditionId{index}].name;
    case ThingKind::route: return "route " + plan.routes[RouteId{index}].name;
    }
    return "";
}

std::string with_article(std::string_view noun) {
    const bool vowel =
        !noun.empty() && std::string_view("aeiou").find(noun.front()) != std::string_view::npos;
    return (vowel ? "an " : "a ") + std::string(noun);
}

std::string joined(const std::vector<std::string>& texts, std::string_view between) {
    std::string all;
    for (const std::string& text : texts) all.append(all.empty() ? "" : between).append(text);
    return all;
}

std::string level_names(const Plan& plan, const std::vector<LevelId>& levels,
                        std::string_view between) {
    return joined(names_in(plan.levels, levels), between);
}

std::string parts_text(const Condition& condition, const std::vector<std::uint32_t>& terms) {
    std::vector<std::string> parts;
    for (const std::uint32_t term : terms) parts.push_back('"' + condition.text_of(term) + '"');
    return joined(parts, " and ");
}

std::string value_text(const Plan& plan, FactId fact, std::int64_t value) {
    switch (plan.facts[fact].initial.kind) {
    case ValueKind::flag: return value != 0 ? "true" : "false";
    case ValueKind::number: return std::to_string(value);
    case ValueKind::word: return plan.words[WordId{static_cast<std::size_t>(value)}];
    }
    return {};
}

std::string values_text(const Plan& plan, const Condition& condition,
                        const std::vector<TermValue>& values) {
    std::vector<std::string> texts;
    for (const TermValue& each : values) {
        const Term& term = condition.terms[each.term];
        std::string value = each.value != 0 ? "true" : "false";
        if (term.operation == Operation::fact) {
            value = value_text(plan, term.fact, static_cast<std::int64_t>(each.value));
        } else if (term.operation == Operation::memory) {
            value = plain_number(each.value) + " MiB";
        } else if (term.operation == Operation::speed) {
            value = plain_number(each.value) + " m/s";
        }
        const std::string text = condition.text_of(each.term) + " is " + value;
        if (std::find(texts.begin(), texts.end(), text) == texts.end()) texts.push_back(text);
    }
    return joined(texts);
}

std::string beyond_text(const Plan& plan, EditionId edition, LevelId last) {
    if (!edition) return "a step leads to a place in an edition, and none is played";
    return "a step leads to no level of edition " + plan.editions[edition].name +
           (last ? ", in which players went to " + plan.levels[last].name + " last"
                 : std::string());
}

namespace {

std::ptrdiff_t cells_in(const Grid& grid) {
    return std::count_if(grid.cells.begin(), grid.cells.end(),
                         [](LevelId cell) { return static_cast<bool>(cell); });
}

} // namespace

std::string cells_text(const Plan& plan, GridId id) {
    return cells_text(plan, id, static_cast<std::size_t>(cells_in(plan.grids[id])));
}

std::string cells_text(const Plan& plan, GridId id, std::size_t count) {
    const Grid& grid = plan.grids[id];
    const auto all = cells_in(grid);
    return plan.levels[grid.level].name + ": " +
           (count == static_cast<std::size_t>(all) ? "" : std::to_string(count) + " of ") +
           std::to_string(all) + (all == 1 ? " cell" : " cells");
}

std::vector<std::string> told_names(const Plan& plan, const std::vector<LevelId>& levels) {
    std::vector<std::size_t> cells(plan.grids.size());
    for (const LevelId level : levels) {
        if (const GridId grid = plan.levels[level].grid) ++cells[grid.value];
    }
    std::vector<std::string> names;
    for (const LevelId level : levels) {
        const GridId grid = plan.levels[level].grid;
        if (!grid || cells[grid.value] == 1) {
            names.push_back(plan.levels[level].name);
        } else if (cells[grid.value] > 1) {
            names.push_back(cells_text(plan, grid, std::exchange(cells[grid.value], 0)));
        }
    }
    return names;
}

std::string frame_text(const Plan& plan, DeviceId device, Micros work,
                       const std::vector<std::pair<LevelId, Micros>>& levels) {
    constexpr std::size_t most_named = 3;
    const FrameTime& frame = plan.devices[device].frame;
    std::vector<std::string> parts{"base " + frame_time(frame.base)};
    for (std::size_t i = 0; i < levels.size() && i < most_named; ++i)
        parts.push_back(plan.levels[levels[i].first].name + " " + frame_time(levels[i].second));
    if (levels.size() > most_named)
        parts.push_back(std::to_string(levels.size() - most_named) + " more");
    return frame_time(next_multiple(work, frame.period)) + " with " + frame_time(work) +
           " of work (" + joined(parts) + ")" +
           (plan.limits.longest_frame
                ? ", " + frame_time(*plan.limits.longest_frame) + " is the limit"
                : std::string());
}

std::string breach_text(const Plan& plan, const Breach& breach) {
    const Rule& rule = plan.rules[breach.rule];
    const std::string levels = level_names(plan, breach.counted);
    std::string text = '"' + rule.text + "\" does not hold: ";
    switch (rule.kind) {
    case Rule::Kind::contents: {
        const Level& level = plan.levels[rule.levels.front()];
        std::vector<std::string> missing;
        for (const WordId word : breach.missing) missing.push_back(plan.words[word]);
        return level.name + " is shown, which is " + plan.purposes[level.purpose].name +
               ", without " + joined(missing);
    }
    case Rule::Kind::never_together: return text + levels + " are shown together";
    case Rule::Kind::never:
        return text + parts_text(plan.conditions[rule.condition], breach.met) +
               (breach.met.size() == 1 ? " is so" : " are so");
    default: break;
    }
    const std::size_t count = breach.counted.size();
    if (count == 0) return text + "nothing that is shown provides " + plan.words[rule.of];
    return text + std::to_string(count) + (count == 1 ? " is" : " are") + " provided (" + levels +
           ")";
}

std::string_view priority_name(Priority priority) {
    static constexpr std::array<std::string_view, 3> names{"now", "soon", "later"};
    return names.at(static_cast<std::size_t>(priority));
}

std::string_view severity_name(Severity severity) {
    static constexpr std::array<std::string_view, 3> names{"error", "warning", "note"};
    return names.at(static_cast<std::size_t>(severity));
}

namespace {

std::string position_text(const Plan& plan, Place place) {
    const std::string& file = plan.files[place.file];
    if (place.line == 0) return file;
    return file + ":" + std::to_string(place.line) + ":" + std::to_string(place.column);
}

/// " (used at flow.yaml:3:5)"; where one named list does another, both places, outermost first.
std::string use_text(const Plan& plan, Place place) {
    std::string text;
    for (const Place& use : used_at(plan, place))
        text = (text.empty() ? " (used at " : text + ", ") + position_text(plan, use);
    return text.empty() ? text : text + ")";
}

} // namespace

std::vector<Place> used_at(const Plan& plan, Place place) {
    std::vector<Place> uses;
    for (; place.use != 0; place = uses.front())
        uses.insert(uses.begin(), plan.list_uses[place.use - 1].place);
    return uses;
}

std::string place_text(const Plan& plan, Place place) {
    return position_text(plan, place) + use_text(plan, place);
}

std::string message_text(const Plan& plan, const Finding& finding) {
    return finding.message + use_text(plan, finding.place);
}

std::string finding_text(const Plan& plan, const Finding& finding) {
    return position_text(plan, finding.place) + ": " +
           std::string(severity_name(finding.severity)) + ": " + message_text(plan, finding) +
           "  [" + finding.name + "]";
}

} // namespace hestrel::plan
