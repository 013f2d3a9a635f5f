// Several walks looked at together, on records made by hand.

#include "walk/summary.hpp"

#include "support/printing.hpp"

using namespace hestrel;
using plan::milliseconds;
using plan::seconds;
using walk::Record;
using walk::Verdict;

namespace {

constexpr plan::DeviceId handheld{std::size_t{0}}, desktop{std::size_t{1}};
constexpr plan::LevelId quay{std::size_t{3}};

/// A walk in which one list, fired at 10 s, brings the quay: shown so long after, with that slack.
Record walk_with(plan::DeviceId device, Verdict verdict, int took_ms, std::optional<int> slack_ms,
                 bool held = false) {
    Record record;
    record.device = device;
    record.verdict = verdict;
    walk::Transition transition;
    transition.number = 1;
    transition.list = plan::ListId{std::size_t{2}};
    transition.fired = seconds(10);
    record.transitions.push_back(transition);
    record.transition_outcomes.emplace_back();
    record.transition_outcomes.front().peak = plan::mebibytes(took_ms);
    walk::LevelOutcome outcome;
    outcome.transition = 1;
    outcome.level = quay;
    outcome.shown = seconds(10) + milliseconds(took_ms);
    if (slack_ms) outcome.slack = milliseconds(*slack_ms);
    outcome.held = held;
    record.outcomes.push_back(outcome);
    return record;
}

/// A plan of which only the number of levels matters.
const plan::Plan& levels_only() {
    static const plan::Plan plan = [] {
        plan::Plan made;
        for (std::uint32_t i = 0; i <= quay.value; ++i) made.levels.push({});
        return made;
    }();
    return plan;
}

} // namespace

TEST_CASE("summary: worse is the worse verdict, then the lesser slack; no slack is best") {
    const Record late = walk_with(handheld, Verdict::late, 900, 100);
    const Record fine = walk_with(handheld, Verdict::fine, 900, 50);
    const Record tight = walk_with(handheld, Verdict::fine, 900, 10);
    const Record free = walk_with(handheld, Verdict::fine, 900, std::nullopt);
    CHECK(walk::worse(late, tight));
    CHECK(walk::worse(tight, fine));
    CHECK(walk::worse(fine, free));
    CHECK_FALSE(walk::worse(free, free));
    const std::vector<Record> records{free, tight, late, fine};
    std::vector<std::size_t> order;
    for (const Record* record : walk::worst_first(records))
        order.push_back(static_cast<std::size_t>(record - records.data()));
    CHECK(order == std::vector<std::size_t>{2, 1, 3, 0});
}

TEST_CASE("summary: devices in order of appearance") {
    const std::vector<Record> records{walk_with(desktop, Verdict::fine, 1, 1),
                                      walk_with(handheld, Verdict::fine, 1, 1),
                                      walk_with(desktop, Verdict::fine, 1, 1)};
    CHECK(walk::devices_of(records) == std::vector{desktop, handheld});
}

TEST_CASE("summary: of a load the least slack, the longest time and the highest peak") {
    const std::vector<Record> records{walk_with(handheld, Verdict::fine, 900, 100),
                                      walk_with(handheld, Verdict::fine, 700, -20),
                                      walk_with(desktop, Verdict::fine, 300, 500)};
    const auto loads = walk::load_summaries(levels_only(), records);
    REQUIRE(loads.size() == 1);
    CHECK(loads.front().level == quay);
    CHECK(loads.front().least == milliseconds(-20));
    const walk::Worst& on_handheld = loads.front().by_device.at(handheld);
    CHECK(on_handheld.slack == milliseconds(-20));
    CHECK(on_handheld.longest == milliseconds(900));
    CHECK(on_handheld.peak == plan::mebibytes(900));
    CHECK(loads.front().by_device.at(desktop).slack == milliseconds(500));
}

TEST_CASE("summary: loads that players wait for count only where there are no others") {
    const auto held = walk_with(handheld, Verdict::fine, 5'000, 0, true);
    const auto outran = walk_with(handheld, Verdict::fine, 400, 80);
    const auto only_held = walk::load_summaries(levels_only(), {held});
    CHECK_FALSE(only_held.front().least);
    CHECK(only_held.front().by_device.at(handheld).longest == seconds(5));
    for (const auto& records : {std::vector{held, outran}, std::vector{outran, held}}) {
        const auto both = walk::load_summaries(levels_only(), records);
        CHECK(both.front().least == milliseconds(80));
        CHECK(both.front().by_device.at(handheld).longest == milliseconds(400));
    }
}

TEST_CASE("summary: findings are told once a place and name, errors first") {
    Record record = walk_with(handheld, Verdict::late, 1, 1);
    const auto add = [&](plan::Severity severity, const char* name, std::uint32_t line) {
        record.findings.push_back({severity, name, {0, line, 1}, "at 1 s"});
    };
    add(plan::Severity::warning, "long-hitch", 3);
    add(plan::Severity::error, "over-budget", 9);
    add(plan::Severity::warning, "long-hitch", 3);
    add(plan::Severity::warning, "long-stall", 3);
    const std::vector<Record> records{record, record};
    const auto told = walk::told_findings(records);
    REQUIRE(told.size() == 3);
    CHECK(told[0].finding->name == "over-budget");
    CHECK(told[0].times == 2);
    CHECK(told[1].finding->name == "long-hitch");
    CHECK(told[1].times == 4);
}

TEST_CASE("summary: what goes wrong on a device, each once, worst first") {
    Record record = walk_with(handheld, Verdict::stuck, 1, 1);
    for (const char* name : {"long-stall", "stuck", "low-slack", "steps-abandoned", "seen-gap"})
        record.findings.push_back({plan::Severity::warning, name, {}, ""});
    CHECK(walk::faults_on({record}, handheld) ==
          std::vector{Verdict::stuck, Verdict::late, Verdict::over_limit});
    CHECK(walk::faults_on({record}, desktop).empty());
}

TEST_CASE("summary: what was held at a moment, largest first, nothing that is empty") {
    Record record;
    using loading::Holder;
    record.holdings = {{Holder::base, 0, {}, seconds(9), plan::mebibytes(3)},
                       {Holder::piece, 1, seconds(1), seconds(4), plan::mebibytes(5)},
                       {Holder::veil, 2, seconds(4), seconds(9), plan::mebibytes(7)},
                       {Holder::players, 0, {}, seconds(9), {}}};
    const auto held = walk::held_at(record, seconds(3));
    REQUIRE(held.size() == 2);
    CHECK(held[0].holder == Holder::piece);
    CHECK(held[1].holder == Holder::base);
    CHECK(walk::held_at(record, seconds(4))[0].holder == Holder::veil); // the piece is gone by then
}
