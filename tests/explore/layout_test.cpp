// How situations are packed into rows, and rows are found again.

#include "explore/layout.hpp"

#include "explore/stands.hpp"
#include "explore/state_table.hpp"
#include "support/plan_text.hpp"

#include <fmt/format.h>
#include <random>
#include <set>

using namespace hestrel;
using explore::FactField;
using explore::Field;
using explore::Layout;
using explore::StateTable;
using explore::Word;
using tests::named;

namespace {

plan::Plan plan_of_facts() {
    std::string text = R"(hestrel: 1
levels: {hall: {memory: {texture: 1}}}
facts:
  flag:    {initial: false}
  letters: {initial: 2, range: [-3, 12]}
  bells:   {initial: one, values: [none, one, both], lifetime: saved}
  big:     {initial: 0}
triggers:
)";
    for (int i = 0; i < 70; ++i)
        text += fmt::format("  t{}: {{when: flag, once: {}, steps: []}}\n", i,
                            i < 65 ? "true" : "false");
    return tests::plan_from(text);
}

} // namespace

TEST_CASE("layout: a fact takes as many bits as it has values") {
    const plan::Plan plan = plan_of_facts();
    const auto bits = [&](const char* name) {
        return FactField(plan.facts[named(plan.facts, name)]).bits();
    };
    CHECK(bits("flag") == 1);
    CHECK(bits("letters") == 4); // 16 values
    CHECK(bits("bells") == 2);   // 3 words
    CHECK(bits("big") == 31);    // two thousand million and one
}

TEST_CASE("layout: every value comes back, and touches no other field") {
    const plan::Plan plan = plan_of_facts();
    const Layout layout(plan, 2);
    std::vector<Word> row(layout.words);
    const auto slot = [&](const char* name) {
        return layout.slots.of(named(plan.facts, name), {});
    };
    const flow::FactSlot letters = slot("letters");
    const flow::FactSlot bells = slot("bells");
    for (flow::FactValue value = -3; value <= 12; ++value) {
        layout.facts[letters].set(row.data(), value);
        CHECK(layout.facts[letters].get(row.data()) == value);
    }
    for (const plan::WordId word : plan.facts[layout.slots.fact(bells)].values) {
        const flow::FactValue value{word.value};
        layout.facts[bells].set(row.data(), value);
        CHECK(layout.facts[bells].get(row.data()) == value);
        CHECK(layout.facts[letters].get(row.data()) == 12);
        layout.saved[bells].set(row.data(), value);
        CHECK(layout.facts[bells].get(row.data()) == value);
    }
    const flow::FactSlot big = slot("big");
    for (const flow::FactValue value : {-1'000'000'000, 0, 1'000'000'000}) {
        layout.facts[big].set(row.data(), value);
        CHECK(layout.facts[big].get(row.data()) == value);
    }
}

TEST_CASE("layout: fields lie apart, and only what can be spent has a bit") {
    const plan::Plan plan = plan_of_facts();
    const Layout layout(plan, 2);
    CHECK(layout.once_triggers.size() == 65);
    CHECK(layout.saved_facts == std::vector{layout.slots.of(named(plan.facts, "bells"), {})});
    std::vector<Field> fields{layout.levels, layout.control, layout.on_the_way};
    fields.insert(fields.end(), layout.players.begin(), layout.players.end());
    for (const flow::FactSlot fact : layout.slots.ids()) fields.push_back(layout.facts[fact].field);
    for (const flow::FactSlot fact : layout.saved_facts) fields.push_back(layout.saved[fact].field);
    for (const plan::TriggerId each : layout.once_triggers) fields.push_back(layout.spent[each]);
    std::vector<Word> taken(layout.words);
    for (const Field& field : fields) {
        REQUIRE(field.word < layout.words);
        CHECK((taken[field.word] & field.mask()) == 0);
        taken[field.word] |= field.mask();
    }
    // Levels, control and whether anybody is on the way are in the first word.
    CHECK((layout.levels.mask() | layout.control.mask() | layout.on_the_way.mask()) ==
          layout.moves);
    CHECK(layout.levels.word + layout.control.word + layout.on_the_way.word == 0);
    // 1 + 4 + 2 + 2 + 31 + 65 bits beside two places fit two words.
    CHECK(layout.words <= 5);
}

TEST_CASE("layout: a number that has no room in a row is none") {
    const Layout layout(plan_of_facts(), 1);
    const auto most = static_cast<std::uint32_t>(layout.control.low);
    CHECK(explore::fitting(most, layout.control) == most);
    CHECK_THROWS_AS(explore::fitting(most + 1, layout.control), plan::NoRoom);
}

TEST_CASE("layout: the upper bits of a place say what a player is inside of") {
    const plan::Plan plan = plan_of_facts();
    const Layout layout(plan, 1);
    std::vector<Word> row(layout.words);
    const std::uint32_t stand = 5U << explore::Stands::place_bits | 77U;
    layout.players[0].set(row.data(), stand);
    CHECK(layout.kinds[0].get(row.data()) == 5);
    CHECK(layout.players[0].get(row.data()) == stand);
}

TEST_CASE("state table: rows are numbered as they come, and each once") {
    explore::Pages pages;
    StateTable table(pages, 2);
    const Word one[] = {1, 2};
    const Word other[] = {2, 1};
    CHECK(table.find(one, table.hash(one)) == UINT32_MAX);
    const auto first = table.add(one, table.hash(one));
    CHECK((first.number == 0 && first.fresh));
    const auto again = table.add(one, table.hash(one));
    CHECK((again.number == 0 && !again.fresh));
    CHECK(table.add(other, table.hash(other)).number == 1);
    CHECK(table.size() == 2);
    CHECK(table[1][0] == 2);
    CHECK(table.find(other, table.hash(other)) == 1);
}

TEST_CASE("state table: rows with one hash are told apart") {
    explore::Pages pages;
    StateTable table(pages, 3);
    for (Word i = 0; i < 500; ++i) {
        const Word row[] = {i, 0, i * i};
        CHECK(table.add(row, 42).number == i);
    }
    for (Word i = 0; i < 500; ++i) {
        const Word row[] = {i, 0, i * i};
        CHECK(table.find(row, 42) == i);
    }
}

TEST_CASE("state table: it grows past many blocks and loses nothing") {
    std::mt19937_64 random(7);
    explore::Pages pages;
    StateTable table(pages, 2);
    std::set<std::pair<Word, Word>> known;
    std::vector<std::pair<Word, Word>> in_order;
    for (int i = 0; i < 100'000; ++i) {
        const std::pair<Word, Word> made{random() % 400, random() % 400};
        const Word row[] = {made.first, made.second};
        const auto added = table.add(row, table.hash(row));
        CHECK(added.fresh == known.insert(made).second);
        if (added.fresh) in_order.push_back(made);
    }
    REQUIRE(table.size() == in_order.size());
    for (std::uint32_t number = 0; number < table.size(); ++number) {
        const Word row[] = {in_order[number].first, in_order[number].second};
        CHECK(table.find(row, table.hash(row)) == number);
        CHECK((table[number][0] == row[0] && table[number][1] == row[1]));
    }
    CHECK(pages.bytes() >= table.size() * 2 * sizeof(Word));
}
