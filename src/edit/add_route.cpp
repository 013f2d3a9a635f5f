#include "edit/add_route.hpp"

#include "edit/applied.hpp"
#include "source/lines.hpp"
#include "source/source_text.hpp"
#include "source/yaml_tree.hpp"
#include "source/yaml_writer.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <optional>

namespace hestrel::edit {

namespace {

/// Each line that much further in.
std::string indented(const std::string& block, std::size_t by) {
    std::string text;
    for (const std::string_view line : source::lines_of(block))
        text.append(by, ' ').append(line).append("\n");
    return text;
}

/// What a mapping written out has under a key, and where the key stands.
struct Found {
    source::Value value;
    bool there = false;
};
Found child(const source::Value& root, std::string_view wanted) {
    for (const auto& [key, value] : root.written_entries()) {
        if (key.is_scalar() && key.text() == wanted) return {value, true};
    }
    return {};
}

/// Behind the line in which a value ends.
std::size_t line_behind(const std::string& text, const source::Value& value) {
    const plan::Place end = value.end();
    const std::size_t at =
        source::SourceText(text).offset_of({0, end.line, end.column}).value_or(text.size());
    const std::size_t line = text.find('\n', at);
    return line == std::string::npos ? text.size() : line + 1;
}

std::string with_lines(const std::string& text, std::size_t at, const std::string& lines) {
    std::string changed = text.substr(0, at);
    if (!changed.empty() && changed.back() != '\n') changed += "\n";
    return changed + lines + text.substr(at);
}

} // namespace

std::string with_route(const std::string& text, const std::string& name, const std::string& block) {
    std::optional<source::YamlTree> tree;
    std::optional<source::YamlTree> route;
    try {
        tree.emplace(text, 0);
        route.emplace(block, 0);
    } catch (const source::YamlError&) {
        throw ApplyError("the file is not YAML any more");
    }
    const source::Value root = tree->root();
    const std::string flow = source::flow_yaml(route->root().entries().front().second);
    if (root.is_null()) throw ApplyError("the file is empty");
    const Found routes = child(root, "routes");
    if (!routes.there && root.in_brackets())
        return with_value(text, {{"routes"}, fmt::format("{{{}: {}}}", name, flow)});
    if (!routes.there || routes.value.is_null()) {
        if (routes.there) throw ApplyError("its `routes:` is empty; take that line out");
        const std::string gap = text.ends_with('\n') ? "\n" : "\n\n";
        return text + gap + "routes:\n" + indented(block, 2);
    }
    if (routes.value.in_brackets()) return with_value(text, {{"routes", name}, flow});
    const auto entries = routes.value.written_entries();
    if (entries.empty()) throw ApplyError("its routes are shared by an anchor");
    return with_lines(text, line_behind(text, routes.value),
                      indented(block, entries.front().first.place().column - 1));
}

} // namespace hestrel::edit
