#pragma once
// What a plan is: plain structs, every name resolved to an index. No parsing, no behaviour.
// Words and meanings: docs/model.md, sections 1 and 2.

#include "plan/conditions.hpp"
#include "plan/ids.hpp"
#include "plan/members.hpp"
#include "plan/place.hpp"
#include "plan/steps.hpp"
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

// --- devices -----------------------------------------------------------------

/// Memory budget of a device. `base` is in use before anything loads and belongs to no pool.
struct MemoryBudget {
    Bytes total;
    Bytes base;
    std::vector<std::pair<PoolId, Bytes>> pools; ///< only the pools that have a budget of their own
};

/// Section 4.2. `parallel` reads at once share `rate` after each one's `latency`.
struct ReadSettings {
    ByteRate rate;
    Micros latency;
    std::uint32_t parallel = 1;
};

/// Section 4.3. Each of `workers` unpacks at the full `rate` of unpacked bytes.
struct Unpacking {
    ByteRate rate;
    std::uint32_t workers = 1;
};

/// Section 4.4. Each of `workers` makes one piece at a time; what takes so long on the whole takes
/// that long divided by `speed`.
struct Makers {
    std::uint32_t workers = 1;
    SpeedFactor speed;
};

/// Sections 4.6 and 4.9. How the main thread spends a frame.
struct FrameTime {
    Micros period;                       ///< 1/fps, rounded up
    Micros base;                         ///< work in every frame; at most `period`
    std::optional<Micros> attach;        ///< most attach work in a frame; absent: no limit
    std::optional<Micros> veiled_attach; ///< the same while a veil is up; absent: no limit
};

/// Sections 4.6 and 4.8: main-thread work to attach a level.
struct AttachCost {
    Micros fixed;
    NanosPerObject per_object;
};

/// Sections 4.7 and 4.8. `sweep` 0: released at once.
struct ReleaseCost {
    Micros sweep;
    NanosPerObject per_object;
};

/// Coefficients of variation, as shares of the figure itself; 0: it does not vary.
struct Spread {
    double read = 0;
    double latency = 0;
    double unpack = 0;
    double speed = 0;
};

/// A machine the game must run on.
struct Device : Named {
    MemoryBudget memory;
    ReadSettings read;
    std::optional<Unpacking> unpack; ///< absent: content is stored unpacked
    Makers makers;
    FrameTime frame;
    AttachCost attach;
    ReleaseCost release;
    std::optional<ByteRate>
        download; ///< absent: nothing is downloaded while it is played (section 9)
    Spread spread;
};

// --- content -----------------------------------------------------------------

/// A size; a range where it is not known yet. A walk takes `high` (section 2).
struct SizeRange {
    Bytes low;
    Bytes high;
};

/// A duration; a range where it is not known yet. A walk takes `high` (section 2).
struct TimeRange {
    Micros low;
    Micros high;
};

/// How large a piece is: the plan's own figures, or what differs from them.
struct Figures {
    std::vector<std::pair<PoolId, SizeRange>> memory;
    std::optional<SizeRange> packed;     ///< absent: as large as memory
    std::optional<std::int64_t> objects; ///< absent: 0, or as on every device
    std::optional<TimeRange> make;       ///< at speed 1; absent: it is not made at run time
    std::optional<Micros> frame_cost;    ///< of a level: in every frame while it is shown
};

/// A row of a `sizes:` table: figures from a real build, which win over the plan's own.
struct Measured {
    Place place;
    DeviceId device; ///< unset: on every device
    Figures figures;
};

/// The figures of one level or kit, with what differs on single devices (merged key by key).
struct Content {
    Figures figures;
    std::vector<std::pair<DeviceId, Figures>> on;
    std::vector<Measured> measured;
};

/// Assets that several levels share.
struct Kit : Named {
    Content content;
    std::vector<KitId> needs; ///< kits it needs itself, in the order listed; no cycles
};

// --- shapes ------------------------------------------------------------------

/// A point or vector in metres: x, y (up), z.
using Vec3 = std::array<double, 3>;

/// A box with min <= max in each coordinate, turned about the vertical through its own centre by
/// `turn` degrees, counter-clockwise seen from above. Its boundary belongs to it.
struct Box {
    Vec3 min{};
    Vec3 max{};
    double turn = 0;
};

struct Sphere {
    Vec3 at{};
    double radius = 0;
};

/// All points with a coordinate of at least (`over`) or at most (`under`) a value.
struct Beyond {
    std::size_t axis = 0; ///< 0: x, 1: y, 2: z
    double limit = 0;
    bool over = true;
};

/// No shape: such a trigger fires by its condition alone.
using Shape = std::variant<std::monostate, Box, Sphere, Beyond>;

// --- levels ------------------------------------------------------------------

/// Where a level's own coordinates are in its world: turned by `turn` degrees about the vertical,
/// counter-clockwise seen from above, then moved by `origin` metres. With all levels around it.
struct Space {
    Vec3 origin{};
    double turn = 0;
    bool operator==(const Space&) const = default;
};

/// A way into a level: `at` in a switch names it.
struct Entry : Named {
    WordId word; ///< its name, for comparing
    WaypointId waypoint;
};

/// Loads a level when players come near, and unloads it when they are far (section 5), in metres.
struct Near {
    double load = 0;
    double unload = 0;
    ConditionId when = {}; ///< acts only while this holds; unset: always
};

/// A level, or a sublevel where `parent` is set. Plan order puts a parent right before its
/// sublevels.
struct Level : Named {
    std::string title; ///< as written by the designer; empty where none is given
    std::string owner; ///< whose it is; empty where nobody is named
    WorldId world;
    Space space; ///< in which what stands inside it is written; all else here is of the world
    LevelId parent;
    std::vector<LevelId> sublevels; ///< direct ones, in plan order
    bool with_parent = false;
    bool persist = false;
    Content content;
    std::vector<KitId> kits;
    std::vector<Entry> entries;
    std::vector<WordId> provides; ///< what rules count: light, floor, camera …
    PurposeId purpose;            ///< unset: none is given
    std::vector<Box> area;
    std::vector<Box> seen_from;
    std::optional<Near> near;
    GridId grid;      ///< of which it is a cell; unset: of none
    GroupId variants; ///< of one place, of which this is one; unset: it is none
    ListId arrive;    ///< unset: nothing happens then
    ListId leave;
};

/// The cells of an open world: sublevels of one level side by side, columns along x and rows along
/// z of its space.
struct Grid {
    Place place;
    LevelId level;                  ///< whose sublevels they are
    std::array<double, 2> corner{}; ///< lowest x and z, in the level's own space
    std::array<double, 2> size{};   ///< of a cell
    std::array<double, 2> height{}; ///< lowest and highest y
    std::uint32_t columns = 1;
    std::uint32_t rows = 1;
    std::vector<LevelId> cells; ///< row by row; unset: a hole

    [[nodiscard]] LevelId cell(std::uint32_t column, std::uint32_t row) const {
        return cells[std::size_t{row} * columns + column];
    }
    /// Unset where all are holes.
    [[nodiscard]] LevelId first_cell() const {
        for (const LevelId each : cells) {
            if (each) return each;
        }
        return {};
    }
};

/// A name for levels, usable wherever levels are listed.
struct Group : Named {
    std::vector<LevelId> levels; ///< in plan order
    bool one_of = false;         ///< variants of one place: of these one is there
    bool listed = false;         ///< something names it
};

// --- the world ---------------------------------------------------------------

/// What may stand inside a level; its name is then `level.name`.
struct Belonging : Named {
    LevelId home; ///< the level inside which it stands; unset: outside of levels
};

/// A point where players can stand.
struct Waypoint : Belonging {
    Vec3 at{};
    WorldId world;
};

/// A door on a path that holds the player until these levels are shown, and one of each of these
/// groups.
struct Gate : Belonging {
    std::vector<LevelId> needs;
    std::vector<GroupId> any_of;
};

/// A way from one waypoint to another, straight between its points. A path of more than two points
/// in the plan is so many of these.
struct Path {
    Place place;
    LevelId home; ///< the level inside which it stands; unset: outside of levels
    WaypointId from;
    WaypointId to;
    std::vector<Vec3> via;       ///< corners between the two ends
    bool one_way = false;        ///< only from `from` to `to`
    std::optional<double> speed; ///< m/s; caps the player's
    GateId gate;
};

/// When a trigger fires (section 5). `when_true` is what a trigger without a shape does.
enum class Fires : std::uint8_t { on_enter, on_exit, while_inside, when_true };

/// A trigger volume with its list of steps; live while any of `in` is shown, always where it is in
/// none.
struct Trigger : Belonging {
    std::vector<LevelId> in; ///< of one world; in plan order
    WorldId world;
    Shape shape;
    Fires fires = Fires::on_enter;
    std::vector<WordId> tags; ///< players with one of these; empty: every player
    ConditionId when;         ///< unset: always
    bool once = false;
    Micros rearm;
    ListId steps;
};

/// One item of a menu.
struct Item : Named {
    MenuId menu;
    ConditionId when;
    bool stays = false; ///< pressing it does not close the menu
    ListId steps;
};

/// What a menu does by itself, so long after it opened.
struct AfterMenu {
    Place place;
    Micros delay;
    ListId steps;
};

/// A screen on which a player presses items; opens when the first of `in` is shown, or by an `open`
/// step.
struct Menu : Belonging {
    std::vector<LevelId> in; ///< of one world; in plan order
    std::vector<ItemId> items;
    std::optional<AfterMenu> after;
    bool pauses = false; ///< stops movement while it is open
};

/// Anything that hides loading from the player, up at least `min`.
struct Veil : Named {
    Micros min;
    std::vector<std::pair<PoolId, Bytes>> memory;
};

/// How long a fact is remembered.
enum class Lifetime : std::uint8_t { level, session, saved };

/// A named value the game remembers.
struct Fact : Belonging {
    Value initial;
    std::optional<std::pair<std::int64_t, std::int64_t>> range; ///< of a number
    std::vector<WordId> values;                                 ///< of a word
    Lifetime lifetime = Lifetime::session;
    LevelId of; ///< of lifetime level: reset when this leaves; unset: reset by a switch only
    bool of_each = false;   ///< each player has a value of its own
    bool displayed = false; ///< players read it: it is there for more than conditions
};

/// What a parameter of a named list stands for, in the order of `parameter_kind_names`.
enum class ParameterKind : std::uint8_t {
    level,
    entry,
    waypoint,
    menu,
    veil,
    fact,
    value,
    time,
    list
};
struct Parameter : Named {
    ParameterKind kind = ParameterKind::level;
};

/// Steps with a name. A list that does them has them as its own: this is only what they are called
/// and take.
struct NamedList : Belonging {
    std::vector<Parameter> takes;
};

/// A `do`: the list that it names, done at a place.
struct ListUse {
    Place place;
    NamedListId list;
};

/// A rule that must hold in every situation.
struct Rule {
    enum class Kind : std::uint8_t {
        exactly,
        at_least,
        at_most,
        never_together,
        never,
        contents, ///< no rule of the plan: what a level's purpose needs is there while it is shown
    };
    Place place;
    std::string text; ///< as written: "exactly: 1, of: camera"
    Kind kind = Kind::never;
    std::int64_t count = 0;      ///< exactly, at_least, at_most
    WordId of;                   ///< what is counted over the levels shown
    std::vector<LevelId> levels; ///< never_together; contents: the level
    ConditionId condition;       ///< never
    ConditionId when;            ///< the rule holds then; unset: always
    bool during_switches = false;
    std::optional<Micros> longer_than; ///< broken for so long or less does not count
    bool settled = false;              ///< judged only where nothing is going on

    /// Whether it rests during a switch, unless it says otherwise.
    [[nodiscard]] bool can_rest() const {
        return kind == Kind::exactly || kind == Kind::at_least || kind == Kind::contents;
    }
};

/// What there is to say of a rule that is broken at a moment.
struct Breach {
    RuleId rule;
    std::vector<LevelId> counted;   ///< shown levels that it counts, each as often as it counts
    std::vector<std::uint32_t> met; ///< never: parts of its condition that hold
    std::vector<WordId> missing;    ///< contents: what is not provided
};

// --- players, editions, routes -----------------------------------------------

/// A named speed in m/s.
struct Speed : Named {
    double metres_per_second = 0;
};

/// A kind of player. The first speed listed is the one a `go` without `speed` uses.
struct PlayerKind : Named {
    std::vector<WordId> tags;
    std::vector<Speed> speeds;
    std::uint32_t count = 1;
    std::vector<std::pair<PoolId, Bytes>> memory;
};

/// A group of levels delivered together (section 9).
struct Parcel : Named {
    std::vector<LevelId> levels;
};

/// An ordered list of levels that ships.
struct Edition : Named {
    std::vector<LevelId> levels;
    std::vector<Place> level_places; ///< where each of `levels` is named
    std::vector<Parcel> parcels;
};

struct GoStep {
    WaypointId to;
    double speed = 0; ///< m/s
    PathId along;     ///< set: along this path, instead of the shortest way
};
struct PressStep {
    ItemId item;
};
struct PauseStep {
    Micros time;
};
struct PickStep {
    WordId branch; ///< of the next `choose` this player meets
};
struct UntilStep {
    ConditionId condition;
};
struct RouteSetStep {
    std::vector<Assignment> facts;
};
/// Says what must hold here, at the latest so long after.
struct ExpectStep {
    ConditionId condition; ///< unset: `now`, which keeps what holds
    std::optional<Micros> within;
};
/// The game is switched off and launched again.
struct LaunchStep {};
/// Lets a menu's `after` come, where nobody hurries.
struct AfterStep {
    MenuId menu;
};
struct RouteStep {
    Place place;
    std::variant<GoStep, PressStep, PauseStep, PickStep, UntilStep, RouteSetStep, AfterStep,
                 ExpectStep, LaunchStep>
        what;
    std::uint32_t turn = 0; ///< begins once all steps of smaller turns are over, whoever's they are
    ConditionId when = {};  ///< left out where this does not hold when its turn comes
};

/// One player of a route and what it does.
struct RoutePlayer : Named {
    PlayerKindId kind; ///< unset where the plan has no players
    std::vector<RouteStep> steps;
};

/// Where players come back to.
struct Checkpoint {
    LevelId level;
    WaypointId at;
    bool operator==(const Checkpoint&) const = default;
};
void for_members(IsA<Checkpoint> auto& of, auto&& visit) {
    auto& [level, at] = of;
    visit(level);
    visit(at);
}

/// With what a walk of a route begins (section 7).
struct Start {
    LevelId level;                 ///< always set: as given, else the edition's first
    WaypointId at;                 ///< unset: nowhere
    std::vector<Assignment> facts; ///< hold from time 0
    std::optional<std::vector<Assignment>> saved; ///< a saved store; what is not named is initial
    std::optional<Checkpoint> checkpoint; ///< the current one; in the store, if there is one
    std::vector<LevelId> loaded;          ///< by the boot, and not shown
};

/// A scripted way through the game (section 7).
/// One machine of a session (section 11).
struct Machine : Named {
    DeviceId device;                    ///< unset: any device of the plan
    std::vector<std::uint32_t> players; ///< of the route, in its order
    Micros delay;                       ///< one way between it and the keeper of the game
    Micros joins;                       ///< when its boot begins
    bool headless = false;              ///< it keeps the game, and reads and shows nothing
};

struct Route : Named {
    EditionId edition; ///< the edition being played; unset: none
    Start start;
    std::vector<RoutePlayer> players; ///< at least one
    bool unhurried = false;           ///< everyone stands still until all has settled (section 8)
    /// Where each player has one, the first keeps the game; empty: all share one.
    Table<MachineId, Machine> machines;
    double delay_spread = 0; ///< coefficient of variation of delays
};

/// Something that a level is for, and what it needs for that to be there while it is shown.
struct Purpose : Named {
    std::vector<WordId> needs; ///< as levels provide it; `way-in` is to have an entry
};

/// Bounds that the plan sets itself; what is unset is no limit.
struct Limits {
    std::optional<double> headroom; ///< share of the budget that must stay free
    std::optional<Micros> gap, stall, hitch, slack;
    std::optional<Micros> others;        ///< how long a machine may wait for others (section 11)
    std::optional<Micros> longest_frame; ///< instead of each device's period (section 4)
    Micros walk = seconds(3600);         ///< a walk that takes longer is stuck
};

// --- the whole ---------------------------------------------------------------

/// What kinds of thing findings can be about, and `allow` can stand on.
enum class ThingKind : std::uint8_t {
    plan,
    device,
    kit,
    level,
    group,
    waypoint,
    path,
    gate,
    trigger,
    menu,
    item,
    veil,
    fact,
    list,
    player,
    purpose,
    rule,
    edition,
    route,
};
struct Thing {
    ThingKind kind = ThingKind::plan;
    std::uint32_t index = 0;
    auto operator<=>(const Thing&) const = default;
};

/// `allow: {name: "why"}` on a thing: findings of that name about it are silenced.
struct Allowed {
    Thing thing;
    std::string finding;
    std::string why;
    Place place;
};

/// `todo: "text"` on a thing: what is still to be done about it.
struct Todo {
    Thing thing;
    std::string text;
    Place place;
};

/// Everything a designer wrote, resolved.
struct Plan {
    std::string name;
    Place place;                    ///< of the main file
    std::vector<std::string> files; ///< as named in messages; `Place::file` indexes it

    Table<WordId, std::string>
        words; ///< tags, fact values, entry names, choices: what is only compared
    Table<PoolId, std::string> pools; ///< in order of first mention
    Table<WorldId, std::string> worlds;
    Table<DeviceId, Device> devices;
    Table<KitId, Kit> kits;
    Table<LevelId, Level> levels;
    Table<GridId, Grid> grids;
    Table<GroupId, Group> groups;
    Table<WaypointId, Waypoint> waypoints;
    Table<GateId, Gate> gates;
    Table<PathId, Path> paths;
    Table<TriggerId, Trigger> triggers;
    Table<MenuId, Menu> menus;
    Table<ItemId, Item> items;
    Table<VeilId, Veil> veils;
    Table<FactId, Fact> facts;
    Table<NamedListId, NamedList> named_lists;
    std::vector<ListUse> list_uses; ///< `Place::use` counts them from 1
    Table<ListId, StepList> lists;
    Table<ConditionId, Condition> conditions;
    Table<PlayerKindId, PlayerKind> players;
    Table<PurposeId, Purpose> purposes;
    Table<RuleId, Rule> rules;
    Table<EditionId, Edition> editions;
    Table<RouteId, Route> routes;
    Limits limits;
    std::vector<Allowed> allowed;
    WordId way_in;           ///< the need that an entry meets; unset where no purpose names it
    std::vector<Todo> todos; ///< in the order of their places
};

} // namespace hestrel::plan
