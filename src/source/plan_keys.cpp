#include "source/plan_keys.hpp"

#include <array>

namespace hestrel::source {

std::string_view kind_text(Takes takes) {
    switch (takes) {
    case Takes::text: return "text";
    case Takes::text_list: return "a list of texts";
    case Takes::flag: return "true or false";
    case Takes::count: return "a whole number";
    case Takes::number: return "a number";
    case Takes::share: return "a share: 0 to 1, or 0% to 100%";
    case Takes::memory: return "memory in MiB";
    case Takes::memory_range: return "memory in MiB, or a range low..high";
    case Takes::time: return "a time in s";
    case Takes::data_rate: return "a data rate in MiB/s";
    case Takes::speed: return "a speed in m/s";
    case Takes::distance: return "a distance in m";
    case Takes::point: return "a point [x, y, z] in m";
    case Takes::point_list: return "a list of points";
    case Takes::name: return "a name defined elsewhere";
    case Takes::name_list: return "names defined elsewhere: a list, or one";
    case Takes::dotted_name: return "two names with a dot between them";
    case Takes::word: return "one of a few words";
    case Takes::word_list: return "words of your choice: a list, or one";
    case Takes::condition: return "a condition";
    case Takes::value: return "true or false, a whole number, or a word";
    case Takes::value_list: return "a list of words";
    case Takes::range: return "two whole numbers [least, most]";
    case Takes::object: return "a mapping";
    case Takes::objects: return "a mapping, or a list of them";
    case Takes::named:
    case Takes::named_or_nothing: return "a mapping from names of your choice";
    case Takes::names_by_name:
        return "a mapping from names of your choice to names defined elsewhere";
    case Takes::memory_by_name: return "a mapping from pools to memory in MiB";
    case Takes::ranges_by_name: return "a mapping from pools to memory in MiB, or ranges";
    case Takes::speeds_by_name: return "a mapping from names of your choice to speeds in m/s";
    case Takes::values_by_name: return "a mapping from facts to values";
    case Takes::texts_by_name: return "a mapping from names of findings to reasons";
    case Takes::by_device: return "a mapping from devices";
    case Takes::parcels: return "a list of {name: [levels]}";
    case Takes::step_list: return "a list of steps";
    case Takes::steps_by_name: return "a mapping from names of your choice to lists of steps";
    case Takes::route_steps: return "a list of route steps";
    case Takes::points_by_name:
        return "a mapping from names of your choice to points [x, y, z] in m, or mappings";
    case Takes::paths: return "a list of lists of two or more waypoints, or of mappings";
    case Takes::time_or_object: return "a time in s, or a mapping";
    case Takes::level_or_position: return "a level, or {position: number}";
    case Takes::word_or_names: return "one of a few words, or names defined elsewhere";
    }
    return {};
}

namespace keys {

namespace {

constexpr bool required = true;
constexpr bool optional = false;
constexpr bool beside = true;

constexpr std::array<std::string_view, 4> fires_words{"on-enter", "on-exit", "while-inside",
                                                      "when-true"};
constexpr std::array<std::string_view, 3> lifetime_words{"level", "session", "saved"};
constexpr std::array<std::string_view, 2> order_words{"load-first", "free-first"};
constexpr std::array<std::string_view, 3> priority_words{"now", "soon", "later"};
constexpr std::array<std::string_view, 2> who_words{"all", "firer"};
constexpr std::array<std::string_view, 3> axis_words{"x", "y", "z"};
constexpr std::array<std::string_view, 1> players_words{"players"};
constexpr std::array<std::string_view, 1> all_words{"all"};
constexpr std::array<std::string_view, 1> checkpoint_words{"checkpoint"};
constexpr std::array<std::string_view, 1> session_words{"session"};

constexpr Key allow_key{"allow",
                        Takes::texts_by_name,
                        optional,
                        "nothing",
                        "Findings about this that are silenced, each with its reason.",
                        "{trigger-too-late: the stair is short on purpose}"};

constexpr std::array device_memory_keys{
    Key{"total", Takes::memory, required, "", "Memory the game may use on this device.", "1400"},
    Key{"base", Takes::memory, optional, "0", "In use before anything loads.", "300"},
    Key{"pools", Takes::memory_by_name, optional, "no pool has a budget of its own",
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
constexpr std::array download_keys{
    Key{"rate", Takes::data_rate, required, "", "How fast parcels arrive while the game is played.",
        "6"},
};
constexpr std::array spread_keys{
    Key{"read", Takes::share, optional, "0", "Coefficient of variation of the read rate.", "0.15"},
    Key{"latency", Takes::share, optional, "0", "Of the latency.", "0.5"},
    Key{"unpack", Takes::share, optional, "0", "Of the unpack rate.", "0.1"},
    Key{"speed", Takes::share, optional, "0", "Of the players' speed.", "0.1"},
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
    Key{"download", Takes::object, optional, "nothing is downloaded while it is played",
        "Delivery of parcels.", "{rate: 6}", &download},
    Key{"spread", Takes::object, optional, "nothing varies", "How much its figures vary.",
        "{read: 0.15, latency: 0.5}", &spread},
    allow_key,
};

constexpr Key memory_key{"memory",
                         Takes::ranges_by_name,
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
                     Takes::by_device,
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
    allow_key,
};

constexpr std::array box_keys{
    Key{"min", Takes::point, required, "", "Lowest corner.", "[44, 0, 10]"},
    Key{"max", Takes::point, required, "", "Highest corner.", "[48, 4, 30]"},
    Key{"turn", Takes::number, optional, "0",
        "Degrees about its own vertical, counter-clockwise seen from above.", "30"},
};
constexpr std::array sphere_keys{
    Key{"at", Takes::point, required, "", "Its centre.", "[10, 0, 10]"},
    Key{"radius", Takes::distance, required, "", "Its radius.", "5"},
};
constexpr std::array beyond_keys{
    Key{"axis", Takes::word, required, "", "The coordinate that counts.", "x", nullptr, axis_words},
    Key{"over", Takes::distance, optional, "", "Inside is where it is at least this; or `under`.",
        "900"},
    Key{"under", Takes::distance, optional, "", "Inside is where it is at most this; or `over`.",
        "-20"},
};
constexpr std::array near_keys{
    Key{"load", Takes::distance, required, "",
        "Asked for and shown within this distance of its area.", "80"},
    Key{"unload", Takes::distance, required, "",
        "Unloaded when every player is further; at least `load`.", "110"},
};
constexpr std::array level_keys{
    Key{"title", Takes::text, optional, "its name", "What people call it.", "The Post Hall"},
    Key{"owner", Takes::text, optional, "nobody", "Whose it is; findings are grouped by it.",
        "interiors"},
    Key{"world", Takes::name, optional, "main; a sublevel's is its parent's",
        "The coordinate space it is in: a name of your choice.", "below"},
    memory_key,
    packed_key,
    objects_key,
    on_key,
    Key{"kits", Takes::name_list, optional, "none", "Kits it needs while loaded.",
        "[brass-fittings]"},
    Key{"provides", Takes::word_list, optional, "nothing",
        "What rules count, such as light, floor, camera.", "[light, floor]"},
    Key{"persist", Takes::flag, optional, "false", "switch and keep-only never unload it.", "true"},
    Key{"with-parent", Takes::flag, optional, "false",
        "Of a sublevel: loads, shows and unloads with its parent.", "true"},
    Key{"area", Takes::objects, optional, "nowhere", "Where a player is in it.",
        "[{min: [0, 0, 0], max: [60, 12, 40]}]", &box},
    Key{"seen-from", Takes::objects, optional, "nowhere", "Where a player could see it.",
        "[{min: [60, 0, 10], max: [75, 8, 30]}]", &box},
    Key{"near", Takes::object, optional, "never", "Streams by distance.", "{load: 80, unload: 110}",
        &near},
    Key{"entries", Takes::names_by_name, optional, "none",
        "Ways in: a name of your choice to a waypoint.", "{front-door: hall-door}"},
    Key{"arrive", Takes::step_list, optional, "nothing", "Steps when it becomes shown.",
        "[{set: {hud: true}}]"},
    Key{"leave", Takes::step_list, optional, "nothing",
        "Steps when it stops being shown; they can't wait.", "[{set: {hud: false}}]"},
    Key{"sublevels", Takes::named_or_nothing, optional, "none", "Levels that belong to this one.",
        "{sorting-room: {with-parent: true}}", &level},
    allow_key,
};

constexpr std::array waypoint_keys{
    Key{"at", Takes::point, required, "", "Where it is.", "[3, 0, 2]"},
    Key{"world", Takes::name, optional, "main", "The coordinate space it is in.", "below"},
    allow_key,
};
constexpr std::array path_keys{
    Key{"from", Takes::name, required, "", "Waypoint at its start.", "hall-centre"},
    Key{"to", Takes::name, required, "", "Waypoint at its end.", "quay"},
    Key{"via", Takes::point_list, optional, "straight", "Corners between the two.",
        "[[58, 0, 22]]"},
    Key{"gate", Takes::name, optional, "none", "The gate that holds players at its start.",
        "quay-door"},
    Key{"one-way", Takes::flag, optional, "false", "Only from `from` to `to`.", "true"},
    Key{"speed", Takes::speed, optional, "as fast as the player", "Caps the player's speed.", "2"},
    allow_key,
};
constexpr std::array gate_keys{
    Key{"needs", Takes::name_list, required, "", "Levels that must be shown before it opens.",
        "[quay]"},
    allow_key,
};
constexpr std::array trigger_keys{
    Key{"in", Takes::name, optional, "none: always live",
        "The level it belongs to; live only while that is shown.", "post-hall"},
    Key{"box", Takes::object, optional, "", "Its shape; or sphere, or beyond.",
        "{min: [44, 0, 10], max: [48, 4, 30]}", &box},
    Key{"sphere", Takes::object, optional, "", "Its shape; or box, or beyond.",
        "{at: [10, 0, 10], radius: 5}", &sphere},
    Key{"beyond", Takes::object, optional, "", "Its shape: all on one side; or box, or sphere.",
        "{axis: x, over: 900}", &beyond},
    Key{"fires", Takes::word, optional, "on-enter; without a shape when-true", "When it fires.",
        "while-inside", nullptr, fires_words},
    Key{"for", Takes::word_list, optional, "every player",
        "Only for players with one of these tags.", "[carrier]"},
    Key{"when", Takes::condition, optional, "always", "Only while this holds.",
        "has_pass and speed >= 2"},
    Key{"once", Takes::flag, optional, "false", "Never again in the session.", "true"},
    Key{"rearm", Takes::time, optional, "0", "Not again within that time of its last firing.",
        "1 s"},
    Key{"steps", Takes::step_list, required, "", "What happens.", "[{load: [quay]}]"},
    allow_key,
};
constexpr std::array item_keys{
    Key{"when", Takes::condition, optional, "always", "Can be pressed only while this holds.",
        "saved_round > 0"},
    Key{"stays", Takes::flag, optional, "false", "Pressing it does not close the menu.", "true"},
    Key{"steps", Takes::step_list, required, "", "What happens when it is pressed.",
        "[{switch: {to: post-hall}}]"},
    allow_key,
};
constexpr std::array after_keys{
    Key{"delay", Takes::time, required, "", "So long after the menu opened.", "20 s"},
    Key{"steps", Takes::step_list, required, "", "What happens then; the menu closes first.",
        "[{switch: {to: attract}}]"},
};
constexpr std::array menu_keys{
    Key{"in", Takes::name, optional, "none: only an open step opens it",
        "The level it belongs to; it opens when that is shown.", "title"},
    Key{"items", Takes::named, required, "", "What can be pressed.", "{begin: {steps: []}}", &item},
    Key{"after", Takes::object, optional, "nothing", "What happens when nobody presses.",
        "{delay: 20 s, steps: []}", &after},
    Key{"pauses", Takes::flag, optional, "false", "Stops movement while it is open.", "true"},
    allow_key,
};
constexpr std::array veil_keys{
    Key{"min", Takes::time, optional, "0", "Stays up at least so long.", "1 s"},
    Key{"memory", Takes::memory_by_name, optional, "0", "Memory while it is up, by pool.",
        "{texture: 24}"},
    allow_key,
};
constexpr std::array fact_keys{
    Key{"initial", Takes::value, required, "",
        "Its value at first: true or false, a whole number, or a word.", "0"},
    Key{"range", Takes::range, optional, "unbounded", "Of a number: least and most.", "[0, 5]"},
    Key{"values", Takes::value_list, optional, "the initial one", "Of a word: all it can be.",
        "[none, one, both]"},
    Key{"lifetime", Takes::word, optional, "session", "How long it is remembered.", "saved",
        nullptr, lifetime_words},
    Key{"of", Takes::name, optional, "reset by a switch only",
        "Of lifetime level: the level with which it is reset.", "post-hall"},
    allow_key,
};
constexpr std::array player_keys{
    Key{"tags", Takes::word_list, optional, "none", "What triggers' `for` names.", "[carrier]"},
    Key{"speeds", Takes::speeds_by_name, optional, "none: it can't move",
        "The first is used where a route names none.", "{walk: 1.8, run: 4.5}"},
    Key{"count", Takes::count, optional, "1", "How many of them there can be, up to 64.", "2"},
    Key{"memory", Takes::memory_by_name, optional, "0", "Memory of one such player, by pool.",
        "{texture: 20}"},
    allow_key,
};
constexpr std::array rule_keys{
    Key{"exactly", Takes::count, optional, "", "So many levels shown provide `of`.", "1"},
    Key{"at-least", Takes::count, optional, "", "So many or more.", "1"},
    Key{"at-most", Takes::count, optional, "", "So many or fewer.", "1"},
    Key{"of", Takes::text, optional, "", "What is counted, as levels provide it.", "camera"},
    Key{"never-together", Takes::name_list, optional, "",
        "Levels of which two are never loaded at once.", "[glacier, harbour]"},
    Key{"never", Takes::condition, optional, "", "What must never hold.", "hud and veiled"},
    Key{"when", Takes::condition, optional, "always", "The rule counts only while this holds.",
        "not menu_only"},
    allow_key,
};
constexpr std::array edition_keys{
    Key{"levels", Takes::name_list, required, "",
        "The levels that ship, in order; sublevels ship with their parent.", "[title, post-hall]"},
    Key{"parcels", Takes::parcels, optional, "delivered whole",
        "Groups delivered one after another.", "[{core: [title]}, {coast: [quay]}]"},
    allow_key,
};
constexpr std::array limits_keys{
    Key{"headroom", Takes::share, optional, "no limit", "Share of the budget that must stay free.",
        "5%"},
    Key{"gap", Takes::time, optional, "no limit", "Longest a gap may last.", "0 s"},
    Key{"stall", Takes::time, optional, "no limit", "Longest a stall may last.", "2 s"},
    Key{"hitch", Takes::time, optional, "no limit", "Longest a hitch may be.", "50 ms"},
    Key{"slack", Takes::time, optional, "no limit", "Least slack of a load.", "0.5 s"},
    Key{"walk", Takes::time, optional, "1 h", "A walk that takes longer is stuck.", "30 min"},
};
constexpr std::array start_keys{
    Key{"level", Takes::name, optional, "the edition's first", "The level to start in.", "title"},
    Key{"at", Takes::name, optional, "the level's first entry, else nowhere",
        "An entry of that level.", "front-door"},
    Key{"waypoint", Takes::name, optional, "as `at` says", "A waypoint to stand at instead.",
        "hall-centre"},
};
constexpr std::array route_player_keys{
    Key{"as", Takes::name, optional, "the first kind of player", "The kind of player.", "carrier"},
    Key{"steps", Takes::route_steps, required, "", "What it does.", "[{go: quay, speed: run}]"},
};
constexpr std::array route_keys{
    Key{"edition", Takes::name, optional, "the first", "The edition being played.", "demo"},
    Key{"start", Takes::object, optional, "the edition's first level", "Where it begins.",
        "{level: title}", &start},
    Key{"as", Takes::name, optional, "the first kind of player",
        "The kind of player that walks it.", "carrier"},
    Key{"steps", Takes::route_steps, optional, "", "What the player does; or `players`.",
        "[{go: quay, speed: run}]"},
    Key{"players", Takes::named, optional, "", "Several players, each with its steps.",
        "{ada: {as: carrier, steps: []}}", &route_player},
    Key{"unhurried", Takes::flag, optional, "false",
        "Everyone stands still from a firing until all has settled, as explore takes it.", "true"},
    allow_key,
};
constexpr std::array plan_keys{
    Key{"hestrel", Takes::count, optional, "1 in included files",
        "Version of the plan language: 1. The main file needs it.", "1"},
    Key{"name", Takes::text, optional, "the file's name", "What the plan is called.",
        "Glasswater Post"},
    Key{"include", Takes::text_list, optional, "none",
        "More files of this plan, relative to this one; * and ? match.", "[levels/*.yaml]"},
    Key{"sizes", Takes::text_list, optional, "none",
        "Tables of measured sizes (CSV), which win over the plan's own.", "[measured.csv]"},
    Key{"devices", Takes::named, optional, "none", "Machines the game must run on.",
        "{handheld: {memory: {total: 1400}, read: {rate: 90}, frame: {fps: 30}}}", &device},
    Key{"kits", Takes::named_or_nothing, optional, "none", "Assets that levels share.",
        "{brass-fittings: {memory: {texture: 60}}}", &kit},
    Key{"levels", Takes::named_or_nothing, optional, "none", "Levels and their sublevels.",
        "{post-hall: {memory: {texture: 180}}}", &level},
    Key{"waypoints", Takes::points_by_name, optional, "none",
        "Points where players can stand: [x, y, z], or a mapping.", "{hall-door: [3, 0, 2]}",
        &waypoint},
    Key{"gates", Takes::named, optional, "none", "Doors on paths.", "{quay-door: {needs: [quay]}}",
        &gate},
    Key{"paths", Takes::paths, optional, "none",
        "Straight ways between waypoints: lists of waypoints, or mappings.",
        "[[hall-door, hall-centre]]", &path},
    Key{"triggers", Takes::named, optional, "none", "Trigger volumes.",
        "{quay-approach: {box: {min: [44, 0, 10], max: [48, 4, 30]}, steps: []}}", &trigger},
    Key{"menus", Takes::named, optional, "none", "Screens with items to press.",
        "{front-desk: {in: title, items: {}}}", &menu},
    Key{"veils", Takes::named_or_nothing, optional, "none", "What hides loading from the player.",
        "{dawn: {min: 1 s}}", &veil},
    Key{"facts", Takes::named, optional, "none", "Values the game remembers.",
        "{has_pass: {initial: false}}", &fact},
    Key{"players", Takes::named, optional, "none", "Kinds of player.",
        "{carrier: {speeds: {walk: 1.8}}}", &player},
    Key{"rules", Takes::objects, optional, "none", "What must hold whatever players do.",
        "[{exactly: 1, of: camera}]", &rule},
    Key{"limits", Takes::object, optional, "none", "Bounds the plan sets itself.", "{walk: 30 min}",
        &limits},
    Key{"editions", Takes::named, optional, "none", "Ordered lists of levels that ship.",
        "{full: {levels: [title]}}", &edition},
    Key{"routes", Takes::named, optional, "none", "Scripted ways through the game.",
        "{first-round: {start: {level: title}, steps: []}}", &route},
    allow_key,
};

constexpr std::array wait_keys{
    Key{"shown", Takes::name_list, optional, "", "Until these are shown.", "[quay]"},
    Key{"ready", Takes::name_list, optional, "", "Until these are ready (loaded).", "[quay]"},
    Key{"until", Takes::condition, optional, "", "Until this holds.", "bells == both"},
};
constexpr Key at_key{
    "at",        Takes::name, optional, "its first entry, else nowhere", "An entry of that level.",
    "front-door"};
constexpr Key with_key{"with", Takes::name_list,         optional,
                       "none", "Levels to bring along.", "[quay]"};
constexpr Key order_key{"order",
                        Takes::word,
                        optional,
                        "load-first",
                        "Whether the new is loaded or the old is freed first.",
                        "free-first",
                        nullptr,
                        order_words};
constexpr Key veil_key{"veil", Takes::name, optional, "none", "The veil that hides it.", "dawn"};
constexpr Key blocking_key{
    "blocking", Takes::flag, optional, "false", "The main thread stands still meanwhile.", "true"};
constexpr Key reuse_key{"reuse",
                        Takes::flag,
                        optional,
                        "false",
                        "A target that is loaded already does not leave and come back.",
                        "true"};
constexpr std::array switch_keys{
    Key{"to", Takes::level_or_position, required, "",
        "The level to go to, or its position in the edition from 0.", "post-hall"},
    at_key,
    with_key,
    order_key,
    veil_key,
    blocking_key,
    reuse_key,
};
constexpr std::array relative_switch_keys{at_key,   with_key,     order_key,
                                          veil_key, blocking_key, reuse_key};
constexpr std::array place_keys{
    Key{"at", Takes::dotted_name, required, "", "level.entry.", "post-hall.front-door"},
};
constexpr std::array position_keys{
    Key{"position", Takes::count, required, "",
        "A place in the edition being played, counted from 0.", "4"},
};
constexpr std::array assignment_keys{
    Key{"to", Takes::value, required, "", "The value; the only way to set a number below 0.", "-1"},
};
constexpr std::array step_keys{
    Key{"load", Takes::name_list, optional, "", "Asks for levels; never shows them.", "[quay]"},
    Key{"show", Takes::name_list, optional, "",
        "Wants levels shown, asking for them where nobody has.", "[quay]"},
    Key{"hide", Takes::name_list, optional, "", "Hides levels at once.", "[quay]"},
    Key{"unload", Takes::name_list, optional, "", "Unloads levels and their sublevels.", "[quay]"},
    Key{"keep-only", Takes::name_list, optional, "", "Unloads every other level.", "[quay]"},
    Key{"wait", Takes::time_or_object, optional, "", "Waits so long, or until something holds.",
        "{shown: [quay]}", &wait},
    Key{"veil", Takes::name, optional, "", "Raises a veil.", "dawn"},
    Key{"unveil", Takes::name, optional, "", "Takes a veil down.", "dawn"},
    Key{"freeze", Takes::word, optional, "", "Players do not move.", "players", nullptr,
        players_words},
    Key{"thaw", Takes::word, optional, "", "Players move again.", "players", nullptr,
        players_words},
    Key{"place", Takes::object, optional, "", "Puts the player who fired at an entry.",
        "{at: post-hall.front-door}", &place},
    Key{"switch", Takes::object, optional, "", "Leaves every other level and goes to one.",
        "{to: post-hall}", &switch_step},
    Key{"set", Takes::values_by_name, optional, "",
        "Sets facts; a number written with a sign is added.", "{delivered: +1, bells: both}"},
    Key{"reset", Takes::word_or_names, optional, "",
        "Facts back to their initial values; session: all but the saved, and every once.",
        "[delivered]", nullptr, session_words},
    Key{"save", Takes::word, optional, "",
        "Copies saved facts and the checkpoint to the saved store.", "all", nullptr, all_words},
    Key{"restore", Takes::word, optional, "", "Copies them back.", "all", nullptr, all_words},
    Key{"mark", Takes::dotted_name, optional, "", "Records a checkpoint: level.entry.",
        "glacier.platform"},
    Key{"return", Takes::word, optional, "", "Goes back to the checkpoint.", "checkpoint", nullptr,
        checkpoint_words},
    Key{"open", Takes::name, optional, "", "Opens a menu.", "satchel"},
    Key{"close", Takes::name, optional, "", "Closes a menu.", "satchel"},
    Key{"choose", Takes::steps_by_name, optional, "",
        "The player who fired picks one of these lists.",
        "{north: [{load: [north-village]}], south: []}"},
    Key{"next", Takes::object, optional, "", "Switches to the level after this one in the edition.",
        "{}", &relative_switch},
    Key{"back", Takes::object, optional, "", "Switches to the level before this one.", "{}",
        &relative_switch},
    Key{"end", Takes::word, optional, "", "The game is over.", "session", nullptr, session_words},
    Key{"priority", Takes::word, optional, "soon", "Beside load or show.", "now", nullptr,
        priority_words, beside},
    Key{"at-most",
        Takes::time,
        optional,
        "for ever",
        "Beside wait: gives up after that and goes on.",
        "5 s",
        nullptr,
        {},
        beside},
    Key{"who", Takes::word, optional, "all; of place: firer",
        "Beside veil, unveil or place: for whom.", "firer", nullptr, who_words, beside},
};
constexpr std::array route_step_keys{
    Key{"go", Takes::name, optional, "", "Goes to a waypoint, the shortest way.", "quay"},
    Key{"press", Takes::dotted_name, optional, "", "Presses menu.item, once the menu is open.",
        "front-desk.begin"},
    Key{"pause", Takes::time, optional, "", "Does nothing for so long.", "2 s"},
    Key{"pick", Takes::text, optional, "", "What it picks at its next choose.", "north"},
    Key{"until", Takes::condition, optional, "", "Waits until this holds.", "shown(quay)"},
    Key{"set", Takes::values_by_name, optional, "", "Sets facts, as if the game had.",
        "{has_pass: true}"},
    Key{"after", Takes::name, optional, "", "On an unhurried route: this menu's after comes.",
        "front-desk"},
    Key{"along",
        Takes::count,
        optional,
        "the shortest way",
        "Beside go: along this path, counted from 0 in plan order.",
        "3",
        nullptr,
        {},
        beside},
    Key{"turn",
        Takes::count,
        optional,
        "0",
        "Beside any: begins once all players' steps of smaller turns are over.",
        "2",
        nullptr,
        {},
        beside},
    Key{"speed",
        Takes::name,
        optional,
        "the first one listed",
        "Beside go: a speed of the player.",
        "run",
        nullptr,
        {},
        beside},
};

} // namespace

const ObjectKeys plan{"plan", "a plan", plan_keys};
const ObjectKeys device{"device", "a device", device_keys};
const ObjectKeys device_memory{"device-memory", "a device's memory", device_memory_keys};
const ObjectKeys read{"read", "read", read_keys};
const ObjectKeys unpack{"unpack", "unpack", unpack_keys};
const ObjectKeys frame{"frame", "frame", frame_keys};
const ObjectKeys attach{"attach", "attach", attach_keys};
const ObjectKeys release{"release", "release", release_keys};
const ObjectKeys download{"download", "download", download_keys};
const ObjectKeys spread{"spread", "spread", spread_keys};
const ObjectKeys kit{"kit", "a kit", kit_keys};
const ObjectKeys level{"level", "a level", level_keys};
const ObjectKeys figures{"figures", "a device's figures", figures_keys};
const ObjectKeys box{"box", "a box", box_keys};
const ObjectKeys sphere{"sphere", "a sphere", sphere_keys};
const ObjectKeys beyond{"beyond", "beyond", beyond_keys};
const ObjectKeys near{"near", "near", near_keys};
const ObjectKeys waypoint{"waypoint", "a waypoint", waypoint_keys};
const ObjectKeys path{"path", "a path", path_keys};
const ObjectKeys gate{"gate", "a gate", gate_keys};
const ObjectKeys trigger{"trigger", "a trigger", trigger_keys};
const ObjectKeys menu{"menu", "a menu", menu_keys};
const ObjectKeys item{"item", "an item", item_keys};
const ObjectKeys after{"after", "after", after_keys};
const ObjectKeys veil{"veil", "a veil", veil_keys};
const ObjectKeys fact{"fact", "a fact", fact_keys};
const ObjectKeys player{"player", "a player", player_keys};
const ObjectKeys rule{"rule", "a rule", rule_keys};
const ObjectKeys limits{"limits", "limits", limits_keys};
const ObjectKeys edition{"edition", "an edition", edition_keys};
const ObjectKeys route{"route", "a route", route_keys};
const ObjectKeys route_player{"route-player", "a route's player", route_player_keys};
const ObjectKeys start{"start", "a start", start_keys};
const ObjectKeys wait{"wait", "a wait", wait_keys};
const ObjectKeys switch_step{"switch", "a switch", switch_keys};
const ObjectKeys relative_switch{"relative-switch", "next or back", relative_switch_keys};
const ObjectKeys place{"place", "place", place_keys};
const ObjectKeys position{"position", "a position", position_keys};
const ObjectKeys assignment{"assignment", "a value to set", assignment_keys};
const ObjectKeys step{"step", "a step", step_keys};
const ObjectKeys route_step{"route-step", "a route step", route_step_keys};

std::span<const ObjectKeys* const> all() {
    static const std::array<const ObjectKeys*, 41> list{&plan,
                                                        &device,
                                                        &device_memory,
                                                        &read,
                                                        &unpack,
                                                        &frame,
                                                        &attach,
                                                        &release,
                                                        &download,
                                                        &spread,
                                                        &kit,
                                                        &level,
                                                        &figures,
                                                        &box,
                                                        &sphere,
                                                        &beyond,
                                                        &near,
                                                        &waypoint,
                                                        &path,
                                                        &gate,
                                                        &trigger,
                                                        &menu,
                                                        &item,
                                                        &after,
                                                        &veil,
                                                        &fact,
                                                        &player,
                                                        &rule,
                                                        &limits,
                                                        &edition,
                                                        &route,
                                                        &route_player,
                                                        &start,
                                                        &step,
                                                        &wait,
                                                        &switch_step,
                                                        &relative_switch,
                                                        &place,
                                                        &position,
                                                        &assignment,
                                                        &route_step};
    return list;
}

} // namespace keys

} // namespace hestrel::source
