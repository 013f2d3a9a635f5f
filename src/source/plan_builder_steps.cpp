// Steps, wherever they stand.

#include "source/plan_builder.hpp"

#include "source/step_name.hpp"

#include <algorithm>
#include <array>

namespace hestrel::source {

using plan::LevelId;
using What = decltype(plan::Step::what);

namespace {

constexpr std::array<std::string_view, 3> priorities{"now", "soon", "later"};
constexpr std::array<std::string_view, 2> orders{"load-first", "free-first"};
constexpr std::array<std::string_view, 2> whos{"all", "firer"};
constexpr std::array<std::string_view, 2> takes_priority{"load", "show"};
constexpr std::array<std::string_view, 12> takes_who{"veil",  "unveil", "place",  "open",
                                                     "close", "freeze", "thaw",   "load",
                                                     "show",  "hide",   "unload", "wait"};
constexpr std::uint32_t most_position = 1'000'000;

template <std::size_t N>
bool among(const std::array<std::string_view, N>& words, std::string_view word) {
    return std::find(words.begin(), words.end(), word) != words.end();
}

} // namespace

plan::ListId PlanBuilder::read_steps(const Value& value, plan::StepList list) {
    const plan::ListId id = plan_.lists.push(std::move(list));
    read_steps_into(value, id);
    return id;
}

void PlanBuilder::read_steps_into(const Value& value, plan::ListId list) {
    std::size_t written = 0;
    for (const Value& each : reading_.list(value, "a list of steps"))
        read_step(each, list, written++);
}

/// An empty list that belongs to the next step of another.
plan::ListId PlanBuilder::push_sublist(plan::ListId list) {
    const plan::StepList& outer = plan_.lists[list];
    return plan_.lists.push(
        {outer.owner, outer.index, outer.level, list, outer.steps.size(), {}, outer.levels});
}

void PlanBuilder::read_step(const Value& value, plan::ListId list, std::size_t written) {
    const Value when = value.at("when");
    if (!when) return read_step_without_when(value, list, written);
    plan::CaseStep cases;
    cases.cases.push_back({condition(when), push_sublist(list)});
    read_step_without_when(value, cases.cases.front().steps, 0);
    const bool nothing = plan_.lists[cases.cases.front().steps].steps.empty();
    if (nothing || !cases.cases.front().when) return; // which is told
    plan_.lists[list].steps.push_back(
        {value.place(), static_cast<std::uint32_t>(written), std::move(cases)});
}

void PlanBuilder::read_step_without_when(const Value& value, plan::ListId list,
                                         std::size_t written) {
    const std::size_t errors_before = reading_.findings().size();
    const Fields fields = reading_.fields(value, keys::step);
    const std::string_view name = step_name(reading_, value, fields, keys::step);
    if (name.empty() || !check_beside(name, fields)) return;
    if (name == "do") return read_do(fields["do"], list, written);
    if (const ByFact by = find_by_fact(name, fields); by.value)
        return read_by_fact(value, by, list, written);
    auto what = step_of_levels(name, fields);
    if (!what) what = step_of(name, fields, list, plan_.lists[list].steps.size());
    // Half a step would only mislead whoever looks at the rest of the plan.
    if (!what || reading_.findings().size() > errors_before) return;
    plan_.lists[list].steps.push_back(
        {value.place(), static_cast<std::uint32_t>(written), std::move(*what)});
}

/// What stands beside a step is for such steps.
bool PlanBuilder::check_beside(std::string_view name, const Fields& fields) {
    const std::size_t errors_before = reading_.findings().size();
    if (fields.has("priority") && !among(takes_priority, name)) {
        reading_.wrong_value(fields["priority"], fmt::format("{} takes no priority", name));
    }
    if (fields.has("who") && !among(takes_who, name)) {
        reading_.wrong_value(fields["who"], fmt::format("{} takes no who", name));
    }
    const Value wait = fields["wait"];
    const bool waits_for_levels = wait.is_mapping() && !wait.at("until");
    if (fields.has("who") && name == "wait" && !waits_for_levels)
        reading_.wrong_value(fields["who"], "`who` goes only with a wait for levels");
    const bool waits_for_something = name == "wait" && fields["wait"].is_mapping();
    if (fields.has("at-most") && !waits_for_something) {
        reading_.wrong_value(fields["at-most"], "`at-most` goes only with a wait for something");
    }
    return reading_.findings().size() == errors_before;
}

plan::Who PlanBuilder::read_who(const Fields& fields, plan::Who otherwise) {
    const auto word = reading_.word(fields["who"], whos);
    return word ? static_cast<plan::Who>(*word) : otherwise;
}

std::optional<What> PlanBuilder::step_of_levels(std::string_view name, const Fields& fields) {
    plan::Priority priority = plan::Priority::soon;
    if (const auto word = reading_.word(fields["priority"], priorities))
        priority = static_cast<plan::Priority>(*word);
    const auto levels = [&] { return read_all_levels(fields[name]); };
    const auto asked = [&] { return read_levels_to_ask_for(fields[name]); };
    const auto who = [&] { return read_who(fields, plan::Who::all); };
    if (name == "load") return plan::LoadStep{asked(), priority, who()};
    if (name == "show") return plan::ShowStep{asked(), priority, who()};
    if (name == "hide") return plan::HideStep{levels(), who()};
    if (name == "unload") return plan::UnloadStep{levels(), who()};
    if (name == "keep-only") return plan::KeepOnlyStep{asked()};
    return std::nullopt;
}

std::optional<What> PlanBuilder::step_of(std::string_view name, const Fields& fields,
                                         plan::ListId list, std::size_t index) {
    const Value value = fields[name];
    const auto who = [&](plan::Who otherwise) { return read_who(fields, otherwise); };
    if (name == "wait") return read_wait(fields);
    if (name == "veil")
        return plan::VeilStep{reading_.reference(value, veils_), who(plan::Who::all)};
    if (name == "unveil")
        return plan::UnveilStep{reading_.reference(value, veils_), who(plan::Who::all)};
    if (name == "place") {
        const Fields place = reading_.fields(value, keys::place);
        const auto [level, at] = level_entry(place["at"]);
        return plan::PlaceStep{level, at, who(plan::Who::firer),
                               reading_.reference(place["veil"], veils_)};
    }
    if (name == "switch") return read_switch(value, plan::SwitchStep::Target::named);
    if (name == "next") return read_switch(value, plan::SwitchStep::Target::next);
    if (name == "back") return read_switch(value, plan::SwitchStep::Target::back);
    if (name == "set") return plan::SetStep{read_assignments(value)};
    if (name == "reset") return read_reset(value);
    if (name == "mark") {
        const auto [level, at] = level_entry(value);
        return plan::MarkStep{level, at};
    }
    if (name == "open")
        return plan::OpenStep{reading_.reference(value, menus_), who(plan::Who::all)};
    if (name == "close")
        return plan::CloseStep{reading_.reference(value, menus_), who(plan::Who::all)};
    if (name == "return") return read_return(value);
    if (name == "choose") return read_choose(value, list, index);
    if (!only_word(value, name, keys::step)) return std::nullopt;
    if (name == "freeze") return plan::FreezeStep{who(plan::Who::all)};
    if (name == "thaw") return plan::ThawStep{who(plan::Who::all)};
    if (name == "save") return plan::SaveStep{};
    if (name == "restore") return plan::RestoreStep{};
    return plan::EndStep{};
}

/// A step whose key takes one word only, such as `save: all`.
bool PlanBuilder::only_word(const Value& value, std::string_view key, const ObjectKeys& keys) {
    const auto found = std::find_if(keys.keys.begin(), keys.keys.end(),
                                    [&](const Key& each) { return each.name == key; });
    return reading_.word(value, found->words).has_value();
}

plan::WaitStep PlanBuilder::read_wait(const Fields& fields) {
    plan::WaitStep wait;
    const Value value = fields["wait"];
    if (!value.is_mapping()) {
        wait.time.emplace();
        reading_.time(value, *wait.time);
        return wait;
    }
    const Fields what = reading_.fields(value, keys::wait);
    if (int{what.has("shown")} + int{what.has("ready")} + int{what.has("until")} != 1) {
        reading_.wrong_value(
            value,
            "a wait is for a time, for levels shown, for levels ready, or until a condition");
    }
    wait.until = condition(what["until"]);
    wait.awaited = what.has("ready") ? plan::Awaited::ready : plan::Awaited::shown;
    Levels levels = read_levels(what[what.has("ready") ? "ready" : "shown"], OneOf::any);
    wait.levels = std::move(levels.levels);
    wait.any_of = std::move(levels.any_of);
    if (fields.has("at-most")) {
        wait.at_most.emplace();
        reading_.time(fields["at-most"], *wait.at_most);
    }
    wait.who = read_who(fields, plan::Who::all);
    return wait;
}

// --- going somewhere else ----------------------------------------------------

plan::WaypointId PlanBuilder::entry_of(const Value& value, LevelId level) {
    if (value && reading_.parameter(value.text(), {value.place(), value.text()},
                                    {plan::ParameterKind::entry}))
        return {};
    if (!value || !level) return {};
    reading_.mention("entry", plan_.levels[level].name, value.text(),
                     {value.place(), value.text()});
    std::vector<std::string_view> known;
    for (const plan::Entry& entry : plan_.levels[level].entries) {
        if (entry.name == value.text()) return entry.waypoint;
        known.push_back(entry.name);
    }
    reading_.error("unknown-name", value.place(),
                   fmt::format("{} has no entry {}{}", plan_.levels[level].name,
                               value.description(), reading_.hint(value.text(), known)));
    return {};
}

std::pair<LevelId, plan::WaypointId> PlanBuilder::level_entry(const Value& value) {
    const auto parts = dotted(value, "level.entry");
    if (!parts) return {};
    const std::string_view wanted = parts->name;
    const bool unknown =
        reading_.parameter(wanted, parts->spot_of_name, {plan::ParameterKind::entry});
    const LevelId level = reading_.lookup(parts->owner, {value.place(), value.text()}, levels_);
    if (!level || unknown) return {};
    reading_.mention("entry", parts->owner, wanted, parts->spot_of_name);
    std::vector<std::string_view> known;
    for (const plan::Entry& entry : plan_.levels[level].entries) {
        if (entry.name == wanted) return {level, entry.waypoint};
        known.push_back(entry.name);
    }
    reading_.error("unknown-name", value.place(),
                   fmt::format("{} has no entry \"{}\"{}", plan_.levels[level].name, wanted,
                               reading_.hint(wanted, known)));
    return {};
}

plan::SwitchStep PlanBuilder::read_switch(const Value& value, plan::SwitchStep::Target target) {
    plan::SwitchStep step;
    step.target = target;
    const bool named = target == plan::SwitchStep::Target::named;
    const Fields fields = reading_.fields(value, named ? keys::switch_step : keys::relative_switch);
    if (named) read_target(fields["to"], step);
    if (fields.has("at")) {
        if (step.to) {
            step.at = entry_of(fields["at"], step.to);
        } else if (fields["at"].is_scalar() && !entry_of(fields["at"], {})) {
            step.at_word = word(fields["at"].text(), fields["at"].place());
        }
    }
    read_way_of_switching(fields, step);
    return step;
}

/// How a switch, or a `return`, goes about it.
void PlanBuilder::read_way_of_switching(const Fields& fields, plan::SwitchStep& step) {
    step.with = read_levels_to_ask_for(fields["with"]);
    if (const auto order = reading_.word(fields["order"], orders))
        step.order = static_cast<plan::SwitchOrder>(*order);
    step.veil = reading_.reference(fields["veil"], veils_);
    reading_.flag(fields["blocking"], step.blocking);
    reading_.flag(fields["reuse"], step.reuse);
}

/// `return: checkpoint`, or {to: checkpoint, veil: dawn}.
std::optional<plan::ReturnStep> PlanBuilder::read_return(const Value& value) {
    plan::ReturnStep step;
    if (!value.is_mapping()) {
        return only_word(value, "return", keys::step) ? std::optional(step) : std::nullopt;
    }
    const Fields fields = reading_.fields(value, keys::return_step);
    only_word(fields["to"], "to", keys::return_step);
    read_way_of_switching(fields, step.how);
    return step;
}

void PlanBuilder::read_target(const Value& value, plan::SwitchStep& step) {
    if (!value.is_mapping()) {
        step.to = reading_.reference(value, levels_);
        return;
    }
    const Fields fields = reading_.fields(value, keys::position);
    std::int64_t position = 0;
    reading_.count(fields["position"], 0, most_position, position);
    step.position = static_cast<std::uint32_t>(position);
}

plan::ChooseStep PlanBuilder::read_choose(const Value& value, plan::ListId list,
                                          std::size_t index) {
    plan::ChooseStep choose;
    Names<plan::WordId> branches("branch");
    reading_.named(
        value, "branches", [&](std::string_view name, plan::Place place, const Value& steps) {
            plan::Branch branch{word(name, place), place, {}};
            reading_.define(branches, name, branch.name, place);
            const plan::StepList& outer = plan_.lists[list];
            branch.steps = read_steps(
                steps, {outer.owner, outer.index, outer.level, list, index, {}, outer.levels});
            choose.branches.push_back(branch);
        });
    if (choose.branches.empty() && value.is_mapping())
        reading_.wrong_value(value, "there is nothing to choose from");
    return choose;
}

// --- facts -------------------------------------------------------------------

std::vector<plan::Assignment> PlanBuilder::read_assignments(const Value& value) {
    std::vector<plan::Assignment> assignments;
    reading_.by_reference(value, "facts",
                          [&](std::string_view name, plan::Place place, const Value& body) {
                              if (auto assignment = read_assignment(name, place, body))
                                  assignments.push_back(*assignment);
                          });
    return assignments;
}

std::optional<plan::Assignment>
PlanBuilder::read_assignment(std::string_view name, plan::Place place, const Value& value) {
    plan::Assignment assignment;
    assignment.place = place;
    assignment.fact = reading_.lookup(name, {place, name}, facts_);
    if (!assignment.fact) return std::nullopt;
    const plan::Fact& fact = plan_.facts[assignment.fact];
    const plan::ValueKind kind = fact.initial.kind;
    Value plain = value;
    if (value.is_mapping()) plain = reading_.fields(value, keys::assignment)["to"];
    const bool has_sign = value.is_scalar() && !value.text().empty() &&
                          (value.text()[0] == '+' || value.text()[0] == '-');
    assignment.adds = has_sign && kind == plan::ValueKind::number;
    if (!read_value_of(assignment.fact, plain, assignment.value)) return std::nullopt;
    return assignment;
}

bool PlanBuilder::read_value_of(plan::FactId id, const Value& value, plan::Value& into) {
    const plan::Fact& fact = plan_.facts[id];
    const plan::ValueKind kind = fact.initial.kind;
    if (!read_value(value, kind, into)) return false;
    if (kind != plan::ValueKind::word ||
        std::find(fact.values.begin(), fact.values.end(), into.word) != fact.values.end())
        return true;
    std::vector<std::string_view> known;
    for (const plan::WordId each : fact.values) known.push_back(plan_.words[each]);
    reading_.error("unknown-name", value.place(),
                   fmt::format("{} can't be {}{}", fact.name, value.description(),
                               reading_.hint(value.text(), known)));
    return false;
}

plan::ResetStep PlanBuilder::read_reset(const Value& value) {
    plan::ResetStep reset;
    reset.session = value.is_scalar() && value.text() == "session" && !facts_.find("session");
    if (!reset.session) reset.facts = reading_.references(value, facts_);
    return reset;
}

} // namespace hestrel::source
