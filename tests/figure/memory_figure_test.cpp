#include "figure/memory_figure.hpp"

#include "figure/gnuplot.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"

using namespace hestrel;
using plan::Bytes;

namespace {

Bytes stack_height(const figure::MemoryStack& stack, std::size_t index) {
    Bytes height;
    for (const figure::Band& band : stack.bands) height += band.sizes[index];
    return height;
}

} // namespace

TEST_CASE("the stack's height is the memory in use, and its highest point the record's peak") {
    for (std::uint32_t seed = 0; seed < 100; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed).text());
        const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
        const figure::MemoryStack stack = figure::memory_stack(plan, record);
        Bytes highest;
        for (std::size_t i = 0; i + 1 < record.memory.size(); ++i) {
            CHECK(stack.times[i] == record.memory[i].at);
            CHECK(stack_height(stack, i) == record.memory[i].total);
            highest = std::max(highest, stack_height(stack, i));
        }
        highest = std::max(highest, record.memory.back().total);
        CHECK(highest == record.peak);
    }
}

TEST_CASE("what does not fit into the figure is one band that says how many it stands for") {
    std::string text =
        std::string(tests::plain_device) + "levels:\n  hall:\n    memory: {t: 5}\n    sublevels:\n";
    for (int i = 0; i < 30; ++i)
        text += fmt::format("      room{}: {{with-parent: true, memory: {{t: {}}}}}\n", i, i + 1);
    text += "routes: {r: {start: {level: hall}, steps: []}}\n";
    const plan::Plan plan = tests::plan_from(text);
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    const figure::MemoryStack stack = figure::memory_stack(plan, record);
    REQUIRE(stack.bands.size() == 11);
    CHECK(stack.bands[0].name == "room20");
    CHECK(stack.bands[9].name == "room29");
    CHECK(stack.bands[10].name == "21 others");
}

TEST_CASE("gnuplot strings hold whatever is written as it is") {
    CHECK(figure::gnuplot_string("plain") == "'plain'");
    CHECK(figure::gnuplot_string("it's a\\b `touch x`\n") == "'it''s a\\b `touch x` '");
}
