#include "edit/applied.hpp"

#include "source/json.hpp"
#include "source/plan_files.hpp"
#include "source/source_text.hpp"
#include "source/yaml_json.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <optional>
#include <yaml.h>

namespace hestrel::edit {

namespace {

/// A document with the marks of all its values, from libyaml; aliases are the values they stand
/// for.
class Document {
public:
    explicit Document(const std::string& text) : text_(text), lines_(text) {
        yaml_parser_t parser;
        if (yaml_parser_initialize(&parser) == 0) throw std::bad_alloc();
        yaml_parser_set_input_string(&parser, reinterpret_cast<const unsigned char*>(text.data()),
                                     text.size());
        const bool read = yaml_parser_load(&parser, &document_) != 0;
        yaml_parser_delete(&parser);
        if (!read) throw ApplyError("the file is not YAML any more");
    }
    Document(const Document&) = delete;
    Document& operator=(const Document&) = delete;
    ~Document() { yaml_document_delete(&document_); }

    using Node = const yaml_node_t*;
    [[nodiscard]] Node root() { return yaml_document_get_root_node(&document_); }
    [[nodiscard]] Node node(int number) { return yaml_document_get_node(&document_, number); }
    [[nodiscard]] std::vector<std::pair<Node, Node>> entries(Node mapping) {
        std::vector<std::pair<Node, Node>> all;
        if (mapping->type != YAML_MAPPING_NODE) return all;
        const auto& pairs = mapping->data.mapping.pairs;
        for (const auto* pair = pairs.start; pair != pairs.top; ++pair)
            all.emplace_back(node(pair->key), node(pair->value));
        return all;
    }
    [[nodiscard]] std::vector<Node> elements(Node sequence) {
        std::vector<Node> all;
        if (sequence->type != YAML_SEQUENCE_NODE) return all;
        const auto& items = sequence->data.sequence.items;
        for (const auto* item = items.start; item != items.top; ++item) all.push_back(node(*item));
        return all;
    }
    [[nodiscard]] Node child(Node parent, const std::string& part) {
        const std::vector<Node> all = elements(parent);
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (std::to_string(i) == part) return all[i];
        }
        for (const auto& [key, value] : entries(parent)) {
            if (key->type != YAML_SCALAR_NODE) continue;
            const auto& scalar = key->data.scalar;
            if (std::string_view(reinterpret_cast<const char*>(scalar.value), scalar.length) ==
                part)
                return value;
        }
        return nullptr;
    }

    [[nodiscard]] std::size_t offset(const yaml_mark_t& mark) const {
        const auto at = lines_.offset_of({0, static_cast<std::uint32_t>(mark.line + 1),
                                          static_cast<std::uint32_t>(mark.column + 1)});
        return at.value_or(text_.size());
    }
    /// Written in brackets, or a scalar: its end mark is its end. What is written by indentation
    /// ends with its last part.
    [[nodiscard]] static bool in_brackets(Node node) {
        if (node->type == YAML_MAPPING_NODE)
            return node->data.mapping.style == YAML_FLOW_MAPPING_STYLE;
        return node->type != YAML_SEQUENCE_NODE ||
               node->data.sequence.style == YAML_FLOW_SEQUENCE_STYLE;
    }
    [[nodiscard]] std::size_t end(Node node) {
        if (in_brackets(node)) return offset(node->end_mark);
        const auto children = entries(node);
        if (!children.empty()) return end(children.back().second);
        const auto all = elements(node);
        return all.empty() ? offset(node->end_mark) : end(all.back());
    }
    [[nodiscard]] std::size_t start(Node node) const { return offset(node->start_mark); }
    [[nodiscard]] std::size_t column(Node node) const { return node->start_mark.column; }

private:
    const std::string& text_;
    source::SourceText lines_;
    yaml_document_t document_{};
};

std::size_t line_end(const std::string& text, std::size_t from) {
    const std::size_t end = text.find('\n', from);
    return end == std::string::npos ? text.size() : end;
}

/// Adds `entry` (`key: value`, or a value) behind the last part of a mapping or list.
std::string with_addition(Document& document, Document::Node parent, const std::string& text,
                          const std::string& entry) {
    std::string changed = text;
    const bool mapping = parent->type == YAML_MAPPING_NODE;
    const auto entries = document.entries(parent);
    const auto elements = document.elements(parent);
    const bool empty = entries.empty() && elements.empty();
    if (Document::in_brackets(parent)) {
        const std::size_t close = document.end(parent) - 1;
        if (empty) return changed.insert(close, entry);
        const std::size_t behind = document.end(mapping ? entries.back().second : elements.back());
        return changed.insert(behind, ", " + entry);
    }
    if (empty) throw ApplyError("there is nothing beside which a value could be put");
    const std::size_t at = line_end(text, document.end(parent));
    if (mapping) {
        const std::string indent(document.column(entries.front().first), ' ');
        return changed.insert(at, "\n" + indent + entry);
    }
    const std::size_t first = document.start(elements.front());
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
    Document document(text);
    Document::Node at = document.root();
    if (at == nullptr) throw ApplyError("the file is empty");
    for (std::size_t i = 0; i < setting.path.size(); ++i) {
        const Document::Node child = document.child(at, setting.path[i]);
        if (child != nullptr) {
            at = child;
            continue;
        }
        if (i + 1 < setting.path.size() || at->type == YAML_SCALAR_NODE)
            throw ApplyError(fmt::format("{} is not written out there, but shared by an anchor",
                                         fmt::join(setting.path, ".")));
        const bool mapping = at->type == YAML_MAPPING_NODE;
        return with_addition(document, at, text,
                             mapping ? setting.path[i] + ": " + setting.value : setting.value);
    }
    const std::size_t from = document.start(at);
    const std::size_t to = std::max(document.end(at), from);
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
