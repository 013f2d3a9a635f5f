// Conditions against a slow evaluator of their text: every expression of a random grammar.

#include "flow/conditions.hpp"

#include "support/dice.hpp"
#include "support/plan_text.hpp"

#include <fmt/format.h>

using namespace hestrel;
using tests::Dice;

namespace {

/// A world of three facts, two levels and a veil.
struct World final : flow::ConditionWorld {
    std::array<std::int64_t, 3> facts{};
    std::array<bool, 2> shown{}, ready{};
    plan::Group nothing;
    bool veil = false;
    double speed = 0; ///< of the player
    bool at_a = false, in_box = false, in_quay = false, menu = false, frozen = false;

    [[nodiscard]] std::int64_t fact_now(plan::FactId fact, flow::PlayerId) const override {
        return facts.at(fact.value);
    }
    [[nodiscard]] std::size_t players() const override { return 1; }
    [[nodiscard]] const plan::Group& group(plan::GroupId) const override { return nothing; }
    [[nodiscard]] bool shown_now(plan::LevelId level) const override {
        return shown.at(level.value);
    }
    [[nodiscard]] bool ready_now(plan::LevelId level) const override {
        return ready.at(level.value);
    }
    [[nodiscard]] bool delivered_now(plan::LevelId) const override { return false; }
    [[nodiscard]] bool veiled_now() const override { return veil; }
    [[nodiscard]] double speed_now(flow::PlayerId) const override { return speed; }
    [[nodiscard]] bool at_now(plan::WaypointId, flow::PlayerId) const override { return at_a; }
    [[nodiscard]] bool inside_now(plan::TriggerId, flow::PlayerId) const override { return in_box; }
    [[nodiscard]] bool inside_now(plan::LevelId, flow::PlayerId) const override { return in_quay; }
    [[nodiscard]] bool open_now(plan::MenuId, flow::PlayerId) const override { return menu; }
    [[nodiscard]] bool frozen_now(flow::PlayerId) const override { return frozen; }
    [[nodiscard]] bool queued_now(plan::LevelId) const override { return false; }
    [[nodiscard]] double memory_now(flow::PlayerId) const override { return 0; }
};

/// An expression as text, and what it means in a world.
struct Expression {
    std::string text;
    bool value = false;
};

class Grammar {
public:
    Grammar(Dice& dice, const World& world) : dice_(dice), world_(world) {}

    Expression any(int depth) {
        if (depth == 0 || dice_.one_in(4)) return leaf();
        const Expression left = any(depth - 1);
        switch (dice_.below(3)) {
        case 0: return {fmt::format("not ({})", left.text), !left.value};
        case 1: {
            const Expression right = any(depth - 1);
            return {fmt::format("({}) and ({})", left.text, right.text), left.value && right.value};
        }
        default: {
            const Expression right = any(depth - 1);
            return {fmt::format("({}) or ({})", left.text, right.text), left.value || right.value};
        }
        }
    }

private:
    Expression leaf() {
        switch (dice_.below(6)) {
        case 4: return place();
        case 0: return {"flag", world_.facts[2] != 0};
        case 1: return {"veiled", world_.veil};
        case 2: {
            const bool quay = dice_.one_in(2);
            const bool shown = dice_.one_in(2);
            return {fmt::format("{}({})", shown ? "shown" : "ready", quay ? "quay" : "hall"),
                    shown ? world_.shown.at(quay ? 1 : 0) : world_.ready.at(quay ? 1 : 0)};
        }
        case 3: return comparison("speed", world_.speed);
        default:
            return dice_.one_in(2) ? comparison("n", static_cast<double>(world_.facts[0]))
                                   : comparison("m", static_cast<double>(world_.facts[1]));
        }
    }
    Expression place() {
        switch (dice_.below(5)) {
        case 0: return {"at(a)", world_.at_a};
        case 1: return {"inside(box)", world_.in_box};
        case 2: return {"inside(quay)", world_.in_quay};
        case 3: return {"open(desk)", world_.menu};
        default: return {"frozen", world_.frozen};
        }
    }
    Expression comparison(const std::string& name, double left) {
        const double right = dice_.below(5);
        switch (dice_.below(6)) {
        case 0: return {fmt::format("{} == {}", name, right), left == right};
        case 1: return {fmt::format("{} != {}", name, right), left != right};
        case 2: return {fmt::format("{} < {}", name, right), left < right};
        case 3: return {fmt::format("{} <= {}", name, right), left <= right};
        case 4: return {fmt::format("{} > {}", name, right), left > right};
        default: return {fmt::format("{} >= {}", name, right), left >= right};
        }
    }

    Dice& dice_;
    const World& world_;
};

bool holds(const std::string& text, const World& world) {
    const plan::Plan plan =
        tests::plan_from("hestrel: 1\nlevels: {hall: , quay: {area: [{min: [0, 0, 0], "
                         "max: [1, 1, 1]}]}}\nwaypoints: {a: [0, 0, "
                         "0]}\nmenus: {desk: {items: {}}}\nfacts: {n: "
                         "{initial: 0}, m: {initial: 0}, flag: {initial: "
                         "false}}\ntriggers: {t: {steps: [], when: \"" +
                         text +
                         "\"}, box: {box: {min: [0, 0, 0], max: [1, 1, 1]}, "
                         "steps: []}}\n");
    return flow::holds(plan.conditions[plan::ConditionId{std::size_t{0}}], world,
                       flow::PlayerId{0});
}

} // namespace

TEST_CASE("random conditions mean what their text says") {
    Dice dice(3);
    for (int round = 0; round < 400; ++round) {
        World world;
        for (std::int64_t& fact : world.facts) fact = dice.below(5);
        world.facts[2] = dice.below(2);
        for (std::size_t level = 0; level < 2; ++level) {
            world.shown.at(level) = dice.one_in(2);
            world.ready.at(level) = dice.one_in(2);
        }
        world.veil = dice.one_in(2);
        world.speed = dice.below(5);
        for (bool* each : {&world.at_a, &world.in_box, &world.in_quay, &world.menu, &world.frozen})
            *each = dice.one_in(2);
        const Expression expression = Grammar(dice, world).any(4);
        CAPTURE(expression.text);
        CHECK(holds(expression.text, world) == expression.value);
    }
}

TEST_CASE("without parentheses comparing binds closest, then not, and, or") {
    World world;
    world.facts = {1, 2, 1};
    CHECK(holds("not n == 2 and m == 2", world));
    CHECK(holds("flag or flag and veiled", world));
    CHECK_FALSE(holds("(flag or flag) and veiled", world));
    CHECK_FALSE(holds("not flag or veiled and flag", world));
    CHECK(holds("not not flag", world));
}
