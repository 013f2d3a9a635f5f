#pragma once
// Plans whose situations can be counted by hand, for benches and tests of exploring.

#include <fmt/format.h>
#include <string>

namespace hestrel::bench {

/// One level, and what every such plan has.
inline std::string situations_head() {
    return "hestrel: 1\ndevices:\n  box: {memory: {total: 1000}, read: {rate: 100}, frame: {fps: "
           "60}}\nplayers: {carrier: {speeds: {walk: 2}}}\n";
}

/// `facts` facts, each set by an item of a menu that stays: 2^facts situations.
inline std::string switchboard(int facts) {
    std::string text =
        situations_head() + "levels: {hall: {memory: {t: 1}}}\neditions: {all: {levels: [hall]}}\n";
    std::string said = "facts:\n";
    std::string items = "menus:\n  board:\n    in: hall\n    items:\n";
    for (int i = 0; i < facts; ++i) {
        said += fmt::format("  f{}: {{initial: false}}\n", i);
        items += fmt::format("      i{}: {{stays: true, steps: [{{set: {{f{}: true}}}}]}}\n", i, i);
    }
    return text + said + items;
}

/// A ring of so many waypoints; on the middle of each of the first `triggers` paths stands a
/// trigger that fires once.
inline std::string ring(int waypoints, int triggers, int players = 1) {
    std::string text =
        fmt::format("hestrel: 1\ndevices:\n  box: {{memory: {{total: 1000}}, read: {{rate: 100}}, "
                    "frame: {{fps: "
                    "60}}}}\nplayers: {{carrier: {{speeds: {{walk: 2}}, count: {}}}}}\n",
                    players);
    std::string points = "waypoints: {";
    std::string paths = "paths:\n";
    std::string boxes = triggers > 0 ? "triggers:\n" : "";
    // A line there, and a long way back.
    for (int i = 0; i < waypoints; ++i) {
        points += fmt::format("{}w{}: [{}, 0, 0]", i == 0 ? "" : ", ", i, 10 * i);
        paths += fmt::format("  - [w{}, w{}]\n", i, (i + 1) % waypoints);
        if (i + 1 == waypoints)
            paths.replace(paths.rfind("  - "), std::string::npos,
                          fmt::format("  - {{from: w{}, to: w0, via: [[{}, 0, 50], [0, 0, 50]]}}\n",
                                      i, 10 * i));
        if (i >= triggers) continue;
        const double middle = i + 1 == waypoints ? 5.0 * i : 10 * i + 5;
        boxes += fmt::format(
            "  t{}: {{once: true, box: {{min: [{}, 0, {}], max: [{}, 1, {}]}}, steps: "
            "[{{show: [hall]}}]}}\n",
            i, middle - 1, i + 1 == waypoints ? 49 : -1, middle + 1, i + 1 == waypoints ? 51 : 1);
    }
    return text +
           "levels: {hall: {memory: {t: 1}, entries: {in: w0}}}\neditions: {all: {levels: "
           "[hall]}}\n" +
           points + "}\n" + paths + boxes;
}

/// An open world: n x n cells of 100 m that load 60 m from a player and unload 160 m, a waypoint in
/// the middle of each.
inline std::string world_of_cells(int side, int players) {
    std::string levels = "levels:\n  base: {memory: {t: 1}, entries: {in: w0x0}}\n";
    std::string waypoints = "waypoints:\n";
    std::string paths = "paths:\n";
    for (int x = 0; x < side; ++x) {
        for (int z = 0; z < side; ++z) {
            levels += fmt::format("  c{0}x{1}: {{memory: {{t: {2}}}, area: [{{min: [{3}, 0, {4}], "
                                  "max: [{5}, 9, {6}]}}], near: {{load: 60, unload: 160}}}}\n",
                                  x, z, 10 + (x * 7 + z * 3) % 5, 100 * x, 100 * z, 100 * x + 100,
                                  100 * z + 100);
            waypoints += fmt::format("  w{}x{}: [{}, 0, {}]\n", x, z, 100 * x + 50, 100 * z + 50);
            if (x + 1 < side) paths += fmt::format("  - [w{0}x{1}, w{2}x{1}]\n", x, z, x + 1);
            if (z + 1 < side) paths += fmt::format("  - [w{0}x{1}, w{0}x{2}]\n", x, z, z + 1);
        }
    }
    return fmt::format(
               "hestrel: 1\ndevices: {{box: {{memory: {{total: 4000}}, read: {{rate: 100}}, "
               "frame: {{fps: 60}}}}}}\nplayers: {{carrier: {{speeds: {{walk: 2}}, count: "
               "{}}}}}\n",
               players) +
           levels + "editions: {all: {levels: [base]}}\n" + waypoints + paths;
}

} // namespace hestrel::bench
