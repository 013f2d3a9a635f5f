// The saved store between runs, read and written.

#include "tables/saved_store.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;
using tests::named;

namespace {

plan::Plan plan_that_saves() {
    return tests::plan_from(R"(hestrel: 1
levels: {quay: {memory: {texture: 1}, entries: {steps: foot}}}
waypoints: {foot: [0, 0, 0]}
facts:
  round:   {initial: 0, range: [0, 5], lifetime: saved}
  bells:   {initial: none, values: [none, one, both], lifetime: saved}
  has_key: {initial: false, lifetime: saved}
  hud:     {initial: true, lifetime: session}
)");
}

std::string refusal_of(const std::string& text) {
    try {
        tables::parse_saved_store(plan_that_saves(), text);
    } catch (const tables::SavedStoreError& error) {
        return error.what();
    }
    return "taken";
}

} // namespace

TEST_CASE("saved store: what it does not name is as at the beginning") {
    const plan::Plan plan = plan_that_saves();
    const flow::KeptStore store = tables::parse_saved_store(plan, R"({"facts": {"round": 3}})");
    CHECK(store.facts[named(plan.facts, "round").value] == 3);
    CHECK(store.facts[named(plan.facts, "has_key").value] == 0);
    CHECK_FALSE(store.checkpoint);
    CHECK(tables::parse_saved_store(plan, "{}").facts.size() == plan.facts.size());
}

TEST_CASE("saved store: a number, a word, a flag and a checkpoint come back as they were") {
    const plan::Plan plan = plan_that_saves();
    const std::string text =
        R"({"facts": {"round": 5, "bells": "both", "has_key": true}, "checkpoint": "quay.steps"})";
    const flow::KeptStore store = tables::parse_saved_store(plan, text);
    REQUIRE(store.checkpoint);
    CHECK(store.checkpoint->level == named(plan.levels, "quay"));
    CHECK(store.checkpoint->at == named(plan.waypoints, "foot"));
    const std::string written = tables::saved_store_json(plan, store);
    CHECK(tables::parse_saved_store(plan, written) == store);
    CHECK(written.find("hud") == std::string::npos); // only what is saved
    CHECK(written.find("\"quay.steps\"") != std::string::npos);
}

TEST_CASE("saved store: what each player has goes by the player's name") {
    const plan::Plan plan = tests::plan_from(
        "hestrel: 1\nfacts: {letters: {initial: 1, range: [0, 9], of-each: player, lifetime: "
        "saved}}\n");
    const std::string text = R"({"facts": {"letters": {"ada": 3, "ben": 0}}})";
    const flow::KeptStore store = tables::parse_saved_store(plan, text);
    const plan::FactId letters = named(plan.facts, "letters");
    CHECK(store.of_players.at({letters, "ada"}) == 3);
    CHECK(store.facts[letters.value] == 1); // of players not named
    CHECK(tables::parse_saved_store(plan, tables::saved_store_json(plan, store)) == store);
    CHECK_THROWS_AS(tables::parse_saved_store(plan, R"({"facts": {"letters": {"ada": 10}}})"),
                    tables::SavedStoreError);
}

TEST_CASE("saved store: an empty checkpoint is none") {
    const plan::Plan plan = plan_that_saves();
    CHECK_FALSE(tables::parse_saved_store(plan, R"({"checkpoint": null})").checkpoint);
    const std::string written =
        tables::saved_store_json(plan, tables::parse_saved_store(plan, "{}"));
    CHECK(written.find("\"checkpoint\": null") != std::string::npos);
}

TEST_CASE("saved store: what is none for this plan is refused, and says why") {
    CHECK(refusal_of("[1]") == "this is no saved store: expected a JSON object");
    CHECK(refusal_of("{broken") == "this is no saved store: expected a JSON object");
    CHECK(refusal_of(R"({"facts": {"hud": true}})") == "the plan saves no fact \"hud\"");
    CHECK(refusal_of(R"({"facts": {"round": 6}})") == "round can't be 6");
    CHECK(refusal_of(R"({"facts": {"round": 1.5}})") == "round can't be 1.5");
    CHECK(refusal_of(R"({"facts": {"bells": "three"}})") == "bells can't be \"three\"");
    CHECK(refusal_of(R"({"facts": {"has_key": 1}})") == "has_key can't be 1");
    CHECK(refusal_of(R"({"checkpoint": "quay.door"})") ==
          "no level of the plan has the entry \"quay.door\"");
    CHECK(refusal_of(R"({"checkpoint": "quay"})") == "no level of the plan has the entry \"quay\"");
    CHECK(refusal_of(R"({"facts": [], "more": 1})").starts_with("a saved store has no "));
}
