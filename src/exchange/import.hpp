#pragma once
// A file of another tool taken over into a plan: what its files would say then.

#include "exchange/plan_changes.hpp"
#include "source/disk.hpp"

#include <string>
#include <utility>
#include <vector>

namespace hestrel::exchange {

struct ImportedFile {
    Imported what;
    std::vector<std::pair<std::string, std::string>> files; ///< that change: path and new text
};

/// What a plan begins with that is not there yet.
std::string new_plan_text(const std::string& plan_path);

/// `file` is a `.gltf`, `.glb` or `.csv`. Writes nothing. The result has been read again and is a
/// plan; where it would not be one, and where anything is wrong with the file or the plan, there
/// are `errors` and no files. Throws FileError where a file can't be read.
ImportedFile import_file(source::Disk& disk, const std::string& plan_path, const std::string& file);

/// Whether the name of a file ends as one of those does.
bool can_be_imported(const std::string& file);

} // namespace hestrel::exchange
