// Rules about where levels, entries and players are: for each a plan that breaks it, by line and
// column, and one that looks like it and keeps it.

#include "support/checked.hpp"

using namespace hestrel;
using namespace hestrel::tests;

namespace {

/// `clean` with several replacements, one after the other.
std::string changed(std::vector<std::pair<std::string, std::string>> changes,
                    const std::string& more = "") {
    std::string text = clean;
    for (const auto& [from, to] : changes) {
        const std::size_t at = text.find(from);
        REQUIRE(at != std::string::npos);
        text.replace(at, from.size(), to);
    }
    return text + more;
}

const std::pair<std::string, std::string> go_to_quay{"[{unload: [quay]}]",
                                                     "[{switch: {to: quay, veil: dawn}}]"};

} // namespace

TEST_CASE("no-way-in: switched to a level with an area and without an entry") {
    const std::pair<std::string, std::string> no_entry{
        "quay: {memory: {texture: 100}, entries: {steps: b}}",
        "quay: {memory: {texture: 100}, area: [{min: [90, -1, -9], max: "
        "[110, 9, 9]}]}"};
    breaks(changed({go_to_quay, no_entry}), "14:68 no-way-in");
    // A menu, where nobody walks, and one with an entry.
    keeps(changed({go_to_quay, {"entries: {steps: b}", "objects: 3"}}));
    keeps(changed({go_to_quay,
                   {"entries: {steps: b}",
                    "entries: {steps: b}, area: [{min: [90, -1, -9], max: [110, 9, 9]}]"}}));
}

TEST_CASE("entry-outside-area, and in another world") {
    const auto quay = [](const std::string& area) {
        return changed(
            {go_to_quay,
             {"quay: {memory: {texture: 100}, entries: {steps: b}}",
              "quay: {memory: {texture: 100}, entries: {steps: b}, area: [" + area + "]}"}});
    };
    breaks(quay("{min: [101, -1, -9], max: [110, 9, 9]}"), "8:44 entry-outside-area");
    keeps(quay("{min: [100, -1, -9], max: [110, 9, 9]}"));
    // The part of it that comes with it is where one enters.
    const std::string part = "quay: {memory: {texture: 100}, entries: {steps: b}, area: [{min: "
                             "[120, -1, -9], max: [130, 9, 9]}], sublevels: {stairs: "
                             "{with-parent: true, memory: {texture: 1}, area: [{min: [90, -1, -9], "
                             "max: [110, 9, 9]}]}}}";
    keeps(changed({go_to_quay, {"quay: {memory: {texture: 100}, entries: {steps: b}}", part}}));
    const std::string elsewhere =
        changed({{"quay: {memory: {texture: 100}, entries: {steps: b}}",
                  "quay: {memory: {texture: 100}, world: below, entries: {steps: b}}"}});
    CHECK(found(elsewhere) == Lines{"8:58 entry-outside-area"});
    CHECK(check::check(plan_from(elsewhere)).front().severity == plan::Severity::error);
}

TEST_CASE("entry-unknown-there: a position, next or back whose level lacks the entry") {
    const auto plan = [](const std::string& editions) {
        return changed(
            {{"[{unload: [quay]}]", "[{switch: {to: {position: 1}, at: steps, veil: dawn}}]"}},
            "editions: {" + editions + "}\n");
    };
    keeps(plan("full: {levels: [hall, quay]}"));
    breaks(plan("full: {levels: [hall, quay]}, demo: {levels: [hall, hall, quay]}"),
           "14:68 entry-unknown-there");
}

TEST_CASE("areas-coincide: more than half of the smaller, and never together") {
    const auto plan = [](const std::string& second, const std::string& steps,
                         const std::string& more = "") {
        return changed(
            {{"hall: {memory: {texture: 100}, entries: {door: a}}",
              "hall: {memory: {texture: 100}, entries: {door: a}, area: [{min: [-10, -1, "
              "-9], max: [110, 9, 9]}]" +
                  more + "}"},
             {"quay: {memory: {texture: 100}, entries: {steps: b}}",
              "quay: {memory: {texture: 100}, entries: {steps: c}, area: [" + second + "]}"},
             {"b: [100, 0, 0]}", "b: [100, 0, 0], c: [108, 0, 0]}"},
             {"paths: [[a, b]]", "paths: [[a, b, c]]"},
             {"[{show: [quay]}]", steps},
             {"[{unload: [quay]}]", "[{veil: dawn}, {unveil: dawn}]"}});
    };
    const std::string by_switch = "[{switch: {to: quay, veil: dawn}}]";
    // 20 m wide, of which 10 m and 1 cm lie in the hall.
    breaks(plan("{min: [99.99, -1, -9], max: [119.99, 9, 9]}", by_switch), "8:3 areas-coincide");
    keeps(plan("{min: [100, -1, -9], max: [120, 9, 9]}", by_switch));
    // Shown beside the hall: they are meant to lie in each other.
    CHECK(found(plan("{min: [99, -1, -9], max: [119, 9, 9]}", "[{show: [quay]}]")) ==
          Lines{"8:3 never-unloaded"});
    // A square of 10 m, turned by 45 degrees: half of it lies on either side of its centre.
    keeps(plan("{min: [105.1, -1, -5], max: [115.1, 9, 5], turn: 45}", by_switch));
    breaks(plan("{min: [104.9, -1, -5], max: [114.9, 9, 5], turn: 45}", by_switch),
           "8:3 areas-coincide");
}

TEST_CASE("lives-too-late: what brings a trigger's level lies beyond the trigger") {
    const auto plan = [](const std::string& triggers) {
        return changed({{"  t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: "
                         "[{show: [quay]}]}\n"
                         "  u: {in: hall, box: {min: [50, -1, -1], max: [60, 1, 1]}, steps: "
                         "[{unload: [quay]}]}\n",
                         triggers}});
    };
    const std::string late =
        "  early: {in: quay, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: "
        "[{unload: [quay]}]}\n";
    breaks(plan(late + "  t: {in: hall, box: {min: [50, -1, -1], max: [60, 1, 1]}, steps: [{show: "
                       "[quay]}]}\n"),
           "13:3 lives-too-late");
    keeps(plan("  t: {in: hall, box: {min: [10, -1, -1], max: [15, 1, 1]}, steps: [{show: "
               "[quay]}]}\n" +
               late));
    // Players can begin on the other side, too: nobody knows.
    keeps(plan(late + "  t: {in: hall, box: {min: [50, -1, -1], max: [60, 1, 1]}, steps: [{show: "
                      "[quay]}, {wait: {shown: [quay]}}, {place: {at: quay.steps}}]}\n"));
}

TEST_CASE("gate-from-behind: all that brings what a gate needs lies behind it") {
    const auto plan = [](int from, const std::string& more = "") {
        return changed({{"b: [100, 0, 0]}", "b: [100, 0, 0], g: [40, 0, 0]}"},
                        {"paths: [[a, b]]", "paths: [[a, g], {from: g, to: b, gate: door}]"},
                        {"veils: {dawn", "gates: {door: {needs: [quay]}}\nveils: {dawn"},
                        {"min: [20, -1, -1], max: [30, 1, 1]",
                         fmt::format("min: [{}, -1, -1], max: [{}, 1, 1]", from, from + 5)}},
                       more);
    };
    breaks(plan(70), "9:9 gate-from-behind");
    keeps(plan(20));
    keeps(plan(70, "  v: {in: hall, box: {min: [5, -1, -1], max: [9, 1, 1]}, steps: [{load: "
                   "[quay]}]}\n"));
}

TEST_CASE("placed-in-hidden: players are placed in what is asked for and not awaited") {
    const auto placing = [](const std::string& steps) {
        return with("[{show: [quay]}]", "[" + steps + "]");
    };
    breaks(placing("{show: [quay]}, {place: {at: quay.steps}}"), "13:84 placed-in-hidden");
    breaks(placing("{show: [quay]}, {wait: {ready: [quay]}}, {place: {at: quay.steps}}"),
           "13:109 placed-in-hidden");
    keeps(placing("{show: [quay]}, {wait: {shown: [quay]}}, {place: {at: quay.steps}}"));
    keeps(placing("{show: [quay]}, {place: {at: hall.door}}"));
}

TEST_CASE("contents-missing: nothing that can be shown with a level provides what it needs") {
    const std::string purposes = "purposes: {playable: {needs: [light]}}\n";
    const auto hall = [&](const std::string& more, const std::string& quay = "") {
        return with(
                   "hall: {memory: {texture: 100}, entries: {door: a}}\n  quay: {memory: {texture: "
                   "100}, entries: {steps: b}",
                   "hall: {memory: {texture: 100}, entries: {door: a}, purpose: playable" + more +
                       "}\n  quay: {memory: {texture: 100}, entries: {steps: b}" + quay) +
               purposes;
    };
    breaks(hall(""), "7:3 contents-missing");
    keeps(hall(", provides: [light]"));
    keeps(hall("", ", provides: [light]"));
    keeps(hall(", allow: {contents-missing: it is lit by the player}"));
    // In another world, unless it persists. (It needs nobody to walk there.)
    const std::string elsewhere = "lamp: {world: below, memory: {texture: 1}, provides: [light]";
    const auto lamp = [&](const std::string& more) {
        std::string text = hall("");
        text.replace(text.find("veils:"), 0, "  " + elsewhere + more + "}\n");
        return text;
    };
    breaks(lamp(", near: {load: 1, unload: 2}, area: {min: [0, 0, 0], max: [1, 1, 1]}"),
           "7:3 contents-missing");
    keeps(lamp(", persist: true"));
}

TEST_CASE("a purpose that no level has is a definition for nothing") {
    breaks(clean + "purposes: {playable: {needs: [light]}}\n", "15:12 unused-definition");
}
