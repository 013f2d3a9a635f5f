#pragma once
// Random plans of levels that are built alone: each in its own world, with all that belongs to it,
// written inside the levels or outside of them.

#include "support/dice.hpp"

#include <array>
#include <fmt/format.h>
#include <string>

namespace hestrel::tests {

/// Writes the same plan in both ways. Levels are `hall0`, `hall1`, …; what belongs to `hall0` is
/// `hall0.x` where it stands inside, `hall0-x` where it stands outside.
class RandomRow {
public:
    explicit RandomRow(std::uint32_t seed) : dice_(seed), again_(seed * 1000 + 1) {
        for (int i = 0; i < levels; ++i) add_level(i);
    }

    [[nodiscard]] std::string inside() const {
        return head() + "}\nlevels:\n" + inside_ + tail(".");
    }
    [[nodiscard]] std::string outside() const {
        return head() + facts_ + "}\nlevels:\n" + outside_ + "waypoints:\n" + waypoints_ +
               "paths:\n" + paths_ + "triggers:\n" + triggers_ + "menus:\n" + menus_ + tail("-");
    }
    /// The route of one level: it starts there and goes everywhere in it.
    [[nodiscard]] static std::string route(const std::string& level, const std::string& dot) {
        std::string text = fmt::format("  in-{0}:\n    start: {{level: {0}}}\n    steps:\n", level);
        for (const int to : {1, 2, 3, 0, 2})
            text += fmt::format("      - {{go: {}{}w{}}}\n", level, dot, to);
        return text + fmt::format("      - press: {0}{1}desk.go\n      - expect: {0}{1}seen == 3\n",
                                  level, dot);
    }

private:
    static constexpr int levels = 3;

    static std::string head() {
        return "hestrel: 1\ndevices: {box: {memory: {total: 400}, read: {rate: 90, latency: 3 ms}, "
               "frame: {fps: 40, base: 5 ms, attach: 3 ms}, attach: {fixed: 4 ms}}}\n"
               "players: {carrier: {speeds: {walk: 2}}}\nveils: {dusk: {min: 0.5 s}}\n"
               "facts: {round: {initial: 0, range: [0, 9], lifetime: saved}";
    }
    static std::string tail(const std::string& dot) {
        std::string text = "limits: {walk: 5 min}\nroutes:\n";
        for (int i = 0; i < levels; ++i) text += route(fmt::format("hall{}", i), dot);
        return text;
    }

    std::string step(const std::string& own, int level) {
        switch (dice_.below(9)) {
        case 0: return fmt::format("{{mark: hall{}.door}}", level);
        case 1: return "{return: checkpoint}";
        case 2: return fmt::format("{{place: {{at: hall{}.door}}}}", level);
        case 3: return fmt::format("{{open: {}desk}}", own);
        case 4: return fmt::format("{{wait: {} ms}}", dice_.below(900));
        case 5:
            return fmt::format("{{switch: {{to: hall{}, veil: dusk, reuse: true}}}}",
                               dice_.below(levels));
        case 6: return "{set: {round: +1}}";
        default: return fmt::format("{{set: {{{}seen: +1}}}}", own);
        }
    }
    std::string steps(const std::string& own, int level) {
        std::string text = step(own, level);
        for (int more = dice_.below(3); more > 0; --more) text += ", " + step(own, level);
        return "[" + text + "]";
    }
    std::string condition(const std::string& own) {
        const std::array<std::string, 4> all{"{0}seen < 2", "not at({0}w1) or round > 2",
                                             "not open({0}desk)",
                                             "inside({0}spot) or {0}seen >= 0"};
        return fmt::format(fmt::runtime(all.at(static_cast<std::size_t>(dice_.below(4)))), own);
    }

    void add_level(int i) {
        const int x = 100 * dice_.below(5);
        const int z = dice_.below(50);
        inside_ += fmt::format("  hall{}:\n    world: own\n    origin: [{}, 2, {}]\n", i, x, z);
        outside_ += fmt::format("  hall{0}:\n    world: hall{0}\n", i);
        const std::string body = fmt::format("    memory: {{texture: {}}}\n    objects: {}\n",
                                             20 + dice_.below(200), dice_.below(900));
        inside_ +=
            body + "    entries: {door: w0}\n    paths: [[w0, w1, w2, w3]]\n    waypoints:\n";
        outside_ += body + fmt::format("    entries: {{door: hall{}-w0}}\n", i);
        paths_ += fmt::format("  - [hall{0}-w0, hall{0}-w1, hall{0}-w2, hall{0}-w3]\n", i);
        for (int way = 0; way < 4; ++way) {
            const int at = dice_.below(9);
            inside_ += fmt::format("      w{}: [{}, 0, {}]\n", way, 12 * way, at);
            waypoints_ += fmt::format("  hall{0}-w{1}: {{at: [{2}, 2, {3}], world: hall{0}}}\n", i,
                                      way, x + 12 * way, z + at);
        }
        inside_ += "    facts: {seen: {initial: 0, range: [0, 9], lifetime: level}}\n"
                   "    triggers:\n      spot: {box: {min: [5, -1, -9], max: [14, 3, 20]}, steps: "
                   "[]}\n";
        facts_ += fmt::format(", hall{0}-seen: {{initial: 0, range: [0, 9], lifetime: level, of: "
                              "hall{0}}}",
                              i);
        triggers_ += fmt::format("  hall{0}-spot: {{in: hall{0}, box: {{min: [{1}, 1, {2}], max: "
                                 "[{3}, 5, {4}]}}, steps: []}}\n",
                                 i, x + 5, z - 9, x + 14, z + 20);
        const std::string own = fmt::format("hall{}-", i);
        for (int trigger = 0; trigger < 3; ++trigger) {
            const int from = dice_.below(36);
            const bool sphere = dice_.one_in(3);
            const std::uint32_t now = again_++; // the same dice for both
            dice_ = Dice(now);
            const std::string plain =
                fmt::format("when: {}, steps: {}", condition(""), steps("", i));
            dice_ = Dice(now);
            const std::string full =
                fmt::format("when: {}, steps: {}", condition(own), steps(own, i));
            inside_ += fmt::format("      t{}: {{{}, {}}}\n", trigger, shape(sphere, from, 0, 0, 0),
                                   plain);
            triggers_ += fmt::format("  {}t{}: {{in: hall{}, {}, {}}}\n", own, trigger, i,
                                     shape(sphere, from, x, 2, z), full);
        }
        inside_ += "    menus: {desk: {pauses: true, items: {go: {steps: [{set: {seen: +1}}]}}}}\n";
        menus_ += fmt::format("  {0}desk: {{in: hall{1}, pauses: true, items: {{go: {{steps: "
                              "[{{set: {{{0}seen: +1}}}}]}}}}}}\n",
                              own, i);
    }
    static std::string shape(bool sphere, int from, int x, int y, int z) {
        if (sphere)
            return fmt::format("sphere: {{at: [{}, {}, {}], radius: 6}}", x + from, y, z + 4);
        return fmt::format("box: {{min: [{}, {}, {}], max: [{}, {}, {}], turn: 15}}", x + from,
                           y - 1, z - 5, x + from + 4, y + 3, z + 15);
    }

    Dice dice_;
    std::uint32_t again_;
    std::string inside_, outside_, waypoints_, paths_, facts_, triggers_, menus_;
};

} // namespace hestrel::tests
