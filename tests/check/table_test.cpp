// The table of rules as a whole.

#include "check/check.hpp"

#include "plan/finding_kinds.hpp"
#include "support/checked.hpp"
#include "support/program.hpp"

#include <filesystem>
#include <regex>
#include <set>

using namespace hestrel;
using namespace hestrel::tests;

TEST_CASE("rules the reader looks after: each broken alone, at its place") {
    const auto breaks_reading = [](const std::string& text, const std::string& expected) {
        CAPTURE(text);
        const source::PlanReading reading = read_text(text);
        REQUIRE(reading.findings.size() == 1);
        const plan::Finding& finding = reading.findings.front();
        CHECK(fmt::format("{}:{} {}", finding.place.line, finding.place.column, finding.name) ==
              expected);
    };
    breaks_reading("hestrel: 1\nlevels: {quay: {}\n", "3:1 broken-yaml");
    breaks_reading(with("quay: {memory", "quay: {persists: true, memory"), "8:10 unknown-key");
    breaks_reading(with("read: {rate: 90}", "read: {}"), "2:77 missing-key");
    breaks_reading(with("show: [quay]", "show: [Quay]"), "13:76 unknown-name");
    breaks_reading(clean + "kits: {wood: {}, wood: {}}\n", "15:18 defined-twice");
    breaks_reading(clean + "kits: {wood: {needs: [oak]}, oak: {needs: [wood]}}\n", "15:30 cycle");
    breaks_reading(with("rate: 90", "rate: 0"), "2:84 wrong-value");
    breaks_reading(with("b: [100, 0, 0]", "b: {at: [100, 0, 0], world: below}"),
                   "4:9 path-across-worlds");
}

TEST_CASE("allow with a name that no finding has is said") {
    CHECK(found(with("t: {in: hall,", "t: {in: hall, allow: {trigger-to-thin: oops},")) ==
          std::vector<std::string>{"13:25 allowed-for-nothing"});
}

TEST_CASE("rules: each is a kind of finding of its own, and has a test") {
    std::string tests;
    for (const auto& entry : std::filesystem::directory_iterator(HESTREL_SOURCE "/tests/check"))
        tests += contents(entry.path().string());
    std::set<std::string_view> names;
    for (const check::Rule& rule : check::rules()) {
        CAPTURE(rule.name);
        CHECK(names.insert(rule.name).second);
        CHECK(includes(plan::kind_of(rule.name).by, plan::FoundBy::check));
        CHECK(rule.look != nullptr);
        // Expected at a line and column.
        CHECK(std::regex_search(
            tests, std::regex(fmt::format("[0-9] {}\"|\\[{}\\]", rule.name, rule.name))));
    }
    for (const plan::FindingKind& kind : plan::finding_kinds()) {
        CAPTURE(kind.name);
        const bool by_rule = kind.by == plan::FoundBy::check && kind.name != "allowed-for-nothing";
        CHECK(names.contains(kind.name) == by_rule);
    }
}

TEST_CASE("allow takes every name that any engine can find") {
    for (const plan::FindingKind& kind : plan::finding_kinds()) {
        if (!includes(kind.by, plan::FoundBy::walk | plan::FoundBy::explore)) continue;
        CAPTURE(kind.name);
        CHECK(found(with("t: {in: hall,",
                         fmt::format("t: {{in: hall, allow: {{{}: known}},", kind.name)))
                  .empty());
    }
}
