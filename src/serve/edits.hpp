#pragma once
// Changes of files as an editor carries them out.

#include "serve/workspace.hpp"

#include <string>
#include <utility>
#include <vector>

namespace hestrel::serve {

/// A text in the place of a stretch of a file as it stands.
struct Change {
    std::string path;
    Stretch stretch;
    std::string by;
};

/// A WorkspaceEdit: `documentChanges` with versions where the editor knows these, else `changes`.
source::Json workspace_edit_json(Workspace& workspace, const std::vector<Change>& changes,
                                 bool with_versions);

/// The change that makes one text of another: from the first to the last byte that differs.
Change difference(const std::string& path, std::string_view before, std::string_view after);

} // namespace hestrel::serve
