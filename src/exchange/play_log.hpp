#pragma once
// Logs of plays of a built game, for `verify`: CSV with the names of events.csv, or Trace Event
// JSON, as traces of our own are. Both are read from front to end.

#include "verify/log.hpp"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::exchange {

/// What things of the game are called in the plan.
using NameMap = std::map<std::string, std::string, std::less<>>;

struct ReadLog {
    verify::Log log;
    std::vector<std::string> errors; ///< each a line as a compiler's, in the order of the file
};

/// CSV: columns `time_s` and `event`, and where they are there `subject`, `detail` and `player`, in
/// any order; other columns are left out. JSON, which begins with { or [: events with `name`, `ts`
/// (µs) and `args` of the same names, in any order. Events of other names are counted. `path` is
/// for messages.
ReadLog read_play_log(std::string_view text, const std::string& path, const NameMap& names);

struct ReadNames {
    NameMap names;
    std::vector<std::string> errors;
};

/// CSV with the columns `game` and `plan`.
ReadNames read_name_map(std::string_view csv, const std::string& path);

} // namespace hestrel::exchange
