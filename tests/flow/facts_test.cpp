// Facts, the saved store and veils, apart from any walk.

#include "flow/facts.hpp"
#include "flow/veils.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;
using flow::Facts;
using flow::FactSlot;
using plan::FactId;
using plan::milliseconds;
using plan::seconds;

namespace {

constexpr FactSlot letters{std::size_t{0}}, hud{std::size_t{1}}, bells{std::size_t{2}},
    round_saved{std::size_t{3}}, free_number{std::size_t{4}};

plan::Plan with_facts() {
    return tests::plan_from(R"(hestrel: 1
facts:
  letters: {initial: 1, range: [0, 3]}
  hud: {initial: true}
  bells: {initial: none, values: [none, one, both]}
  round: {initial: 0, range: [0, 5], lifetime: saved}
  free: {initial: 0}
)");
}

/// Sets the only value of a fact.
Facts::Assigned set(Facts& facts, FactSlot slot, double number, bool adds = false) {
    return facts.assign({{}, FactId{slot.value}, {plan::ValueKind::number, number, {}}, adds},
                        slot);
}

} // namespace

TEST_CASE("facts begin with their initial values, whatever their kind") {
    const plan::Plan plan = with_facts();
    const Facts facts(plan, 1, std::nullopt);
    CHECK(facts.all()[letters] == 1);
    CHECK(facts.all()[hud] == 1);
    CHECK(plan.words[plan::WordId{static_cast<std::size_t>(facts.all()[bells])}] == "none");
    CHECK(facts.all()[round_saved] == 0);
}

TEST_CASE("numbers are kept at the bounds of their range, and say so") {
    const plan::Plan plan = with_facts();
    Facts facts(plan, 1, std::nullopt);
    const auto assigned = set(facts, letters, 7);
    CHECK(assigned.changed);
    CHECK(assigned.kept_at_bound);
    CHECK(facts.all()[letters] == 3);
    CHECK_FALSE(set(facts, letters, 1, true).changed);
    CHECK(set(facts, letters, -2, true).changed);
    CHECK(facts.all()[letters] == 1);
    CHECK_FALSE(set(facts, letters, 0).kept_at_bound);
    // Without a range, sums end at 10^9 either way.
    CHECK_FALSE(set(facts, free_number, 1e9).kept_at_bound);
    CHECK(set(facts, free_number, 1, true).kept_at_bound);
    CHECK(facts.all()[free_number] == 1'000'000'000);
}

TEST_CASE("reset says whether it changed anything") {
    const plan::Plan plan = with_facts();
    Facts facts(plan, 1, std::nullopt);
    CHECK_FALSE(facts.reset(letters));
    set(facts, letters, 2);
    CHECK(facts.reset(letters));
    CHECK(facts.all()[letters] == 1);
}

TEST_CASE("only saved facts and the checkpoint go to the store and come back") {
    const plan::Plan plan = with_facts();
    Facts facts(plan, 1, std::nullopt);
    CHECK_FALSE(facts.restore());
    set(facts, round_saved, 4);
    set(facts, letters, 2);
    const flow::Checkpoint marked{plan::LevelId{std::size_t{0}}, plan::WaypointId{std::size_t{0}}};
    facts.save(marked);
    set(facts, round_saved, 1);
    set(facts, letters, 3);
    CHECK(facts.restore() == std::vector<FactSlot>{round_saved});
    CHECK(facts.all()[round_saved] == 4);
    CHECK(facts.all()[letters] == 3);
    CHECK(facts.saved()->checkpoint == marked);
    CHECK(facts.restore() == std::vector<FactSlot>{});
    // A new game begins with what was saved, and with nothing else of it.
    const Facts again(plan, 1, facts.saved());
    CHECK(again.all()[round_saved] == 4);
    CHECK(again.all()[letters] == 1);
}

TEST_CASE("a veil raised twice is one; it is up while it is up for anybody") {
    const plan::Plan plan = tests::plan_from("hestrel: 1\nveils: {mist: {min: 2 s}, dawn: }\n");
    constexpr plan::VeilId mist{std::size_t{0}}, dawn{std::size_t{1}};
    constexpr flow::PlayerId ada{std::size_t{0}}, ben{std::size_t{1}};
    flow::Veils veils(plan, 2);
    CHECK(veils.raise(mist, ada, seconds(1)));
    CHECK(veils.hides_from(ada));
    CHECK_FALSE(veils.hides_from(ben));
    CHECK_FALSE(veils.raise(mist, {}, seconds(2))); // for ben too, now
    CHECK(veils.hides_from(ben));
    CHECK(veils.left(mist, milliseconds(2'500)) == milliseconds(500)); // since it was first raised
    CHECK(veils.left(mist, seconds(9)) == plan::Micros{});
    CHECK(veils.left(dawn, seconds(9)) == plan::Micros{});
    CHECK(veils.raise(dawn, ben, seconds(3)));
    CHECK_FALSE(veils.take(mist, ada));
    CHECK(veils.up(mist));
    CHECK_FALSE(veils.hides_from(ada));
    CHECK(veils.take(mist, {}));
    CHECK_FALSE(veils.take(mist, {}));
    CHECK(veils.any());
    CHECK(veils.hides_from(ben)); // dawn is up still
    CHECK(veils.take(dawn, {}));
    CHECK_FALSE(veils.any());
}
