// The findings of plans, and what to do about them.

#include "serve/server.hpp"

#include "serve/cursor.hpp"
#include "serve/edits.hpp"
#include "serve/requests.hpp"

#include <algorithm>

namespace hestrel::serve {

namespace {

using source::Json;

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

std::set<PlanState*> Server::open_plans() {
    // Which plans there are, is known once each open file has been looked at.
    std::set<PlanState*> plans;
    for (const auto& [path, file] : workspace_.disk().open) {
        if (PlanState* state = workspace_.plan_of(path)) plans.insert(state);
    }
    return plans;
}

void Server::read_plans() {
    for (PlanState* state : open_plans()) workspace_.read(*state);
}

void Server::say_findings() {
    news_ = false;
    const std::set<PlanState*> plans = open_plans();
    std::map<std::string, Json> by_file;
    for (auto& [main, state] : workspace_.plans()) {
        for (const std::string& path : state.said) by_file[path] = Json::array();
        state.said.clear();
        if (plans.contains(&state)) say(state, by_file);
    }
    for (const auto& [path, list] : by_file) {
        Json params{{"uri", source::address_of_path(path)}, {"diagnostics", list}};
        if (const OpenFile* file = workspace_.file(path)) params["version"] = file->version;
        send({{"jsonrpc", "2.0"},
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
    // Who marks a whole file has thousands of findings; an editor that asks for the rest when it is
    // chosen gets them all.
    constexpr int most_worked_out = 50;
    int worked_on = 0;
    for (const plan::Finding& finding : read.findings()) {
        if (finding.place.file != *number) continue;
        const Stretch stretch = stretch_of(file, finding.place);
        if (stretch.to < from || stretch.from > to) continue;
        const Json about = diagnostic_json(file, finding);
        const auto add = [&](Json action) {
            action["kind"] = "quickfix";
            action["diagnostics"] = Json::array({about});
            list.push_back(std::move(action));
        };
        if (const auto meant = meant_name(read, finding)) add(action_json(*meant));
        for (const Remedy remedy : remedies(finding)) {
            if (!resolves_edits_) {
                if (++worked_on > most_worked_out) continue;
                const auto action = worked_out(remedy, *at.plan, read, finding);
                if (action) add(action_json(*action));
                continue;
            }
            // It may take a walk of everything: when it is chosen.
            add({{"title", title_of(remedy, finding)},
                 {"data",
                  {{"uri", source::address_of_path(at.path)},
                   {"line", finding.place.line},
                   {"column", finding.place.column},
                   {"name", finding.name},
                   {"remedy", remedy}}}});
        }
    }
    return list;
}

source::Json Server::action_json(const Action& action) {
    Json json{{"title", action.title},
              {"edit", workspace_edit_json(workspace_, action.changes, knows_versions_)}};
    if (action.is_preferred) json["isPreferred"] = true;
    return json;
}

std::optional<Action> Server::worked_out(Remedy remedy, PlanState& state, const PlanRead& read,
                                         const plan::Finding& finding) {
    switch (remedy) {
    case Remedy::reach_farther: return farther_shape(workspace_.disk(), state.path, read, finding);
    case Remedy::allow: break;
    }
    return allowed_there(read, finding);
}

source::Json Server::resolve(Json action) {
    const Json& data = part(action, {"data"});
    const std::string path = path_of(part(data, {"uri"}));
    PlanState* state = path.empty() ? nullptr : workspace_.plan_of(path);
    if (state == nullptr) throw Refused(invalid_params, "this is no action that Hestrel offered");
    const PlanRead& read = workspace_.read(*state);
    const auto file = read.file_called(path);
    for (const plan::Finding& finding : read.findings()) {
        if (!file || finding.place.file != *file || finding.name != text_in(part(data, {"name"})) ||
            Json(finding.place.line) != part(data, {"line"}) ||
            Json(finding.place.column) != part(data, {"column"}))
            continue;
        for (const Remedy remedy : remedies(finding)) {
            if (Json(remedy) != part(data, {"remedy"})) continue;
            const auto found = worked_out(remedy, *state, read, finding);
            if (!found) break;
            action.update(action_json(*found));
            return action;
        }
    }
    throw Refused(request_failed, "nothing that could be written there would do that");
}

} // namespace hestrel::serve
