#pragma once
// The state of the game between two moves, as far as steps have made it (docs/model.md section 8):
// running lists, the switch under way, veils, menus, freezes. Values of facts, levels and players
// stand elsewhere.
//
// Each struct has one visitor of its members (plan/members.hpp), from which keys and tests are
// made.

#include "flow/facts.hpp"
#include "flow/ids.hpp"
#include "plan/members.hpp"
#include "plan/plan.hpp"

#include <optional>
#include <set>
#include <utility>
#include <vector>

namespace hestrel::flow {

/// A list, and the step of it to carry out next.
struct Cursor {
    plan::ListId list;
    std::uint32_t next = 0;
    bool operator==(const Cursor&) const = default;
};

/// A list that has not ended, and what it waits for.
struct RunState {
    plan::ListId list;           ///< the outermost
    plan::LevelId level;         ///< that it belongs to; unset: it can't be abandoned
    std::vector<Cursor> cursors; ///< the list, and the branches it is in; innermost last
    PlayerId firer;
    bool timed = false;      ///< time ends its wait
    bool gives_up = false;   ///< whether or not what it waits for has come
    plan::ConditionId until; ///< set: waits for this
    plan::Awaited awaited = plan::Awaited::shown;
    std::vector<plan::LevelId> levels; ///< waits for these; sorted, each once
    std::vector<plan::GroupId> any_of; ///< and for any level of each of these
    plan::VeilId lifts;                ///< comes down when its wait ends: of a `place`
    PlayerId lifts_for;                ///< who was placed, and is frozen; unset: all
    bool operator==(const RunState&) const = default;
};

enum class SwitchStage : std::uint8_t { loading, showing, lifting };

/// A switch under way.
struct SwitchState {
    plan::LevelId to;
    plan::WaypointId at; ///< unset: the target's first entry
    plan::VeilId veil;
    std::vector<plan::LevelId> with;
    std::vector<plan::LevelId> family; ///< in the order asked for
    std::optional<std::uint32_t> position;
    SwitchStage stage = SwitchStage::loading;
    // How it lets go of what was there before; as made once it has.
    bool lets_go_later = false;
    bool reuse = false;
    bool blocking = false;
    bool target_was_loaded = false;
    bool operator==(const SwitchState&) const = default;
};

/// A menu that is open, and for whom; unset: for all.
using OpenMenu = std::pair<plan::MenuId, PlayerId>;

/// All of it. `runs`, `switching` and `held` are empty where all has settled.
struct State {
    std::optional<Checkpoint> checkpoint;
    std::optional<std::uint32_t> position; ///< in the edition: last switched to or started in
    bool has_saved = false;                ///< the saved store is not empty
    std::optional<Checkpoint> saved_checkpoint;
    std::vector<std::pair<plan::VeilId, PlayerId>> veils;
    std::set<OpenMenu> open_menus;
    std::set<PlayerId> frozen_by_step;
    bool ended = false;
    bool booting = false;       ///< the boot has not ended, and never will where all has settled
    std::vector<RunState> runs; ///< oldest first
    std::optional<SwitchState> switching;
    std::uint32_t switched_by = 0;  ///< of `runs`; their number: by a list that was abandoned
    std::set<plan::LevelId> held;   ///< shown by a switch that has not arrived yet
    std::set<plan::LevelId> let_go; ///< of several that something belongs to, by that switch
    bool operator==(const State&) const = default;
};

/// The same, of players with other numbers: `to` says which, by player.
State renamed(State state, const std::vector<PlayerId>& to);

using plan::IsA;

void for_members(IsA<Cursor> auto& of, auto&& visit) {
    auto& [list, next] = of;
    visit(list);
    visit(next);
}
void for_members(IsA<RunState> auto& of, auto&& visit) {
    auto& [list, level, cursors, firer, timed, gives_up, until, awaited, levels, any_of, lifts,
           lifts_for] = of;
    visit(list);
    visit(level);
    visit(cursors);
    visit(firer);
    visit(timed);
    visit(gives_up);
    visit(until);
    visit(awaited);
    visit(levels);
    visit(any_of);
    visit(lifts);
    visit(lifts_for);
}
void for_members(IsA<SwitchState> auto& of, auto&& visit) {
    auto& [to, at, veil, with, family, position, stage, lets_go_later, reuse, blocking,
           was_loaded] = of;
    visit(to);
    visit(at);
    visit(veil);
    visit(with);
    visit(family);
    visit(position);
    visit(stage);
    visit(lets_go_later);
    visit(reuse);
    visit(blocking);
    visit(was_loaded);
}
void for_members(IsA<State> auto& of, auto&& visit) {
    auto& [checkpoint, position, has_saved, saved_checkpoint, veils, open_menus, frozen, ended,
           booting, runs, switching, switched_by, held, let_go] = of;
    visit(checkpoint);
    visit(position);
    visit(has_saved);
    visit(saved_checkpoint);
    visit(veils);
    visit(open_menus);
    visit(frozen);
    visit(ended);
    visit(booting);
    visit(runs);
    visit(switching);
    visit(switched_by);
    visit(held);
    visit(let_go);
}

} // namespace hestrel::flow
