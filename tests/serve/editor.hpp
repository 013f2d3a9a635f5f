#pragma once
// A made-up editor: it asks a server what real ones ask, and keeps what it is told.

#include "serve/server.hpp"
#include "source/addresses.hpp"
#include "source/disk.hpp"

#include <catch2/catch.hpp>
#include <map>
#include <string>
#include <vector>

namespace hestrel::tests {

class Editor {
public:
    using Json = source::Json;

    explicit Editor(source::Disk& disk, Json can = Json::object())
        : server_(disk, "0", [this](const std::string& message) {
              told_.push_back(source::parsed(message));
          }) {
        result("initialize", {{"capabilities", std::move(can)}});
        note("initialized", Json::object());
    }

    /// Asks; what is answered, result or error.
    Json ask(const std::string& method, const Json& params) {
        server_.take(
            Json{{"jsonrpc", "2.0"}, {"id", ++last_}, {"method", method}, {"params", params}}
                .dump());
        REQUIRE_FALSE(told_.empty());
        Json answer = told_.back();
        told_.pop_back();
        CHECK(answer.at("id") == last_);
        return answer;
    }
    Json result(const std::string& method, const Json& params) {
        const Json answer = ask(method, params);
        INFO(answer.dump());
        REQUIRE(answer.contains("result"));
        return answer.at("result");
    }
    void note(const std::string& method, const Json& params) {
        server_.take(Json{{"jsonrpc", "2.0"}, {"method", method}, {"params", params}}.dump());
    }

    void open(const std::string& path, const std::string& text) {
        note("textDocument/didOpen", {{"textDocument",
                                       {{"uri", source::address_of_path(path)},
                                        {"languageId", "yaml"},
                                        {"version", 1},
                                        {"text", text}}}});
        texts[path] = text;
    }
    /// Puts another text in its place, all of it.
    void type(const std::string& path, const std::string& text) {
        note("textDocument/didChange",
             {{"textDocument", {{"uri", source::address_of_path(path)}, {"version", ++version_}}},
              {"contentChanges", Json::array({{{"text", text}}})}});
        texts[path] = text;
    }

    /// A request's parameters for the n-th place (from 0) of a part of a file's text.
    [[nodiscard]] Json at(const std::string& path, const std::string& part, std::size_t behind = 0,
                          std::size_t nth = 0) const {
        const std::string& text = texts.at(path);
        std::size_t found = text.find(part);
        for (; nth > 0; --nth) found = text.find(part, found + 1);
        REQUIRE(found != std::string::npos);
        const serve::Position position = serve::Document(text).position_of(found + behind);
        return {{"textDocument", {{"uri", source::address_of_path(path)}}},
                {"position", {{"line", position.line}, {"character", position.character}}}};
    }

    /// What is said of each file now: "line:column name".
    std::map<std::string, std::vector<std::string>> findings() {
        told_.clear();
        server_.say_findings();
        std::map<std::string, std::vector<std::string>> all;
        for (const Json& each : told_) {
            CHECK(each.at("method") == "textDocument/publishDiagnostics");
            const Json& params = each.at("params");
            std::vector<std::string>& list =
                all[*source::path_of_address(params.at("uri").get<std::string>())];
            for (const Json& finding : params.at("diagnostics")) {
                const Json& start = finding.at("range").at("start");
                list.push_back(std::to_string(start.at("line").get<int>() + 1) + ":" +
                               std::to_string(start.at("character").get<int>() + 1) + " " +
                               finding.at("code").get<std::string>());
            }
        }
        told_.clear();
        return all;
    }

    /// The labels of what could be written at a place.
    std::vector<std::string> choices(const Json& at) {
        std::vector<std::string> labels;
        const Json list = result("textDocument/completion", at);
        for (const Json& item : list.at("items"))
            labels.push_back(item.at("label").get<std::string>());
        return labels;
    }

    /// The texts of files once changes are carried out.
    [[nodiscard]] std::map<std::string, std::string> changed(const Json& edit) const {
        std::map<std::string, std::string> after;
        const auto carry_out = [&](const std::string& address, const Json& edits) {
            const std::string path = *source::path_of_address(address);
            serve::Document document(texts.at(path));
            // All are about the text as it was; from the last on none moves another.
            for (auto each = edits.rbegin(); each != edits.rend(); ++each) {
                const Json& range = each->at("range");
                document.replace({document.offset_of(serve::position_in(range.at("start"))),
                                  document.offset_of(serve::position_in(range.at("end")))},
                                 each->at("newText").get<std::string>());
            }
            after[path] = document.text();
        };
        if (edit.contains("changes"))
            for (const auto& [address, edits] : edit.at("changes").items())
                carry_out(address, edits);
        if (edit.contains("documentChanges"))
            for (const Json& each : edit.at("documentChanges"))
                carry_out(each.at("textDocument").at("uri").get<std::string>(), each.at("edits"));
        return after;
    }

    [[nodiscard]] serve::Server& server() { return server_; }
    std::map<std::string, std::string> texts;

private:
    serve::Server server_;
    std::vector<Json> told_;
    int last_ = 0;
    int version_ = 1;
};

} // namespace hestrel::tests
