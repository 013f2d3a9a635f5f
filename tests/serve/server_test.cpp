// The server as an editor speaks to it: what it says of plans that are not saved, and what it
// answers.

#include "serve/server.hpp"

#include "serve/editor.hpp"
#include "support/program.hpp"

using namespace hestrel;
using tests::Editor;
using Labels = std::vector<std::string>;

namespace {

constexpr const char* main_file = "/plans/post.yaml";
constexpr const char* coast_file = "/plans/coast.yaml";

const std::string main_text = R"(hestrel: 1
include: [coast.yaml]
devices:
  box: {memory: {total: 100}, read: {rate: 10}, frame: {fps: 60}}
kits:
  brass: {memory: {texture: 1}}
  glass: {memory: {texture: 1}}
levels:
  hall:
    memory: {texture: 10}
    kits: [brass]
    area: {min: [0, 0, 0], max: [40, 5, 40]}
    entries: {door: hall-door}
waypoints: {hall-door: [1, 0, 1], end: [99, 0, 1]}
paths: [[hall-door, end]]
players: {carrier: {speeds: {walk: 2, run: 4}}}
facts:
  bells: {initial: none, values: [none, one]}
triggers:
  stair:
    in: hall
    box: {min: [38, -1, 0], max: [39, 2, 9]}
    steps:
      - load: [quay]
      - wait: {ready: [quay]}
      - show: [quay]
editions: {full: {levels: [hall, quay]}}
routes:
  r: {start: {level: hall}, steps: [{go: end}]}
)";
const std::string coast_text = R"(levels:
  quay:
    memory: {texture: 20}
    area: {min: [41, 0, 0], max: [99, 5, 40]}
    kits: [glass]
    entries: {steps: end}
)";

/// The plan in two files on a disk, both open.
struct Post {
    explicit Post(source::Json can = source::Json::object())
        : editor(prepared(disk), std::move(can)) {
        editor.open(main_file, main_text);
        editor.open(coast_file, coast_text);
    }
    static source::Disk& prepared(source::MemoryDisk& disk) {
        disk.files[main_file] = main_text;
        disk.files[coast_file] = coast_text;
        return disk;
    }

    source::MemoryDisk disk;
    Editor editor;
};

bool has(const Labels& labels, const std::string& label) {
    return std::find(labels.begin(), labels.end(), label) != labels.end();
}

std::string replaced(std::string text, const std::string& part, const std::string& by) {
    const std::size_t at = text.find(part);
    REQUIRE(at != std::string::npos);
    return text.replace(at, part.size(), by);
}

} // namespace

TEST_CASE("findings follow what is typed, in every file of the plan, and go again") {
    Post post;
    const auto as_it_is = post.editor.findings();
    CHECK(has(as_it_is.at(main_file), "20:3 trigger-too-late"));
    // A kit that nobody knows: in the file that is typed in. The kit is used no more: in the other.
    post.editor.type(coast_file, replaced(coast_text, "glass", "glas"));
    const auto said = post.editor.findings();
    CHECK(has(said.at(coast_file), "5:12 unknown-name"));
    post.editor.type(coast_file, coast_text);
    CHECK(post.editor.findings() == as_it_is);
    CHECK_FALSE(post.editor.server().has_news());
    // What is closed is as it is on the disk again.
    post.editor.type(coast_file, replaced(coast_text, "glass", "glas"));
    post.editor.note("textDocument/didClose",
                     {{"textDocument", {{"uri", source::address_of_path(coast_file)}}}});
    CHECK(post.editor.server().has_news());
    CHECK(post.editor.findings() == as_it_is);
}

TEST_CASE("a file that belongs to a plan is found to do so, whatever is opened first") {
    source::MemoryDisk disk;
    Post::prepared(disk);
    disk.files["/plans/other.yaml"] = "hestrel: 1\nlevels: {a: {}}\n";
    disk.files["/plans/list.yaml"] = "shopping: [milk]\n";
    Editor editor(disk);
    editor.open(coast_file, replaced(coast_text, "glass", "glas"));
    auto said = editor.findings();
    CHECK(said[coast_file] == Labels{"5:12 unknown-name"});
    CHECK(said.contains(main_file));
    CHECK_FALSE(said.contains("/plans/other.yaml"));
    // What is no plan is nobody's business.
    editor.open("/plans/list.yaml", disk.files["/plans/list.yaml"]);
    said = editor.findings();
    CHECK_FALSE(said.contains("/plans/list.yaml"));
    CHECK(editor.result("textDocument/hover", editor.at("/plans/list.yaml", "milk")).is_null());
}

TEST_CASE("while a file is no YAML what was known before is kept") {
    Post post;
    const Labels before = post.editor.findings()[main_file];
    const std::string broken = coast_text + "  pier:\n    kits: [br";
    post.editor.type(coast_file, broken);
    const auto said = post.editor.findings();
    REQUIRE(said.at(coast_file).size() == 1);
    CHECK(said.at(coast_file)[0].ends_with(" broken-yaml"));
    CHECK(said.at(main_file) == before);
    CHECK(post.editor.choices(post.editor.at(coast_file, "[br", 3)) == Labels{"brass", "glass"});
    // The other file still knows where the quay is.
    const auto places =
        post.editor.result("textDocument/definition", post.editor.at(main_file, "ready: [quay", 9));
    REQUIRE(places.size() == 1);
    CHECK(places[0].at("uri") == source::address_of_path(coast_file));
}

TEST_CASE("a file that can't be read is told, and its plan is read once it can") {
    source::MemoryDisk disk;
    disk.files[main_file] = main_text;
    Editor editor(disk);
    editor.open(main_file, main_text);
    CHECK(editor.findings()[main_file] == Labels{"1:1 unreadable-file"});
    disk.files[coast_file] = coast_text;
    editor.note("workspace/didChangeWatchedFiles",
                {{"changes", {{{"uri", source::address_of_path(coast_file)}, {"type", 1}}}}});
    CHECK(has(editor.findings()[main_file], "20:3 trigger-too-late"));
}

TEST_CASE("what fits is offered: keys, names of the right kind, words") {
    Post post;
    Editor& editor = post.editor;
    const auto offered = [&](const std::string& behind, const std::string& typed) {
        editor.type(main_file, replaced(main_text, behind, behind + typed));
        return editor.choices(editor.at(main_file, behind + typed, behind.size() + typed.size()));
    };
    // Keys: those that are not there yet.
    Labels labels = offered("    kits: [brass]\n", "    t");
    CHECK(has(labels, "title"));
    CHECK(has(labels, "sublevels"));
    CHECK_FALSE(has(labels, "kits"));
    CHECK_FALSE(has(labels, "memory"));
    labels = offered("      - load: [quay]\n", "      - ");
    CHECK(has(labels, "switch"));
    CHECK_FALSE(has(labels, "go"));
    // Names.
    CHECK(offered("    kits: [brass", ", ") == Labels{"brass", "glass"});
    CHECK(offered("      - load: [quay", ", ") == Labels{"hall", "quay"});
    CHECK(offered("      - load: [quay]\n", "      - switch: {to: quay, at: ") == Labels{"steps"});
    CHECK(offered("      - load: [quay]\n", "      - mark: ") == Labels{"hall.door", "quay.steps"});
    CHECK(offered("steps: [{go: end", ", speed: ") == Labels{"walk", "run"});
    CHECK(offered("kits: [brass]\n", "    on: {b") == Labels{"box"});
    CHECK(has(offered("    in: hall\n", "    allow: {t"), "trigger-too-late"));
    // Words.
    CHECK(offered("    in: hall\n", "    fires: ") ==
          Labels{"on-enter", "on-exit", "while-inside", "when-true"});
    CHECK(offered("    in: hall\n", "    once: ") == Labels{"true", "false"});
    // Conditions.
    labels = offered("    in: hall\n", "    when: not ");
    CHECK(has(labels, "bells"));
    CHECK(has(labels, "shown("));
    CHECK(has(labels, "and"));
    CHECK_FALSE(has(labels, "hall"));
    CHECK(offered("    in: hall\n", "    when: bells == one and shown(") == Labels{"hall", "quay"});
    CHECK(offered("    in: hall\n", "    when: open(").empty());
    labels = offered("    in: hall\n", "    when: bells == ");
    CHECK(has(labels, "one"));
    // In a comment nothing.
    CHECK(offered("    in: hall\n", "    # kits: [").empty());
}

TEST_CASE("definitions and uses, over files") {
    Post post;
    Editor& editor = post.editor;
    const auto lines = [&](const source::Json& places) {
        Labels all;
        for (const source::Json& each : places)
            all.push_back(
                each.at("uri").get<std::string>().substr(std::string("file:///plans/").size()) +
                ":" + std::to_string(each.at("range").at("start").at("line").get<int>() + 1));
        return all;
    };
    CHECK(lines(editor.result("textDocument/definition", editor.at(main_file, "load: [quay", 9))) ==
          Labels{"coast.yaml:2"});
    source::Json asked = editor.at(main_file, "load: [quay", 9);
    CHECK(lines(editor.result("textDocument/references", asked)) ==
          Labels{"coast.yaml:2", "post.yaml:24", "post.yaml:25", "post.yaml:26", "post.yaml:27"});
    asked["context"] = {{"includeDeclaration", false}};
    CHECK(lines(editor.result("textDocument/references", asked)).size() == 4);
    // On no name there is nothing.
    CHECK(editor.result("textDocument/definition", editor.at(main_file, "memory")).empty());
}

TEST_CASE("a card of what the pointer is on, or what a key means") {
    Post post;
    Editor& editor = post.editor;
    const auto text = [&](const std::string& part, std::size_t behind) {
        const auto hover = editor.result("textDocument/hover", editor.at(main_file, part, behind));
        return hover.is_null() ? std::string()
                               : hover.at("contents").at("value").get<std::string>();
    };
    const std::string card = text("load: [quay", 8);
    CHECK(card.find("level quay") != std::string::npos);
    CHECK(card.find("trigger stair") != std::string::npos); // who brings it
    CHECK(text("steps:", 2).find("**steps**: a list of steps") == 0);
    CHECK(text("fps: 60", 5).empty());
}

TEST_CASE("what a file defines, with what stands inside a level below it") {
    Post post;
    const auto symbols =
        post.editor.result("textDocument/documentSymbol",
                           {{"textDocument", {{"uri", source::address_of_path(coast_file)}}}});
    REQUIRE(symbols.size() == 1);
    CHECK(symbols[0].at("name") == "quay");
    CHECK(symbols[0].at("detail") == "level");
    REQUIRE(symbols[0].at("children").size() == 1);
    CHECK(symbols[0].at("children")[0].at("name") == "steps");
    // All of it, so that an editor can say in what its cursor is; selected is the name.
    const auto range = [](std::size_t line, std::size_t from, std::size_t end_line,
                          std::size_t to) -> source::Json {
        return {{"start", {{"line", line}, {"character", from}}},
                {"end", {{"line", end_line}, {"character", to}}}};
    };
    CHECK(symbols[0].at("range") == range(1, 2, 5, 25));
    CHECK(symbols[0].at("selectionRange") == range(1, 2, 1, 6));
    CHECK(symbols[0].at("children")[0].at("range") == range(5, 14, 5, 19));
}

TEST_CASE("a name is changed in all files, as the editor can carry it out") {
    for (const bool versions : {false, true}) {
        Post post(
            source::Json{{"workspace", {{"workspaceEdit", {{"documentChanges", versions}}}}}});
        Editor& editor = post.editor;
        source::Json asked = editor.at(main_file, "load: [quay", 8);
        CHECK(editor.result("textDocument/prepareRename", asked).at("placeholder") == "quay");
        asked["newName"] = "pier";
        const source::Json edit = editor.result("textDocument/rename", asked);
        CHECK(edit.contains(versions ? "documentChanges" : "changes"));
        CHECK(edit.size() == 1);
        const auto after = editor.changed(edit);
        REQUIRE(after.size() == 2);
        CHECK(after.at(coast_file) == replaced(coast_text, "quay", "pier"));
        std::string expected = main_text;
        for (int i = 0; i < 4; ++i) expected = replaced(expected, "quay", "pier");
        CHECK(after.at(main_file) == expected);
        // What can't be is said, and nothing is changed.
        asked["newName"] = "hall";
        const source::Json taken = editor.ask("textDocument/rename", asked);
        CHECK(taken.at("error").at("message").get<std::string>().find(
                  "there is a level \"hall\" already") != std::string::npos);
    }
}

TEST_CASE("what to do about a finding: the name that was meant, a reason, a farther shape") {
    for (const bool resolves : {false, true}) {
        source::Json can = source::Json::object();
        if (resolves)
            can = {{"textDocument",
                    {{"codeAction", {{"resolveSupport", {{"properties", {"edit"}}}}}}}}};
        Post post(can);
        Editor& editor = post.editor;
        const auto offered = [&](const std::string& file, const std::string& part) {
            const source::Json start = editor.at(file, part).at("position");
            return editor.result("textDocument/codeAction",
                                 {{"textDocument", {{"uri", source::address_of_path(file)}}},
                                  {"range", {{"start", start}, {"end", start}}},
                                  {"context", {{"diagnostics", source::Json::array()}}}});
        };
        editor.type(coast_file, replaced(coast_text, "glass", "Glass"));
        source::Json actions = offered(coast_file, "Glass");
        REQUIRE(actions.size() == 1);
        CHECK(actions[0].at("title") == "Write glass");
        CHECK(editor.changed(actions[0].at("edit")).at(coast_file) == coast_text);
        editor.type(coast_file, coast_text);

        actions = offered(main_file, "stair");
        INFO(actions.dump());
        REQUIRE(actions.size() == 2);
        if (resolves) {
            for (source::Json& action : actions) {
                CHECK_FALSE(action.contains("edit"));
                action = editor.result("codeAction/resolve", action);
            }
        }
        // 20 MiB at 10 MiB/s, and up to 4 m/s: the shape begins some metres sooner, and is enough.
        const std::string farther = editor.changed(actions[0].at("edit")).at(main_file);
        CHECK(actions[0].at("title").get<std::string>().starts_with("Let it reach "));
        CHECK(farther != main_text);
        const std::string allowed = editor.changed(actions[1].at("edit")).at(main_file);
        CHECK(allowed.find("allow: {trigger-too-late: \"why this is meant to be so\"}") !=
              std::string::npos);
        for (const std::string& text : {farther, allowed}) {
            editor.type(main_file, text);
            const auto left = editor.findings();
            for (const std::string& each : left.at(main_file))
                CHECK(each.find("trigger-too-late") == std::string::npos);
        }
        CHECK(offered(main_file, "devices").empty());
    }
}

TEST_CASE("of a file that is marked whole some edits are worked out, or all when one is chosen") {
    // A hundred levels that are in memory from the start and that nothing unloads.
    std::string text = "hestrel: 1\nlevels:\n";
    constexpr int levels = 100;
    for (int i = 0; i < levels; ++i) text += fmt::format("  l{}: {{memory: {{texture: 1}}}}\n", i);
    for (const bool resolves : {false, true}) {
        source::Json can = source::Json::object();
        if (resolves)
            can = {{"textDocument",
                    {{"codeAction", {{"resolveSupport", {{"properties", {"edit"}}}}}}}}};
        source::MemoryDisk disk;
        disk.files[main_file] = text;
        Editor editor(disk, can);
        editor.open(main_file, text);
        const source::Json actions =
            editor.result("textDocument/codeAction",
                          {{"textDocument", {{"uri", source::address_of_path(main_file)}}},
                           {"range",
                            {{"start", {{"line", 0}, {"character", 0}}},
                             {"end", {{"line", levels + 2}, {"character", 0}}}}},
                           {"context", {{"diagnostics", source::Json::array()}}}});
        INFO(actions.dump());
        CHECK(actions.size() >= (resolves ? levels : 50));
        if (!resolves) CHECK(actions.size() == 50);
        for (const source::Json& action : actions) CHECK(action.contains("edit") != resolves);
    }
}

TEST_CASE("plans can be read before anything is checked, and the findings still come") {
    Post post;
    post.editor.type(coast_file, replaced(coast_text, "glass", "Glass"));
    CHECK(post.editor.server().has_news());
    post.editor.server().read_plans();
    CHECK(post.editor.server().has_news());
    CHECK(post.editor.findings().at(coast_file).size() == 1);
    CHECK_FALSE(post.editor.server().has_news());
}

TEST_CASE("what is no request gets an error, and nothing ends") {
    source::MemoryDisk disk;
    std::vector<source::Json> told;
    serve::Server server(
        disk, "0", [&](const std::string& message) { told.push_back(source::parsed(message)); });
    const auto code = [&](const std::string& text) {
        told.clear();
        server.take(text);
        REQUIRE(told.size() == 1);
        return told[0].at("error").at("code").get<int>();
    };
    CHECK(code("{") == -32700);
    CHECK(code("[]") == -32600);
    CHECK(code(R"({"id": 1})") == -32600);
    CHECK(code(R"({"id": 1, "method": "textDocument/hover"})") == -32002);
    server.take(R"({"id": 2, "method": "initialize"})");
    CHECK(code(R"({"id": 3, "method": "nonsense"})") == -32601);
    for (const char* method : {"hover", "completion", "definition", "references", "documentSymbol",
                               "prepareRename", "rename", "codeAction"}) {
        for (const char* params :
             {"null", "[]", "1", R"({"textDocument": {"uri": 1}})",
              R"({"textDocument": {"uri": "file:///no"}, "position": {"line": -1}})"})
            CHECK(code(fmt::format(R"({{"id": 4, "method": "textDocument/{}", "params": {}}})",
                                   method, params)) == -32602);
    }
    CHECK(code(R"({"id": 5, "method": "codeAction/resolve", "params": {"title": 1}})") == -32602);
    told.clear();
    for (const char* method :
         {"textDocument/didOpen", "textDocument/didChange", "textDocument/didClose",
          "workspace/didChangeWatchedFiles", "$/cancelRequest"})
        server.take(fmt::format(R"({{"method": "{}", "params": {{"changes": 3}}}})", method));
    server.take(R"({"id": 7, "result": null, "error": null})");
    CHECK(told.empty());
    CHECK(server.exit_code() == 1);
    server.take(R"({"id": 6, "method": "shutdown"})");
    CHECK(code(R"({"id": 8, "method": "textDocument/hover"})") == -32600);
    server.take(R"({"method": "exit"})");
    CHECK(server.has_ended());
    CHECK(server.exit_code() == 0);
}

TEST_CASE("an editor that can is asked to tell of files that change on the disk") {
    source::MemoryDisk disk;
    std::vector<source::Json> told;
    serve::Server server(
        disk, "0", [&](const std::string& message) { told.push_back(source::parsed(message)); });
    server.take(R"({"id": 1, "method": "initialize", "params": {"capabilities": {"workspace":
                {"didChangeWatchedFiles": {"dynamicRegistration": true}}}}})");
    server.take(R"({"method": "initialized", "params": {}})");
    REQUIRE(told.size() == 2);
    CHECK(told[1].at("method") == "client/registerCapability");
    server.take(R"({"id": "watch-files", "result": null})"); // its answer
    CHECK(told.size() == 2);
}

TEST_CASE("changes come in pieces, by UTF-16 positions") {
    source::MemoryDisk disk;
    Editor editor(disk);
    editor.open("/p.yaml", "hestrel: 1\nname: äx\nlevels: {}\n");
    const auto change = [](int line, int from, int to, const char* text) {
        return source::Json{{"range",
                             {{"start", {{"line", line}, {"character", from}}},
                              {"end", {{"line", line}, {"character", to}}}}},
                            {"text", text}};
    };
    editor.note("textDocument/didChange",
                {{"textDocument", {{"uri", "file:///p.yaml"}, {"version", 2}}},
                 {"contentChanges", {change(1, 7, 8, "ö"), change(2, 0, 6, "kits")}}});
    // The key is known by where it is now.
    source::Json asked{{"textDocument", {{"uri", "file:///p.yaml"}}},
                       {"position", {{"line", 2}, {"character", 1}}}};
    const auto hover = editor.result("textDocument/hover", asked);
    CHECK(hover.at("contents").at("value").get<std::string>().starts_with("**kits**"));
}
