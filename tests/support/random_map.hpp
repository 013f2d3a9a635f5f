#pragma once
// Plans of shapes alone, from a seed: levels in spaces of their own, boxes turned, spheres, paths
// with corners.

#include "support/dice.hpp"

#include <fmt/format.h>
#include <string>

namespace hestrel::tests {

class RandomMap {
public:
    explicit RandomMap(std::uint32_t seed) : dice_(seed) {}

    std::string text() {
        std::string levels;
        const int count = 2 + dice_.below(3);
        for (int i = 0; i < count; ++i) levels += level(i);
        std::string text = "hestrel: 1\nname: map\nlevels:\n" + levels;
        text += fmt::format("waypoints: {{start: {}, far: {{at: {}}}}}\n", point(), point());
        text += fmt::format("paths: [[start, far], {{from: start, to: level0.a, via: [{}, {}]}}]\n",
                            point(), point());
        text += "triggers:\n";
        text += fmt::format("  outside: {{in: [level0, level1], box: {}, steps: []}}\n", box());
        text += fmt::format("  fall: {{beyond: {{axis: {}, {}: {}}}, steps: []}}\n",
                            dice_.one_in(2) ? "y" : "x", dice_.one_in(2) ? "under" : "over",
                            number(200));
        return text;
    }

private:
    /// To the centimetre.
    std::string number(int reach) {
        return fmt::format("{}.{:02}", dice_.below(2 * reach) - reach, dice_.below(100));
    }
    std::string point() {
        return fmt::format("[{}, {}, {}]", number(500), number(20), number(500));
    }
    std::string box() {
        const int x = dice_.below(400);
        const int y = dice_.below(20);
        const int z = dice_.below(400);
        const std::string turn =
            dice_.one_in(2) ? fmt::format(", turn: {}", dice_.below(720) - 360) : std::string();
        return fmt::format("{{min: [{}, {}, {}], max: [{}.5, {}, {}.25]{}}}", x, -y, z,
                           x + dice_.below(40), dice_.below(9), z + dice_.below(60), turn);
    }
    std::string level(int number_of_it) {
        std::string text = fmt::format("  level{}:\n    area: [{}", number_of_it, box());
        if (dice_.one_in(2)) text += ", " + box();
        text += "]\n";
        if (dice_.one_in(2)) text += fmt::format("    origin: {}\n", point());
        if (dice_.one_in(2)) text += fmt::format("    turn: {}\n", dice_.below(360));
        if (dice_.one_in(3)) text += fmt::format("    seen-from: [{}]\n", box());
        text += fmt::format("    waypoints: {{a: {}, b: {}}}\n", point(), point());
        text += fmt::format("    paths: [{{from: a, to: b, via: [{}], gate: door}}]\n", point());
        text += "    gates: {door: {needs: [level0]}}\n";
        text += fmt::format("    triggers: {{near: {{box: {}, steps: []}}, ball: {{sphere: {{at: "
                            "{}, radius: {}}}, steps: []}}}}\n",
                            box(), point(), 1 + dice_.below(30));
        if (dice_.one_in(2))
            text += fmt::format("    sublevels:\n      inner{}: {{area: [{}], waypoints: {{c: "
                                "{}}}}}\n",
                                number_of_it, box(), point());
        return text;
    }

    Dice dice_;
};

} // namespace hestrel::tests
