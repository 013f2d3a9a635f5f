#include "format/plan_keys.hpp"

#include <array>

namespace hestrel::format::keys {

namespace {

constexpr bool required = true;
constexpr bool optional = false;

constexpr std::array device_memory_keys{
    Key{"total", Takes::memory, required, "", "Memory the game may use on this device.", "1400"},
    Key{"base", Takes::memory, optional, "0", "In use before anything loads.", "300"},
    Key{"pools", Takes::by_name, optional, "no pool has a budget of its own",
        "Budgets of single pools, by name.", "{texture: 620, geometry: 300}"},
};
constexpr std::array read_keys{
    Key{"rate", Takes::data_rate, required, "", "What all reads together transfer.", "90"},
    Key{"latency", Takes::time, optional, "0", "Before each read's transfer begins.", "8 ms"},
    Key{"parallel", Takes::count, optional, "1",
        "Reads that may be in progress at once, up to 1024.", "2"},
};
constexpr std::array unpack_keys{
    Key{"rate", Takes::data_rate, required, "", "Unpacked content that one worker makes.", "160"},
    Key{"workers", Takes::count, optional, "1", "Pieces unpacked at once, up to 1024.", "2"},
};
constexpr std::array frame_keys{
    Key{"fps", Takes::number, required, "", "Frames a second, above 0 and at most 1000.", "30"},
    Key{"base", Takes::time, optional, "0", "Main-thread work in every frame, at most one period.",
        "26 ms"},
    Key{"attach", Takes::time, optional, "no limit", "Most attach work in a frame.", "3 ms"},
    Key{"veiled-attach", Takes::time, optional, "as attach", "The same while a veil is up.",
        "20 ms"},
};
constexpr std::array attach_keys{
    Key{"fixed", Takes::time, optional, "0", "Work to attach any level.", "2 ms"},
    Key{"per-object", Takes::time, optional, "0", "And for each of its objects.", "20 us"},
};
constexpr std::array release_keys{
    Key{"sweep", Takes::time, optional, "0: at once",
        "Unloaded levels are released at its multiples.", "5 s"},
    Key{"per-object", Takes::time, optional, "0", "Work for each object released.", "4 us"},
};
constexpr std::array device_keys{
    Key{"memory", Takes::object, required, "", "Memory budget.", "{total: 1400, base: 300}",
        &device_memory},
    Key{"read", Takes::object, required, "", "Storage.", "{rate: 90, latency: 8 ms, parallel: 2}",
        &read},
    Key{"unpack", Takes::object, optional, "content is stored unpacked", "Unpacking.",
        "{rate: 160, workers: 2}", &unpack},
    Key{"frame", Takes::object, required, "", "How the main thread spends a frame.",
        "{fps: 30, base: 26 ms, attach: 3 ms}", &frame},
    Key{"attach", Takes::object, optional, "costs nothing", "Main-thread work to attach a level.",
        "{fixed: 2 ms, per-object: 20 us}", &attach},
    Key{"release", Takes::object, optional, "costs nothing, at once",
        "How unloaded levels are released.", "{sweep: 5 s, per-object: 4 us}", &release},
};

constexpr Key memory_key{"memory",
                         Takes::by_name,
                         optional,
                         "0",
                         "Unpacked size by pool; a range where it is not known yet.",
                         "{texture: 180, geometry: 80..140}"};
constexpr Key packed_key{
    "packed", Takes::memory_range, optional, "as large as memory", "Size as stored.", "140"};
constexpr Key objects_key{"objects", Takes::count, optional, "0", "Objects to attach and release.",
                          "2400"};
constexpr std::array figures_keys{memory_key, packed_key, objects_key};
constexpr Key on_key{"on",
                     Takes::by_name,
                     optional,
                     "the same on every device",
                     "What differs on single devices, merged key by key.",
                     "{handheld: {memory: {texture: 96}, packed: 88}}",
                     &figures};

constexpr std::array kit_keys{
    memory_key,
    packed_key,
    objects_key,
    on_key,
    Key{"needs", Takes::name_list, optional, "none", "Kits that this kit needs itself.",
        "[common]"},
};
constexpr std::array level_keys{
    Key{"title", Takes::text, optional, "its name", "What people call it.", "The Post Hall"},
    Key{"world", Takes::text, optional, "main; a sublevel's is its parent's",
        "The coordinate space it is in.", "below"},
    memory_key,
    packed_key,
    objects_key,
    on_key,
    Key{"kits", Takes::name_list, optional, "none", "Kits it needs while loaded.",
        "[brass-fittings]"},
    Key{"persist", Takes::flag, optional, "false", "switch and keep-only never unload it.", "true"},
    Key{"with-parent", Takes::flag, optional, "false",
        "Of a sublevel: loads, shows and unloads with its parent.", "true"},
    Key{"entries", Takes::by_name, optional, "none",
        "Ways in: a name of your choice to a waypoint.", "{front-door: hall-door}"},
    Key{"sublevels", Takes::named, optional, "none", "Levels that belong to this one.",
        "{sorting-room: {with-parent: true}}", &level},
};

constexpr std::array waypoint_keys{
    Key{"at", Takes::point, required, "", "Where it is.", "[3, 0, 2]"},
    Key{"world", Takes::text, optional, "main", "The coordinate space it is in.", "below"},
};
constexpr std::array path_keys{
    Key{"from", Takes::name, required, "", "Waypoint at its start.", "hall-centre"},
    Key{"to", Takes::name, required, "", "Waypoint at its end.", "quay"},
    Key{"via", Takes::point_list, optional, "straight", "Corners between the two.",
        "[[58, 0, 22]]"},
    Key{"one-way", Takes::flag, optional, "false", "Only from `from` to `to`.", "true"},
    Key{"speed", Takes::speed, optional, "as fast as the player", "Caps the player's speed.", "2"},
};
constexpr std::array box_keys{
    Key{"min", Takes::point, required, "", "Lowest corner.", "[44, 0, 10]"},
    Key{"max", Takes::point, required, "", "Highest corner.", "[48, 4, 30]"},
};
constexpr std::array trigger_keys{
    Key{"in", Takes::name, optional, "none: always live",
        "The level it belongs to; live only while that is shown.", "post-hall"},
    Key{"box", Takes::object, required, "", "Its shape.", "{min: [44, 0, 10], max: [48, 4, 30]}",
        &box},
    Key{"steps", Takes::step_list, required, "", "What happens when a player gets inside.",
        "[{load: [quay]}]"},
};
constexpr std::array item_keys{
    Key{"steps", Takes::step_list, required, "", "What happens when it is pressed.",
        "[{switch: {to: post-hall}}]"},
};
constexpr std::array menu_keys{
    Key{"in", Takes::name, required, "", "The level it belongs to; it opens when that is shown.",
        "title"},
    Key{"items", Takes::named, required, "", "What can be pressed.", "{begin: {steps: []}}", &item},
};
constexpr std::array veil_keys{
    Key{"min", Takes::time, optional, "0", "Stays up at least so long.", "1 s"},
    Key{"memory", Takes::by_name, optional, "0", "Memory while it is up, by pool.",
        "{texture: 24}"},
};
constexpr std::array player_keys{
    Key{"speeds", Takes::by_name, optional, "none: it can't move",
        "Speeds by name; the first is used where a route names none.", "{walk: 1.8, run: 4.5}"},
    Key{"count", Takes::count, optional, "1", "How many of them there can be, up to 64.", "2"},
    Key{"memory", Takes::by_name, optional, "0", "Memory of one such player, by pool.",
        "{texture: 20}"},
};
constexpr std::array edition_keys{
    Key{"levels", Takes::name_list, required, "", "The levels that ship, in order.",
        "[title, post-hall]"},
};
constexpr std::array limits_keys{
    Key{"walk", Takes::time, optional, "1 h", "A walk that takes longer is stuck.", "30 min"},
};
constexpr std::array start_keys{
    Key{"level", Takes::name, optional, "the edition's first", "The level to start in.", "title"},
    Key{"at", Takes::name, optional, "the level's first entry, else nowhere",
        "An entry of that level.", "front-door"},
    Key{"waypoint", Takes::name, optional, "as `at` says", "A waypoint to stand at instead.",
        "hall-centre"},
};
constexpr std::array route_keys{
    Key{"edition", Takes::name, optional, "the first", "The edition being played.", "demo"},
    Key{"as", Takes::name, optional, "the first kind of player",
        "The kind of player that walks it.", "carrier"},
    Key{"start", Takes::object, optional, "the edition's first level", "Where it begins.",
        "{level: title}", &start},
    Key{"steps", Takes::step_list, required, "", "What the player does.",
        "[{go: quay, speed: run}]"},
};
constexpr std::array plan_keys{
    Key{"hestrel", Takes::count, required, "", "Version of the plan language: 1.", "1"},
    Key{"name", Takes::text, optional, "the file's name", "What the plan is called.",
        "Glasswater Post"},
    Key{"devices", Takes::named, optional, "none", "Machines the game must run on.",
        "{handheld: {…}}", &device},
    Key{"kits", Takes::named, optional, "none", "Assets that levels share.",
        "{brass-fittings: {…}}", &kit},
    Key{"levels", Takes::named, optional, "none", "Levels and their sublevels.", "{post-hall: {…}}",
        &level},
    Key{"waypoints", Takes::named, optional, "none", "Points where players can stand.",
        "{hall-door: [3, 0, 2]}", &waypoint},
    Key{"paths", Takes::object_list, optional, "none", "Straight ways between waypoints.",
        "[[hall-door, hall-centre]]", &path},
    Key{"triggers", Takes::named, optional, "none", "Trigger volumes.", "{quay-approach: {…}}",
        &trigger},
    Key{"menus", Takes::named, optional, "none", "Screens with items to press.",
        "{front-desk: {…}}", &menu},
    Key{"veils", Takes::named, optional, "none", "What hides loading from the player.",
        "{dawn: {min: 1 s}}", &veil},
    Key{"players", Takes::named, optional, "none", "Kinds of player.", "{carrier: {…}}", &player},
    Key{"editions", Takes::named, optional, "none", "Ordered lists of levels that ship.",
        "{full: {levels: [title]}}", &edition},
    Key{"limits", Takes::object, optional, "", "Bounds the plan sets itself.", "{walk: 30 min}",
        &limits},
    Key{"routes", Takes::named, optional, "none", "Scripted ways through the game.",
        "{first-round: {…}}", &route},
};

constexpr std::array wait_keys{
    Key{"shown", Takes::name_list, optional, "", "Until these are shown.", "[quay]"},
    Key{"ready", Takes::name_list, optional, "", "Until these are ready (loaded).", "[quay]"},
};
constexpr std::array switch_keys{
    Key{"to", Takes::name, required, "", "The level to go to.", "post-hall"},
    Key{"at", Takes::name, optional, "its first entry, else nowhere", "An entry of that level.",
        "front-door"},
    Key{"with", Takes::name_list, optional, "none", "Levels to bring along.", "[quay]"},
    Key{"order", Takes::word, optional, "load-first",
        "load-first or free-first: what happens to the old levels when.", "free-first"},
    Key{"veil", Takes::name, optional, "none", "The veil that hides it.", "dawn"},
    Key{"blocking", Takes::flag, optional, "false", "The main thread stands still meanwhile.",
        "true"},
    Key{"reuse", Takes::flag, optional, "false",
        "A target that is loaded already does not leave and come back.", "true"},
};
constexpr std::array step_keys{
    Key{"load", Takes::name_list, optional, "", "Asks for levels; never shows them.", "[quay]"},
    Key{"show", Takes::name_list, optional, "",
        "Wants levels shown, asking for them where nobody has.", "[quay]"},
    Key{"hide", Takes::name_list, optional, "", "Hides levels at once.", "[quay]"},
    Key{"unload", Takes::name_list, optional, "", "Unloads levels and their sublevels.", "[quay]"},
    Key{"keep-only", Takes::name_list, optional, "", "Unloads every other level.", "[quay]"},
    Key{"wait", Takes::other, optional, "", "Waits so long, or until levels are shown or ready.",
        "{shown: [quay]}", &wait},
    Key{"veil", Takes::name, optional, "", "Raises a veil.", "dawn"},
    Key{"unveil", Takes::name, optional, "", "Takes a veil down.", "dawn"},
    Key{"switch", Takes::object, optional, "", "Leaves every other level and goes to one.",
        "{to: post-hall}", &switch_step},
    Key{"priority", Takes::word, optional, "soon", "Beside load or show: now, soon or later.",
        "now"},
    Key{"at-most", Takes::time, optional, "for ever",
        "Beside wait: gives up after that and goes on.", "5 s"},
};
constexpr std::array route_step_keys{
    Key{"go", Takes::name, optional, "", "Goes to a waypoint, the shortest way.", "quay"},
    Key{"press", Takes::name, optional, "", "Presses menu.item, once the menu is open.",
        "front-desk.begin"},
    Key{"pause", Takes::time, optional, "", "Does nothing for so long.", "2 s"},
    Key{"speed", Takes::name, optional, "the first one listed", "Beside go: a speed of the player.",
        "run"},
};

} // namespace

const ObjectKeys plan{"a plan", plan_keys};
const ObjectKeys device{"a device", device_keys};
const ObjectKeys device_memory{"a device's memory", device_memory_keys};
const ObjectKeys read{"read", read_keys};
const ObjectKeys unpack{"unpack", unpack_keys};
const ObjectKeys frame{"frame", frame_keys};
const ObjectKeys attach{"attach", attach_keys};
const ObjectKeys release{"release", release_keys};
const ObjectKeys kit{"a kit", kit_keys};
const ObjectKeys level{"a level", level_keys};
const ObjectKeys figures{"a device's figures", figures_keys};
const ObjectKeys waypoint{"a waypoint", waypoint_keys};
const ObjectKeys path{"a path", path_keys};
const ObjectKeys trigger{"a trigger", trigger_keys};
const ObjectKeys box{"a box", box_keys};
const ObjectKeys menu{"a menu", menu_keys};
const ObjectKeys item{"an item", item_keys};
const ObjectKeys veil{"a veil", veil_keys};
const ObjectKeys player{"a player", player_keys};
const ObjectKeys edition{"an edition", edition_keys};
const ObjectKeys limits{"limits", limits_keys};
const ObjectKeys route{"a route", route_keys};
const ObjectKeys start{"a start", start_keys};
const ObjectKeys wait{"a wait", wait_keys};
const ObjectKeys switch_step{"a switch", switch_keys};
const ObjectKeys step{"a step", step_keys};
const ObjectKeys route_step{"a route step", route_step_keys};

} // namespace hestrel::format::keys
