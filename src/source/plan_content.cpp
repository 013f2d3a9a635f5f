#include "source/plan_content.hpp"

#include "source/csv_reader.hpp"
#include "source/plan_files.hpp"
#include "source/yaml_json.hpp"
#include "source/yaml_writer.hpp"

#include <algorithm>

namespace hestrel::source {

namespace {

/// Adds what one file says to what others have said.
void merge(Json& whole, const Json& part) {
    if (whole.is_object() && part.is_object()) {
        for (const auto& [key, value] : part.items()) {
            if (whole.contains(key)) {
                merge(whole[key], value);
            } else {
                whole[key] = value;
            }
        }
    } else if (whole.is_array() && part.is_array()) {
        whole.insert(whole.end(), part.begin(), part.end());
    } else {
        whole = part;
    }
}

/// The rows of a table of sizes, by what they are about.
Json rows_of(std::string_view csv) {
    Json rows = Json::object();
    std::size_t at = 0;
    plan::Place place{0, 1, 1};
    const std::vector<CsvCell> header = next_record(csv, at, place);
    constexpr std::size_t named = 3; // piece, device, pool
    while (at < csv.size()) {
        const std::vector<CsvCell> cells = next_record(csv, at, place);
        if (cells.size() < named) continue;
        std::string key = cells[0].text;
        for (std::size_t i = 1; i < named; ++i) {
            if (!cells[i].text.empty()) key += " " + cells[i].text;
        }
        for (std::size_t i = named; i < std::min(cells.size(), header.size()); ++i) {
            if (!cells[i].text.empty()) rows[key][header[i].text] = cells[i].text;
        }
    }
    return rows;
}

class Comparison {
public:
    std::vector<PlanChange> changes;

    void compare(const std::string& path, const Json& before, const Json& after) {
        if (before == after) return;
        if (before.is_object() && after.is_object()) {
            compare_objects(path, before, after);
        } else if (before.is_array() && after.is_array() && before.size() == after.size() &&
                   is_deep(before)) {
            for (std::size_t i = 0; i < before.size(); ++i)
                compare(path + "." + std::to_string(i), before[i], after[i]);
        } else if (before.is_array() && after.is_array() && is_deep(before)) {
            compare_lists(path, before, after);
        } else {
            changes.push_back({path, flow_yaml(before), flow_yaml(after)});
        }
    }

private:
    /// A list of more than words and numbers.
    static bool is_deep(const Json& list) {
        return std::any_of(list.begin(), list.end(),
                           [](const Json& each) { return each.is_structured(); });
    }
    static std::string below(const std::string& path, const std::string& key) {
        return path.empty() ? key : path + "." + key;
    }
    void compare_objects(const std::string& path, const Json& before, const Json& after) {
        for (const auto& [key, value] : after.items()) {
            const auto known = before.find(key);
            if (known == before.end()) {
                changes.push_back({below(path, key), "", flow_yaml(value)});
            } else {
                compare(below(path, key), *known, value);
            }
        }
        for (const auto& [key, value] : before.items()) {
            if (!after.contains(key)) changes.push_back({below(path, key), flow_yaml(value), ""});
        }
    }
    void compare_lists(const std::string& path, const Json& before, const Json& after) {
        std::vector<Json> left(before.begin(), before.end());
        for (std::size_t i = 0; i < after.size(); ++i) {
            const auto same = std::find(left.begin(), left.end(), after[i]);
            if (same != left.end()) {
                left.erase(same);
            } else {
                changes.push_back({path + "." + std::to_string(i), "", flow_yaml(after[i])});
            }
        }
        for (const Json& gone : left) changes.push_back({path, flow_yaml(gone), ""});
    }
};

} // namespace

Json plan_content(Disk& disk, const std::string& path, const std::vector<Override>& tried) {
    FilesAgain again(disk, path, tried);
    PlanFiles& files = again.files;
    Json whole = Json::object();
    for (const auto& tree : files.trees()) {
        Json part = yaml_as_json(tree->root());
        if (!part.is_object()) continue;
        for (const char* about_files : {"hestrel", "include", "sizes"}) part.erase(about_files);
        merge(whole, part);
    }
    files.measure([&](std::string_view text, std::uint32_t, plan::Place) {
        Json rows = rows_of(text);
        if (!whole.contains("sizes")) whole["sizes"] = Json::object();
        merge(whole["sizes"], rows);
    });
    return whole;
}

std::vector<PlanChange> plan_changes(const Json& before, const Json& after) {
    Comparison comparison;
    comparison.compare("", before, after);
    return std::move(comparison.changes);
}

} // namespace hestrel::source
