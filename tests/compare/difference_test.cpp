// What differs between figures, and what changed in a plan.

#include "check/check.hpp"
#include "compare/difference.hpp"
#include "source/plan_content.hpp"
#include "support/figures.hpp"
#include "support/plan_text.hpp"
#include "tables/compare_tables.hpp"
#include "tables/metrics_file.hpp"

using namespace hestrel;
using compare::Change;
using compare::differences;
using compare::Measure;
using compare::Metrics;
using compare::Where;

namespace {

const Where hall{"first-round", "handheld", "", "", "", ""};
Where load(const std::string& cause) {
    return {"first-round", "handheld", "", "trigger " + cause, "quay", ""};
}
Where total() {
    return {"first-round", "handheld", "", "", "", "total"};
}

Metrics some() {
    Metrics figures;
    figures.plan = "Glasswater Post";
    figures.verdicts[hall] = "fine";
    figures.values[{hall, Measure::boot}] = 2'000'000;
    figures.values[{hall, Measure::slack}] = 1'000'000;
    figures.values[{total(), Measure::peak}] = 500 << 20;
    figures.values[{load("approach"), Measure::takes}] = 3'000'000;
    figures.values[{Where{"", "", "full", "", "", ""}, Measure::situations}] = 1000;
    figures.findings[{"low-slack", "trigger approach", "walk", hall}] = plan::Severity::warning;
    return figures;
}

compare::Differences against_some(const Metrics& figures,
                                  const compare::Tolerance& tolerance = {}) {
    return differences(some(), figures, tolerance);
}

Metrics figures_of(const plan::Plan& plan) {
    Metrics figures;
    figures.plan = plan.name;
    add_check(figures, plan, check::check(plan));
    for (const walk::Record& record : tests::walks_of(plan)) add_walk(figures, plan, record);
    explore::Options exploring;
    exploring.most_situations = 5'000;
    for (const plan::DeviceId device : plan.devices.ids()) exploring.devices.push_back(device);
    for (const plan::EditionId edition : explore::explorable_editions(plan)) {
        exploring.edition = edition;
        add_explored(figures, plan, explore::explored(plan, exploring));
    }
    return figures;
}

} // namespace

TEST_CASE("compare: nothing differs from itself") {
    const auto same = against_some(some());
    CHECK(same.figures.empty());
    CHECK(same.verdicts.empty());
    CHECK(same.found.empty());
    CHECK(same.gone.empty());
    CHECK(same.alike == 5);
    CHECK_FALSE(same.worse());
}

TEST_CASE("compare: what is worse, better and neither, the most changed first") {
    Metrics now = some();
    now.values[{hall, Measure::boot}] = 2'200'000;              // 10 % longer
    now.values[{hall, Measure::slack}] = 500'000;               // half of it gone
    now.values[{total(), Measure::peak}] = 400 << 20;           // better
    now.values[{load("approach"), Measure::takes}] = 2'700'000; // better, by less
    now.values[{Where{"", "", "full", "", "", ""}, Measure::situations}] = 2000;
    const auto all = against_some(now);
    REQUIRE(all.figures.size() == 5);
    CHECK(all.figures[0].measure == Measure::slack);
    CHECK(all.figures[0].change == Change::worse);
    CHECK(all.figures[0].worsening() == Approx(0.5));
    CHECK(all.figures[1].measure == Measure::boot);
    CHECK(all.figures[2].measure == Measure::peak);
    CHECK(all.figures[2].change == Change::better);
    CHECK(all.figures[2].worsening() == Approx(-0.2));
    CHECK(all.figures[3].measure == Measure::takes);
    CHECK(all.figures[4].measure == Measure::situations);
    CHECK(all.figures[4].change == Change::neither);
    CHECK(all.worse());
}

TEST_CASE("compare: what is tolerated is by a share, a time or a size") {
    Metrics now = some();
    now.values[{hall, Measure::boot}] = 2'200'000;
    CHECK(against_some(now, {0.1, 0, 0}).figures.front().change == Change::tolerated);
    CHECK(against_some(now, {0.0999, 0, 0}).worse());
    CHECK_FALSE(against_some(now, {0, 200'000, 0}).worse());
    CHECK(against_some(now, {0, 199'999, 0}).worse());
    CHECK(against_some(now, {0, 0, 1 << 30}).worse());
    now = some();
    now.values[{total(), Measure::peak}] += 8 << 20;
    CHECK_FALSE(against_some(now, {0, 0, 8 << 20}).worse());
    CHECK(against_some(now, {0, 0, (8 << 20) - 1}).worse());
}

TEST_CASE("compare: verdicts and findings") {
    Metrics now = some();
    now.verdicts[hall] = "late";
    now.findings.clear();
    now.findings[{"stood-in-gap", "trigger approach", "walk", hall}] = plan::Severity::error;
    const auto worse = against_some(now, {1, 1 << 30, 1 << 30});
    REQUIRE(worse.verdicts.size() == 1);
    CHECK(worse.verdicts.front().change == Change::worse);
    REQUIRE(worse.found.size() == 1);
    CHECK(tables::noticed_text(worse.found.front().what) ==
          "stood-in-gap of trigger approach (first-round, handheld)");
    REQUIRE(worse.gone.size() == 1);
    CHECK(worse.gone.front().what.name == "low-slack");
    CHECK(worse.worse()); // whatever is tolerated of figures

    const auto better = differences(now, some(), {});
    CHECK(better.verdicts.front().change == Change::better);
    CHECK(better.worse()); // there is a new warning

    Metrics noted = some();
    noted.findings[{"load-thrash", "", "walk", hall}] = plan::Severity::note;
    CHECK_FALSE(against_some(noted).worse());
}

TEST_CASE("compare: a walk that only one plan has is told once, and is no worse") {
    Metrics now = some();
    Where other = hall;
    other.route = "second-round";
    now.verdicts[other] = "late";
    now.values[{other, Measure::boot}] = 9'000'000;
    now.findings[{"stood-in-gap", "", "walk", other}] = plan::Severity::error;
    const auto more = against_some(now);
    REQUIRE(more.verdicts.size() == 1);
    CHECK(more.verdicts.front().before.empty());
    CHECK(more.figures.empty());
    CHECK(more.found.empty());
    CHECK_FALSE(more.worse());
    const auto less = differences(now, some(), {});
    CHECK(less.verdicts.front().after.empty());
    CHECK(less.figures.empty());
    CHECK(less.gone.empty());
    // A figure that one walk lacks is neither better nor worse.
    Metrics without = some();
    without.values.erase({hall, Measure::slack});
    REQUIRE(against_some(without).figures.size() == 1);
    CHECK(against_some(without).figures.front().change == Change::neither);
}

TEST_CASE("compare: a figure of a stuck walk is neither better nor worse") {
    Metrics figures = some();
    figures.verdicts[hall] = "stuck";
    figures.values[{hall, Measure::boot}] = 9'000'000;
    figures.values[{load("approach"), Measure::takes}] = 1'000'000;
    const auto found = against_some(figures);
    REQUIRE(found.figures.size() == 2);
    CHECK(found.figures[0].change == Change::neither);
    CHECK(found.figures[1].change == Change::neither);
    CHECK(found.verdicts.front().change == Change::worse); // that it is stuck is
}

TEST_CASE("compare: what positions, next and back lead to now") {
    const auto leads = [](const std::string& levels) {
        Metrics figures;
        compare::add_leads(
            figures,
            tests::plan_from("hestrel: 1\nlevels: {hall: , quay: , loft: }\ntriggers:\n  on: {in: "
                             "quay, when: shown(quay), steps: [{next: {}}]}\n  off: {in: quay, "
                             "when: shown(hall), steps: [{back: {}}]}\n  far: {when: ready(hall), "
                             "steps: [{switch: {to: {position: 2}}}]}\neditions: {all: {levels: [" +
                             levels + "]}}\n"));
        return figures;
    };
    const auto found = differences(leads("hall, quay, loft"), leads("loft, hall, quay"), {});
    std::vector<std::string> texts;
    for (const compare::LeadChange& each : found.leads)
        texts.push_back(each.lead.cause + " " + each.lead.by + ": " + each.before + ", " +
                        each.after);
    CHECK(texts ==
          tests::Lines{"trigger far position 2: loft, quay", "trigger on next after quay: loft, "});
    CHECK_FALSE(found.worse());
    const auto kept = tables::parse_metrics(tables::metrics_json({leads("hall, quay"), {}}));
    CHECK(kept.figures.leads == leads("hall, quay").leads);
}

TEST_CASE("compare: figures kept are the figures read again") {
    const plan::Plan plan = tests::demo_plan();
    source::RealDisk disk;
    const std::string path = std::string(HESTREL_SOURCE) + "/examples/glasswater/glasswater.yaml";
    const tables::KeptMetrics kept{figures_of(plan), source::plan_content(disk, path, {})};
    CHECK(kept.figures.values.size() > 1000);
    // No transition is worse than its walk.
    for (const auto& [key, value] : kept.figures.values) {
        const auto& [where, measure] = key;
        if (where.cause.empty() || !where.level.empty()) continue;
        Where walk{where.route, where.device, "", "", "", ""};
        if (measure == Measure::peak) walk.pool = "total";
        CAPTURE(where.cause);
        CHECK(value <= kept.figures.values.at({walk, measure}));
    }
    const auto again = tables::parse_metrics(tables::metrics_json(kept));
    CHECK(again.figures.plan == kept.figures.plan);
    CHECK(again.figures.values == kept.figures.values);
    CHECK(again.figures.verdicts == kept.figures.verdicts);
    CHECK(again.figures.findings == kept.figures.findings);
    CHECK(source::plan_changes(kept.content, again.content).empty());
    CHECK(differences(kept.figures, again.figures, {}).alike == kept.figures.values.size());
}

TEST_CASE("compare: files that hold no figures are refused") {
    for (const char* text :
         {"", "[]", "{}", "{\"hestrel_figures\": 2}", "{\"hestrel_figures\": 1}",
          "{\"hestrel_figures\": 1, \"plan\": 3}",
          "{\"hestrel_figures\": 1, \"values\": [3], \"verdicts\": [], \"findings\": []}",
          "{\"hestrel_figures\": 1, \"values\": [{\"measure\": \"boot\", \"value\": 1.5}], "
          "\"verdicts\": [], \"findings\": []}",
          "{\"hestrel_figures\": 1, \"values\": [{\"measure\": \"boots\", \"value\": 1}], "
          "\"verdicts\": [], \"findings\": []}",
          "{\"hestrel_figures\": 1, \"values\": [], \"verdicts\": [], \"findings\": "
          "[{\"severity\": "
          "\"bad\"}]}"}) {
        CAPTURE(text);
        CHECK_THROWS_AS(tables::parse_metrics(text), tables::FiguresError);
    }
    const std::string deep = "{\"hestrel_figures\": 1, \"content\": " + std::string(100'000, '[');
    CHECK_THROWS_AS(tables::parse_metrics(deep + std::string(100'000, ']') + "}"),
                    tables::FiguresError);
}

TEST_CASE("compare: what changed in a plan") {
    const auto changes = [](const std::string& before, const std::string& after) {
        source::MemoryDisk disk;
        disk.files["a.yaml"] = before;
        disk.files["b.yaml"] = after;
        tests::Lines lines;
        for (const auto& each : source::plan_changes(source::plan_content(disk, "a.yaml", {}),
                                                     source::plan_content(disk, "b.yaml", {})))
            lines.push_back(each.path + ": " + each.before + " -> " + each.after);
        return lines;
    };
    const std::string plan = "hestrel: 1\nlevels: {hall: {packed: 1, kits: [a, b]}, loft: {}}\n"
                             "paths: [[x, y], [y, z]]\n";
    CHECK(changes(plan, plan).empty());
    CHECK(changes(plan, "hestrel: 1\nlevels: {hall: {packed: 2, kits: [b]}, cove: {packed: 3}}\n"
                        "paths: [[x, y], [y, z]]\n") ==
          tests::Lines{"levels.hall.packed: 1 -> 2", "levels.hall.kits: [a, b] -> [b]",
                       "levels.cove:  -> {packed: 3}", "levels.loft: {} -> "});
    CHECK(changes(plan, "hestrel: 1\nlevels: {hall: {packed: 1, kits: [a, b]}, loft: {}}\n"
                        "paths: [[x, w], [y, z]]\n") == tests::Lines{"paths.0: [x, y] -> [x, w]"});
    CHECK(changes(plan, "hestrel: 1\nlevels: {hall: {packed: 1, kits: [a, b]}, loft: {}}\n"
                        "paths: [[w, x], [x, y]]\nname: Post\n") ==
          tests::Lines{"paths.0: [x, y] -> [w, x]", "paths.1: [y, z] -> [x, y]", "name:  -> Post"});
    CHECK(changes(plan,
                  "hestrel: 1\nlevels: {hall: {packed: 1, kits: [a, b]}, loft: {}}\n"
                  "paths: [[w, x], [x, y], [y, z]]\n") == tests::Lines{"paths.0:  -> [w, x]"});
}

TEST_CASE("compare: measured sizes and several files are part of a plan") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = "hestrel: 1\ninclude: [more.yaml]\nsizes: [m.csv]\nveils: {a: {}}\n";
    disk.files["more.yaml"] = "veils: {b: {}}\n";
    disk.files["m.csv"] = "piece,device,pool,memory,packed\r\nquay,handheld,texture,130,80\r\n";
    const source::Json before = source::plan_content(disk, "plan.yaml", {});
    CHECK(
        before.dump() ==
        R"({"veils":{"a":{},"b":{}},"sizes":{"quay handheld texture":{"memory":"130","packed":"80"}}})");
    disk.files["m.csv"] = "piece,device,pool,memory,packed\r\nquay,handheld,texture,140,80\r\n";
    const auto changes = source::plan_changes(before, source::plan_content(disk, "plan.yaml", {}));
    REQUIRE(changes.size() == 1);
    CHECK(changes.front() ==
          source::PlanChange{"sizes.quay handheld texture.memory", "130", "140"});
}
