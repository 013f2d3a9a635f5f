#include "serve/server.hpp"

#include "edit/rename.hpp"
#include "serve/actions.hpp"
#include "serve/completion.hpp"
#include "serve/cursor.hpp"
#include "serve/edits.hpp"
#include "serve/hover.hpp"
#include "serve/mentions.hpp"
#include "source/addresses.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <new>

namespace hestrel::serve {

namespace {

using source::Json;

/// What the protocol calls an error (JSON-RPC 2.0, section 5.1).
class Refused : public std::runtime_error {
public:
    Refused(int number, const std::string& message) : std::runtime_error(message), code(number) {}
    int code;
};
constexpr int parse_error = -32700;
constexpr int invalid_request = -32600;
constexpr int method_not_found = -32601;
constexpr int invalid_params = -32602;
constexpr int internal_error = -32603;
constexpr int not_initialized = -32002;
constexpr int request_failed = -32803;

/// A part of a message; null where it is not there.
const Json& part(const Json& json, std::initializer_list<const char*> keys) {
    static const Json nothing;
    const Json* at = &json;
    for (const char* key : keys) {
        if (!at->is_object()) return nothing;
        const auto found = at->find(key);
        if (found == at->end()) return nothing;
        at = &*found;
    }
    return *at;
}

std::string text_in(const Json& json) {
    return json.is_string() ? json.get<std::string>() : std::string();
}

std::string path_in(const Json& params) {
    const auto path = source::path_of_address(text_in(part(params, {"textDocument", "uri"})));
    return path ? source::whole(*path).string() : std::string();
}

int severity_of(plan::Severity severity) {
    switch (severity) {
    case plan::Severity::error: return 1;
    case plan::Severity::warning: return 2;
    case plan::Severity::note: return 3;
    }
    return 3;
}

/// What a finding is about in its text: the word at its place, or what stands there in quotes.
Stretch stretch_of(const PlanFile& file, plan::Place place) {
    const std::string& text = file.document.text();
    const std::size_t from = file.offset_of(place).value_or(0);
    if (from < text.size() && (text[from] == '"' || text[from] == '\'')) {
        const std::size_t end = text.find(text[from], from + 1);
        if (end != std::string::npos && text.find('\n', from) > end) return {from, end + 1};
    }
    const std::size_t to = std::max(word_at(text, from).to, std::min(from + 1, text.size()));
    return {from, to};
}

Json diagnostic_json(const PlanFile& file, const plan::Finding& finding) {
    return {{"range", range_json(file.document, stretch_of(file, finding.place))},
            {"severity", severity_of(finding.severity)},
            {"code", finding.name},
            {"source", "hestrel"},
            {"message", finding.message}};
}

} // namespace

Server::Server(source::Disk& disk, std::string version, Send send)
    : workspace_(disk), version_(std::move(version)), send_(std::move(send)) {}

void Server::take(const std::string& text) {
    const Json message = source::parsed(text);
    const auto fail = [&](const Json& id, int code, const std::string& why) {
        send_({{"jsonrpc", "2.0"}, {"id", id}, {"error", {{"code", code}, {"message", why}}}});
    };
    if (message.is_discarded()) return fail(nullptr, parse_error, "this is no JSON");
    const Json& id = part(message, {"id"});
    if (!message.is_object() || !part(message, {"method"}).is_string()) {
        // Or an answer to what was asked, of which nothing hangs.
        if (!message.is_object() || (!message.contains("result") && !message.contains("error")))
            fail(id, invalid_request, "this is no message of the protocol");
        return;
    }
    const std::string method = text_in(part(message, {"method"}));
    const Json& params = part(message, {"params"});
    if (id.is_null()) return note(method, params);
    try {
        if (!started_ && method != "initialize")
            throw Refused(not_initialized, "initialize comes first");
        if (shut_down_) throw Refused(invalid_request, "it has been shut down");
        Json result = answer(method, params);
        send_({{"jsonrpc", "2.0"}, {"id", id}, {"result", std::move(result)}});
    } catch (const Refused& refused) {
        fail(id, refused.code, refused.what());
    } catch (const source::FileError& error) {
        fail(id, request_failed, error.what());
    } catch (const std::bad_alloc&) {
        throw;
    } catch (const std::exception& error) { // who is writing goes on, whatever this was
        fail(id, internal_error, fmt::format("a fault of Hestrel's own: {}", error.what()));
    }
}

source::Json Server::answer(const std::string& method, const Json& params) {
    if (method == "initialize") return initialize(params);
    if (method == "shutdown") {
        shut_down_ = true;
        return nullptr;
    }
    if (method == "textDocument/hover") return hover(params);
    if (method == "textDocument/completion") return completion(params);
    if (method == "textDocument/definition") return definition(params);
    if (method == "textDocument/references") return references(params);
    if (method == "textDocument/documentSymbol") return symbols(params);
    if (method == "textDocument/prepareRename") return prepare_rename(params);
    if (method == "textDocument/rename") return rename(params);
    if (method == "textDocument/codeAction") return actions(params);
    if (method == "codeAction/resolve") return resolve(params);
    throw Refused(method_not_found, fmt::format("{} is not answered here", method));
}

void Server::note(const std::string& method, const Json& params) {
    if (method == "exit") {
        ended_ = true;
        return;
    }
    if (!started_ || shut_down_) return;
    if (method == "initialized" && watches_files_) return watch_files();
    if (method == "textDocument/didOpen") {
        const std::string path = path_in(params);
        const Json& version = part(params, {"textDocument", "version"});
        if (path.empty()) return;
        workspace_.open(path, text_in(part(params, {"textDocument", "text"})),
                        version.is_number_integer() ? version.get<std::int64_t>() : 0);
        news_ = true;
    } else if (method == "textDocument/didChange") {
        change(params);
    } else if (method == "textDocument/didClose") {
        workspace_.close(path_in(params));
        news_ = true;
    } else if (method == "textDocument/didSave") {
        workspace_.changed(path_in(params));
        news_ = true;
    } else if (method == "workspace/didChangeWatchedFiles") {
        for (const Json& each : part(params, {"changes"})) {
            if (const auto path = source::path_of_address(text_in(part(each, {"uri"}))))
                workspace_.changed(source::whole(*path).string());
        }
        news_ = true;
    }
}

source::Json Server::initialize(const Json& params) {
    started_ = true;
    const Json& can = part(params, {"capabilities"});
    knows_versions_ = part(can, {"workspace", "workspaceEdit", "documentChanges"}) == Json(true);
    watches_files_ =
        part(can, {"workspace", "didChangeWatchedFiles", "dynamicRegistration"}) == Json(true);
    const Json& resolved =
        part(can, {"textDocument", "codeAction", "resolveSupport", "properties"});
    resolves_edits_ = resolved.is_array() &&
                      std::find(resolved.begin(), resolved.end(), "edit") != resolved.end();
    std::vector<std::string> folders;
    for (const Json& each : part(params, {"workspaceFolders"})) {
        if (const auto path = source::path_of_address(text_in(part(each, {"uri"}))))
            folders.push_back(source::whole(*path).string());
    }
    if (const auto path = source::path_of_address(text_in(part(params, {"rootUri"})));
        path && folders.empty())
        folders.push_back(source::whole(*path).string());
    workspace_.set_folders(std::move(folders));
    return {
        {"capabilities",
         {{"positionEncoding", "utf-16"},
          {"textDocumentSync",
           {{"openClose", true}, {"change", 2}, {"save", {{"includeText", false}}}}},
          {"completionProvider", {{"triggerCharacters", {"(", ".", "[", "{", ",", ":", " "}}}},
          {"hoverProvider", true},
          {"definitionProvider", true},
          {"referencesProvider", true},
          {"documentSymbolProvider", true},
          {"renameProvider", {{"prepareProvider", true}}},
          {"codeActionProvider", {{"codeActionKinds", {"quickfix"}}, {"resolveProvider", true}}}}},
        {"serverInfo", {{"name", "hestrel"}, {"version", version_}}}};
}

void Server::watch_files() {
    Json watchers = Json::array();
    for (const char* pattern : {"**/*.yaml", "**/*.yml", "**/*.csv"})
        watchers.push_back({{"globPattern", pattern}});
    const Json registration{{"id", "plan-files"},
                            {"method", "workspace/didChangeWatchedFiles"},
                            {"registerOptions", {{"watchers", std::move(watchers)}}}};
    send_({{"jsonrpc", "2.0"},
           {"id", "watch-files"},
           {"method", "client/registerCapability"},
           {"params", {{"registrations", Json::array({registration})}}}});
}

void Server::change(const Json& params) {
    const std::string path = path_in(params);
    OpenFile* file = workspace_.file(path);
    if (file == nullptr) return;
    for (const Json& each : part(params, {"contentChanges"})) {
        const std::string text = text_in(part(each, {"text"}));
        const Json& range = part(each, {"range"});
        if (range.is_null()) {
            file->document = Document(text);
            continue;
        }
        file->document.replace({file->document.offset_of(position_in(part(range, {"start"}))),
                                file->document.offset_of(position_in(part(range, {"end"})))},
                               text);
    }
    const Json& version = part(params, {"textDocument", "version"});
    if (version.is_number_integer()) file->version = version.get<std::int64_t>();
    workspace_.changed(path);
    news_ = true;
}

// --- questions ---------------------------------------------------------------

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

source::Json Server::symbols(const Json& params) {
    const Asked at = asked(params);
    const PlanRead* read = at.plan != nullptr ? workspace_.names(*at.plan) : nullptr;
    const auto file = read != nullptr ? read->file_called(at.path) : std::nullopt;
    return file ? symbols_json(*read, *file) : Json::array();
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
        const edit::Renaming renaming =
            edit::rename(workspace_.disk(), at.plan->path, full_name(*mention->use),
                         text_in(part(params, {"newName"})), mention->use->kind);
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

// --- findings and what to do about them --------------------------------------

void Server::say_findings() {
    news_ = false;
    // Which plans there are, is known once each open file has been looked at.
    std::set<PlanState*> plans;
    for (const auto& [path, file] : workspace_.disk().open) {
        if (PlanState* state = workspace_.plan_of(path)) plans.insert(state);
    }
    std::map<std::string, Json> by_file;
    for (auto& [main, state] : workspace_.plans()) {
        for (const std::string& path : state.said) by_file[path] = Json::array();
        state.said.clear();
        if (plans.contains(&state)) say(state, by_file);
    }
    for (const auto& [path, list] : by_file) {
        Json params{{"uri", source::address_of_path(path)}, {"diagnostics", list}};
        if (const OpenFile* file = workspace_.file(path)) params["version"] = file->version;
        send_({{"jsonrpc", "2.0"},
               {"method", "textDocument/publishDiagnostics"},
               {"params", std::move(params)}});
    }
}

void Server::say(PlanState& state, std::map<std::string, Json>& by_file) {
    const PlanRead& read = workspace_.read(state);
    for (const auto& file : read.files) {
        by_file.try_emplace(file->path, Json::array());
        state.said.insert(file->path);
    }
    std::set<std::string> broken;
    for (const plan::Finding& finding : read.findings()) {
        if (finding.place.file >= read.files.size()) continue;
        const PlanFile& file = *read.files[finding.place.file];
        if (finding.name == "broken-yaml") broken.insert(file.path);
        by_file[file.path].push_back(diagnostic_json(file, finding));
    }
    if (broken.empty() || !state.whole || state.whole == state.latest) return;
    // Of what stood in a file before it was broken the other files' findings still hold; what its
    // being broken makes of them is no news to who is writing there.
    const PlanRead& before = *state.whole;
    for (auto& [path, list] : by_file) {
        if (before.file_called(path) && !broken.contains(path)) list = Json::array();
    }
    for (const plan::Finding& finding : before.findings()) {
        if (finding.place.file >= before.files.size()) continue;
        const PlanFile& file = *before.files[finding.place.file];
        if (!broken.contains(file.path))
            by_file[file.path].push_back(diagnostic_json(file, finding));
    }
}

source::Json Server::actions(const Json& params) {
    const Asked at = asked(params);
    Json list = Json::array();
    const Json& only = part(params, {"context", "only"});
    const bool wanted =
        !only.is_array() || std::find(only.begin(), only.end(), "quickfix") != only.end();
    if (at.plan == nullptr || !wanted) return list;
    const PlanRead& read = workspace_.read(*at.plan);
    const auto number = read.file_called(at.path);
    if (!number) return list;
    const PlanFile& file = *read.files[*number];
    const std::size_t from = file.document.offset_of(position_in(part(params, {"range", "start"})));
    const std::size_t to = file.document.offset_of(position_in(part(params, {"range", "end"})));
    for (const plan::Finding& finding : read.findings()) {
        if (finding.place.file != *number) continue;
        const Stretch stretch = stretch_of(file, finding.place);
        if (stretch.to < from || stretch.from > to) continue;
        const Json about = diagnostic_json(file, finding);
        const auto add = [&](const std::optional<Action>& action) {
            if (!action) return;
            Json json{{"title", action->title},
                      {"kind", "quickfix"},
                      {"diagnostics", Json::array({about})},
                      {"edit", workspace_edit_json(workspace_, action->changes, knows_versions_)}};
            if (action->is_preferred) json["isPreferred"] = true;
            list.push_back(std::move(json));
        };
        add(meant_name(read, finding));
        if (may_reach_farther(finding)) {
            if (resolves_edits_) {
                // It takes a walk of everything: when it is chosen.
                list.push_back({{"title", "Let it reach as far as it must (walks the plan)"},
                                {"kind", "quickfix"},
                                {"diagnostics", Json::array({about})},
                                {"data",
                                 {{"uri", source::address_of_path(at.path)},
                                  {"line", finding.place.line},
                                  {"column", finding.place.column}}}});
            } else {
                add(farther_shape(workspace_.disk(), at.plan->path, read, finding));
            }
        }
        add(allowed_there(read, finding));
    }
    return list;
}

source::Json Server::resolve(Json action) {
    const Json& data = part(action, {"data"});
    const auto path = source::path_of_address(text_in(part(data, {"uri"})));
    PlanState* state = path ? workspace_.plan_of(source::whole(*path).string()) : nullptr;
    if (state == nullptr) throw Refused(invalid_params, "this action is none of ours");
    const PlanRead& read = workspace_.read(*state);
    const auto file = read.file_called(source::whole(*path).string());
    for (const plan::Finding& finding : read.findings()) {
        if (!may_reach_farther(finding) || !file || finding.place.file != *file ||
            Json(finding.place.line) != part(data, {"line"}) ||
            Json(finding.place.column) != part(data, {"column"}))
            continue;
        const auto shape = farther_shape(workspace_.disk(), state->path, read, finding);
        if (!shape) break;
        action["title"] = shape->title;
        action["edit"] = workspace_edit_json(workspace_, shape->changes, knows_versions_);
        return action;
    }
    throw Refused(request_failed, "no shape of this trigger would bring it in time");
}

} // namespace hestrel::serve
