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
    time_range,   ///< s, or low..high
    data_rate,    ///< MiB/s
    speed,        ///< m/s
    distance,     ///< m
    point,        ///< [x, y, z] in m
    point_list,
    flat_point,     ///< [x, z] in m
    length_or_flat, ///< a length in m, or [x, z]
    heights,        ///< [lowest, highest] in m
    cell_list,      ///< a list of [column, row]
    name,           ///< the name of something defined elsewhere
    name_list,      ///< several, or one
    dotted_name,    ///< two names with a dot between them
    word,           ///< one of `words`
    word_list,      ///< words of your own choice, or one
    condition,      ///< see docs/model.md section 6
    value,          ///< a fact's value: true or false, a whole number, a word
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
    points_by_name,      ///< a mapping from names of your choice to points, or `inner`
    paths,               ///< a list of lists of two or more waypoints, or of `inner`
    time_or_object,      ///< a time, or `inner`
    level_or_position,   ///< a level's name, or {position: 4}
    condition_or_object, ///< a condition, or `inner`
    word_or_names,       ///< one of `words`, or names of facts
    levels,              ///< levels by name or by a fact: a list, or one
    list_use,            ///< a named list, or {list: {what it takes: value}}
    kinds_by_name,       ///< a mapping from names of your choice to one of `words`
    word_or_object,      ///< one of `words`, or `inner`
    groups,              ///< a mapping from names of your choice to lists of levels, or `inner`
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
    /// Kinds of things that a name in its value can mean (those of `NameUse::kind`), or that the
    /// keys of its value do: `device` of `on`.
    std::span<const std::string_view> names = {};
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

/// One kind by its name; the table is read when one is first looked up.
struct Named {
    std::string_view id;
    operator const ObjectKeys&() const { return object(id); }
};

inline constexpr Named plan{"plan"};
inline constexpr Named device{"device"};
inline constexpr Named device_memory{"device-memory"};
inline constexpr Named read{"read"};
inline constexpr Named unpack{"unpack"};
inline constexpr Named makers{"makers"};
inline constexpr Named frame{"frame"};
inline constexpr Named attach{"attach"};
inline constexpr Named release{"release"};
inline constexpr Named download{"download"};
inline constexpr Named spread{"spread"};
inline constexpr Named kit{"kit"};
inline constexpr Named level{"level"};
inline constexpr Named cells{"cells"};
inline constexpr Named cell{"cell"};
inline constexpr Named group{"group"};
inline constexpr Named level_figures{"level-figures"};
inline constexpr Named purpose{"purpose"};
inline constexpr Named figures{"figures"};
inline constexpr Named box{"box"};
inline constexpr Named sphere{"sphere"};
inline constexpr Named beyond{"beyond"};
inline constexpr Named near{"near"};
inline constexpr Named waypoint{"waypoint"};
inline constexpr Named path{"path"};
inline constexpr Named gate{"gate"};
inline constexpr Named trigger{"trigger"};
inline constexpr Named menu{"menu"};
inline constexpr Named item{"item"};
inline constexpr Named after{"after"};
inline constexpr Named veil{"veil"};
inline constexpr Named fact{"fact"};
inline constexpr Named player{"player"};
inline constexpr Named list{"list"};
inline constexpr Named rule{"rule"};
inline constexpr Named limits{"limits"};
inline constexpr Named edition{"edition"};
inline constexpr Named route{"route"};
inline constexpr Named route_player{"route-player"};
inline constexpr Named machine{"machine"};
inline constexpr Named network{"network"};
inline constexpr Named start{"start"};
inline constexpr Named wait{"wait"};
inline constexpr Named switch_step{"switch"};
inline constexpr Named relative_switch{"relative-switch"};
inline constexpr Named place{"place"};
inline constexpr Named return_step{"return"};
inline constexpr Named position{"position"};
inline constexpr Named expect{"expect"};
inline constexpr Named assignment{"assignment"};
inline constexpr Named step{"step"};
inline constexpr Named route_step{"route-step"};

/// All of the above, in the order in which docs/plan-format.md has them.
std::span<const ObjectKeys* const> all();

} // namespace keys

} // namespace hestrel::source
