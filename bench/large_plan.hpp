#pragma once
// Large plans for measuring: as text, so that reading them can be measured too.

#include "source/plan_reader.hpp"

#include <fmt/format.h>
#include <stdexcept>
#include <string>

namespace hestrel::bench {

/// A straight road of `levels` levels, 50 m apart. Each has `triggers_per_level` triggers on its
/// stretch of road; the first loads and shows the level after the next, the others unload what lies
/// far behind. One route walks the whole road `rounds` times, there and back.
inline std::string road_plan(int levels, int triggers_per_level, int rounds) {
    std::string text = "hestrel: 1\nname: The long road\ndevices:\n  box:\n"
                       "    memory: {total: 100 GiB, base: 300}\n"
                       "    read: {rate: 900, latency: 1 ms, parallel: 4}\n"
                       "    unpack: {rate: 900, workers: 3}\n"
                       "    frame: {fps: 60, base: 8 ms, attach: 3 ms}\n"
                       "    attach: {fixed: 1 ms, per-object: 1 us}\n"
                       "    release: {sweep: 5 s, per-object: 1 us}\n"
                       "kits:\n  common: {memory: {texture: 40, geometry: 10}, packed: 30}\n";
    for (int i = 0; i < levels; i += 20) {
        text += fmt::format("  kit{}: {{memory: {{texture: 20}}, packed: 11, needs: [common]}}\n",
                            i / 20);
    }
    text += "levels:\n";
    for (int i = 0; i < levels; ++i) {
        text += fmt::format("  level{}:\n    title: Level number {}\n    memory: {{texture: {}, "
                            "geometry: {}, logic: 2}}\n"
                            "    packed: {}\n    objects: {}\n    kits: [kit{}]\n"
                            "    area: {{min: [{}, -1, -9], max: [{}, 5, 9]}}\n",
                            i, i, 10 + i % 30, 5 + i % 7, 8 + i % 20, 100 + i % 300, i / 20, 50 * i,
                            50 * i + 50);
    }
    text += "waypoints:\n";
    for (int i = 0; i <= levels; ++i)
        text += fmt::format("  way{}: [{}, 0, {}]\n", i, 50 * i, i % 3);
    text += "paths:\n";
    for (int i = 0; i < levels; ++i) text += fmt::format("  - [way{}, way{}]\n", i, i + 1);
    text += "triggers:\n";
    for (int i = 0; i < levels; ++i) {
        for (int k = 0; k < triggers_per_level; ++k) {
            const double from = 50.0 * i + 40.0 * k / triggers_per_level;
            text += fmt::format(
                "  trigger{}-{}:\n    box: {{min: [{}, -1, -5], max: [{}, 3, 5]}}\n    steps:\n", i,
                k, from, from + 2);
            if (k == 0) {
                text += fmt::format("      - load: [level{0}]\n      - show: [level{0}]\n",
                                    (i + 2) % levels);
            } else {
                text += fmt::format("      - unload: [level{}]\n", (i + levels - 5 - k) % levels);
            }
        }
    }
    text += "players: {carrier: {speeds: {ride: 20}}}\nlimits: {walk: 10000000}\nroutes:\n  road:\n"
            "    start: {level: level0, waypoint: way0}\n    steps:\n";
    for (int round = 0; round < rounds; ++round)
        text += fmt::format("      - go: way{}\n      - go: way0\n", levels);
    return text;
}

/// The same, read.
inline plan::Plan road(int levels, int triggers_per_level, int rounds) {
    source::MemoryDisk disk;
    disk.files["road.yaml"] = road_plan(levels, triggers_per_level, rounds);
    source::PlanReading reading = source::read_plan(disk, "road.yaml");
    if (reading.has_errors()) throw std::logic_error("the bench plan has errors");
    return std::move(reading.plan);
}

} // namespace hestrel::bench
