#include "exchange/plan_changes.hpp"

#include "edit/name_places.hpp"
#include "source/did_you_mean.hpp"
#include "source/lines.hpp"
#include "source/read_context.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::exchange {

PlanChanges::New& PlanChanges::New::entry(const std::string& key) {
    const auto [known, fresh] = numbers.try_emplace(key, keys.size());
    if (fresh) {
        keys.push_back(key);
        inside.emplace_back();
    }
    return inside[known->second];
}

std::string PlanChanges::New::text() const {
    if (keys.empty() && elements.empty()) return value;
    std::string text;
    for (std::size_t i = 0; i < keys.size(); ++i) {
        const std::string of_key = inside[i].text();
        const bool block = of_key.find('\n') != std::string::npos;
        text += "  " + keys[i] + (block ? ":\n" : ": ");
        for (const std::string_view line : source::lines_of(of_key))
            text.append(block ? "  " : "").append(line).append("\n");
    }
    for (const std::string& element : elements) text += "  - " + element + "\n";
    return text;
}

source::Value PlanChanges::at(const Path& path) const {
    const source::PlanFiles::Known known = again_.files.find(path);
    return known.parts == path.size() ? known.value : source::Value{};
}

PlanChanges::New& PlanChanges::new_at(const Path& path, std::size_t known) {
    const Path root(path.begin(), path.begin() + static_cast<std::ptrdiff_t>(known) + 1);
    const auto [number, fresh] = new_numbers_.try_emplace(root, new_.size());
    if (fresh) new_.emplace_back(root, New{});
    New* at = &new_[number->second].second;
    for (std::size_t i = known + 1; i < path.size(); ++i) at = &at->entry(path[i]);
    return *at;
}

void PlanChanges::set(const Path& path, const std::string& value) {
    const std::size_t known = again_.files.find(path).parts;
    if (known == path.size()) {
        settings_.push_back({path, value});
    } else {
        new_at(path, known).value = value;
    }
}

void PlanChanges::append(const Path& list, const std::string& value) {
    const source::PlanFiles::Known known = again_.files.find(list);
    if (known.parts < list.size()) {
        new_at(list, known.parts).elements.push_back(value);
        return;
    }
    const std::size_t number = known.value.elements().size() + appended_[list]++;
    Path element = list;
    element.push_back(std::to_string(number));
    settings_.push_back({std::move(element), value});
}

std::vector<source::Override> PlanChanges::take() {
    for (const auto& [path, added] : new_) settings_.push_back({path, added.text()});
    return std::move(settings_);
}

PlanChanges::Path PlanChanges::path_of_level(const std::string& name, const std::string& parent) {
    if (const plan::LevelId known = level(name)) return edit::path_of(plan_, known);
    if (const auto known = new_levels_.find(name); known != new_levels_.end()) return known->second;
    Path path;
    if (parent.empty()) {
        path = {"levels", name};
    } else {
        path = path_of_level(parent, {});
        path.insert(path.end(), {"sublevels", name});
    }
    new_levels_.emplace(name, path);
    return path;
}

std::optional<std::string> PlanChanges::objection_to(std::string_view name, std::string_view kind,
                                                     const std::vector<std::string_view>& known) {
    if (!source::is_name(name))
        return fmt::format("\"{}\" is no name of a {}: letters, digits, - and _, starting with a "
                           "letter or digit",
                           name, kind);
    for (const std::string_view each : known) {
        if (source::differs_only_in_capitals(name, each))
            return fmt::format("there is no {} \"{}\"{}", kind, name, source::capitals_hint(each));
    }
    return std::nullopt;
}

std::optional<std::string> PlanChanges::objection_to_level(const std::string& name) const {
    if (knows_level(name)) return std::nullopt;
    std::vector<std::string_view> known;
    for (const auto& [level, id] : levels_) known.push_back(level);
    return objection_to(name, "level", known);
}

} // namespace hestrel::exchange
