// Memo of moves, and rows, are found again, few or many.

#include "explore/memo.hpp"
#include "explore/state_table.hpp"

#include "support/dice.hpp"
#include "support/plan_text.hpp"

#include <deque>
#include <map>

using namespace hestrel;
using explore::Field;
using explore::MemoEntry;
using explore::ReadSet;
using explore::Word;

namespace {

/// Of 64 facts that are true or false, and one player of no kind.
plan::Plan plan_of_bits() {
    std::string text = "hestrel: 1\nlevels: {hall: }\nfacts:\n";
    for (int i = 0; i < 64; ++i) text += "  f" + std::to_string(i) + ": {initial: false}\n";
    return tests::plan_from(text);
}

} // namespace

TEST_CASE("what is asked for is kept by word, each once") {
    const std::array<Word, 2> row{0b1010, 0b0110};
    ReadSet asked;
    explore::ask_for(asked.bits, {1, 1, 0b1}, row.data());
    explore::ask_for(asked.bits, {0, 1, 0b11}, row.data());
    explore::ask_for(asked.bits, {1, 2, 0b1}, row.data());
    explore::ask_for(asked.bits, {1, 1, 0b1}, row.data());
    REQUIRE(asked.bits.size() == 2);
    CHECK(asked.bits[0].word == 0);
    CHECK(asked.bits[0].mask == 0b110);
    CHECK(asked.bits[0].value == 0b010);
    CHECK(asked.bits[1].word == 1);
    CHECK(asked.bits[1].mask == 0b110);
    CHECK(asked.bits[1].value == 0b110);
}

TEST_CASE("a move's case is the one that read_values alike, however many it has") {
    const plan::Plan plan = plan_of_bits();
    const explore::Layout layout(plan, 1);
    explore::Stands stands;
    const plan::LevelTree tree = plan::level_tree(plan.levels);
    explore::Pages pages;
    const explore::LevelSets levels(tree, pages);
    const explore::ReadValues read_values(layout, levels, stands);
    tests::Dice dice(11);
    for (const std::size_t most : {1U, 3U, 5U, 60U, 2'000U}) {
        CAPTURE(most);
        // Each asks about the first few facts, or about others: two questions.
        std::deque<MemoEntry> kept;
        explore::Memo cases(7);
        const auto row_of = [&](bool other, std::uint64_t bits) {
            std::vector<Word> row(layout.words);
            layout.facts[flow::FactSlot{0}].set(row.data(), other ? 1 : 0);
            for (std::size_t i = 0; i < 12; ++i)
                layout.facts[flow::FactSlot{(other ? 20 : 1) + i}].set(
                    row.data(), static_cast<std::int64_t>(bits >> i & 1));
            return row;
        };
        std::map<std::pair<bool, std::uint64_t>, const MemoEntry*> by_answer;
        for (std::size_t i = 0; i < most; ++i) {
            const bool other = dice.one_in(3);
            const auto bits = static_cast<std::uint64_t>(dice.below(4'096));
            if (by_answer.contains({other, bits})) continue;
            const std::vector<Word> row = row_of(other, bits);
            CHECK(cases.find(read_values, row.data()) == nullptr);
            MemoEntry added;
            explore::ask_for(added.asked.bits, layout.facts[flow::FactSlot{0}].field, row.data());
            for (std::size_t fact = 0; fact < 12; ++fact)
                explore::ask_for(added.asked.bits,
                                 layout.facts[flow::FactSlot{(other ? 20 : 1) + fact}].field,
                                 row.data());
            kept.push_back(std::move(added));
            cases.add(&kept.back());
            by_answer[{other, bits}] = &kept.back();
        }
        CHECK(cases.all().size() == by_answer.size());
        for (const auto& [answer, expected] : by_answer) {
            std::vector<Word> row = row_of(answer.first, answer.second);
            // What was not asked about is of no account.
            layout.facts[flow::FactSlot{63}].set(row.data(), dice.below(2));
            CHECK(cases.find(read_values, row.data()) == expected);
        }
    }
}

TEST_CASE("rows are numbered in order, each once, however many words they have") {
    tests::Dice dice(5);
    for (const std::size_t words : {1U, 2U, 3U, 4U, 9U}) {
        CAPTURE(words);
        explore::Pages pages;
        explore::StateTable rows(pages, words);
        std::map<std::vector<Word>, std::uint32_t> known;
        for (int i = 0; i < 8'000; ++i) {
            std::vector<Word> row(words);
            // Few values, so that many come again, and differ in one word only.
            row[static_cast<std::size_t>(dice.below(static_cast<int>(words)))] =
                static_cast<Word>(dice.below(6'000)) << 20;
            const auto next = static_cast<std::uint32_t>(known.size());
            const auto [found, fresh] = known.try_emplace(row, next);
            const std::uint32_t hash = rows.hash(row.data());
            CHECK(rows.find(row.data(), hash) == (fresh ? UINT32_MAX : found->second));
            const auto added = rows.add(row.data(), hash);
            CHECK(added.number == found->second);
            CHECK(added.fresh == fresh);
        }
        CHECK(rows.size() == known.size());
        for (const auto& [row, number] : known)
            CHECK(std::equal(row.begin(), row.end(), rows[number]));
    }
}
