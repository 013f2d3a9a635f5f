#pragma once
// A name changed everywhere it is used: in all files of a plan, dotted names, conditions and
// tables. Nothing else changes by a byte.

#include "edit/name_places.hpp"
#include "source/disk.hpp"
#include "source/name_use.hpp"

#include <stdexcept>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::edit {

/// Why a name can't be changed; the message is for the person who asked.
class RenameError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// One line that changes.
struct ChangedLine {
    std::string file;
    std::uint32_t line = 0;
    std::string before;
    std::string after;
};

/// What renaming would write.
struct Renaming {
    std::string kind;
    std::vector<std::pair<std::string, std::string>>
        files; ///< path and new text, changed ones only
    /// What changes in each of them, in the order of `files`.
    std::vector<std::vector<Replacement>> replacements;
    std::vector<ChangedLine> lines; ///< in file order
    std::size_t places = 0;
};

/// Works out a renaming; writes nothing. `old_name` may be `owner.name` for what belongs to
/// something: an item to its menu, an entry to its level, a speed to its kind of player, a parcel
/// to its edition. `kind` is empty where the name alone says which is meant. The result has been
/// read again, and says the same as before.
///
/// Throws RenameError where nothing or more than one kind of thing is called so, where `new_name`
/// is no name, is taken or would mean something else, and where the plan can't be read; FileError
/// where a file can't.
Renaming rename(source::Disk& disk, const std::string& plan_path, const std::string& old_name,
                const std::string& new_name, const std::string& kind);
/// The same of a plan that was read already, without an error, with `uses` as all its mentions.
Renaming rename(source::Disk& disk, const std::string& plan_path, const plan::Plan& plan,
                const std::vector<source::NameUse>& uses, const std::string& old_name,
                const std::string& new_name, const std::string& kind);

} // namespace hestrel::edit
