#include "exchange/level_list.hpp"

#include "plan/names.hpp"
#include "source/csv_reader.hpp"
#include "source/did_you_mean.hpp"
#include "source/quantities.hpp"
#include "source/read_context.hpp"
#include "source/utf8.hpp"
#include "source/yaml_writer.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace hestrel::exchange {

namespace {

using source::CsvCell;
using Path = PlanChanges::Path;

constexpr std::array<std::string_view, 7> fixed_columns{"level",   "parent", "title",  "owner",
                                                        "purpose", "packed", "objects"};
constexpr double most_objects = 1e9; // docs/model.md section 12

class LevelImporter {
public:
    LevelImporter(source::Disk& disk, const plan::Plan& plan, const std::string& plan_path,
                  std::string_view csv, const std::string& list_path)
        : plan_(plan), changes_(disk, plan, plan_path), csv_(csv), path_(list_path) {}

    Imported all() {
        csv_ = source::without_byte_order_mark(csv_);
        std::size_t at = 0;
        plan::Place place{0, 1, 1};
        header_ = source::next_record(csv_, at, place);
        if (!read_header()) return std::move(imported_);
        std::vector<std::vector<CsvCell>> rows;
        while (at < csv_.size()) {
            const plan::Place line = place;
            rows.push_back(source::next_record(csv_, at, place));
            if (rows.back().size() == 1 && rows.back().front().text.empty()) {
                rows.pop_back();
            } else if (rows.back().size() != header_.size()) {
                complain(line, fmt::format("{} fields under {} columns", rows.back().size(),
                                           header_.size()));
                rows.pop_back();
            }
        }
        // Who stands in another comes after it, in whatever order the list has them.
        for (const auto& row : rows) in_list_.insert(cell(row, "level"));
        if (in_list_.size() < rows.size()) find_doubles(rows);
        std::vector<bool> done(rows.size(), false);
        for (bool any = true; any;) {
            any = false;
            for (std::size_t i = 0; i < rows.size(); ++i) {
                if (done[i] || !is_ready(rows[i])) continue;
                read_row(rows[i]);
                done[i] = any = true;
            }
        }
        for (std::size_t i = 0; i < rows.size(); ++i) {
            if (!done[i])
                complain(rows[i].front().place, "levels of this list stand in each other, round in "
                                                "a circle");
        }
        for (const plan::Level& level : plan_.levels) {
            if (!level.grid && !in_list_.contains(level.name))
                imported_.kept.push_back({"level", level.name});
        }
        imported_.settings = changes_.take();
        return std::move(imported_);
    }

private:
    void complain(plan::Place place, const std::string& message) {
        imported_.errors.push_back(
            fmt::format("{}:{}:{}: error: {}", path_, place.line, place.column, message));
    }

    bool read_header() {
        std::vector<std::string_view> known(fixed_columns.begin(), fixed_columns.end());
        for (const std::string& pool : plan_.pools) known.emplace_back(pool);
        std::set<std::string> seen;
        for (const CsvCell& column : header_) {
            const bool is_known = std::find(known.begin(), known.end(), column.text) != known.end();
            // Where a plan has no pools yet, a list says which there are.
            const bool new_pool = plan_.pools.empty() && source::is_name(column.text) &&
                                  source::nearest(column.text, fixed_columns).empty();
            if (!seen.insert(column.text).second) {
                complain(column.place, fmt::format("two columns are \"{}\"", column.text));
            } else if (!is_known && !new_pool) {
                complain(column.place,
                         fmt::format("a level list has no column \"{}\", and the plan no such "
                                     "pool{}",
                                     column.text, source::hint(column.text, known)));
            }
        }
        if (!seen.contains("level")) complain({0, 1, 1}, "a level list needs the column \"level\"");
        return imported_.errors.empty();
    }
    void find_doubles(const std::vector<std::vector<CsvCell>>& rows) {
        std::set<std::string> seen;
        for (const auto& row : rows) {
            if (seen.insert(cell(row, "level")).second) continue;
            complain(row[column("level")].place,
                     fmt::format("{} stands there twice", cell(row, "level")));
        }
    }

    [[nodiscard]] std::size_t column(std::string_view name) const {
        const auto found = std::find_if(header_.begin(), header_.end(),
                                        [&](const CsvCell& column) { return column.text == name; });
        return static_cast<std::size_t>(found - header_.begin());
    }
    /// Empty where there is no such column, too.
    [[nodiscard]] std::string cell(const std::vector<CsvCell>& row, std::string_view name) const {
        const std::size_t at = column(name);
        return at < row.size() ? row[at].text : std::string();
    }
    /// Whether what it stands in is there, or will never be.
    [[nodiscard]] bool is_ready(const std::vector<CsvCell>& row) const {
        const std::string parent = cell(row, "parent");
        return parent.empty() || changes_.knows_level(parent) || !in_list_.contains(parent);
    }

    void read_row(const std::vector<CsvCell>& row) {
        const std::string name = cell(row, "level");
        const std::string parent = cell(row, "parent");
        const plan::Place place = row[column("level")].place;
        if (const auto objection = changes_.objection_to_level(name))
            return complain(place, *objection);
        const plan::LevelId known = changes_.level(name);
        if (!known && !parent.empty() && !changes_.knows_level(parent)) {
            std::vector<std::string_view> names;
            for (const plan::Level& level : plan_.levels) names.emplace_back(level.name);
            return complain(row[column("parent")].place,
                            fmt::format("neither plan nor list has a level \"{}\"{}", parent,
                                        source::hint(parent, names)));
        }
        if (known && plan_.levels[known].grid) {
            imported_.notes.push_back(
                fmt::format("{}:{}: note: {} is a cell, which is written nowhere by itself: left "
                            "out",
                            path_, place.line, name));
            return;
        }
        if (known && !parent.empty()) note_parent(known, parent, place);
        const Path path = changes_.path_of_level(name, parent);
        differences_.clear();
        static const plan::Level nothing;
        const plan::Level& level = known ? plan_.levels[known] : nothing;
        read_text(row, path, "title", level.title);
        read_text(row, path, "owner", level.owner);
        read_purpose(row, path, level);
        for (const CsvCell& each : header_) {
            if (std::find(fixed_columns.begin(), fixed_columns.end(), each.text) ==
                fixed_columns.end())
                read_size(row, path / "memory" / each.text, each.text, pool_of(level, each.text));
        }
        read_size(row, path / "packed", "packed", level.content.figures.packed);
        read_objects(row, path, level);
        if (!known) {
            if (differences_.empty()) changes_.set(path, "{}");
            imported_.added.push_back({"level", name});
        } else if (differences_.empty()) {
            ++imported_.same;
        } else {
            imported_.changed.push_back(fmt::format("{}: level {}: {}",
                                                    plan::place_text(plan_, level.place), name,
                                                    plan::joined(differences_)));
        }
    }
    void note_parent(plan::LevelId known, const std::string& parent, plan::Place place) {
        const plan::LevelId is_in = plan_.levels[known].parent;
        if (is_in && plan_.levels[is_in].name == parent) return;
        imported_.notes.push_back(
            fmt::format("{}:{}: note: {} stands in {} in the plan, and stays there", path_,
                        place.line, plan_.levels[known].name,
                        is_in ? plan_.levels[is_in].name : std::string("no other level")));
    }

    void say_difference(std::string_view what, const std::string& before, const std::string& now) {
        differences_.push_back(before.empty() ? fmt::format("{} {}", what, now)
                                              : fmt::format("{} {} → {}", what, before, now));
    }
    void read_text(const std::vector<CsvCell>& row, const Path& path, std::string_view what,
                   const std::string& before) {
        const std::string text = cell(row, what);
        if (text.empty() || text == before) return;
        changes_.set(path / what, source::scalar_yaml(text));
        say_difference(what, before, text);
    }
    /// Where a plan has no purposes yet, a list says which there are.
    void read_purpose(const std::vector<CsvCell>& row, const Path& path, const plan::Level& level) {
        const std::string wanted = cell(row, "purpose");
        std::vector<std::string_view> known;
        for (const plan::Purpose& purpose : plan_.purposes) known.emplace_back(purpose.name);
        if (!wanted.empty() && !known.empty() &&
            std::find(known.begin(), known.end(), wanted) == known.end())
            return complain(row[column("purpose")].place,
                            fmt::format("the plan has no purpose \"{}\"{}", wanted,
                                        source::hint(wanted, known)));
        if (!wanted.empty() && known.empty() && purposes_.insert(wanted).second) {
            changes_.set({"purposes", wanted}, "{needs: []}");
            imported_.added.push_back({"purpose", wanted});
        }
        read_text(row, path, "purpose",
                  level.purpose ? plan_.purposes[level.purpose].name : std::string());
    }
    [[nodiscard]] std::optional<plan::SizeRange> pool_of(const plan::Level& level,
                                                         std::string_view pool) const {
        for (const auto& [of, size] : level.content.figures.memory) {
            if (plan_.pools[of] == pool) return size;
        }
        return std::nullopt;
    }
    void read_size(const std::vector<CsvCell>& row, const Path& path, std::string_view what,
                   const std::optional<plan::SizeRange>& before) {
        const std::size_t at = column(what);
        if (at >= row.size() || row[at].text.empty()) return;
        const auto parsed = source::parse_memory_range(row[at].text);
        if (const auto* wrong = std::get_if<std::string>(&parsed))
            return complain(row[at].place, fmt::format("{} \"{}\" {}", what, row[at].text, *wrong));
        const auto& size = std::get<plan::SizeRange>(parsed);
        if (before && before->low == size.low && before->high == size.high) return;
        changes_.set(path, row[at].text);
        say_difference(what, before ? source::exact_mebibytes(*before) : std::string(),
                       source::exact_mebibytes(size));
    }
    void read_objects(const std::vector<CsvCell>& row, const Path& path, const plan::Level& level) {
        const std::size_t at = column("objects");
        if (at >= row.size() || row[at].text.empty()) return;
        const auto parsed = source::parse_number(row[at].text);
        const double* number = std::get_if<double>(&parsed);
        if (number == nullptr || *number < 0 || *number > most_objects ||
            *number != std::floor(*number))
            return complain(row[at].place, fmt::format("objects is a whole number from 0 to 10^9, "
                                                       "not \"{}\"",
                                                       row[at].text));
        const auto objects = static_cast<std::int64_t>(*number);
        const auto& before = level.content.figures.objects;
        if (before == objects) return;
        changes_.set(path / "objects", std::to_string(objects));
        say_difference("objects", before ? std::to_string(*before) : std::string(),
                       std::to_string(objects));
    }

    const plan::Plan& plan_;
    PlanChanges changes_;
    std::string_view csv_;
    const std::string& path_;
    std::vector<CsvCell> header_;
    std::set<std::string> in_list_;
    std::set<std::string> purposes_;       ///< new ones
    std::vector<std::string> differences_; ///< of the row at hand
    Imported imported_;
};

} // namespace

Imported import_levels(source::Disk& disk, const plan::Plan& plan, const std::string& plan_path,
                       std::string_view csv, const std::string& list_path) {
    return LevelImporter(disk, plan, plan_path, csv, list_path).all();
}

} // namespace hestrel::exchange
