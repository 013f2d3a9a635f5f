#include "edit/applied.hpp"

#include "source/json.hpp"
#include "source/plan_files.hpp"
#include "source/source_text.hpp"
#include "source/yaml_json.hpp"
#include "source/yaml_tree.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <optional>

namespace hestrel::edit {

namespace {

/// Where the values of a text stand in it.
class Offsets {
public:
    explicit Offsets(const std::string& text) : size_(text.size()), lines_(text) {}

    [[nodiscard]] std::size_t start(const source::Value& value) const { return at(value.start()); }
    [[nodiscard]] std::size_t end(const source::Value& value) const { return at(value.end()); }

private:
    [[nodiscard]] std::size_t at(plan::Place place) const {
        return lines_.offset_of({0, place.line, place.column}).value_or(size_);
    }
    std::size_t size_;
    source::SourceText lines_;
};

/// The part of a value that an element's number or a key names; none where it is not written there.
source::Value written_child(const source::Value& parent, const std::string& part) {
    const std::vector<source::Value> elements = parent.elements();
    for (std::size_t i = 0; i < elements.size(); ++i) {
        if (std::to_string(i) == part) return elements[i];
    }
    for (const auto& [key, value] : parent.written_entries()) {
        if (key.is_scalar() && key.text() == part) return value;
    }
    return {};
}

std::size_t line_end(const std::string& text, std::size_t from) {
    const std::size_t end = text.find('\n', from);
    return end == std::string::npos ? text.size() : end;
}

/// Adds `entry` (`key: value`, or a value) behind the last part of a mapping or list.
std::string with_addition(const Offsets& offsets, const source::Value& parent,
                          const std::string& text, const std::string& entry) {
    std::string changed = text;
    const bool mapping = parent.is_mapping();
    const auto entries = parent.written_entries();
    const auto elements = parent.elements();
    const bool empty = entries.empty() && elements.empty();
    if (parent.in_brackets()) {
        const std::size_t close = offsets.end(parent) - 1;
        if (empty) return changed.insert(close, entry);
        const std::size_t behind = offsets.end(mapping ? entries.back().second : elements.back());
        return changed.insert(behind, ", " + entry);
    }
    if (empty) throw ApplyError("there is nothing beside which a value could be put");
    const std::size_t at = line_end(text, offsets.end(parent));
    if (mapping) {
        const std::string indent(entries.front().first.place().column - 1, ' ');
        return changed.insert(at, "\n" + indent + entry);
    }
    const std::size_t first = offsets.start(elements.front());
    const std::size_t line = text.rfind('\n', first) + 1; // npos + 1 is 0
    const std::size_t dash = text.rfind('-', first == 0 ? 0 : first - 1);
    if (dash == std::string::npos || dash < line)
        throw ApplyError("a list is not written in a way that can be added to");
    return changed.insert(at, "\n" + std::string(dash - line, ' ') + "- " + entry);
}

/// The same as JSON without an order of keys.
nlohmann::json meaning(const source::YamlTree& tree) {
    return nlohmann::json::parse(source::yaml_as_json(tree.root()).dump());
}

} // namespace

std::string with_value(const std::string& text, const source::Override& setting) {
    std::optional<source::YamlTree> tree;
    try {
        tree.emplace(text, 0);
    } catch (const source::YamlError&) {
        throw ApplyError("the file is not YAML any more");
    }
    const Offsets offsets(text);
    source::Value at = tree->root();
    if (at.is_null()) throw ApplyError("the file is empty");
    for (std::size_t i = 0; i < setting.path.size(); ++i) {
        if (const source::Value child = written_child(at, setting.path[i])) {
            at = child;
            continue;
        }
        if (i + 1 < setting.path.size() || at.is_scalar())
            throw ApplyError(fmt::format("{} is not written out there, but shared by an anchor",
                                         fmt::join(setting.path, ".")));
        return with_addition(offsets, at, text,
                             at.is_mapping() ? setting.path[i] + ": " + setting.value
                                             : setting.value);
    }
    const std::size_t from = offsets.start(at);
    const std::size_t to = std::max(offsets.end(at), from);
    std::string changed = text;
    return changed.replace(from, to - from, (from == to ? " " : "") + setting.value);
}

std::vector<std::pair<std::string, std::string>>
applied(source::Disk& disk, const std::string& path,
        const std::vector<source::Override>& settings) {
    source::FilesAgain again(disk, path, {});
    source::PlanFiles& files = again.files;
    const std::vector<std::string> paths(again.names.files);
    std::vector<std::optional<std::string>> texts(paths.size());
    for (const source::Override& setting : settings) {
        const std::size_t tree = files.find(setting.path).tree;
        const std::uint32_t file = files.trees()[tree]->root().place().file;
        if (!texts[file]) texts[file] = disk.read(paths[file]);
        texts[file] = with_value(*texts[file], setting);
        files.set(setting);
    }
    if (!again.reading.findings().empty())
        throw ApplyError("these values can't be set in this plan");
    std::vector<std::pair<std::string, std::string>> changed;
    for (const auto& tree : files.trees()) {
        const std::uint32_t file = tree->root().place().file;
        if (!texts[file]) continue;
        bool as_meant = false;
        try {
            as_meant = meaning(source::YamlTree(*texts[file], file)) == meaning(*tree);
        } catch (const source::YamlError&) { // said below
        }
        if (!as_meant)
            throw ApplyError(fmt::format(
                "{} shares what would change with other places by an anchor; change it by hand",
                paths[file]));
        changed.emplace_back(paths[file], *texts[file]);
    }
    return changed;
}

} // namespace hestrel::edit
