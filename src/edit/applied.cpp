#include "edit/applied.hpp"

#include "source/json.hpp"
#include "source/lines.hpp"
#include "source/plan_files.hpp"
#include "source/yaml_json.hpp"
#include "source/yaml_writer.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>
#include <map>
#include <optional>
#include <set>
#include <span>

namespace hestrel::edit {

namespace {

/// Where the values of a text stand in it.
class Offsets {
public:
    Offsets(const source::SourceText& lines, std::size_t size) : lines_(lines), size_(size) {}

    [[nodiscard]] std::size_t start(const source::Value& value) const { return at(value.start()); }
    [[nodiscard]] std::size_t end(const source::Value& value) const { return at(value.end()); }

private:
    [[nodiscard]] std::size_t at(plan::Place place) const {
        return lines_.offset_of({0, place.line, place.column}).value_or(size_);
    }
    const source::SourceText& lines_;
    std::size_t size_; ///< of the text
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

/// How far in a mapping's key stands; 0 of an element.
std::size_t key_column(const source::Value& parent, const std::string& part) {
    for (const auto& [key, value] : parent.written_entries()) {
        if (key.is_scalar() && key.text() == part) return key.place().column - 1;
    }
    return 0;
}

std::size_t line_end(std::string_view text, std::size_t from) {
    const std::size_t end = text.find('\n', from);
    return std::min(end, text.size());
}

/// A value of one line; of several lines they are its own, by indentation.
bool is_block(const std::string& value) {
    return value.find('\n') != std::string::npos;
}
/// The same on one line.
std::string on_one_line(const std::string& value) {
    return is_block(value) ? source::flow_yaml(source::YamlTree(value, 0).root()) : value;
}
/// Behind a key or a dash that stands so far in.
std::string behind(const std::string& value, std::size_t column) {
    if (!is_block(value)) return " " + value;
    std::string text;
    for (const std::string_view line : source::lines_of(value)) {
        if (!line.empty()) text.append("\n").append(column, ' ').append(line);
    }
    return text;
}

/// New lines behind the line in which that byte is, ended as that one is.
Replacement new_lines(std::string_view text, std::size_t in, const std::string& lines) {
    std::size_t at = line_end(text, in);
    if (at == 0 || text[at - 1] != '\r') return {{at, at}, lines};
    --at;
    std::string ended;
    for (const char c : lines) ended += c == '\n' ? std::string("\r\n") : std::string(1, c);
    return {{at, at}, ended};
}

/// What adds a value, with its key where it has one, behind the last part of a mapping or list.
Replacement addition(const Offsets& offsets, const source::Value& parent, std::string_view text,
                     const std::string& key, const std::string& value) {
    const bool mapping = parent.is_mapping();
    const auto entries = parent.written_entries();
    const auto elements = parent.elements();
    const bool empty = entries.empty() && elements.empty();
    if (parent.in_brackets()) {
        const std::string entry = (mapping ? key + ": " : "") + on_one_line(value);
        const std::size_t close = offsets.end(parent) - 1;
        if (empty) return {{close, close}, entry};
        const std::size_t last = offsets.end(mapping ? entries.back().second : elements.back());
        return {{last, last}, ", " + entry};
    }
    if (empty) throw ApplyError("there is nothing beside which a value could be put");
    const std::size_t end = offsets.end(parent);
    if (mapping) {
        const std::size_t column = entries.front().first.place().column - 1;
        return new_lines(text, end,
                         "\n" + std::string(column, ' ') + key + ":" + behind(value, column));
    }
    const std::size_t first = offsets.start(elements.front());
    const std::size_t line = text.rfind('\n', first) + 1; // npos + 1 is 0
    const std::size_t dash = text.rfind('-', first == 0 ? 0 : first - 1);
    if (dash == std::string::npos || dash < line)
        throw ApplyError("a list is not written in a way that can be added to");
    return new_lines(text, end, "\n" + std::string(dash - line, ' ') + "- " + on_one_line(value));
}

/// What puts a value at its path into a text; nothing where only what is put there before makes
/// room for it.
std::optional<Replacement> change_of(const Offsets& offsets, const source::Value& root,
                                     std::string_view text, const source::Override& setting) {
    source::Value at = root;
    std::size_t column = 0; // of the key whose value it is
    for (std::size_t i = 0; i < setting.path.size(); ++i) {
        if (const source::Value child = written_child(at, setting.path[i])) {
            column = key_column(at, setting.path[i]);
            at = child;
            continue;
        }
        if (i + 1 < setting.path.size()) return std::nullopt;
        if (at.is_null() && at.text().empty()) { // `levels:` and nothing behind it
            return new_lines(text, offsets.start(at),
                             "\n" + std::string(column + 2, ' ') + setting.path[i] + ":" +
                                 behind(setting.value, column + 2));
        }
        if (at.is_scalar()) return std::nullopt;
        return addition(offsets, at, text, setting.path[i], setting.value);
    }
    const std::size_t from = offsets.start(at);
    const std::size_t to = std::max(offsets.end(at), from);
    return Replacement{{from, to}, (from == to ? " " : "") + on_one_line(setting.value)};
}

/// Changes of one text that can be made at once: they lie apart, or add behind the same part of the
/// same mapping or list, which their comma, or how far in they stand, tells.
class ChangesAtOnce {
public:
    /// False where it does not go with the others.
    bool add(Replacement change) {
        const std::string lead = change.by.substr(0, change.by.find_first_not_of("\r\n, "));
        const bool adds = change.span.from == change.span.to && !lead.empty();
        const auto next = leads_.lower_bound(change.span);
        if (next != leads_.end() && next->first == change.span) {
            if (!adds || next->second != lead) return false;
        } else if ((next != leads_.end() && change.span.to > next->first.from) ||
                   (next != leads_.begin() && std::prev(next)->first.to > change.span.from)) {
            return false;
        }
        leads_.emplace(change.span, adds ? lead : std::string());
        changes_.push_back(std::move(change));
        return true;
    }
    /// The text with all of them; what is added in one place in the order of adding.
    [[nodiscard]] std::string applied_to(const std::string& text) {
        std::stable_sort(changes_.begin(), changes_.end(),
                         [](const auto& one, const auto& other) { return one.span < other.span; });
        return replaced(text, changes_);
    }

private:
    std::vector<Replacement> changes_;
    std::map<Span, std::string> leads_; ///< none overlaps another
};

[[noreturn]] void refuse(const source::Override& setting) {
    throw ApplyError(fmt::format("{} is not written out there, but shared by an anchor",
                                 fmt::join(setting.path, ".")));
}

/// One text with values at paths, in their order. It is taken apart as often as one value makes
/// room for the next.
std::string with_values(std::string text, std::span<const source::Override> settings) {
    while (!settings.empty()) {
        std::optional<source::YamlTree> tree;
        try {
            tree.emplace(text, 0);
        } catch (const source::YamlError&) {
            throw ApplyError("the file is not YAML any more");
        }
        const source::SourceText lines(text);
        const Offsets offsets(lines, text.size());
        const source::Value root = tree->root();
        if (root.is_null()) throw ApplyError("the file is empty");
        ChangesAtOnce changes;
        std::set<std::vector<std::string>> paths;
        std::size_t done = 0;
        for (; done < settings.size(); ++done) {
            auto change = change_of(offsets, root, text, settings[done]);
            if (!change || !paths.insert(settings[done].path).second) break;
            if (!changes.add(std::move(*change))) break;
        }
        if (done == 0) refuse(settings.front());
        text = changes.applied_to(text);
        settings = settings.subspan(done);
    }
    return text;
}

/// The same as JSON without an order of keys.
nlohmann::json meaning(const source::YamlTree& tree) {
    return nlohmann::json::parse(source::yaml_as_json(tree.root()).dump());
}

} // namespace

Replacement change_for(std::string_view text, const source::SourceText& lines,
                       const source::YamlTree& tree, const source::Override& setting) {
    if (tree.root().is_null()) throw ApplyError("the file is empty");
    auto change = change_of(Offsets(lines, text.size()), tree.root(), text, setting);
    if (!change) refuse(setting);
    return std::move(*change);
}

std::string with_value(const std::string& text, const source::Override& setting) {
    return with_values(text, {&setting, 1});
}

std::vector<std::pair<std::string, std::string>>
applied(source::Disk& disk, const std::string& path,
        const std::vector<source::Override>& settings) {
    source::FilesAgain again(disk, path, {});
    source::PlanFiles& files = again.files;
    const std::vector<std::string> paths(again.names.files);
    std::vector<std::vector<source::Override>> of_file(paths.size());
    for (const source::Override& setting : settings) {
        const std::size_t tree = files.find(setting.path).tree;
        of_file[files.trees()[tree]->root().place().file].push_back(setting);
        files.set(setting);
    }
    if (!again.reading.findings().empty())
        throw ApplyError("these values can't be set in this plan");
    std::vector<std::pair<std::string, std::string>> changed;
    for (const auto& tree : files.trees()) {
        const std::uint32_t file = tree->root().place().file;
        if (of_file[file].empty()) continue;
        std::string text = with_values(disk.read(paths[file]), of_file[file]);
        bool as_meant = false;
        try {
            as_meant = meaning(source::YamlTree(text, file)) == meaning(*tree);
        } catch (const source::YamlError&) { // said below
        }
        if (!as_meant)
            throw ApplyError(fmt::format(
                "{} shares what would change with other places by an anchor; change it by hand",
                paths[file]));
        changed.emplace_back(paths[file], std::move(text));
    }
    return changed;
}

} // namespace hestrel::edit
