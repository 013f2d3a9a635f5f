#include "source/plan_files.hpp"

#include "plan/names.hpp"
#include "source/plan_reader.hpp"

#include <algorithm>
#include <filesystem>

namespace hestrel::source {

namespace {

constexpr std::size_t most_files = 10'000;

bool is_key_of_plan(std::string_view text) {
    const ObjectKeys& known = keys::plan;
    return std::any_of(known.keys.begin(), known.keys.end(),
                       [&](const Key& key) { return key.name == text; });
}

/// Whether any line begins as a part of a plan would. What a file that is none says is nobody's
/// business, so nothing of it is shown: `include` may name any file of the machine.
bool could_be_plan(std::string_view text) {
    while (!text.empty()) {
        const std::string_view line = text.substr(0, text.find('\n'));
        if (is_key_of_plan(line.substr(0, std::min(line.find_first_of(": \r"), line.size()))))
            return true;
        text.remove_prefix(std::min(line.size() + 1, text.size()));
    }
    return false;
}

/// The same for a file that is YAML; an empty one is a part of a plan without anything in it.
bool could_be_plan(const Value& root) {
    const auto entries = root.entries();
    return root.is_null() || std::any_of(entries.begin(), entries.end(), [](const auto& entry) {
               return is_key_of_plan(entry.first.text());
           });
}

} // namespace

Value child_of(const Value& value, const std::string& part) {
    if (value.is_sequence()) {
        const auto elements = value.elements();
        for (std::size_t i = 0; i < elements.size(); ++i) {
            if (std::to_string(i) == part) return elements[i];
        }
        return {};
    }
    for (const auto& [key, entry] : value.entries()) {
        if (key.text() == part) return entry;
    }
    return {};
}

PlanFiles::Known PlanFiles::find(const std::vector<std::string>& path) const {
    Known best;
    for (std::size_t tree = 0; tree < trees_.size(); ++tree) {
        Known known{tree, 0, trees_[tree]->root()};
        for (const std::string& part : path) {
            const Value child = child_of(known.value, part);
            if (!child) break;
            known.value = child;
            ++known.parts;
        }
        if (tree == 0 || known.parts > best.parts) best = known;
    }
    return best;
}

void PlanFiles::read(const std::string& path, plan::Place named_at) {
    const std::string text = read_text(path, named_at);
    if (plan_.files.size() == most_files) {
        throw FileError(fmt::format("{}: a plan of more than {} files", path, most_files));
    }
    const auto file = static_cast<std::uint32_t>(plan_.files.size());
    plan_.files.push_back(path);
    std::unique_ptr<YamlTree> tree;
    try {
        tree = std::make_unique<YamlTree>(text, file);
    } catch (const YamlError& error) {
        broken_ += text + "\n";
        if (named_at.line > 0 && !could_be_plan(text))
            refuse(path, named_at);
        else
            reading_.error("broken-yaml", error.place, error.what());
        return;
    }
    const Value root = tree->root();
    if (named_at.line > 0 && !could_be_plan(root)) {
        refuse(path, named_at);
        return;
    }
    trees_.push_back(std::move(tree));
    for (const auto& [key, value] : root.entries()) {
        if (key.text() == "include") {
            for (const auto& [included, place] : paths_in(value, path)) include(included, place);
        } else if (key.text() == "sizes") {
            for (const auto& [table, place] : paths_in(value, path))
                tables_.emplace_back(table, place);
        }
    }
}

void PlanFiles::refuse(const std::string& path, plan::Place named_at) {
    reading_.error("wrong-value", named_at, fmt::format("{} is no part of a plan", path));
}

void PlanFiles::set(const Override& wanted) {
    const auto file = static_cast<std::uint32_t>(plan_.files.size());
    plan_.files.push_back(fmt::format("--set {}", fmt::join(wanted.path, ".")));
    const plan::Place place{file, 1, 1};
    if (trees_.empty()) return;
    const Known known = find(wanted.path);
    YamlTree& tree = *trees_[known.tree];
    try {
        if (tree.set(wanted.path, wanted.value, place)) return;
    } catch (const YamlError& error) {
        reading_.error("broken-yaml", place, error.what());
        return;
    }
    std::vector<std::string_view> keys;
    const auto entries = known.value.entries();
    for (const auto& [key, value] : entries) keys.push_back(key.text());
    const std::size_t most = known.parts;
    reading_.error(
        "unknown-name", place,
        fmt::format("there is no \"{}\" at {}{}", wanted.path[most],
                    most == 0 ? "the top of the plan"
                              : fmt::format("{}", fmt::join(wanted.path.begin(),
                                                            wanted.path.begin() +
                                                                static_cast<std::ptrdiff_t>(most),
                                                            ".")),
                    reading_.hint(wanted.path[most], keys)));
}

void PlanFiles::measure(const TableReader& read_table) {
    for (const auto& [path, place] : tables_) {
        const std::string_view text = reading_.keep(read_text(path, place));
        plan_.files.push_back(path);
        read_table(text, static_cast<std::uint32_t>(plan_.files.size() - 1), place);
    }
}

std::string PlanFiles::read_text(const std::string& path, plan::Place named_at) {
    try {
        return disk_.read(path);
    } catch (const FileError& error) {
        if (named_at.line == 0) throw;
        throw FileError(fmt::format("{}: {}", plan::place_text(plan_, named_at), error.what()));
    }
}

void PlanFiles::include(const std::string& path, plan::Place place) {
    if (std::find(plan_.files.begin(), plan_.files.end(), path) != plan_.files.end()) {
        reading_.error("cycle", place, fmt::format("{} is part of this plan already", path));
        return;
    }
    if (!lies_below(std::filesystem::path(plan_.files.front()).parent_path(), path))
        reading_.note("include-outside", place,
                      fmt::format("{} lies outside the folder of this plan", path));
    read(path, place);
}

/// The files that a list of names and patterns stands for, relative to the file it stands in.
std::vector<std::pair<std::string, plan::Place>> PlanFiles::paths_in(const Value& value,
                                                                     const std::string& path) {
    std::vector<std::pair<std::string, plan::Place>> paths;
    const std::filesystem::path folder = std::filesystem::path(path).parent_path();
    const std::vector<Value> names =
        value.is_scalar() ? std::vector{value} : reading_.list(value, "a list of file names");
    for (const Value& name : names) {
        std::string text;
        reading_.text(name, text);
        if (text.empty()) continue;
        const std::string full = (folder / text).lexically_normal().string();
        if (text.find_first_of("*?") == std::string::npos) {
            paths.emplace_back(full, name.place());
            continue;
        }
        const std::vector<std::string> matching = disk_.matching(full);
        if (matching.empty())
            reading_.wrong_value(name, fmt::format("no file matches {}", name.description()));
        for (const std::string& each : matching) paths.emplace_back(each, name.place());
    }
    return paths;
}

} // namespace hestrel::source
