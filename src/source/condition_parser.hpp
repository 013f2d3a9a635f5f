#pragma once
// Conditions from their text (docs/model.md section 6), with the position of every part.

#include "plan/conditions.hpp"
#include "plan/plan.hpp"
#include "source/read_context.hpp"

#include <array>
#include <optional>
#include <string_view>

namespace hestrel::source {

/// What a condition may ask of something by its name, `shown(quay)`, and kinds of things that can
/// stand there; and single words of conditions.
struct ConditionCall {
    std::string_view name;
    std::array<std::string_view, 2> names; ///< of `NameUse::kind`; the second may be empty
};
inline constexpr std::array<ConditionCall, 7> condition_calls{{{"shown", {"level", "group"}},
                                                               {"ready", {"level", "group"}},
                                                               {"delivered", {"level", "group"}},
                                                               {"at", {"waypoint"}},
                                                               {"inside", {"trigger", "level"}},
                                                               {"open", {"menu"}},
                                                               {"queued", {"level", "group"}}}};
inline constexpr std::array<std::string_view, 7> condition_words{
    "and", "or", "not", "speed", "veiled", "frozen", "memory"};

/// Whose condition it is. What hangs on time and the device, only a route may ask.
enum class Asker : std::uint8_t { game, route };

/// What a condition may name.
struct ConditionNames {
    const plan::Plan& plan;
    const Names<plan::FactId>& facts;
    const Names<plan::LevelId>& levels;
    const Names<plan::GroupId>& groups;
    const Names<plan::WaypointId>& waypoints;
    const Names<plan::TriggerId>& triggers;
    const Names<plan::MenuId>& menus;
    const Names<plan::WordId>& words; ///< values that facts can have
};

/// Parses a condition: facts, `speed`, `shown(L)`, `ready(L)`, `delivered(L)`, `veiled`, `at(W)`,
/// `inside(X)`, `open(M)`, `frozen`, of a route also `memory` and `queued(L)`, numbers and words;
/// `== != < <= > >=`, `and or not`, parentheses. Comparing binds closest, then `not`, `and`, `or`.
/// Nothing, and a finding at the place of the first mistake, where the text is none.
std::optional<plan::Condition> parse_condition(ReadContext& reading, const ConditionNames& names,
                                               const Value& value, Asker asker = Asker::game);

} // namespace hestrel::source
