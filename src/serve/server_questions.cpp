// What an editor asks about what stands under its cursor.

#include "serve/server.hpp"

#include "edit/rename.hpp"
#include "serve/completion.hpp"
#include "serve/edits.hpp"
#include "serve/hover.hpp"
#include "serve/mentions.hpp"
#include "serve/requests.hpp"
#include "serve/symbols.hpp"

namespace hestrel::serve {

Server::Asked Server::asked(const Json& params) {
    Asked asked;
    asked.path = path_in(params);
    const OpenFile* file = workspace_.file(asked.path);
    if (file == nullptr) throw Refused(invalid_params, "no such file is open");
    asked.document = &file->document;
    asked.offset = file->document.offset_of(position_in(part(params, {"position"})));
    asked.plan = workspace_.plan_of(asked.path);
    return asked;
}

source::Json Server::hover(const Json& params) {
    const Asked at = asked(params);
    return hover_json(*at.document, at.path, at.offset,
                      at.plan != nullptr ? workspace_.names(*at.plan) : nullptr);
}

source::Json Server::completion(const Json& params) {
    const Asked at = asked(params);
    return completion_json(*at.document, at.offset,
                           at.plan != nullptr ? workspace_.names(*at.plan) : nullptr);
}

Server::Named Server::named(const Json& params) {
    Named named{asked(params), nullptr, std::nullopt};
    if (named.at.plan == nullptr) return named;
    named.read = workspace_.names(*named.at.plan);
    if (named.read != nullptr)
        named.mention = mention_at(*named.read, named.at.path, *named.at.document, named.at.offset);
    return named;
}

source::Json Server::definition(const Json& params) {
    const auto [at, read, mention] = named(params);
    Json places = Json::array();
    if (!mention) return places;
    for (const Mention& each : mentions_of(*read, *mention->use)) {
        if (each.use->defines) places.push_back(location_json(each));
    }
    return places;
}

source::Json Server::references(const Json& params) {
    const auto [at, read, mention] = named(params);
    const bool definitions = part(params, {"context", "includeDeclaration"}) != Json(false);
    Json places = Json::array();
    if (!mention) return places;
    for (const Mention& each : mentions_of(*read, *mention->use)) {
        if (definitions || !each.use->defines) places.push_back(location_json(each));
    }
    return places;
}

std::string Server::symbols(const Json& params) {
    const Asked at = asked(params);
    const PlanRead* read = at.plan != nullptr ? workspace_.names(*at.plan) : nullptr;
    const auto file = read != nullptr ? read->file_called(at.path) : std::nullopt;
    return file ? symbols_text(*read, *file) : "[]";
}

source::Json Server::prepare_rename(const Json& params) {
    const auto [at, read, mention] = named(params);
    if (!mention) return nullptr;
    return {{"range", range_json(*at.document, mention->stretch)},
            {"placeholder", mention->use->name}};
}

source::Json Server::rename(const Json& params) {
    const auto [at, read, mention] = named(params);
    if (!mention) throw Refused(request_failed, "there is no name of this plan");
    try {
        const PlanRead& now = workspace_.read(*at.plan);
        const std::string old_name = full_name(*mention->use);
        const std::string new_name = text_in(part(params, {"newName"}));
        const std::string kind = mention->use->kind;
        const bool sound = now.trouble.empty() && !plan::any_error(now.errors);
        const edit::Renaming renaming =
            sound ? edit::rename(workspace_.disk(), at.plan->path, now.plan, now.uses, old_name,
                                 new_name, kind)
                  : edit::rename(workspace_.disk(), at.plan->path, old_name, new_name, kind);
        std::vector<Change> changes;
        for (std::size_t i = 0; i < renaming.files.size(); ++i) {
            const std::string path = source::whole(renaming.files[i].first).string();
            for (const edit::Replacement& each : renaming.replacements[i])
                changes.push_back({path, {each.span.from, each.span.to}, each.by});
        }
        return workspace_edit_json(workspace_, changes, knows_versions_);
    } catch (const edit::RenameError& error) {
        throw Refused(request_failed, error.what());
    }
}

} // namespace hestrel::serve
