#pragma once
// What things of a plan are called in messages, tables and figures.

#include "plan/finding.hpp"
#include "plan/lists.hpp"
#include "plan/plan.hpp"

#include <array>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::plan {

// As plans write them, in the order of the enums.
inline constexpr std::array<std::string_view, 3> lifetime_names{"level", "session", "saved"};
inline constexpr std::array<std::string_view, 4> firing_names{"on-enter", "on-exit", "while-inside",
                                                              "when-true"};
inline constexpr std::array<std::string_view, 9> parameter_kind_names{
    "level", "entry", "waypoint", "menu", "veil", "fact", "value", "time", "list"};
constexpr std::string_view name_of(ParameterKind kind) {
    return parameter_kind_names.at(static_cast<std::size_t>(kind));
}
constexpr std::string_view name_of(Lifetime lifetime) {
    return lifetime_names.at(static_cast<std::size_t>(lifetime));
}
constexpr std::string_view name_of(Fires fires) {
    return firing_names.at(static_cast<std::size_t>(fires));
}

/// The name of what stands inside a level (unset: outside of levels): "quay.stair".
std::string full_name(const Plan& plan, LevelId home, std::string_view plain);
/// As it is called inside its level: "stair".
std::string_view plain_name(std::string_view full);
/// As it is called inside a level (unset: outside of levels).
std::string_view name_inside(const Belonging& thing, LevelId home);
/// "front-desk.begin".
std::string item_name(const Plan& plan, ItemId item);
/// "trigger quay-approach", "item front-desk.begin", "after credits-roll", "arrive of quay".
std::string list_name(const Plan& plan, ListId list);
/// "level quay", "item front-desk.begin", "path hall-door to hall-centre", "rule 2" (from 1).
std::string thing_name(const Plan& plan, const Thing& thing);
/// What begins a transition: a list, or (where that is unset) a level that came near: "near
/// mooring-boats".
std::string cause_name(const Plan& plan, ListId list, LevelId near);
/// The things of a table whose names were given, in the plan's order; all where none or "all" was.
template <class Id, class T>
std::vector<Id> named_in(const Table<Id, T>& table, const std::vector<std::string>& names) {
    const bool all = names.empty() || contains(names, std::string("all"));
    std::vector<Id> ids;
    for (const Id id : table.ids()) {
        if (all || contains(names, table[id].name)) ids.push_back(id);
    }
    return ids;
}

/// The names of some things of a table, in their order.
template <class Id, class T>
std::vector<std::string> names_in(const Table<Id, T>& table, const std::vector<Id>& ids) {
    std::vector<std::string> names;
    for (const Id id : ids) names.push_back(table[id].name);
    return names;
}
/// "a level", "an entry".
std::string with_article(std::string_view noun);
/// "quay, net-shed".
std::string joined(const std::vector<std::string>& texts, std::string_view between = ", ");
std::string level_names(const Plan& plan, const std::vector<LevelId>& levels,
                        std::string_view between = ", ");
/// Parts of a condition as written: "\"letters > 3\" and \"shown(quay)\"".
std::string parts_text(const Condition& condition, const std::vector<std::uint32_t>& terms);
/// A fact's value, kept as one number: "true", "3", "north".
std::string value_text(const Plan& plan, FactId fact, std::int64_t value);
/// What facts and words of a condition were, each once: "letters is 2, shown(quay) is true".
std::string values_text(const Plan& plan, const Condition& condition,
                        const std::vector<TermValue>& values);
/// Where a step leads out of an edition: "a step leads to no level of edition demo, in which
/// players went to quay last".
std::string beyond_text(const Plan& plan, EditionId edition, LevelId last);
/// What is wrong with a rule that is broken: "\"exactly: 1, of: camera\" does not hold: 2 are
/// provided (post-hall, loft)".
/// How cells of a grid are called where they stand in one row: "moor: 34 of 256 cells".
std::string cells_text(const Plan& plan, GridId grid, std::size_t count);
/// The same of all its cells: "moor: 256 cells".
std::string cells_text(const Plan& plan, GridId grid);
/// The levels by name, where they are told people; several cells of one grid as how many they are.
std::vector<std::string> told_names(const Plan& plan, const std::vector<LevelId>& levels);
/// "66.7 ms: base 26 ms, quay 9 ms, wood 7 ms" of a frame with so much work, on a device; `levels`:
/// what each that is shown costs, the most first.
std::string frame_text(const Plan& plan, DeviceId device, Micros work,
                       const std::vector<std::pair<LevelId, Micros>>& levels);
std::string breach_text(const Plan& plan, const Breach& breach);
/// "now", "soon", "later".
std::string_view priority_name(Priority priority);
/// "error", "warning", "note".
std::string_view severity_name(Severity severity);

/// `file:line:column`; in a named list with where it is used.
std::string place_text(const Plan& plan, Place place);
/// Where the named list in which a place stands is done, outermost first; nothing for any other.
std::vector<Place> used_at(const Plan& plan, Place place);
/// A finding's message; in a named list with where that is used.
std::string message_text(const Plan& plan, const Finding& finding);
/// The line a compiler would print: `file:line:column: error: message  [name]`.
std::string finding_text(const Plan& plan, const Finding& finding);

} // namespace hestrel::plan
