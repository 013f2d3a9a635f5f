// What can be reached from where, against going over all situations until nothing changes.

#include "explore/looking_back.hpp"

#include "explore/explored.hpp"
#include "support/dice.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "support/situations.hpp"

using namespace hestrel;
using explore::Explorer;
using explore::Outcome;

namespace {

using Leads = std::function<bool(std::uint32_t, const Outcome&)>;

/// In any order, and over all: what the definition says.
void spread_plainly(const Explorer& explorer, std::uint8_t spreads, const Leads& leads,
                    std::vector<std::uint8_t>& bits) {
    for (bool changed = true; changed;) {
        changed = false;
        for (std::uint32_t from = 0; from < bits.size(); ++from) {
            explorer.for_successors(from, [&](std::uint32_t to, const Outcome& outcome) {
                const auto more = static_cast<std::uint8_t>(bits[to] & spreads & ~bits[from]);
                if (more == 0 || !leads(from, outcome)) return;
                bits[from] |= more;
                changed = true;
            });
        }
    }
}

} // namespace

TEST_CASE("bits spread to all from which one that has them can be reached, and to no others") {
    std::size_t compared = 0;
    std::size_t spread = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, tests::Rich::yes).text());
        explore::Options options = tests::exploring_of(plan);
        options.most_situations = 3'000;
        options.quit_anywhere = seed % 3 == 0;
        const auto explorer = explore::explore_all(plan, options);
        if (!explorer->complete()) continue;
        ++compared;
        tests::Dice dice(seed);
        std::vector<std::uint8_t> bits(explorer->situations(), 0);
        for (int i = 0; i < 3; ++i) {
            const int situation = dice.below(static_cast<int>(bits.size()));
            bits[static_cast<std::size_t>(situation)] =
                static_cast<std::uint8_t>(1 + dice.below(7));
        }
        const Leads leads = [&](std::uint32_t, const Outcome& outcome) {
            return !options.quit_anywhere || !explorer->launches(outcome);
        };
        for (const int set : {0, 3, 7}) {
            const auto spreads = static_cast<std::uint8_t>(set);
            std::vector<std::uint8_t> fast = bits;
            std::vector<std::uint8_t> plain = bits;
            explore::spread_back(*explorer, spreads, leads, fast);
            spread_plainly(*explorer, spreads, leads, plain);
            for (std::size_t i = 0; i < bits.size(); ++i)
                REQUIRE((fast[i] & spreads) == (plain[i] & spreads));
            if (plain != bits) ++spread;
        }
    }
    CHECK(compared > tests::seeds(60) / 3);
    CHECK(spread > compared / 2);
}
