#pragma once
// Every key of a plan, in one table: the reader refuses what is not in it, the JSON Schema and
// docs/plan-format.md are made from it.

#include <cstdint>
#include <span>
#include <string_view>

namespace hestrel::source {

/// What a key's value is.
enum class Takes : std::uint8_t {
    text,
    text_list,
    flag,         ///< true or false
    count,        ///< a whole number
    number,       ///< a plain number
    share,        ///< 0 to 1, or 5%
    memory,       ///< MiB
    memory_range, ///< MiB, or low..high
    time,         ///< s
    data_rate,    ///< MiB/s
    speed,        ///< m/s
    distance,     ///< m
    point,        ///< [x, y, z] in m
    point_list,
    name,        ///< the name of something defined elsewhere
    name_list,   ///< several, or one
    dotted_name, ///< two names with a dot between them
    word,        ///< one of `words`
    word_list,   ///< words of your own choice, or one
    condition,   ///< see docs/model.md section 6
    value,       ///< a fact's value: true or false, a whole number, a word
    value_list,
    range,            ///< [least, most]
    object,           ///< a mapping with the keys of `inner`
    objects,          ///< one such mapping, or a list of them
    named,            ///< a mapping from names of your choice to `inner`
    named_or_nothing, ///< the same; a name may stand without a body
    names_by_name,    ///< a mapping from names of your choice to names defined elsewhere
    memory_by_name,   ///< a mapping from pools to memory
    ranges_by_name,   ///< a mapping from pools to memory or ranges
    speeds_by_name,   ///< a mapping from names of your choice to speeds
    values_by_name,   ///< a mapping from facts to values, signed numbers to add, or {to: value}
    texts_by_name,    ///< a mapping from names of findings to reasons
    by_device,        ///< a mapping from devices to `inner`
    parcels,          ///< a list of mappings from one name to a list of levels
    step_list,
    steps_by_name, ///< a mapping from names of your choice to lists of steps
    route_steps,
    points_by_name,    ///< a mapping from names of your choice to points, or `inner`
    paths,             ///< a list of lists of two or more waypoints, or of `inner`
    time_or_object,    ///< a time, or `inner`
    level_or_position, ///< a level's name, or {position: 4}
    word_or_names,     ///< one of `words`, or names of facts
};

struct ObjectKeys;

/// One key: what it takes, what it means, what holds without it.
struct Key {
    std::string_view name;
    Takes takes = Takes::text;
    bool required = false;
    std::string_view fallback; ///< what holds where the key is absent; empty where it is required
    std::string_view sentence;
    std::string_view example; ///< a value, as written in YAML
    const ObjectKeys* inner = nullptr;
    std::span<const std::string_view> words = {};
    bool beside = false; ///< of a step: stands beside the key that names it
};

/// The keys of one kind of mapping.
struct ObjectKeys {
    std::string_view id;   ///< a name for the schema: "device"
    std::string_view name; ///< with its article, for messages: "a device"
    std::span<const Key> keys;
};

/// What a value of that kind is, for people: "memory in MiB".
std::string_view kind_text(Takes takes);

namespace keys {

/// The keys of one kind of mapping, by its name in the table. Throws std::logic_error for none.
const ObjectKeys& object(std::string_view id);

inline const ObjectKeys& plan = object("plan");
inline const ObjectKeys& device = object("device");
inline const ObjectKeys& device_memory = object("device-memory");
inline const ObjectKeys& read = object("read");
inline const ObjectKeys& unpack = object("unpack");
inline const ObjectKeys& frame = object("frame");
inline const ObjectKeys& attach = object("attach");
inline const ObjectKeys& release = object("release");
inline const ObjectKeys& download = object("download");
inline const ObjectKeys& spread = object("spread");
inline const ObjectKeys& kit = object("kit");
inline const ObjectKeys& level = object("level");
inline const ObjectKeys& figures = object("figures");
inline const ObjectKeys& box = object("box");
inline const ObjectKeys& sphere = object("sphere");
inline const ObjectKeys& beyond = object("beyond");
inline const ObjectKeys& near = object("near");
inline const ObjectKeys& waypoint = object("waypoint");
inline const ObjectKeys& path = object("path");
inline const ObjectKeys& gate = object("gate");
inline const ObjectKeys& trigger = object("trigger");
inline const ObjectKeys& menu = object("menu");
inline const ObjectKeys& item = object("item");
inline const ObjectKeys& after = object("after");
inline const ObjectKeys& veil = object("veil");
inline const ObjectKeys& fact = object("fact");
inline const ObjectKeys& player = object("player");
inline const ObjectKeys& rule = object("rule");
inline const ObjectKeys& limits = object("limits");
inline const ObjectKeys& edition = object("edition");
inline const ObjectKeys& route = object("route");
inline const ObjectKeys& route_player = object("route-player");
inline const ObjectKeys& start = object("start");
inline const ObjectKeys& wait = object("wait");
inline const ObjectKeys& switch_step = object("switch");
inline const ObjectKeys& relative_switch = object("relative-switch");
inline const ObjectKeys& place = object("place");
inline const ObjectKeys& position = object("position");
inline const ObjectKeys& assignment = object("assignment");
inline const ObjectKeys& step = object("step");
inline const ObjectKeys& route_step = object("route-step");

/// All of the above, in the order in which docs/plan-format.md has them.
std::span<const ObjectKeys* const> all();

} // namespace keys

} // namespace hestrel::source
