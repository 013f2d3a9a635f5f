// Rules about routes, menus and saving: for each a plan that breaks it, by line and column, and one
// that looks like it and keeps it.

#include "support/checked.hpp"

using namespace hestrel;
using namespace hestrel::tests;

TEST_CASE("pick-of-nothing: a branch that no choose has") {
    const auto picks = [](const std::string& branch) {
        std::string text = with("steps: []}}", "steps: [{pick: " + branch + "}]}}");
        const std::string steps = "[{show: [quay]}]";
        return text.replace(text.find(steps), steps.size(),
                            "[{choose: {left: [{show: [quay]}], right: []}}]");
    };
    breaks(picks("rihgt"), "11:44 pick-of-nothing");
    keeps(picks("right"));
}

TEST_CASE("no-way-there: from where its player can be") {
    const auto goes = [](const std::string& paths, const std::string& steps) {
        std::string text = with("paths: [[a, b]]", "paths: " + paths);
        text.replace(text.find("b: [100, 0, 0]}"), 15, "b: [100, 0, 0], c: [100, 0, 50]}");
        return text.replace(text.find("steps: []}}"), 11, "steps: [" + steps + "]}}");
    };
    keeps(goes("[[a, b, c]]", "{go: c}, {go: a}"));
    // One-way from c to b: a player who has gone to b does not get to c.
    breaks(goes("[[a, b], {from: c, to: b, one-way: true}]", "{go: b}, {go: c}"),
           "11:53 no-way-there");
    // A step can place it there.
    std::string placed = goes("[[a, b], {from: c, to: b, one-way: true}]", "{go: b}, {go: c}");
    placed.replace(placed.find("[{unload: [quay]}]"), 18,
                   "[{unload: [quay]}, {place: {at: hall.far}}]");
    placed.replace(placed.find("entries: {door: a}"), 18, "entries: {door: a, far: c}");
    keeps(placed);
}

TEST_CASE("next-past-the-end, without a condition that knows") {
    const auto plan = [](const std::string& trigger) {
        return with("t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: "
                    "[quay]}]}",
                    "t: {" + trigger + ", steps: [{next: {veil: dawn}}]}") +
               "editions: {full: {levels: [hall, quay]}}\n";
    };
    const std::string box = "box: {min: [20, -1, -1], max: [30, 1, 1]}";
    keeps(plan("in: hall, " + box));
    breaks(plan("in: quay, " + box), "13:68 next-past-the-end");
    keeps(plan("in: quay, when: not shown(quay), " + box));
}

TEST_CASE("speed-out-of-reach: players' speeds and paths' limits") {
    const auto when = [](const std::string& condition, const std::string& path = "[a, b]") {
        std::string text = with("t: {in: hall,", "t: {in: hall, when: " + condition + ",");
        return text.replace(text.find("[[a, b]]"), 8, "[" + path + "]");
    };
    breaks(when("speed >= 2.1"), "13:23 speed-out-of-reach");
    keeps(when("speed >= 2"));
    keeps(when("speed < 9"));
    breaks(when("shown(hall) and speed >= 2", "{from: a, to: b, speed: 1.5}"),
           "13:39 speed-out-of-reach");
    keeps(when("shown(hall) and speed >= 1.5", "{from: a, to: b, speed: 1.5}"));
    // Nobody fires what has no shape.
    std::string shapeless = clean;
    const std::string box = "in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}";
    shapeless.replace(shapeless.find(box), box.size(), "in: hall, when: speed > 0");
    breaks(shapeless, "13:23 speed-out-of-reach");
}

TEST_CASE("switch-to-own-level, unless it is reused") {
    const auto to = [](const std::string& target) {
        return with("[{unload: [quay]}]",
                    "[{unload: [quay]}, {switch: {to: " + target + ", veil: dawn}}]");
    };
    breaks(to("hall"), "14:86 switch-to-own-level");
    keeps(to("hall, reuse: true"));
    keeps(to("quay"));
}

TEST_CASE("menu-without-way-out: it stops movement, and nothing closes it") {
    const auto menu = [](const std::string& says, const std::string& more = "") {
        return with("menus: {desk:", "menus: {sound: {in: hall, " + says + "}, desk:") + more;
    };
    const std::string louder = "louder: {stays: true, steps: [{veil: dawn}, {unveil: dawn}]}";
    breaks(menu("pauses: true, items: {" + louder + "}"), "10:9 menu-without-way-out");
    breaks(menu("pauses: true, items: {}"), "10:9 menu-without-way-out");
    keeps(menu("items: {" + louder + "}"));
    keeps(menu("pauses: true, items: {" + louder + ", done: {steps: []}}"));
    keeps(menu("pauses: true, items: {" + louder +
               ", away: {stays: true, steps: [{switch: {to: quay, veil: dawn}}]}}"));
    keeps(menu("pauses: true, items: {" + louder + "}, after: {delay: 5 s, steps: []}"));
    keeps(menu(
        "pauses: true, items: {" + louder + "}",
        "  v: {in: hall, box: {min: [70, -1, -1], max: [80, 1, 1]}, steps: [{close: sound}]}\n"));
}

TEST_CASE("set-never-saved: what is to be saved is set, and nothing saves") {
    const auto sets = [](const std::string& more) {
        return with("[{unload: [quay]}]", "[{unload: [quay]}, {set: {round: 1}}" + more + "]") +
               "facts: {round: {initial: 0, range: [0, 9], lifetime: saved, displayed: true}}\n";
    };
    breaks(sets(""), "14:93 set-never-saved");
    CHECK(found(sets(", {save: all}")) == Lines{});
}

TEST_CASE("opens-itself: a menu's after opens it again at once") {
    const auto after = [](const std::string& says) {
        return with("menus: {desk:", "menus: {title: {items: {}, after: {" + says + "}}, desk:");
    };
    breaks(after("delay: 0 s, steps: [{open: title}]"), "10:35 opens-itself");
    breaks(after("delay: 0 s, steps: [{wait: 10 us}, {open: title}]"), "10:35 opens-itself");
    keeps(after("delay: 20 s, steps: [{open: title}]"));
    keeps(after("delay: 0 s, steps: [{wait: 2 s}, {open: title}]"));
    keeps(after("delay: 0 s, steps: [{open: desk}]"));
}

TEST_CASE("a fact that players read is read") {
    const std::string fact = "facts: {n: {initial: 0, range: [0, 9]MORE}}\n";
    const auto plan = [&](const std::string& more) {
        std::string text = fact;
        text.replace(text.find("MORE"), 4, more);
        return with("[{unload: [quay]}]", "[{unload: [quay]}, {set: {n: 1}}]") + text;
    };
    breaks(plan(""), "15:9 fact-never-read");
    keeps(plan(", displayed: true"));
}

TEST_CASE("starts of routes lead players nowhere, where there are editions") {
    // The quay's own trigger shows it; a route that tries the quay out changes nothing about that.
    const std::string own = with("t: {in: hall,", "t: {in: quay,") +
                            "  v: {in: hall, box: {min: [70, -1, -1], max: [80, 1, 1]}, steps: "
                            "[{unload: [quay]}]}\neditions: {full: {levels: [hall, quay]}}\n";
    std::string tried = own;
    tried.replace(tried.find("{level: hall}"), 13, "{level: quay}");
    CHECK(found(own) == Lines{"13:3 trigger-brings-own-level"});
    CHECK(found(tried) == Lines{"13:3 trigger-brings-own-level"});
}

TEST_CASE("arrival-in-trigger is silent where the firing changes nothing") {
    const auto arriving = [](const std::string& steps, const std::string& arrive = "") {
        std::string text =
            with("[{unload: [quay]}]", "[{unload: [quay]}, {switch: {to: quay, veil: dawn}}]");
        text.replace(text.find("entries: {steps: b}"), 19, "entries: {steps: b}" + arrive);
        return text + "  w: {in: quay, box: {min: [95, -1, -1], max: [105, 1, 1]}, steps: [" +
               steps + "]}\nfacts: {on: {initial: false, displayed: true}}\n";
    };
    breaks(arriving("{set: {on: true}}"), "14:86 arrival-in-trigger");
    keeps(arriving("{set: {on: true}}", ", arrive: [{set: {on: true}}]"));
    keeps(arriving("{mark: quay.steps}"));
    keeps(arriving("{show: [quay]}"));
    breaks(arriving("{show: [hall]}"), "14:86 arrival-in-trigger");
}
