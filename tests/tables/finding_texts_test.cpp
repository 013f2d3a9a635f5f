// docs/findings.md and the registry of findings say the same, and findings carry what it says.

#include "tables/finding_texts.hpp"

#include "explore/explored.hpp"
#include "plan/lists.hpp"
#include "support/figures.hpp"
#include "support/plan_text.hpp"
#include "support/printing.hpp"
#include "support/random_plan.hpp"
#include "tables/findings.hpp"
#include "walk/findings.hpp"
#include "walk/walk.hpp"

#include <fstream>
#include <regex>
#include <sstream>

using namespace hestrel;

namespace {

std::vector<std::string> names_on_the_page() {
    std::ifstream file(HESTREL_SOURCE "/docs/findings.md");
    std::vector<std::string> names;
    for (std::string line; std::getline(file, line);) {
        if (line.starts_with("### ")) names.push_back(line.substr(4));
    }
    return names;
}

/// Whether a finding carries just what its kind, found by that engine, says.
void check_carries(const plan::Finding& finding, plan::FoundBy by, bool edition) {
    const plan::FindingKind& kind = plan::kind_of(finding.name);
    CAPTURE(finding.name, finding.message);
    CHECK(includes(kind.by, by));
    CHECK(finding.severity == kind.severity);
    const bool walked = by == plan::FoundBy::walk;
    using plan::Carries;
    CHECK(static_cast<bool>(finding.level) == includes(kind.carries, Carries::level));
    CHECK(static_cast<bool>(finding.device) == (walked || includes(kind.carries, Carries::device)));
    CHECK(static_cast<bool>(finding.rule) == includes(kind.carries, Carries::rule));
    if (finding.at) CHECK((includes(kind.carries, Carries::at) || !walked));
    CHECK(static_cast<bool>(finding.route) == walked);
    CHECK(finding.from.has_value() == walked);
    CHECK(static_cast<bool>(finding.edition) == (!walked && edition));
    CHECK(finding.about.has_value());
}

} // namespace

TEST_CASE("findings: the page names every kind once, in order, and says what the registry says") {
    std::vector<std::string> names;
    for (const plan::FindingKind& kind : plan::finding_kinds()) {
        CAPTURE(kind.name);
        names.emplace_back(kind.name);
        const tables::FindingText& text = tables::text_of(kind);
        CHECK(text.sentence.ends_with('.'));
        CHECK(text.sentence.find('\n') == std::string::npos);
        CHECK(text.help.find("\n\n    ") != std::string::npos); // an example
        CHECK(text.help.ends_with('\n'));
        CHECK_FALSE(text.help.ends_with("\n\n"));
        CHECK(text.heading.starts_with(
            fmt::format("*{}*, found by ", plan::severity_name(kind.severity))));
        const auto says = [&](std::string_view who) {
            return text.heading.find(who) != std::string::npos;
        };
        CHECK(says("the reader") == includes(kind.by, plan::FoundBy::reader));
        CHECK(says("`check`") == includes(kind.by, plan::FoundBy::check));
        CHECK(says("a walk") == includes(kind.by, plan::FoundBy::walk));
        CHECK(says("exploring") == includes(kind.by, plan::FoundBy::explore));
        CHECK(says("verify") == includes(kind.by, plan::FoundBy::verify));
    }
    CHECK(names == names_on_the_page());
    CHECK(std::set<std::string>(names.begin(), names.end()).size() == names.size());
}

TEST_CASE("findings: a name that nothing has is no kind") {
    CHECK(plan::find_kind("stuck") != nullptr);
    CHECK(plan::find_kind("stuk") == nullptr);
    CHECK_THROWS_AS(plan::kind_of("stuk"), std::logic_error);
}

TEST_CASE("findings: only what a walk finds makes a verdict") {
    for (const plan::FindingKind& kind : plan::finding_kinds()) {
        CAPTURE(kind.name);
        if (kind.verdict != plan::Verdict::fine) CHECK(includes(kind.by, plan::FoundBy::walk));
    }
    CHECK(plan::kind_of("stuck").verdict == plan::Verdict::stuck);
    CHECK(plan::kind_of("seen-gap").verdict == plan::Verdict::late);
    CHECK(plan::kind_of("steps-abandoned").verdict == plan::Verdict::fine);
}

TEST_CASE("findings: those of random plans carry what their kinds say") {
    std::set<std::string> met;
    for (std::uint32_t seed = 0; seed < 120; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, tests::Rich::yes).text());
        for (const plan::RouteId route : plan.routes.ids()) {
            for (const plan::DeviceId device : plan.devices.ids()) {
                for (const plan::Finding& finding : walk::walk(plan, route, device, {}).findings) {
                    check_carries(finding, plan::FoundBy::walk, false);
                    met.insert(finding.name);
                }
            }
        }
        for (const plan::EditionId edition : explore::explorable_editions(plan)) {
            explore::Options options;
            options.edition = edition;
            options.most_situations = 2'000;
            for (const plan::DeviceId device : plan.devices.ids())
                options.devices.push_back(device);
            for (const explore::Found& found : explore::explored(plan, options).found) {
                check_carries(found.finding, plan::FoundBy::explore, static_cast<bool>(edition));
                met.insert(found.finding.name);
            }
        }
    }
    CAPTURE(met);
    CHECK(met.size() > 12);
}

TEST_CASE("findings: JSON and SARIF carry fields, so that nobody takes sentences apart") {
    const plan::Plan plan = tests::plan_from(
        "hestrel: 1\ndevices: {slow: {memory: {total: 10, base: 1}, read: {rate: 1}, "
        "frame: {fps: 30}}}\n"
        "levels: {hall: {memory: {texture: 1}, packed: 1}, quay: {persist: true, memory: {texture: "
        "90}, packed: "
        "9}}\n"
        "waypoints: {a: [0, 0, 0]}\n"
        "routes: {r: {start: {level: hall, waypoint: a}, steps: [{pause: 1 s}]}}\n");
    const walk::Record record =
        walk::walk(plan, plan::RouteId{std::size_t{0}}, plan::DeviceId{std::size_t{0}}, {});
    REQUIRE_FALSE(record.findings.empty());
    const plan::Finding& over = record.findings.front();
    REQUIRE(over.name == "over-budget");
    const auto json = tables::finding_json(plan, over);
    CHECK(json["route"] == "r");
    CHECK(json["device"] == "slow");
    CHECK(json["from_s"].is_number());
    CHECK(json["line"].is_number());
    CHECK_FALSE(json.contains("level"));
    const auto sarif = nlohmann::json::parse(
        tables::findings_sarif(plan, record.findings, plan::FoundBy::walk, "1"));
    CHECK(sarif["runs"][0]["results"][0]["properties"]["route"] == "r");
}
