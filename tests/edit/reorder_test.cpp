// Orders of editions written back into plan files, groups of levels among them.

#include "edit/reorder.hpp"

#include "source/disk.hpp"
#include "source/plan_reader.hpp"
#include "support/plan_text.hpp"

using namespace hestrel;
using tests::names_of;

namespace {

/// A plan whose edition is listed so; its text once the levels have another order.
std::string reordered(const std::string& listed, const std::vector<std::string>& order) {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = "hestrel: 1\nlevels: {a: {}, b: {}, c: {}, d: {}, e: {}}\n"
                              "groups: {shore: [b, c, d]}\neditions:\n  full:\n    levels:" +
                              listed;
    const source::PlanReading reading = source::read_plan(disk, "plan.yaml");
    REQUIRE_FALSE(reading.has_errors());
    edit::NewOrder wanted{plan::EditionId{std::size_t{0}}, {}};
    for (const std::string& name : order)
        wanted.levels.push_back(tests::named(reading.plan.levels, name));
    const auto changed = edit::reorder(disk, "plan.yaml", reading.plan, {wanted});
    REQUIRE(changed.size() == 1);
    const std::string& text = changed.front().second;
    return text.substr(text.find("    levels:") + 11);
}

} // namespace

TEST_CASE("reorder: a group moves as one, with its line's comment") {
    CHECK(reordered(" [a, shore, e] # all\n", {"b", "c", "d", "a", "e"}) ==
          " [shore, a, e] # all\n");
    CHECK(reordered("\n      - a # first\n      - shore # the lake\n      - e\n",
                    {"e", "a", "b", "c", "d"}) ==
          "\n      - e\n      - a # first\n      - shore # the lake\n");
}

TEST_CASE("reorder: a group that does not stay together is written out") {
    CHECK(reordered(" [a, shore, e]\n", {"a", "b", "e", "c", "d"}) == " [a, b, e, c, d]\n");
    CHECK(reordered(" [a, shore, e]\n", {"d", "c", "b", "a", "e"}) == " [d, c, b, a, e]\n");
    CHECK(reordered("\n      - a\n      - shore # the lake\n      - e\n",
                    {"a", "c", "b", "d", "e"}) ==
          "\n      - a\n      - c # the lake\n      - b # the lake\n      - d # the lake\n"
          "      - e\n");
}
