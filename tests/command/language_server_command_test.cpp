// The server as a process: bytes in and out, its end, and a real editor that speaks to it.

#include "serve/messages.hpp"
#include "source/addresses.hpp"
#include "support/program.hpp"

using namespace hestrel;
using tests::Folder;
using tests::run;

namespace {

std::string message(const char* method, const source::Json& params, int id = 0) {
    source::Json json{{"jsonrpc", "2.0"}, {"method", method}, {"params", params}};
    if (id > 0) json["id"] = id;
    return serve::framed(serve::text_of(json));
}

constexpr const char* main_text = "hestrel: 1\n"
                                  "include: [coast.yaml]\n"
                                  "kits:\n"
                                  "  brass: {memory: {texture: 1}}\n"
                                  "  glass: {memory: {texture: 1}}\n"
                                  "levels:\n"
                                  "  hall: {memory: {texture: 10}, kits: [brass]}\n";
constexpr const char* coast_text = "levels:\n"
                                   "  quay:\n"
                                   "    memory: {texture: 20}\n"
                                   "    title: The Quay\n"
                                   "    kits: [glass]\n";

} // namespace

TEST_CASE("the language server answers on standard output and ends as it is told", "[program]") {
    const Folder folder;
    const std::string address = source::address_of_path(folder / "plan.yaml");
    const std::string text = "hestrel: 1\nlevels: {quay: {kits: [none]}}\n";
    folder.write(
        "in", message("initialize", {{"capabilities", source::Json::object()}}, 1) +
                  message("textDocument/didOpen",
                          {{"textDocument", {{"uri", address}, {"version", 1}, {"text", text}}}}) +
                  message("shutdown", nullptr, 2) + message("exit", nullptr));
    const auto result = run(folder, "HESTREL language-server < in");
    CHECK(result.code == 0);
    CHECK(result.err.empty());
    serve::MessageReader reader;
    reader.add(result.out);
    const auto first = source::parsed(reader.next().value());
    CHECK(first.at("id") == 1);
    CHECK(first.at("result").at("serverInfo").at("name") == "hestrel");
    CHECK(source::parsed(reader.next().value()).at("id") == 2);
    CHECK_FALSE(reader.has_rest());
    // Findings come once nothing more does, at the latest when the input ends.
    folder.write(
        "in", message("initialize", {{"capabilities", source::Json::object()}}, 1) +
                  message("textDocument/didOpen",
                          {{"textDocument", {{"uri", address}, {"version", 1}, {"text", text}}}}));
    const auto told = run(folder, "HESTREL language-server < in");
    CHECK(told.out.find("\"unknown-name\"") != std::string::npos);
    CHECK(told.code == 1); // nobody said shutdown
}

TEST_CASE("what is no message ends the language server with one line", "[program]") {
    const Folder folder;
    for (const char* broken : {"hello\\r\\n\\r\\n", "Content-Length: x\\r\\n\\r\\n",
                               "Content-Length: 9\\r\\n\\r\\n{}"}) {
        const auto result =
            run(folder, fmt::format("printf '{}' | HESTREL language-server", broken));
        CAPTURE(broken, result.err);
        CHECK(result.code == 2);
        CHECK(result.out.empty());
        CHECK(result.err.starts_with("hestrel: standard input"));
        CHECK(std::count(result.err.begin(), result.err.end(), '\n') == 1);
    }
    CHECK(run(folder, "HESTREL language-server plan.yaml < /dev/null").code == 2);
    CHECK(run(folder, "HESTREL language-server < /dev/null").code == 1);
}

TEST_CASE("a real editor shows findings, completes, finds definitions and renames", "[program]") {
    const Folder folder;
    folder.write("post.yaml", main_text);
    folder.write("coast.yaml", coast_text);
    const auto result = run(
        folder, fmt::format("HOME=$PWD XDG_STATE_HOME=$PWD SERVER=HESTREL timeout 300 nvim "
                            "--headless --clean -c 'luafile {}/tests/editor/nvim.lua' coast.yaml",
                            HESTREL_SOURCE));
    CAPTURE(result.out, result.err);
    CHECK(result.code == 0);
    CHECK((result.out + result.err).find("all is well") != std::string::npos);
}
