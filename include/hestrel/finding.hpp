#pragma once
// What is wrong or suspicious in a plan, a walk or an edition.

#include <optional>
#include <string>

namespace hestrel {

enum class Severity {
    error,   ///< it goes wrong
    warning, ///< it goes wrong under some conditions, or is hardly meant
    note,    ///< worth knowing
};

/// One finding. `hestrel check --list` names all kinds, docs/findings.md explains each.
struct Finding {
    std::string name; ///< "trigger-too-late"; stable
    Severity severity = Severity::error;
    std::string message; ///< one sentence for people; may change with any version

    // Where it stands in the plan.
    std::string file; ///< as the program was given it
    int line = 0;     ///< from 1
    int column = 0;   ///< from 1, in characters

    // What it is about; empty or unset where it has none.
    std::string level;
    std::string device;
    std::string route;
    std::string edition;
    std::optional<double> from_s; ///< since the walk's time 0
    std::optional<double> to_s;
};

/// "plan.yaml:31:12: error: no kit is called …  [unknown-name]": as a compiler prints it.
std::string text_of(const Finding& finding);

} // namespace hestrel
