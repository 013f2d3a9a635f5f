#pragma once
// Every key of a plan, in one table: the reader refuses what is not in it.

#include <cstdint>
#include <span>
#include <string_view>

namespace hestrel::format {

/// What a key's value is.
enum class Takes : std::uint8_t {
    text,
    flag,         ///< true or false
    count,        ///< a whole number
    number,       ///< a plain number
    memory,       ///< MiB
    memory_range, ///< MiB, or low..high
    time,         ///< s
    data_rate,    ///< MiB/s
    speed,        ///< m/s
    point,        ///< [x, y, z] in m
    point_list,
    name, ///< the name of something defined elsewhere
    name_list,
    word,        ///< one of a few words
    object,      ///< a mapping with the keys of `inner`
    named,       ///< a mapping from names of your choice to `inner`
    by_name,     ///< a mapping from names defined elsewhere to values
    object_list, ///< a list of `inner`
    step_list,
    other, ///< described in `sentence`
};

struct ObjectKeys;

/// One key: what it takes, what it means, what holds without it.
struct Key {
    std::string_view name;
    Takes takes;
    bool required;
    std::string_view fallback; ///< what holds where the key is absent; empty where it is required
    std::string_view sentence;
    std::string_view example; ///< a value, as written in YAML
    const ObjectKeys* inner = nullptr;
};

/// The keys of one kind of mapping.
struct ObjectKeys {
    std::string_view name; ///< "a device", for messages
    std::span<const Key> keys;
};

namespace keys {

extern const ObjectKeys plan, device, device_memory, read, unpack, frame, attach, release, kit,
    level, figures, waypoint, path, trigger, box, menu, item, veil, player, edition, limits, route,
    start, wait, switch_step;

/// The steps a list may hold, each by the key that names it.
extern const ObjectKeys step;
/// The steps a route may hold.
extern const ObjectKeys route_step;

} // namespace keys

} // namespace hestrel::format
