#pragma once
// A situation (docs/model.md section 8), taken apart, and the moves that lead from one to another.

#include "explore/reduction.hpp"
#include "flow/carries.hpp"
#include "flow/flow.hpp"
#include "flow/snapshot.hpp"
#include "flow/traveller.hpp"
#include "flow/triggers.hpp"
#include "geometry/ways.hpp"
#include "loading/levels.hpp"
#include "plan/level_tree.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <set>
#include <vector>

namespace hestrel::explore {

/// A level that is loaded, in a settled situation; where players hurry also one on its way.
struct LevelThere {
    plan::LevelId level;
    bool shown = false;
    bool wanted = false;  ///< shown, once it can be
    bool pending = false; ///< asked for, and not there yet
    bool blocked = false; ///< to be attached with the rest of a blocking switch's family
    bool leaving = false; ///< unloaded, and still in memory
    auto operator<=>(const LevelThere&) const = default;
};
void for_members(plan::IsA<LevelThere> auto& of, auto&& visit) {
    auto& [level, shown, wanted, pending, blocked, leaving] = of;
    visit(level);
    visit(shown);
    visit(wanted);
    visit(pending);
    visit(blocked);
    visit(leaving);
}

/// One player: at a waypoint, nowhere, or stopped in the middle of a path.
struct PlayerNow {
    plan::WaypointId at; ///< unset: nowhere, or on the way
    flow::Triggers::Standing standing;
    // On the way only.
    geometry::Leg leg; ///< its path is unset otherwise
    double speed = 0;  ///< m/s
    std::size_t corner = 0;
    plan::Micros walked;                   ///< of the present piece
    std::vector<flow::Crossing> crossings; ///< of the present piece, to come
    [[nodiscard]] bool on_the_way() const { return static_cast<bool>(leg.path); }
    bool operator==(const PlayerNow&) const = default;
};
void for_members(plan::IsA<PlayerNow> auto& of, auto&& visit) {
    auto& [at, standing, leg, speed, corner, walked, crossings] = of;
    visit(at);
    visit(standing);
    visit(leg);
    visit(speed);
    visit(corner);
    visit(walked);
    visit(crossings);
}

/// What a player, or the game, can do next.
struct Move {
    enum class Kind : std::uint8_t {
        boot,   ///< how it all begins
        go,     ///< along a path from one of its ends to the other
        press,  ///< a menu item
        after,  ///< a menu's `after` comes
        launch, ///< the game is switched off and launched again: in `level`
        // Where players hurry, also what goes on meanwhile.
        arrive,       ///< a level that was asked for is there
        attach,       ///< a level is shown that waited to be attached
        attach_block, ///< the family of a blocking switch is
        wake,         ///< time ends a list's wait
        sweep,        ///< what was unloaded is released
        drop,         ///< lists whose wait can't end by itself are dropped
    };
    Kind kind = Kind::go;
    flow::PlayerId player;
    geometry::Leg leg;
    std::size_t speed = 0; ///< which of the player's
    plan::ItemId item;
    plan::MenuId menu;
    plan::LevelId level;
    std::size_t run = 0; ///< which of those running
};

/// Whether players wait for all to settle before they do anything (section 8).
enum class Pace : std::uint8_t { unhurried, hurried };

/// What went on in one move.
struct MoveLog {
    /// What happened to memory, in order.
    struct Memory {
        enum class Kind : std::uint8_t {
            came,      ///< level: had come before the move, as nobody was told
            asked,     ///< level: to be loaded
            unloaded,  ///< level: released at the next sweep
            released,  ///< all that is not needed, at once; but what `families[index]` needs
            veil_up,   ///< veil
            veil_down, ///< veil
            launched,  ///< all levels are gone at once
            frames,    ///< no veil is up; shown are more, and less, than at first: two families
            settled,   ///< everyone goes on: nothing is in flight or leaving
        };
        Kind kind;
        std::uint32_t index = 0;
    };
    struct Event {
        flow::EventKind kind;
        plan::ListId list; ///< whose step it was; unset: nobody's
        std::uint32_t detail = 0;
        plan::Place place = {}; ///< of the step, as far as it matters
    };
    /// A branch of a `choose` that was taken.
    struct Taken {
        const plan::ChooseStep* choose = nullptr;
        std::size_t branch = 0;
        flow::PlayerId player; ///< who picked; unset: nobody fired, and the first player did
    };
    /// A player got into the surroundings of a level that is left out, or out of them.
    struct Near {
        flow::PlayerId player;
        flow::ZoneId zone;
        bool inside = false;
        bool placed = false; ///< by a step, or a launch
    };
    std::vector<Memory> memory;
    std::vector<Near> near;
    std::vector<std::vector<plan::LevelId>> families;
    std::vector<plan::ListId> lists; ///< that were started, in order
    std::vector<plan::LevelId> asked;
    std::vector<plan::LevelId> unloaded;
    std::vector<plan::LevelId> shown;
    std::vector<Event> notes;
    std::vector<Taken> taken;
    /// Rules broken where a list started to wait, each as it was the first time.
    std::vector<plan::Breach> breaches;
    std::vector<flow::Carried> carried; ///< what became of facts
    bool endless = false;               ///< it goes round in a circle: it leads nowhere
};

/// A level that is there, and shown.
inline LevelThere shown_there(plan::LevelId level) {
    return {level, true, true, false, false, false};
}
/// Veils that are up for anybody, each once.
std::vector<plan::VeilId> veils_up(const flow::State& settled);
/// Menus that are open for anybody.
std::set<plan::MenuId> menus_open(const flow::State& settled);
/// Whether a player can't move: by a step, or a menu that pauses.
bool is_frozen(const plan::Plan& plan, const flow::State& settled, flow::PlayerId player);
/// Neither absent nor leaving.
bool is_there(const std::vector<LevelThere>& levels, plan::LevelId level);
bool is_shown(const std::vector<LevelThere>& levels, plan::LevelId level);
/// Those that are shown.
std::vector<plan::LevelId> shown_of(const std::vector<LevelThere>& levels);
/// Puts the levels of a situation into a machine that is clear; those that leave are not in it.
void restore(loading::Levels& machine, const std::vector<LevelThere>& levels,
             const flow::State& control);
/// What can be attached now.
struct Attachable {
    std::vector<plan::LevelId>
        levels; ///< one by one, those that are told of; none where a blocking switch holds them up
    bool block = false; ///< the family of a blocking switch
};
Attachable attachable(const plan::LevelTree& tree, const std::vector<LevelThere>& levels,
                      const flow::State& control, const Reduction& reduction);
/// Whether nothing is going on any more, as it is between the moves of players who don't hurry.
bool at_rest(const plan::LevelTree& tree, const std::vector<LevelThere>& levels,
             const flow::State& settled, const Reduction& reduction);

} // namespace hestrel::explore
