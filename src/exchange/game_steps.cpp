#include "exchange/game_steps.hpp"

#include "plan/names.hpp"

#include <array>
#include <cmath>
#include <string_view>

namespace hestrel::exchange {

namespace {

using source::Json;

Json seconds(plan::Micros time) {
    return plan::in_seconds(time);
}

/// Adds what a step does to an object that says which it is.
class StepWriter {
public:
    StepWriter(const plan::Plan& plan, Json& json) : plan_(plan), json_(json) {}

    void operator()(const plan::LoadStep& step) const { ask("load", step); }
    void operator()(const plan::ShowStep& step) const { ask("show", step); }
    void operator()(const plan::HideStep& step) const { let_go("hide", step.levels, step.who); }
    void operator()(const plan::UnloadStep& step) const { let_go("unload", step.levels, step.who); }
    void operator()(const plan::KeepOnlyStep& step) const {
        json_["do"] = "keep-only";
        json_["levels"] = levels(step.levels);
    }
    void operator()(const plan::WaitStep& step) const {
        json_["do"] = "wait";
        if (step.time) {
            json_["for_s"] = seconds(*step.time);
            return;
        }
        if (step.until) {
            json_["until"] = condition_json(plan_, step.until);
        } else {
            json_["until_levels"] = step.awaited == plan::Awaited::shown ? "shown" : "ready";
            json_["levels"] = levels(step.levels);
            for (const plan::GroupId group : step.any_of)
                json_["any_of"].push_back(levels(plan_.groups[group].levels));
        }
        if (step.at_most) json_["at_most_s"] = seconds(*step.at_most);
        who(step.who);
    }
    void operator()(const plan::VeilStep& step) const { veil("veil", step.veil, step.who); }
    void operator()(const plan::UnveilStep& step) const { veil("unveil", step.veil, step.who); }
    void operator()(const plan::FreezeStep& step) const {
        json_["do"] = "freeze";
        who(step.who);
    }
    void operator()(const plan::ThawStep& step) const {
        json_["do"] = "thaw";
        who(step.who);
    }
    void operator()(const plan::PlaceStep& step) const {
        json_["do"] = "place";
        named("level", plan_.levels, step.level);
        named("at", plan_.waypoints, step.at);
        named("veil", plan_.veils, step.veil);
        who(step.who);
    }
    void operator()(const plan::SwitchStep& step) const {
        using Target = plan::SwitchStep::Target;
        json_["do"] = step.target == Target::next   ? "next"
                      : step.target == Target::back ? "back"
                                                    : "switch";
        named("to", plan_.levels, step.to);
        if (step.position) json_["position"] = *step.position;
        how(step);
    }
    void operator()(const plan::SetStep& step) const {
        json_["do"] = "set";
        json_["facts"] = Json::array();
        for (const plan::Assignment& each : step.facts)
            json_["facts"].push_back({{"fact", plan_.facts[each.fact].name},
                                      {each.adds ? "add" : "to", value_json(plan_, each.value)}});
    }
    void operator()(const plan::ResetStep& step) const {
        json_["do"] = "reset";
        if (step.session) {
            json_["session"] = true;
        } else {
            json_["facts"] = plan::names_in(plan_.facts, step.facts);
        }
    }
    void operator()(const plan::SaveStep&) const { json_["do"] = "save"; }
    void operator()(const plan::RestoreStep&) const { json_["do"] = "restore"; }
    void operator()(const plan::MarkStep& step) const {
        json_["do"] = "mark";
        named("level", plan_.levels, step.level);
        named("at", plan_.waypoints, step.at);
    }
    void operator()(const plan::ReturnStep& step) const {
        json_["do"] = "return";
        how(step.how);
    }
    void operator()(const plan::OpenStep& step) const { menu("open", step.menu, step.who); }
    void operator()(const plan::CloseStep& step) const { menu("close", step.menu, step.who); }
    void operator()(const plan::ChooseStep& step) const {
        json_["do"] = "choose";
        json_["branches"] = Json::array();
        for (const plan::Branch& branch : step.branches)
            json_["branches"].push_back(
                {{"name", plan_.words[branch.name]}, {"steps", steps_json(plan_, branch.steps)}});
    }
    void operator()(const plan::CaseStep& step) const {
        json_["do"] = "first-of";
        json_["cases"] = Json::array();
        for (const plan::Case& each : step.cases)
            json_["cases"].push_back({{"when", condition_json(plan_, each.when)},
                                      {"steps", steps_json(plan_, each.steps)}});
    }
    void operator()(const plan::EndStep&) const { json_["do"] = "end"; }

private:
    [[nodiscard]] Json levels(const std::vector<plan::LevelId>& ids) const {
        return plan::names_in(plan_.levels, ids);
    }
    template <class Id, class T>
    void named(const char* key, const plan::Table<Id, T>& table, Id id) const {
        if (id) json_[key] = table[id].name;
    }
    void who(plan::Who who) const { json_["who"] = who == plan::Who::all ? "all" : "firer"; }
    template <class Step>
    void ask(const char* word, const Step& step) const {
        json_["do"] = word;
        json_["levels"] = levels(step.levels);
        json_["priority"] = plan::priority_name(step.priority);
        who(step.who);
    }
    void let_go(const char* word, const std::vector<plan::LevelId>& ids, plan::Who whose) const {
        json_["do"] = word;
        json_["levels"] = levels(ids);
        who(whose);
    }
    void veil(const char* word, plan::VeilId id, plan::Who whose) const {
        json_["do"] = word;
        json_["veil"] = plan_.veils[id].name;
        who(whose);
    }
    void menu(const char* word, plan::MenuId id, plan::Who whose) const {
        json_["do"] = word;
        json_["menu"] = plan_.menus[id].name;
        who(whose);
    }
    void how(const plan::SwitchStep& step) const {
        named("at", plan_.waypoints, step.at);
        if (step.at_word) json_["entry"] = plan_.words[step.at_word];
        json_["with"] = levels(step.with);
        json_["order"] = step.order == plan::SwitchOrder::free_first ? "free-first" : "load-first";
        named("veil", plan_.veils, step.veil);
        json_["blocking"] = step.blocking;
        json_["reuse"] = step.reuse;
    }

    const plan::Plan& plan_;
    Json& json_;
};

/// In the order of `Operation`; of leaves, what they ask.
constexpr std::array<std::string_view, 22> operation_words{
    "value",  "fact", "speed",  "veiled", "shown",  "ready", "delivered", "at",
    "inside", "open", "queued", "memory", "frozen", "==",    "!=",        "<",
    "<=",     ">",    ">=",     "and",    "or",     "not"};

Json term_json(const plan::Plan& plan, const plan::Condition& condition, std::uint32_t number) {
    const plan::Term& term = condition.terms[number];
    Json json{{"op", operation_words.at(static_cast<std::size_t>(term.operation))}};
    if (!plan::is_leaf(term.operation)) {
        const bool one = term.operation == plan::Operation::negation;
        json[one ? "of" : "left"] = term_json(plan, condition, term.left);
        if (!one) json["right"] = term_json(plan, condition, term.right);
        return json;
    }
    if (term.operation == plan::Operation::value) json["value"] = value_json(plan, term.value);
    if (term.fact) json["fact"] = plan.facts[term.fact].name;
    if (term.level) json["levels"] = {plan.levels[term.level].name};
    if (term.group) {
        json["levels"] = plan::names_in(plan.levels, plan.groups[term.group].levels);
        json["any"] = plan.groups[term.group].one_of;
    }
    if (term.waypoint) json["waypoint"] = plan.waypoints[term.waypoint].name;
    if (term.trigger) json["trigger"] = plan.triggers[term.trigger].name;
    if (term.menu) json["menu"] = plan.menus[term.menu].name;
    return json;
}

} // namespace

Json value_json(const plan::Plan& plan, const plan::Value& value) {
    switch (value.kind) {
    case plan::ValueKind::flag: return value.number != 0;
    case plan::ValueKind::word: return plan.words[value.word];
    case plan::ValueKind::number: break;
    }
    if (value.number == std::floor(value.number)) return static_cast<std::int64_t>(value.number);
    return value.number;
}

Json condition_json(const plan::Plan& plan, plan::ConditionId condition) {
    if (!condition) return nullptr;
    const plan::Condition& whole = plan.conditions[condition];
    const auto last = static_cast<std::uint32_t>(whole.terms.size() - 1);
    return {{"text", whole.text}, {"is", term_json(plan, whole, last)}};
}

Json steps_json(const plan::Plan& plan, plan::ListId list) {
    Json steps = Json::array();
    if (!list) return steps;
    for (const plan::Step& step : plan.lists[list].steps) {
        Json json = Json::object();
        std::visit(StepWriter{plan, json}, step.what);
        steps.push_back(std::move(json));
    }
    return steps;
}

} // namespace hestrel::exchange
