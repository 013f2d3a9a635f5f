// Every rule: a plan that breaks it and nothing else, checked by line, column and name, and one
// that keeps it.

#include "check/check.hpp"

#include "plan/names.hpp"
#include "support/checked.hpp"

#include <fmt/format.h>

using namespace hestrel;
using namespace hestrel::tests;

TEST_CASE("rules: the plan the others start from is clean") {
    keeps(clean);
}

TEST_CASE("rules about editions") {
    const std::string demo =
        clean + "editions: {full: {levels: [hall, quay]}, demo: {levels: [hall]}}\n";
    breaks(demo, "13:68 target-not-in-edition");
    keeps(clean + "editions: {full: {levels: [hall, quay]}}\n");

    const auto by_position = [](int position) {
        return with("[{show: [quay]}]",
                    fmt::format("[{{switch: {{to: {{position: {}}}, veil: dawn}}}}]", position)) +
               "editions: {full: {levels: [hall, quay]}}\n";
    };
    breaks(by_position(2), "13:68 position-out-of-edition");
    keeps(by_position(1));

    const std::string next = with("[{show: [quay]}]", "[{next: {veil: dawn}}]");
    breaks(next + "editions: {full: {levels: [hall, quay, hall]}}\n", "13:68 position-unclear");
    keeps(next + "editions: {full: {levels: [hall, quay]}}\n");
    // The hall ships with its attic, but has no place in the order.
    std::string attic = next;
    attic.replace(
        attic.find("entries: {door: a}"), 18,
        "entries: {door: a}, sublevels: {attic: {with-parent: true, memory: {texture: 1}}}");
    const std::string away = "[{unload: [quay]}]";
    attic.replace(attic.find(away), away.size(), "[{switch: {to: hall, reuse: true, veil: dawn}}]");
    breaks(attic + "editions: {full: {levels: [attic, quay]}}\n", "13:68 position-unclear");

    breaks(clean + "editions: {full: {levels: [hall, quay], parcels: [{coast: [quay]}, {core: "
                   "[hall]}]}}\n",
           "15:52 start-parcel-incomplete");
    keeps(clean +
          "editions: {full: {levels: [hall, quay], parcels: [{core: [hall]}, {coast: [quay]}]}}\n");
}

TEST_CASE("rules about triggers") {
    breaks(with("t: {in: hall,", "t: {in: hall, for: [ferryman],"), "13:3 trigger-fits-nobody");
    keeps(with("t: {in: hall,", "t: {in: hall, for: [ferryman, carrier],"));

    breaks(with("t: {in: hall,", "t: {in: quay,"), "13:3 trigger-brings-own-level");
    keeps(with("t: {in: hall,", "t: {"));

    breaks(with("min: [20, -1, -1], max: [30, 1, 1]", "min: [20, 5, -1], max: [30, 6, 1]"),
           "13:3 trigger-off-paths");
    breaks(with("t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}",
                "t: {in: hall, sphere: {at: [50, 8, 0], radius: 5}"),
           "13:3 trigger-off-paths");
    keeps(with("t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}",
               "t: {in: hall, beyond: {axis: x, over: 20}"));

    // 2 m/s and 30 frames a second: a frame is 6.7 cm of the way.
    breaks(with("max: [30, 1, 1]", "max: [20.06, 1, 1]"), "13:3 trigger-too-thin");
    keeps(with("max: [30, 1, 1]", "max: [20.07, 1, 1]"));
}

TEST_CASE("rules about what steps do") {
    const std::string gate = "  shed: {memory: {texture: 10}}\ngates: {door: {needs: [shed]}}\n";
    const std::string gated = with("paths: [[a, b]]", "paths: [{from: a, to: b, gate: door}]");
    breaks(std::string(gated).insert(gated.find("veils:"), gate), "10:9 gate-without-load");
    std::string asked = gated;
    asked.insert(asked.find("veils:"), "gates: {door: {needs: [quay]}}\n");
    breaks(asked, "9:9 gate-from-behind"); // asked for, at least

    breaks(with("[{show: [quay]}]", "[{show: [quay]}, {unload: [hall]}, {wait: 1 s}]"),
           "13:102 steps-after-own-unload");
    breaks(with("[{show: [quay]}]", "[{switch: {to: quay, veil: dawn}}, {wait: 1 s}]"),
           "13:102 steps-after-own-unload");
    keeps(with("[{show: [quay]}]", "[{show: [quay]}, {wait: {shown: [quay]}}, {unload: [hall]}]"));

    breaks(with("hall: {memory", "hall: {leave: [{wait: 1 s}], memory"), "7:18 leave-waits");
    keeps(with("hall: {memory", "hall: {leave: [{hide: [quay]}], memory"));

    breaks(with("[{unload: [quay]}]", "[{unload: [quay]}, {return: checkpoint}]"),
           "14:86 return-without-mark");
    keeps(
        with("[{unload: [quay]}]", "[{mark: hall.door}, {unload: [quay]}, {return: checkpoint}]"));

    breaks(with("{show: [quay]}", "{load: [quay]}"), "8:3 loaded-never-shown");
    keeps(with("{show: [quay]}", "{load: [quay]}, {show: [quay]}"));

    breaks(with("{unload: [quay]}", "{hide: [quay]}"), "8:3 never-unloaded");
    keeps(with("{unload: [quay]}", "{keep-only: [hall]}"));

    breaks(with("quay: {memory", "quay: {persist: true, memory"), "14:68 persisting-unloaded");

    breaks(with("[{unload: [quay]}]", "[{switch: {to: quay}}]"), "14:68 switch-without-veil");
    keeps(with("[{unload: [quay]}]", "[{veil: dawn}, {switch: {to: quay}}]") +
          "  v: {steps: [{unveil: dawn}], in: quay, box: {min: [90, -1, -1], max: [99, 1, 1]}}\n");

    // What stands before it may be in a list further out, and what is left out may come.
    keeps(
        with("[{unload: [quay]}]",
             "[{veil: dawn}, {switch: {to: quay}, when: shown(quay)}, {unveil: dawn}]") +
        "  v: {steps: [{unload: [hall]}], in: quay, box: {min: [90, -1, -1], max: [99, 1, 1]}}\n");
    keeps(with("[{unload: [quay]}]", "[{unload: [hall], when: shown(quay)}, {unload: [quay]}]"));

    std::string told =
        with("[{show: [quay]}]", "[{show: [{by: bells, 0: quay, 1: none}]}, {set: {bells: +1}}]");
    told += "facts: {bells: {initial: 0, range: [0, 9]}}\n";
    breaks(told, "13:68 value-without-level");
    told.replace(told.find("1: none"), 7, "else: none");
    keeps(told);

    std::string dusk = with("dawn: {min: 1 s}", "dawn: {min: 1 s}, dusk: ");
    dusk.replace(dusk.find("{unload: [quay]}"), 16, "{unload: [quay]}, {veil: dusk}");
    breaks(dusk, "14:86 veil-left-up");
    dusk.replace(dusk.find("{veil: dusk}"), 12, "{veil: dusk}, {unveil: dusk}");
    keeps(dusk);

    breaks(with("{unload: [quay]}", "{unload: [quay]}, {freeze: players}"),
           "14:86 freeze-without-thaw");
    keeps(with("{unload: [quay]}", "{unload: [quay]}, {freeze: players}, {thaw: players}"));
}

TEST_CASE("rules about sizes") {
    breaks(with("base: 100", "base: 901"), "2:11 base-over-budget");
    keeps(with("base: 100", "base: 800"));

    breaks(with("quay: {memory: {texture: 100}", "quay: {memory: {texture: 600, audio: 201}"),
           "8:3 level-over-budget");
    breaks(with("quay: {memory: {texture: 100}", "quay: {memory: {texture: 701}"),
           "8:3 level-over-budget");
    keeps(with("quay: {memory: {texture: 100}", "quay: {memory: {texture: 700}"));

    breaks(with("quay: {memory: {texture: 100}, ", "quay: {"), "8:3 empty-level");
    keeps(with("quay: {memory: {texture: 100}, ",
               "quay: {sublevels: {shed: {with-parent: true, memory: {texture: 1}}}, "));
}

TEST_CASE("rules about measured sizes") {
    const auto measured = [](const std::string& size) {
        source::MemoryDisk disk;
        disk.files["lake/plan.yaml"] = clean + "sizes: [built.csv]\n";
        disk.files["lake/built.csv"] = "piece,device,pool,memory\r\nquay,,texture," + size + "\r\n";
        const source::PlanReading reading = source::read_plan(disk, "lake/plan.yaml");
        REQUIRE(reading.findings.empty());
        Lines lines;
        for (const plan::Finding& finding : check::check(reading.plan))
            lines.push_back(plan::finding_text(reading.plan, finding));
        return lines;
    };
    CHECK(measured("111") == Lines{"lake/built.csv:2:1: warning: quay was measured at 111 MiB of "
                                   "texture; the plan says 100 MiB  "
                                   "[size-drift]"});
    CHECK(measured("110").empty());
    CHECK(measured("90").empty());
    CHECK(measured("89").size() == 1);
}

TEST_CASE("rules about facts and conditions") {
    const auto facts = [](const std::string& definition, const std::string& when,
                          const std::string& step) {
        std::string text = clean + "facts: {f: {" + definition + "}}\n";
        text.replace(text.find("t: {in: hall,"), 13, "t: {in: hall, when: " + when + ",");
        return text.replace(text.find("{unload: [quay]}"), 16, "{unload: [quay]}, " + step);
    };
    breaks(facts("initial: 0", "f > 1", "{set: {f: +1}}"), "15:9 unbounded-fact");
    keeps(facts("initial: 0, range: [0, 5]", "f > 1", "{set: {f: +1}}"));
    breaks(facts("initial: 0, lifetime: saved", "f > 1", "{wait: 1 s}"), "15:9 saved-never-set");
    keeps(facts("initial: 0, lifetime: saved", "f > 1", "{set: {f: {to: -2}}}, {save: all}"));
    breaks(facts("initial: false", "veiled", "{set: {f: true}}"), "15:9 fact-never-read");
    keeps(facts("initial: false", "not f or veiled", "{set: {f: true}}"));
    CHECK(found(facts("initial: 0, lifetime: saved", "f > 1", "{set: {f: 1}}, {restore: all}")) ==
          Lines{"14:93 set-never-saved", "14:101 restore-without-save"});
    keeps(facts("initial: 0, lifetime: saved", "f > 1",
                "{set: {f: 1}}, {save: all}, {restore: all}"));
    breaks(with("t: {in: hall,", "t: {in: hall, when: 1 < 2,"), "13:23 constant-condition");
    keeps(with("t: {in: hall,", "t: {in: hall, when: speed < 2,"));
}

TEST_CASE("rules about definitions that nothing uses") {
    breaks(clean + "kits: {wood: {memory: {texture: 4}}}\n", "15:8 unused-definition");
    breaks(with("b: [100, 0, 0]}", "b: [100, 0, 0], c: [7, 0, 0]}"), "3:43 unused-definition");
    breaks(clean + "gates: {door: {needs: [quay]}}\n", "15:9 unused-definition");
    breaks(with("veils: {dawn: {min: 1 s}}", "veils: {dawn: {min: 1 s}, dusk: {}}"),
           "9:27 unused-definition");
    breaks(clean + "lists: {ring: {steps: [{show: [quay]}]}}\n", "15:9 unused-definition");
    keeps(with("[{show: [quay]}]", "[{do: ring}]") + "lists: {ring: {steps: [{show: [quay]}]}}\n");
}

TEST_CASE("allow silences a finding on the thing it is about; for nothing it is one itself") {
    const std::string thin = with("max: [30, 1, 1]", "max: [20.06, 1, 1]");
    const auto allowing = [](std::string text, const std::string& trigger,
                             const std::string& name) {
        const std::string start = trigger + ": {in: hall,";
        return text.replace(text.find(start), start.size(),
                            start + " allow: {" + name + ": on purpose},");
    };
    keeps(allowing(thin, "t", "trigger-too-thin"));
    CHECK(found(allowing(thin, "u", "trigger-too-thin")) ==
          Lines{"13:3 trigger-too-thin", "14:25 allowed-for-nothing"});
    keeps(allowing(clean, "t", "seen-gap")); // a walk may find that
}

TEST_CASE("rules about groups, and steps behind a veil") {
    breaks(clean + "groups: {both: [hall, quay]}\n", "15:10 unused-definition");
    keeps(clean + "groups: {both: {levels: [hall, quay], one-of: true}}\n");
    keeps(clean + "groups: {both: [hall, quay]}\nrules: [{never: ready(both) and veiled}]\n");

    const std::string near = with(
        "quay: {memory: {texture: 100}, entries: {steps: b}}",
        "quay: {memory: {texture: 100}, entries: {steps: b}, area: {min: [90, -1, -5], max: [110, "
        "3, "
        "5]}, near: {load: 9, unload: 12}}\n  dark: {memory: {texture: 100}, area: {min: [90, -1, "
        "-5], max: [110, 3, 5]}, near: {load: 9, unload: 12}}");
    const std::string place = "groups: {place: {levels: [quay, dark], one-of: true}}\n";
    CHECK(found(near + place) == Lines{"9:3 variants-alike"});
    std::string apart = near + place + "facts: {day: {initial: true}}\n";
    apart.replace(apart.rfind("unload: 12"), 10, "unload: 12, when: not day");
    const Lines told = found(apart);
    CHECK(std::none_of(told.begin(), told.end(), [](const std::string& each) {
        return each.find("variants-alike") != std::string::npos;
    }));
}
