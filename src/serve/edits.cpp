#include "serve/edits.hpp"

#include "source/addresses.hpp"

#include <algorithm>
#include <map>

namespace hestrel::serve {

using source::Json;

Json workspace_edit_json(Workspace& workspace, const std::vector<Change>& changes,
                         bool with_versions) {
    std::map<std::string, Document> texts;
    std::map<std::string, Json> by_path;
    for (const Change& change : changes) {
        const auto [text, fresh] = texts.try_emplace(change.path);
        if (fresh) text->second = Document(workspace.disk().read(change.path));
        by_path.try_emplace(change.path, Json::array())
            .first->second.push_back(
                {{"range", range_json(text->second, change.stretch)}, {"newText", change.by}});
    }
    Json whole = with_versions ? Json::array() : Json::object();
    for (auto& [path, edits] : by_path) {
        if (!with_versions) {
            whole[source::address_of_path(path)] = std::move(edits);
            continue;
        }
        const OpenFile* open = workspace.file(path);
        whole.push_back({{"textDocument",
                          {{"uri", source::address_of_path(path)},
                           {"version", open != nullptr ? Json(open->version) : Json(nullptr)}}},
                         {"edits", std::move(edits)}});
    }
    return {{with_versions ? "documentChanges" : "changes", std::move(whole)}};
}

Change difference(const std::string& path, std::string_view before, std::string_view after) {
    const auto inside = [](std::string_view text, std::size_t at) {
        return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xc0U) == 0x80;
    };
    const std::size_t shorter = std::min(before.size(), after.size());
    std::size_t same = 0;
    while (same < shorter && before[same] == after[same]) ++same;
    // Never in the middle of a character.
    while (same > 0 && (inside(before, same) || inside(after, same))) --same;
    std::size_t end = 0;
    while (end < shorter - same && before[before.size() - end - 1] == after[after.size() - end - 1])
        ++end;
    while (end > 0 && (inside(before, before.size() - end) || inside(after, after.size() - end)))
        --end;
    return {path,
            {same, before.size() - end},
            std::string(after.substr(same, after.size() - end - same))};
}

} // namespace hestrel::serve
