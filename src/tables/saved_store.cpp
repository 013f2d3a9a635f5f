#include "tables/saved_store.hpp"

#include "source/json.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::tables {

using source::Json;

namespace {

flow::FactValue value_from(const plan::Plan& plan, const plan::Fact& fact, const Json& json) {
    const auto refuse = [&]() -> flow::FactValue {
        throw SavedStoreError(fmt::format("{} can't be {}", fact.name, json.dump()));
    };
    switch (fact.initial.kind) {
    case plan::ValueKind::flag: return json.is_boolean() ? (json.get<bool>() ? 1 : 0) : refuse();
    case plan::ValueKind::number: {
        if (!json.is_number_integer()) return refuse();
        const auto value = json.get<std::int64_t>();
        constexpr std::int64_t largest = 1'000'000'000;
        const auto [least, most] = fact.range.value_or(std::pair{-largest, largest});
        return value < least || value > most ? refuse() : value;
    }
    case plan::ValueKind::word: break;
    }
    if (!json.is_string()) return refuse();
    const auto found = std::find_if(fact.values.begin(), fact.values.end(), [&](plan::WordId word) {
        return plan.words[word] == json.get<std::string>();
    });
    return found == fact.values.end() ? refuse() : flow::FactValue{found->value};
}

plan::FactId saved_fact(const plan::Plan& plan, const std::string& name) {
    for (const plan::FactId id : plan.facts.ids()) {
        const plan::Fact& fact = plan.facts[id];
        if (fact.name == name && fact.lifetime == plan::Lifetime::saved) return id;
    }
    throw SavedStoreError(fmt::format("the plan saves no fact \"{}\"", name));
}

flow::Checkpoint checkpoint_from(const plan::Plan& plan, const std::string& text) {
    const std::size_t dot = text.find('.');
    for (const plan::LevelId level : plan.levels.ids()) {
        if (dot == std::string::npos || plan.levels[level].name != text.substr(0, dot)) continue;
        for (const plan::Entry& entry : plan.levels[level].entries) {
            if (entry.name == text.substr(dot + 1)) return {level, entry.waypoint};
        }
    }
    throw SavedStoreError(fmt::format("no level of the plan has the entry \"{}\"", text));
}

Json fact_json(const plan::Plan& plan, const plan::Fact& fact, flow::FactValue value) {
    switch (fact.initial.kind) {
    case plan::ValueKind::flag: return value != 0;
    case plan::ValueKind::number: return value;
    case plan::ValueKind::word: return plan.words[plan::WordId{static_cast<std::size_t>(value)}];
    }
    return nullptr;
}

} // namespace

flow::KeptStore parse_saved_store(const plan::Plan& plan, const std::string& text) {
    const Json json = source::parsed(text);
    if (!json.is_object()) throw SavedStoreError("this is no saved store: expected a JSON object");
    flow::KeptStore store;
    for (const plan::Fact& fact : plan.facts) store.facts.push_back(flow::fact_value(fact.initial));
    for (const auto& [key, value] : json.items()) {
        if (key == "facts" && value.is_object()) {
            for (const auto& [name, each] : value.items()) {
                const plan::FactId fact = saved_fact(plan, name);
                const plan::Fact& of = plan.facts[fact];
                if (of.of_each && each.is_object()) {
                    for (const auto& [player, own] : each.items())
                        store.of_players[{fact, player}] = value_from(plan, of, own);
                } else {
                    store.facts[fact.value] = value_from(plan, of, each);
                }
            }
        } else if (key == "checkpoint" && value.is_string()) {
            store.checkpoint = checkpoint_from(plan, value.get<std::string>());
        } else if (key != "comment" && (key != "checkpoint" || !value.is_null())) {
            throw SavedStoreError(fmt::format("a saved store has no \"{}\" like this", key));
        }
    }
    return store;
}

std::string saved_store_json(const plan::Plan& plan, const flow::KeptStore& store) {
    Json facts = Json::object();
    for (const plan::FactId id : plan.facts.ids()) {
        if (plan.facts[id].lifetime != plan::Lifetime::saved) continue;
        Json& json = facts[plan.facts[id].name];
        json = fact_json(plan, plan.facts[id], store.facts[id.value]);
        if (!plan.facts[id].of_each) continue;
        json = Json::object();
        for (const auto& [whose, value] : store.of_players) {
            if (whose.first == id) json[whose.second] = fact_json(plan, plan.facts[id], value);
        }
    }
    Json checkpoint = nullptr;
    if (store.checkpoint) {
        const plan::Level& level = plan.levels[store.checkpoint->level];
        for (const plan::Entry& entry : level.entries) {
            if (entry.waypoint == store.checkpoint->at && checkpoint.is_null())
                checkpoint = level.name + "." + entry.name;
        }
    }
    return source::single_file_text(
        Json{{"facts", std::move(facts)}, {"checkpoint", std::move(checkpoint)}});
}

} // namespace hestrel::tables
