#include "bench/shapes.hpp"

#include "bench/large_plan.hpp"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <stdexcept>

namespace hestrel::bench {

namespace {

/// A machine on which everything fits, and players who walk.
constexpr const char* head =
    "hestrel: 1\n"
    "devices: {box: {memory: {total: 900000, base: 100}, read: {rate: 900}, frame: {fps: 60}}}\n"
    "players: {carrier: {speeds: {walk: 2}}}\n"
    "limits: {walk: 10000000 s}\n";

Files one_file(std::string text) {
    return {{"plan.yaml", std::move(text)}};
}

/// `text` of each number below `count`, joined by `between`.
template <class Text>
std::string each(int count, const Text& text, const char* between = "") {
    std::string all;
    for (int i = 0; i < count; ++i) all += (i == 0 ? "" : between) + text(i);
    return all;
}

/// The long road of `large_plan.hpp`, on which all levels go again.
Files long_road(int levels) {
    return one_file(road_plan(levels, 2, 1));
}

/// The same, with an edition that lists them all.
Files listed_road(int levels) {
    return one_file(road_plan(levels, 2, 1) + "editions: {all: {levels: [" +
                    each(
                        levels, [](int i) { return fmt::format("level{}", i); }, ", ") +
                    "]}}\n");
}

std::string kept_level(int i) {
    return fmt::format("  l{}: {{memory: {{texture: 1}}, entries: {{door: w{}}}, area: {{min: [{}, "
                       "-1, -1], max: [{}, 1, 1]}}}}\n",
                       i, i, 50 * i, 50 * i + 49);
}
std::string kept_trigger(int i) {
    return fmt::format("  t{}: {{in: l{}, box: {{min: [{}, -1, -1], max: [{}, 1, 1]}}, steps: "
                       "[{{show: [l{}]}}]}}\n",
                       i, i, 50 * i + 10, 50 * i + 12, i + 1);
}

/// A road whose levels stay once they are there, in so many files.
Files kept(int levels, int files) {
    std::string text = head;
    text += "waypoints:\n" +
            each(levels + 1, [](int i) { return fmt::format("  w{}: [{}, 0, 0]\n", i, 50 * i); });
    text +=
        "paths:\n" + each(levels, [](int i) { return fmt::format("  - [w{}, w{}]\n", i, i + 1); });
    text +=
        fmt::format("routes: {{there: {{start: {{level: l0}}, steps: [{{go: w{}}}]}}}}\n", levels);
    Files all;
    if (files == 1) {
        text +=
            "levels:\n" + each(levels, kept_level) + "triggers:\n" + each(levels - 1, kept_trigger);
    } else {
        text += "include: [part-*.yaml]\n";
        const int share = (levels + files - 1) / files;
        for (int file = 0; file < files; ++file) {
            std::string part = "levels:\n";
            std::string triggers = "triggers:\n";
            for (int i = file * share; i < std::min(levels, (file + 1) * share); ++i) {
                part += kept_level(i);
                if (i + 1 < levels) triggers += kept_trigger(i);
            }
            all[fmt::format("part-{:03}.yaml", file)] = part + triggers;
        }
    }
    all["plan.yaml"] = text;
    return all;
}

/// One straight path, 10 m for each of `count`; `level` stands in it.
std::string one_path(int count) {
    return fmt::format("waypoints: {{a: [0, 0, 0], b: [{}, 0, 0]}}\npaths: [[a, b]]\n"
                       "routes: {{there: {{start: {{level: hall}}, steps: [{{go: b}}]}}}}\n",
                       10 * count);
}
/// Each loads what the path comes to next, and lets go what lies behind.
std::string path_trigger(int i, const char* of) {
    return fmt::format("  t{0}: {{in: hall, box: {{min: [{1}, -1, -1], max: [{2}, 1, 1]}}, steps: "
                       "[{{show: [{3}{0}]}}{4}]}}\n",
                       i, 10 * i + 1, 10 * i + 3, of,
                       i < 2 ? "" : fmt::format(", {{unload: [{}{}]}}", of, i - 2));
}
std::string path_area(int i) {
    return fmt::format("{{memory: {{texture: 1}}, area: {{min: [{}, -1, -1], max: [{}, 1, 1]}}}}",
                       10 * i + 8, 10 * i + 9);
}

/// Triggers on one path that show and unload one level in turn.
Files triggers(int count) {
    return one_file(
        head + one_path(count) + "levels:\n  hall: {memory: {texture: 1}, entries: {door: a}}\n" +
        fmt::format(
            "  quay: {{memory: {{texture: 1}}, area: {{min: [{}, -1, -1], max: [{}, 1, 1]}}}}\n",
            10 * count - 5, 10 * count) +
        "triggers:\n" + each(count, [](int i) {
            return fmt::format("  t{}: {{in: hall, box: {{min: [{}, -1, -1], max: [{}, 1, 1]}}, "
                               "steps: [{{{}: [quay]}}]}}\n",
                               i, 10 * i + 2, 10 * i + 4, i % 2 == 0 ? "show" : "unload");
        }));
}

/// Levels along one path, each brought by a trigger before it.
Files path(int count) {
    return one_file(head + one_path(count) +
                    "levels:\n  hall: {memory: {texture: 1}, entries: {door: a}}\n" +
                    each(count, [](int i) { return fmt::format("  l{}: {}\n", i, path_area(i)); }) +
                    "triggers:\n" + each(count, [](int i) { return path_trigger(i, "l"); }));
}

/// The same, sublevels of one level.
Files sublevels(int count) {
    return one_file(
        head + one_path(count) +
        "levels:\n  hall:\n    memory: {texture: 1}\n    entries: {door: a}\n    sublevels:\n" +
        each(count, [](int i) { return fmt::format("      s{}: {}\n", i, path_area(i)); }) +
        "triggers:\n" + each(count, [](int i) { return path_trigger(i, "s"); }));
}

/// An open world of square levels that come near, and a way through each of its rows.
Files near(int count) {
    const int side = std::max(1, static_cast<int>(std::lround(std::sqrt(count))));
    std::string text = head;
    text += "waypoints:\n" + each(side, [side](int row) {
                return fmt::format("  w{0}: [0, 0, {1}]\n  e{0}: [{2}, 0, {1}]\n", row,
                                   100 * row + 50, 100 * side);
            });
    text +=
        "paths:\n" + each(side, [side](int row) {
            return fmt::format("  - [w{0}, e{0}]\n{1}", row,
                               row + 1 < side ? fmt::format("  - [w{}, w{}]\n", row, row + 1) : "");
        });
    text += "levels:\n  sky: {memory: {texture: 1}, entries: {door: w0}}\n";
    for (int row = 0; row < side; ++row)
        for (int column = 0; column < side; ++column)
            text += fmt::format("  c{0}-{1}: {{memory: {{texture: 4}}, area: {{min: [{2}, -1, "
                                "{3}], max: [{4}, 9, {5}]}}, near: {{load: "
                                "60, unload: 80}}}}\n",
                                column, row, 100 * column, 100 * row, 100 * column + 100,
                                100 * row + 100);
    return one_file(text + "routes: {there: {start: {level: sky}, steps: [{go: e0}]}}\n");
}

/// An open world in a square of so many cells, and a way across it.
Files cells(int count) {
    const int side = std::max(2, static_cast<int>(std::sqrt(count)));
    return one_file(
        std::string(head) +
        fmt::format(
            "levels:\n  moor:\n    memory: {{texture: 1}}\n    cells: {{size: 128, columns: "
            "{0}, rows: {0}, height: [-20, 80], ways: straight, each: {{memory: {{texture: "
            "4}}, objects: 300, near: {{load: 200, unload: 300}}}}}}\n"
            "routes: {{across: {{start: {{level: moor, waypoint: moor-0-0.middle}}, steps: "
            "[{{go: moor-{1}-{1}.middle}}]}}}}\n",
            side, side - 1));
}

/// A menu in each of so many levels, whose items lead on, back and to the first.
/// Levels that are built alone, each with all that belongs to it inside.
Files belongings(int count) {
    return one_file(
        std::string(head) + "veils: {fade: {min: 1 s}}\nlevels:\n" +
        each(count,
             [&](int i) {
                 return fmt::format(
                     "  l{0}:\n    world: own\n    memory: {{texture: 10}}\n    packed: 5\n"
                     "    area: {{min: [-2, -2, -5], max: [62, 8, 5]}}\n"
                     "    waypoints: {{start: [0, 0, 0], edge: [30, 0, 0], pit: [30, -40, 0], end: "
                     "[60, 0, 0]}}\n"
                     "    paths: [[start, edge, end], {{from: edge, to: pit, one-way: true}}]\n"
                     "    entries: {{start: start}}\n    arrive: [{{mark: l{0}.start}}]\n"
                     "    facts: {{rung: {{initial: 0, range: [0, 9], lifetime: level}}}}\n"
                     "    triggers:\n"
                     "      fall: {{beyond: {{axis: y, under: -30}}, steps: [{{return: "
                     "checkpoint}}]}}\n"
                     "      bell: {{box: {{min: [10, -1, -5], max: [14, 4, 5]}}, when: rung < 2, "
                     "steps: [{{set: {{rung: +1}}}}]}}\n"
                     "      end: {{box: {{min: [54, -1, -5], max: [62, 4, 5]}}, when: rung > 0, "
                     "steps: [{{switch: {{to: l{1}, veil: fade}}}}]}}\n"
                     "    menus: {{ready: {{pauses: true, items: {{go: {{steps: []}}}}}}}}\n",
                     i, (i + 1) % count);
             }) +
        "routes: {r: {start: {level: l0}, steps: [{press: l0.ready.go}]}}\n");
}

Files menus(int count) {
    return one_file(
        head +
        ("editions: {all: {levels: [" +
         each(
             count, [](int i) { return fmt::format("l{}", i); }, ", ") +
         "]}}\n") +
        "veils: {black: {min: 1 s}}\nlevels:\n" +
        each(count, [](int i) { return fmt::format("  l{}: {{memory: {{texture: 1}}}}\n", i); }) +
        "menus:\n" +
        each(count,
             [count](int i) {
                 return fmt::format("  m{0}: {{in: l{0}, items: {{on: {{steps: [{{switch: {{to: "
                                    "l{1}, veil: black}}}}]}}, home: "
                                    "{{steps: [{{switch: {{to: l0, veil: black}}}}]}}}}}}\n",
                                    i, (i + 1) % count);
             }) +
        "routes: {there: {start: {level: l0}, steps: [{press: m0.on}]}}\n");
}

/// Boxes of triggers that lie over each other, twenty at each place.
Files boxes(int count) {
    return one_file(head + one_path(count) +
                    "levels:\n  hall: {memory: {texture: 1}, entries: {door: a}}\n  quay: {memory: "
                    "{texture: 1}}\n" +
                    "facts: {crossed: {initial: 0, range: [0, 9]}}\nmenus: {bell: {in: hall, "
                    "items: {ring: {steps: [{show: [quay]}, {unload: "
                    "[quay]}]}}}}\n"
                    "triggers:\n" +
                    each(count, [](int i) {
                        return fmt::format(
                            "  t{}: {{in: hall, when: crossed < 9, box: {{min: [{}, "
                            "-1, -1], max: [{}, 1, 1]}}, steps: [{{set: {{crossed: +1}}}}]}}\n",
                            i, 10 * i + 2, 10 * i + 202);
                    }));
}

/// Facts, each set by an item of one menu.
Files facts(int count) {
    return one_file(
        head + std::string("levels: {hall: {memory: {texture: 1}}}\nfacts:\n") +
        each(count, [](int i) { return fmt::format("  f{}: {{initial: false}}\n", i); }) +
        "menus:\n  board:\n    in: hall\n    items:\n" +
        each(count,
             [count](int i) {
                 return fmt::format("      i{0}: {{when: not f{1}, stays: true, steps: [{{set: "
                                    "{{f{0}: true}}}}]}}\n",
                                    i, (i + 1) % count);
             }) +
        "routes: {there: {start: {level: hall}, steps: [{press: board.i0}]}}\n");
}

/// Lists under long conditions, twenty comparisons each.
Files conditions(int count) {
    return one_file(
        head +
        std::string(
            "levels: {hall: {memory: {texture: 1}}, quay: {memory: {texture: 1}}}\nfacts:\n") +
        each(20, [](int i) { return fmt::format("  f{}: {{initial: 0, range: [0, 9]}}\n", i); }) +
        "menus:\n  board:\n    in: hall\n    items:\n" +
        each(count,
             [](int i) {
                 return fmt::format(
                     "      i{}:\n        when: {}\n        stays: true\n        steps: [{{set: "
                     "{{f{}: +1}}}}, {{show: "
                     "[quay]}}, {{unload: [quay]}}]\n",
                     i,
                     each(
                         20, [i](int k) { return fmt::format("f{} < {}", k, 1 + (i + k) % 9); },
                         " and "),
                     i % 20);
             }) +
        "routes: {there: {start: {level: hall}, steps: [{press: board.i0}]}}\n");
}

/// Two lists that take turns without anybody there: about so many firings.
Files firings(int count) {
    return one_file(
        head +
        fmt::format(
            "levels: {{hall: {{memory: {{texture: 100}}}}, quay: {{memory: {{texture: 10}}}}}}\n"
            "facts: {{n: {{initial: 0, range: [0, 1]}}}}\n"
            "triggers:\n"
            "  t: {{when: n == 0, steps: [{{wait: 0.1 s}}, {{show: [quay]}}, {{wait: {{until: "
            "shown(quay)}}}}, {{set: {{n: 1}}}}]}}\n"
            "  u: {{when: n == 1, steps: [{{wait: 0.1 s}}, {{unload: [quay]}}, {{wait: 0.1 s}}, "
            "{{set: {{n: 0}}}}]}}\n"
            "routes: {{turns: {{start: {{level: hall}}, steps: [{{pause: {} s}}, {{press: "
            "x.y}}]}}}}\n"
            "menus: {{x: {{in: hall, items: {{y: {{steps: [{{end: session}}]}}}}}}}}\n",
            count * 0.34 / 2));
}

} // namespace

const std::vector<Shape>& shapes() {
    static const std::vector<Shape> all{
        {"road", "levels on a road, two triggers each", long_road},
        {"listed", "levels on a road, in an edition", listed_road},
        {"kept", "levels on a road, none unloaded", [](int size) { return kept(size, 1); }},
        {"files", "levels on a road, none unloaded, in 200 files",
         [](int size) { return kept(size, 200); }},
        {"triggers", "triggers on one path, one level", triggers},
        {"path", "levels on one path, a trigger each", path},
        {"sublevels", "sublevels on one path, a trigger each", sublevels},
        {"near", "near levels in a square", near},
        {"cells", "cells of an open world", cells},
        {"menus", "levels with a menu each", menus},
        {"belongings", "levels with all that belongs to them inside", belongings},
        {"boxes", "boxes, twenty over each other", boxes},
        {"facts", "facts, an item for each", facts},
        {"conditions", "conditions of twenty comparisons", conditions},
        {"firings", "firings of a walk", firings},
    };
    return all;
}

const Shape& shape(const std::string& name) {
    const auto found = std::find_if(shapes().begin(), shapes().end(),
                                    [&](const Shape& one) { return one.name == name; });
    if (found == shapes().end()) throw std::out_of_range("no shape " + name);
    return *found;
}

} // namespace hestrel::bench
