#pragma once
// A level again under a new name, with all that stands inside it (docs/model.md section 2). Nothing
// else in the files changes by a byte.

#include "plan/place.hpp"
#include "source/disk.hpp"

#include <stdexcept>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::edit {

/// Why a level can't be copied; the message is for the person who asked.
class CopyError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

struct CopyOptions {
    std::string into;      ///< another file to write it into; empty: where the old one stands
    bool editions = false; ///< also behind the old one in every edition that lists it
};

/// Where the rest of the plan names the old level, or a sublevel of it.
struct Mention {
    std::string place; ///< `file:line:column`
    std::string line;  ///< without what it is indented by
    auto operator<=>(const Mention&) const = default;
};

/// What copying would write.
struct Copied {
    std::vector<std::pair<std::string, std::string>> files; ///< path and new text
    std::vector<std::pair<std::string, std::string>> names; ///< levels: old and new, sublevels too
    std::string place;                                      ///< of the new level: `file:line`
    std::vector<std::string> lines;                         ///< of the new level, as written
    std::vector<std::string> editions;                      ///< those that list it now
    std::vector<Mention> mentions;                          ///< outside, in plan order of the files
};

/// Works out a copy; writes nothing. A sublevel `OLD-x` becomes `NEW-x`, another one `NEW-its
/// name`. The result has been read again: it differs by the new level and nothing else.
///
/// Throws CopyError where there is no such level, where `new_name` is no name or a name is taken,
/// where the level is not written out (but shared by an anchor), and where the plan can't be read;
/// FileError where a file can't.
Copied copy_level(source::Disk& disk, const std::string& plan, const std::string& level,
                  const std::string& new_name, const CopyOptions& options);

} // namespace hestrel::edit
