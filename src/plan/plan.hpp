#pragma once
// What a plan is: plain structs, every name resolved to an index. No parsing, no behaviour.
// Words and meanings: docs/model.md, sections 1 and 2.

#include "plan/ids.hpp"
#include "plan/place.hpp"
#include "plan/units.hpp"

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace hestrel::plan {

/// What every definition has: the name it is called by and where it was defined.
struct Named {
    std::string name;
    Place place;
};

// --- devices
// ---------------------------------------------------------------------------------------

/// Memory budget of a device. `base` is in use before anything loads and belongs to no pool.
struct MemoryBudget {
    Bytes total;
    Bytes base;
    std::vector<std::pair<PoolId, Bytes>> pools; ///< only the pools that have a budget of their own
};

/// Section 4.2. `parallel` reads at once share `rate` after each one's `latency`.
struct Reading {
    ByteRate rate;
    Micros latency;
    std::uint32_t parallel = 1;
};

/// Section 4.3. Each of `workers` unpacks at the full `rate` of unpacked bytes.
struct Unpacking {
    ByteRate rate;
    std::uint32_t workers = 1;
};

/// Section 4.5. How the main thread spends a frame.
struct FrameTime {
    Micros period;                       ///< 1/fps, rounded up
    Micros base;                         ///< work in every frame; at most `period`
    std::optional<Micros> attach;        ///< most attach work in a frame; absent: no limit
    std::optional<Micros> veiled_attach; ///< the same while a veil is up; absent: no limit
};

/// Sections 4.5 and 4.7: main-thread work to attach a level.
struct AttachCost {
    Micros fixed;
    NanosPerObject per_object;
};

/// Sections 4.6 and 4.7. `sweep` 0: released at once.
struct ReleaseCost {
    Micros sweep;
    NanosPerObject per_object;
};

/// A machine the game must run on.
struct Device : Named {
    MemoryBudget memory;
    Reading read;
    std::optional<Unpacking> unpack; ///< absent: content is stored unpacked
    FrameTime frame;
    AttachCost attach;
    ReleaseCost release;
};

// --- content
// ---------------------------------------------------------------------------------------

/// A size; a range where it is not known yet. A walk takes `high` (section 2).
struct SizeRange {
    Bytes low;
    Bytes high;
};

/// How large a piece is: the plan's own figures, or what differs from them on one device.
struct Figures {
    std::vector<std::pair<PoolId, SizeRange>> memory;
    std::optional<SizeRange> packed;     ///< absent: as large as memory
    std::optional<std::int64_t> objects; ///< absent: 0, or as on every device
};

/// The figures of one level or kit, with what differs on single devices (merged key by key).
struct Content {
    Figures figures;
    std::vector<std::pair<DeviceId, Figures>> on;
};

/// Assets that several levels share.
struct Kit : Named {
    Content content;
    std::vector<KitId> needs; ///< kits it needs itself, in the order listed; no cycles
};

/// A way into a level: `at` in a switch names it.
struct Entry : Named {
    WaypointId waypoint;
};

/// A level, or a sublevel where `parent` is set. Plan order puts a parent right before its
/// sublevels.
struct Level : Named {
    std::string title; ///< as written by the designer; empty where none is given
    WorldId world;
    LevelId parent;
    std::vector<LevelId> sublevels; ///< direct ones, in plan order
    bool with_parent = false;
    bool persist = false;
    Content content;
    std::vector<KitId> kits;
    std::vector<Entry> entries;
};

// --- the world
// -------------------------------------------------------------------------------------

/// A point or vector in metres: x, y (up), z.
using Vec3 = std::array<double, 3>;

/// An axis-aligned box with min <= max in each coordinate; its boundary belongs to it.
struct Box {
    Vec3 min{};
    Vec3 max{};
};

/// A point where players can stand.
struct Waypoint : Named {
    Vec3 at{};
    WorldId world;
};

/// A way from one waypoint to another, straight between its points. A path of more than two points
/// in the plan is so many of these.
struct Path {
    Place place;
    WaypointId from;
    WaypointId to;
    std::vector<Vec3> via;       ///< corners between the two ends
    bool one_way = false;        ///< only from `from` to `to`
    std::optional<double> speed; ///< m/s; caps the player's
};

/// A trigger volume with its list of steps; live while `in` is shown, always where that is unset.
struct Trigger : Named {
    LevelId in;
    WorldId world;
    Box box;
    ListId steps;
};

/// One item of a menu.
struct Item : Named {
    MenuId menu;
    ListId steps;
};

/// A screen on which a player presses items; opens when `in` is shown.
struct Menu : Named {
    LevelId in;
    std::vector<ItemId> items;
};

/// Anything that hides loading from the player, up at least `min`.
struct Veil : Named {
    Micros min;
    std::vector<std::pair<PoolId, Bytes>> memory;
};

// --- steps (section 6)
// -----------------------------------------------------------------------------

/// Order in the loader's queue; lower values go first.
enum class Priority : std::uint8_t { now, soon, later };

struct LoadStep {
    std::vector<LevelId> levels;
    Priority priority = Priority::soon;
};
struct ShowStep {
    std::vector<LevelId> levels;
    Priority priority = Priority::soon;
};
struct HideStep {
    std::vector<LevelId> levels;
};
struct UnloadStep {
    std::vector<LevelId> levels;
};
struct KeepOnlyStep {
    std::vector<LevelId> levels;
};
/// What a level must be for a wait to end: shown, or ready (loaded).
enum class Awaited : std::uint8_t { shown, ready };
/// `wait: 2 s`, or `wait: {shown: [L…]}` and `wait: {ready: [L…]}` with `at-most`.
struct WaitStep {
    std::optional<Micros> time; ///< set: the whole wait; unset: wait for `levels`
    Awaited awaited = Awaited::shown;
    std::vector<LevelId> levels;
    std::optional<Micros> at_most; ///< gives up after that and goes on
};
struct VeilStep {
    VeilId veil;
};
struct UnveilStep {
    VeilId veil;
};
enum class SwitchOrder : std::uint8_t { load_first, free_first };
struct SwitchStep {
    LevelId to;
    WaypointId at; ///< unset: the target's first entry, else nowhere
    std::vector<LevelId> with;
    SwitchOrder order = SwitchOrder::load_first;
    VeilId veil;
    bool blocking = false;
    bool reuse = false;
};

/// One instruction and where it stands.
struct Step {
    Place place;
    std::variant<LoadStep, ShowStep, HideStep, UnloadStep, KeepOnlyStep, WaitStep, VeilStep,
                 UnveilStep, SwitchStep>
        what;
};

/// What owns a list of steps.
enum class OwnerKind : std::uint8_t { trigger, item };

/// The steps of one trigger or item, in order.
struct StepList {
    OwnerKind owner = OwnerKind::trigger;
    TriggerId trigger; ///< set when `owner` is a trigger
    ItemId item;       ///< set when `owner` is an item
    LevelId level;     ///< the level it belongs to; unset: it can't be abandoned
    std::vector<Step> steps;
};

// --- players, editions, routes
// ---------------------------------------------------------------------

/// A named speed in m/s.
struct Speed : Named {
    double metres_per_second = 0;
};

/// A kind of player. The first speed listed is the one a `go` without `speed` uses.
struct PlayerKind : Named {
    std::vector<Speed> speeds;
    std::uint32_t count = 1;
    std::vector<std::pair<PoolId, Bytes>> memory;
};

/// An ordered list of levels that ships.
struct Edition : Named {
    std::vector<LevelId> levels;
};

struct GoStep {
    WaypointId to;
    double speed = 0; ///< m/s
};
struct PressStep {
    ItemId item;
};
struct PauseStep {
    Micros time;
};
struct RouteStep {
    Place place;
    std::variant<GoStep, PressStep, PauseStep> what;
};

/// A scripted way through the game (section 7).
struct Route : Named {
    EditionId edition;   ///< the edition being played; unset: none
    LevelId start_level; ///< always set: as given, else the edition's first
    WaypointId start_at; ///< unset: nowhere
    PlayerKindId player; ///< unset where the plan has no players
    std::vector<RouteStep> steps;
};

/// Bounds that the plan sets itself.
struct Limits {
    Micros walk = seconds(3600); ///< a walk that takes longer is stuck
};

/// Everything a designer wrote, resolved.
struct Plan {
    std::string name;
    std::vector<std::string> files; ///< as named in messages; `Place::file` indexes it

    Table<PoolId, std::string> pools; ///< in order of first mention
    Table<WorldId, std::string> worlds;
    Table<DeviceId, Device> devices;
    Table<KitId, Kit> kits;
    Table<LevelId, Level> levels;
    Table<WaypointId, Waypoint> waypoints;
    Table<PathId, Path> paths;
    Table<TriggerId, Trigger> triggers;
    Table<MenuId, Menu> menus;
    Table<ItemId, Item> items;
    Table<VeilId, Veil> veils;
    Table<ListId, StepList> lists;
    Table<PlayerKindId, PlayerKind> players;
    Table<EditionId, Edition> editions;
    Table<RouteId, Route> routes;
    Limits limits;
};

} // namespace hestrel::plan
