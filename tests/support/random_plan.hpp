#pragma once
// Random plans as text, so that reading them is tested along the way.

#include "support/dice.hpp"

#include <array>
#include <fmt/format.h>
#include <string>
#include <vector>

namespace hestrel::tests {

/// How much of the plan language a random plan uses.
enum class Rich : std::uint8_t {
    no,  ///< loading, showing, switching, veils; one player
    yes, ///< facts, conditions, all firings and shapes, gates, near, checkpoints, two players …
    all, ///< variants of a place, what belongs to several levels, steps and facts of one player …
};

/// Writes one plan of a few levels on a line of waypoints, with triggers, a menu, veils and a
/// route.
class RandomPlan {
public:
    explicit RandomPlan(std::uint32_t seed, Rich rich = Rich::no)
        : dice_(seed), rich_(rich != Rich::no), all_(rich == Rich::all) {}

    /// With levels below one that stream by distance, and that hardly anything goes by, as well.
    std::string with_land() {
        std::string plan = text();
        std::string lands = "  land:\n    memory: {geometry: 30}\n    sublevels:\n";
        const auto near = [&](int number) {
            const int from = dice_.below(20 * ways);
            const int load = dice_.below(25);
            return fmt::format(
                "near{}: {{memory: {{texture: {}}}, packed: {}, objects: {}, frame-cost: {} ms{}, "
                "area: [{{min: [{}, -1, -9], max: [{}, 3, 40]}}], near: {{load: {}, unload: "
                "{}{}}}{}}}\n",
                number, dice_.below(90), dice_.below(60), dice_.below(900), dice_.below(9),
                dice_.one_in(2) ? ", kits: [kit1]" : "", from, from + 1 + dice_.below(20), load,
                load + dice_.below(30), dice_.one_in(4) ? ", when: n < 2" : "",
                dice_.one_in(4)
                    ? fmt::format(", sublevels: {{on{}: {{with-parent: true, memory: {{texture: "
                                  "{}}}}}}}",
                                  number, dice_.below(40))
                    : "");
        };
        for (int i = 0; i < 3; ++i) lands += "      " + near(i);
        for (int i = 3; i < 5; ++i) lands += "  " + near(i);
        plan.insert(plan.find("waypoints: {"), lands);
        std::string more =
            fmt::format("  ashore: {{in: land, {}, steps: {}}}\n", shape(9, 30), steps());
        if (dice_.one_in(2))
            more +=
                fmt::format("  sail: {{{}, steps: [{{switch: {{to: land}}}}]}}\n", shape(50, 60));
        if (dice_.one_in(5)) more += "  sink: {when: n == 1, steps: [{hide: [land]}]}\n";
        if (dice_.one_in(5)) more += "  wake: {when: n == 2, steps: [{show: [near0]}]}\n";
        const std::string before = "triggers:\n";
        return plan.insert(plan.find(before) + before.size(), more);
    }

    std::string text() {
        std::string plan = "hestrel: 1\n" + device() + kits() + levels() + world();
        plan += "veils: {veil0: {min: " + std::to_string(dice_.below(3)) +
                ", memory: {texture: 9}}, veil1: {}}\n";
        plan +=
            fmt::format("players: {{carrier: {{tags: [carrier], speeds: {{walk: 1.8, run: 4.5}}, "
                        "memory: {{texture: 12}}, count: {}}}}}\n",
                        rich_ && dice_.one_in(4) ? 2 : 1);
        if (rich_) plan += facts() + "gates: {gate0: {needs: [" + any_levels() + "]}}\n";
        if (all_) plan += groups() + "purposes: {playable: {needs: [light, way-in]}}\n";
        return plan + triggers() + menu() + route();
    }

private:
    /// Where one of several will do, too.
    std::string any_levels() { return all_ && dice_.one_in(3) ? "place" : any_level(); }
    /// A place in variants, and a group.
    static std::string groups() {
        return "groups: {place: {levels: [level0, level1], one-of: true}, both: [level1, "
               "level0]}\n";
    }
    std::string any_level() { return fmt::format("level{}", dice_.below(level_count_)); }

    std::string device() {
        std::string text = fmt::format("devices:\n  box:\n    memory: {{total: {}, base: {}}}\n",
                                       200 + dice_.below(900), dice_.below(100));
        text += fmt::format("    read: {{rate: {}, latency: {} ms, parallel: {}}}\n",
                            30 + dice_.below(300), dice_.below(20), 1 + dice_.below(4));
        if (!dice_.one_in(3))
            text += fmt::format("    unpack: {{rate: {}, workers: {}}}\n", 50 + dice_.below(300),
                                1 + dice_.below(3));
        if (all_)
            text += fmt::format("    makers: {{workers: {}, speed: {}}}\n", 1 + dice_.below(2),
                                dice_.one_in(2) ? "1" : "0.7");
        text += fmt::format("    frame: {{fps: {}, base: 5 ms{}}}\n", 30 + dice_.below(60),
                            dice_.one_in(2) ? "" : ", attach: 2 ms");
        text += "    attach: {fixed: 1 ms, per-object: 7 us}\n";
        return text + fmt::format("    release: {{sweep: {}, per-object: 3 us}}\n", dice_.below(6));
    }
    std::string kits() {
        return "kits: {kit0: {memory: {texture: 40}, packed: 21}, kit1: {memory: {geometry: 17}, "
               "needs: [kit0]}}\n";
    }
    std::string levels() {
        level_count_ = 2 + dice_.below(5);
        std::string text = "levels:\n";
        for (int i = 0; i < level_count_; ++i) {
            const bool made = all_ && dice_.one_in(3);
            const int packed = made && dice_.one_in(2) ? 0 : dice_.below(120);
            const int texture = dice_.below(150);
            const int geometry = dice_.below(60);
            text += fmt::format("  level{}:\n    memory: {{texture: {}, geometry: {}}}\n    "
                                "packed: {}\n    objects: {}\n",
                                i, texture, geometry, packed, dice_.below(2'000));
            if (made) text += fmt::format("    make: {} ms\n", dice_.below(3'000));
            if (all_ && dice_.one_in(2))
                text += fmt::format("    frame-cost: {} ms\n", dice_.below(15));
            if (all_ && dice_.one_in(4)) text += "    purpose: playable\n";
            if (all_ && dice_.one_in(3)) text += "    provides: [light]\n";
            if (!dice_.one_in(3)) text += fmt::format("    kits: [kit{}]\n", dice_.below(2));
            if (dice_.one_in(6) && !(all_ && i == 0)) text += "    persist: true\n";
            if (rich_ || !dice_.one_in(4))
                text += fmt::format("    entries: {{door: way{}}}\n", dice_.below(ways));
            if (rich_) text += rich_level();
            if (dice_.one_in(2)) {
                text += fmt::format(
                    "    sublevels: {{sub{}: {{with-parent: {}, memory: {{texture: {}}}}}}}\n", i,
                    dice_.one_in(2), dice_.below(50));
            }
        }
        return text;
    }
    std::string world() {
        std::string text = "waypoints: {";
        for (int i = 0; i < ways; ++i)
            text +=
                fmt::format("{}way{}: [{}, 0, {}]", i == 0 ? "" : ", ", i, 20 * i, dice_.below(30));
        text += "}\npaths:\n";
        for (int i = 1; i < ways; ++i) {
            text += rich_ && dice_.one_in(5)
                        ? fmt::format("  - {{from: way{}, to: way{}, gate: gate0}}\n", i - 1, i)
                        : fmt::format("  - [way{}, way{}]\n", i - 1, i);
        }
        return text;
    }

    // --- what only a rich plan has

    [[nodiscard]] std::string facts() const {
        return std::string("facts: {") +
               (all_ ? "own: {initial: 0, range: [0, 3], of-each: player}, " : "") +
               "n: {initial: 0, range: [0, 3]}, lv: {initial: 0, range: [0, 3], lifetime: level}, "
               "of0: {initial: 0, range: [0, 3], lifetime: level, of: level0}, kept: {initial: 0, "
               "range: [0, 3], lifetime: saved}}\n";
    }
    std::string any_fact() {
        if (all_ && dice_.one_in(3)) return "own";
        static const std::array<std::string, 4> names{"n", "lv", "of0", "kept"};
        return names.at(static_cast<std::size_t>(dice_.below(4)));
    }
    std::string condition() {
        switch (dice_.below(10)) {
        case 6: return fmt::format("at(way{})", dice_.below(ways));
        case 7: return dice_.one_in(2) ? "inside(spot)" : "not inside(spot)";
        case 8: return "open(desk)";
        case 9: return "frozen or n == 1";
        case 0: return fmt::format("{} >= {}", any_fact(), dice_.below(3));
        case 1: return fmt::format("{} == {}", any_fact(), dice_.below(3));
        case 2: return fmt::format("shown({})", any_levels());
        case 3: return fmt::format("ready({}) or veiled", any_level());
        case 4: return "speed > 2";
        default: return fmt::format("not ({} < 1 and veiled)", any_fact());
        }
    }
    std::string rich_level() {
        std::string text;
        const int from = dice_.below(20 * ways);
        if (!dice_.one_in(3)) {
            text += fmt::format(
                "    area: [{{min: [{0}, -1, -9], max: [{1}, 3, 40]}}, {{min: [{2}, -1, -9], "
                "max: [{3}, 3, 40]}}]\n",
                from, from + 10, from + 10 + (dice_.one_in(2) ? 0 : 7),
                from + 17 + dice_.below(20));
            text +=
                fmt::format("    seen-from: {{min: [{}, -1, -9], max: [{}, 3, 40], turn: {}}}\n",
                            from - 15, from, dice_.below(60));
            if (dice_.one_in(4)) {
                const int load = 1 + dice_.below(25);
                const std::string when =
                    all_ && dice_.one_in(2) ? ", when: '" + condition() + "'" : "";
                text += fmt::format("    near: {{load: {}, unload: 30{}}}\n", load, when);
            }
        }
        if (dice_.one_in(3)) text += fmt::format("    arrive: [{{set: {{{}: +1}}}}]\n", any_fact());
        if (dice_.one_in(3)) {
            const std::string more = dice_.one_in(3) ? ", {unload: [" + any_level() + "]}" : "";
            text += fmt::format("    leave: [{{set: {{{}: +1}}}}{}]\n", any_fact(), more);
        }
        return text;
    }
    std::string newer_step() {
        const char* who = dice_.one_in(3) ? "all" : "firer";
        switch (dice_.below(9)) {
        case 0: return fmt::format("{{open: desk, who: {}}}", who);
        case 1: return fmt::format("{{close: desk, who: {}}}", who);
        case 2: return fmt::format("{{freeze: players, who: {}}}", who);
        case 3: return fmt::format("{{thaw: players, who: {}}}", who);
        case 4:
            return fmt::format("{{place: {{at: {}.door, veil: veil{}}}, who: {}}}", any_level(),
                               dice_.below(2), who);
        case 5:
            return fmt::format("{{return: {{to: checkpoint, veil: veil{}, order: free-first}}}}",
                               dice_.below(2));
        case 6: return fmt::format("{{wait: {{shown: place}}, at-most: {}}}", dice_.below(5));
        case 7: return fmt::format("{{show: [level{}], when: {}}}", dice_.below(2), condition());
        default: return "{hide: both}";
        }
    }
    std::string rich_step() {
        if (all_ && dice_.one_in(3)) return newer_step();
        switch (dice_.below(16)) {
        case 0:
        case 1:
        case 2: return fmt::format("{{set: {{{}: +1}}}}", any_fact());
        case 3: return fmt::format("{{set: {{{}: {}}}}}", any_fact(), dice_.below(4));
        case 4: return dice_.one_in(2) ? "{reset: session}" : "{reset: [n, lv]}";
        case 5: return dice_.one_in(2) ? "{save: all}" : "{restore: all}";
        case 6: return fmt::format("{{mark: {}.door}}", any_level());
        case 7: return "{return: checkpoint}";
        case 8:
            return fmt::format("{{place: {{at: {}.door}}, who: {}}}", any_level(),
                               dice_.one_in(2) ? "all" : "firer");
        case 9: return dice_.one_in(2) ? "{open: desk}" : "{close: desk}";
        case 10: return "{freeze: players}";
        case 11: return "{thaw: players}";
        case 12:
            return fmt::format("{{wait: {{until: {}}}, at-most: {}}}", condition(), dice_.below(5));
        case 13:
            return fmt::format(
                "{{choose: {{one: [{{set: {{n: +1}}}}, {{wait: {} ms}}], two: [{}]}}}}",
                dice_.below(900), plain_step());
        case 14: return fmt::format("{{veil: veil{}, who: firer}}", dice_.below(2));
        default:
            if (dice_.one_in(3)) return "{end: session}";
            return fmt::format("{{unveil: veil{}, who: firer}}", dice_.below(2));
        }
    }
    std::string shape(int from, int to) {
        switch (dice_.below(3)) {
        case 0:
            return fmt::format("sphere: {{at: [{}, 0, {}], radius: {}}}", from, dice_.below(20),
                               5 + dice_.below(20));
        case 1:
            return fmt::format("beyond: {{axis: x, {}: {}}}", dice_.one_in(2) ? "over" : "under",
                               from);
        default:
            return fmt::format("box: {{min: [{}, -1, -9], max: [{}, 3, 40], turn: {}}}", from, to,
                               dice_.below(90));
        }
    }
    /// All of a trigger's keys but its steps.
    std::string rich_trigger(int from, int to) {
        static const std::array<std::string, 3> firings{"on-enter", "on-exit", "while-inside"};
        std::string text = dice_.one_in(2) ? "" : "in: " + any_level() + ", ";
        if (all_ && dice_.one_in(3)) text = "in: [" + any_level() + ", " + any_level() + "], ";
        if (dice_.one_in(4)) return text + "when: " + condition() + ", once: true, ";
        text += shape(from, to) +
                ", fires: " + firings.at(static_cast<std::size_t>(dice_.below(3))) + ", ";
        if (dice_.one_in(2)) text += "when: " + condition() + ", ";
        if (dice_.one_in(4)) text += "once: true, ";
        if (dice_.one_in(4)) text += fmt::format("rearm: {}, ", dice_.below(20));
        return text;
    }
    std::string step() { return rich_ && dice_.one_in(2) ? rich_step() : plain_step(); }
    std::string plain_step() {
        switch (dice_.below(10)) {
        case 0:
            return fmt::format("{{load: [{}], priority: {}}}", any_level(),
                               dice_.one_in(2) ? "now" : "later");
        case 1:
        case 2: return fmt::format("{{show: [{}]}}", any_level());
        case 3: return fmt::format("{{hide: [{}]}}", any_level());
        case 4: return fmt::format("{{unload: [{}, {}]}}", any_level(), any_level());
        case 5: return fmt::format("{{wait: {} ms}}", dice_.below(3'000));
        case 6:
            return fmt::format("{{wait: {{{}: [{}]}}, at-most: {}}}",
                               dice_.one_in(2) ? "ready" : "shown", any_level(), dice_.below(5));
        case 7: return fmt::format("{{veil: veil{}}}", dice_.below(2));
        case 8: return fmt::format("{{unveil: veil{}}}", dice_.below(2));
        default:
            return fmt::format(
                "{{switch: {{to: {}, order: {}, veil: veil{}, blocking: {}, reuse: {}{}}}}}",
                any_level(), dice_.one_in(2) ? "load-first" : "free-first", dice_.below(2),
                dice_.one_in(5), dice_.one_in(3),
                rich_ && dice_.one_in(3) ? ", with: [" + any_level() + "]" : "");
        }
    }
    std::string steps() {
        std::string text = "[";
        const int count = 1 + dice_.below(4);
        for (int i = 0; i < count; ++i) text += (i == 0 ? "" : ", ") + step();
        return text + "]";
    }
    std::string triggers() {
        std::string text = "triggers:\n";
        if (rich_) text += "  spot: {box: {min: [30, -1, -9], max: [50, 3, 40]}, steps: []}\n";
        const int count = 1 + dice_.below(5);
        for (int i = 0; i < count; ++i) {
            const int from = dice_.below(20 * ways);
            if (rich_) {
                text += fmt::format("  trigger{}: {{{}steps: {}}}\n", i,
                                    rich_trigger(from, from + 1 + dice_.below(30)), steps());
                continue;
            }
            text += fmt::format(
                "  trigger{}: {{{}box: {{min: [{}, -1, -9], max: [{}, 3, 40]}}, steps: {}}}\n", i,
                dice_.one_in(2) ? "" : "in: " + any_level() + ", ", from,
                from + 1 + dice_.below(30), steps());
        }
        return text;
    }
    std::string menu() {
        if (!rich_) {
            return fmt::format("menus: {{desk: {{in: level0, items: {{go: {{steps: {}}}}}}}}}\n",
                               steps());
        }
        return fmt::format(
            "menus: {{desk: {{{}pauses: {}, items: {{go: {{stays: {}, when: {}, steps: {}}}}}, "
            "after: {{delay: {}, steps: {}}}}}}}\n",
            all_              ? "in: [level1, level0], "
            : dice_.one_in(2) ? "in: level0, "
                              : "",
            dice_.one_in(4), dice_.one_in(2), condition(), steps(), 1 + dice_.below(9), steps());
    }
    std::string route_steps(const std::string& indent) {
        std::string text;
        const int count = 1 + dice_.below(6);
        for (int i = 0; i < count; ++i) {
            switch (dice_.below(rich_ ? 11 : 5)) {
            case 0: text += fmt::format("{}- pause: {} ms\n", indent, dice_.below(4'000)); break;
            case 1: text += indent + "- press: desk.go\n"; break;
            case 5:
                text += fmt::format("{}- set: {{{}: {}}}\n", indent, any_fact(), dice_.below(4));
                break;
            case 6: text += indent + "- pick: two\n"; break;
            case 8: text += fmt::format("{}- expect: {}\n", indent, condition()); break;
            case 9:
                text += fmt::format("{}- {{expect: {{that: {}, within: {}}}}}\n", indent,
                                    dice_.one_in(3) ? "memory > 200 and not queued(level1)"
                                                    : condition(),
                                    dice_.below(5));
                break;
            case 10:
                // Only one player of a route may say so.
                text += indent + (indent.size() == 6 ? "- launch: again\n" : "- pause: 1 s\n");
                break;
            default:
                text += fmt::format("{}- {{go: way{}, speed: {}}}\n", indent, dice_.below(ways),
                                    dice_.one_in(2) ? "walk" : "run");
            }
        }
        return text;
    }
    std::string start() {
        if (!rich_ || dice_.one_in(2)) return {};
        std::string text = fmt::format(", facts: {{{}: {}}}", any_fact(), dice_.below(4));
        if (dice_.one_in(2)) text += fmt::format(", saved: {{kept: {}}}", dice_.below(4));
        if (dice_.one_in(2)) text += fmt::format(", checkpoint: {}.door", any_level());
        if (dice_.one_in(3)) text += fmt::format(", loaded: [{}]", any_level());
        return text;
    }
    std::string route() {
        const std::string text =
            "limits: {walk: 10 min}\nroutes:\n  r:\n    start: {level: level0, waypoint: way0" +
            start() + "}\n";
        if (!rich_ || dice_.one_in(2)) return text + "    steps:\n" + route_steps("      ");
        return text + "    players:\n      ada:\n        steps:\n" + route_steps("          ") +
               "      ben:\n        steps:\n" + route_steps("          ");
    }

    static constexpr int ways = 6;
    Dice dice_;
    bool rich_ = false;
    bool all_ = false;
    int level_count_ = 0;
};

} // namespace hestrel::tests
