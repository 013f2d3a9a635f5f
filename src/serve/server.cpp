#include "serve/server.hpp"

#include "serve/edits.hpp"
#include "serve/messages.hpp"
#include "serve/requests.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <new>

namespace hestrel::serve {

Server::Server(source::Disk& disk, std::string version, Send send)
    : workspace_(disk), version_(std::move(version)), send_(std::move(send)) {}

void Server::take(const std::string& text) {
    const Json message = source::parsed(text);
    const auto fail = [&](const Json& id, int code, const std::string& why) {
        send({{"jsonrpc", "2.0"}, {"id", id}, {"error", {{"code", code}, {"message", why}}}});
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
        const std::string result = answer(method, params);
        send_(fmt::format(R"({{"jsonrpc":"2.0","id":{},"result":{}}})", text_of(id), result));
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

void Server::send(const Json& message) {
    send_(text_of(message));
}

std::string Server::answer(const std::string& method, const Json& params) {
    if (method == "textDocument/documentSymbol") return symbols(params);
    return text_of(json_answer(method, params));
}

source::Json Server::json_answer(const std::string& method, const Json& params) {
    if (method == "initialize") return initialize(params);
    if (method == "shutdown") {
        shut_down_ = true;
        return nullptr;
    }
    if (method == "textDocument/hover") return hover(params);
    if (method == "textDocument/completion") return completion(params);
    if (method == "textDocument/definition") return definition(params);
    if (method == "textDocument/references") return references(params);
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
            const std::string path = path_of(part(each, {"uri"}));
            if (!path.empty()) workspace_.changed(path);
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
        std::string path = path_of(part(each, {"uri"}));
        if (!path.empty()) folders.push_back(std::move(path));
    }
    std::string root = path_of(part(params, {"rootUri"}));
    if (!root.empty() && folders.empty()) folders.push_back(std::move(root));
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
    send({{"jsonrpc", "2.0"},
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

} // namespace hestrel::serve
