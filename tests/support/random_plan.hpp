#pragma once
// Random plans as text, so that reading them is tested along the way.

#include "support/dice.hpp"

#include <fmt/format.h>
#include <string>
#include <vector>

namespace hestrel::tests {

/// Writes one plan of a few levels on a line of waypoints, with triggers, a menu, veils and a
/// route.
class RandomPlan {
public:
    explicit RandomPlan(std::uint32_t seed) : dice_(seed) {}

    std::string text() {
        std::string plan = "hestrel: 1\n" + device() + kits() + levels() + world();
        plan += "veils: {veil0: {min: " + std::to_string(dice_.below(3)) +
                ", memory: {texture: 9}}, veil1: {}}\n";
        plan += "players: {carrier: {speeds: {walk: 1.8, run: 4.5}, memory: {texture: 12}}}\n";
        return plan + triggers() + menu() + route();
    }

private:
    std::string any_level() { return fmt::format("level{}", dice_.below(level_count_)); }

    std::string device() {
        std::string text = fmt::format("devices:\n  box:\n    memory: {{total: {}, base: {}}}\n",
                                       200 + dice_.below(900), dice_.below(100));
        text += fmt::format("    read: {{rate: {}, latency: {} ms, parallel: {}}}\n",
                            30 + dice_.below(300), dice_.below(20), 1 + dice_.below(4));
        if (!dice_.one_in(3))
            text += fmt::format("    unpack: {{rate: {}, workers: {}}}\n", 50 + dice_.below(300),
                                1 + dice_.below(3));
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
            text += fmt::format("  level{}:\n    memory: {{texture: {}, geometry: {}}}\n    "
                                "packed: {}\n    objects: {}\n",
                                i, dice_.below(150), dice_.below(60), dice_.below(120),
                                dice_.below(2'000));
            if (!dice_.one_in(3)) text += fmt::format("    kits: [kit{}]\n", dice_.below(2));
            if (dice_.one_in(6)) text += "    persist: true\n";
            if (!dice_.one_in(4))
                text += fmt::format("    entries: {{door: way{}}}\n", dice_.below(ways));
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
        for (int i = 1; i < ways; ++i) text += fmt::format("  - [way{}, way{}]\n", i - 1, i);
        return text;
    }
    std::string step() {
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
                "{{switch: {{to: {}, order: {}, veil: veil{}, blocking: {}, reuse: {}}}}}",
                any_level(), dice_.one_in(2) ? "load-first" : "free-first", dice_.below(2),
                dice_.one_in(5), dice_.one_in(3));
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
        const int count = 1 + dice_.below(5);
        for (int i = 0; i < count; ++i) {
            const int from = dice_.below(20 * ways);
            text += fmt::format(
                "  trigger{}: {{{}box: {{min: [{}, -1, -9], max: [{}, 3, 40]}}, steps: {}}}\n", i,
                dice_.one_in(2) ? "" : "in: " + any_level() + ", ", from,
                from + 1 + dice_.below(30), steps());
        }
        return text;
    }
    std::string menu() {
        return fmt::format("menus: {{desk: {{in: level0, items: {{go: {{steps: {}}}}}}}}}\n",
                           steps());
    }
    std::string route() {
        std::string text = "limits: {walk: 10 min}\nroutes:\n  r:\n    start: {level: level0, "
                           "waypoint: way0}\n    steps:\n";
        const int count = 1 + dice_.below(6);
        for (int i = 0; i < count; ++i) {
            switch (dice_.below(5)) {
            case 0: text += fmt::format("      - pause: {} ms\n", dice_.below(4'000)); break;
            case 1: text += "      - press: desk.go\n"; break;
            default:
                text += fmt::format("      - {{go: way{}, speed: {}}}\n", dice_.below(ways),
                                    dice_.one_in(2) ? "walk" : "run");
            }
        }
        return text;
    }

    static constexpr int ways = 6;
    Dice dice_;
    int level_count_ = 0;
};

} // namespace hestrel::tests
