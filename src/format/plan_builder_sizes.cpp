// Tables of measured sizes: piece,device,pool,memory,packed,objects,build,date.

#include "format/plan_builder.hpp"

#include <algorithm>
#include <array>

namespace hestrel::format {

namespace {

constexpr std::array<std::string_view, 8> column_names{"piece",  "device",  "pool",  "memory",
                                                       "packed", "objects", "build", "date"};
constexpr std::size_t columns_read = 6; ///< build and date are for people
constexpr std::int64_t most_objects = 1'000'000'000;

/// The cells of one record of RFC 4180, starting at `at`, which is moved behind it. A quoted cell
/// may hold commas, doubled quotes and line ends; `lines` counts those.
std::vector<std::string> next_record(std::string_view csv, std::size_t& at, std::uint32_t& lines) {
    std::vector<std::string> cells(1);
    bool quoted = false;
    for (; at < csv.size(); ++at) {
        const char c = csv[at];
        if (c == '\n') ++lines;
        if (quoted) {
            if (c != '"') {
                cells.back() += c;
            } else if (at + 1 < csv.size() && csv[at + 1] == '"') {
                cells.back() += csv[++at];
            } else {
                quoted = false;
            }
        } else if (c == '"') {
            quoted = true;
        } else if (c == ',') {
            cells.emplace_back();
        } else if (c == '\n') {
            ++at;
            return cells;
        } else if (c != '\r') {
            cells.back() += c;
        }
    }
    ++lines;
    return cells;
}

} // namespace

void PlanBuilder::measure(std::string_view csv, std::uint32_t file) {
    std::size_t at = 0;
    std::uint32_t line = 1;
    std::uint32_t next_line = 1;
    const std::vector<std::string> header = next_record(csv, at, next_line);
    std::vector<std::size_t> columns; // by column_names: where it stands, or header.size()
    for (const std::string_view name : column_names) {
        columns.push_back(static_cast<std::size_t>(std::find(header.begin(), header.end(), name) -
                                                   header.begin()));
    }
    for (const std::string& name : header) {
        if (std::find(column_names.begin(), column_names.end(), name) != column_names.end())
            continue;
        reading_.error(
            "unknown-key", {file, 1, 1},
            fmt::format("a table of sizes has no column \"{}\"{}", name, hint(name, column_names)));
    }
    if (columns[0] == header.size()) {
        reading_.error("missing-key", {file, 1, 1}, "a table of sizes needs the column \"piece\"");
        return;
    }
    while (at < csv.size()) {
        line = next_line;
        const std::vector<std::string> cells = next_record(csv, at, next_line);
        if (cells.size() == 1 && cells.front().empty()) continue;
        if (cells.size() != header.size()) {
            reading_.error("wrong-value", {file, line, 1},
                           fmt::format("{} fields under {} columns", cells.size(), header.size()));
            continue;
        }
        measure_row(cells, columns, {file, line, 1});
    }
}

void PlanBuilder::measure_row(const std::vector<std::string>& cells,
                              const std::vector<std::size_t>& columns, plan::Place place) {
    std::array<std::string_view, columns_read> row{};
    for (std::size_t i = 0; i < columns_read; ++i) {
        if (columns[i] < cells.size()) row.at(i) = cells[columns[i]];
    }
    const auto [piece, device_name, pool_name, memory, packed, objects] = row;
    plan::Measured measured;
    measured.place = place;
    if (!device_name.empty()) {
        measured.device = reading_.lookup(device_name, place, devices_);
        if (!measured.device) return;
    }
    const auto size = [&](std::string_view text,
                          std::string_view column) -> std::optional<plan::SizeRange> {
        if (text.empty()) return std::nullopt;
        const Parsed<plan::SizeRange> parsed = parse_memory_range(text);
        if (const auto* problem = std::get_if<std::string>(&parsed)) {
            reading_.error("wrong-value", place,
                           fmt::format("{} \"{}\" {}", column, text, *problem));
            return std::nullopt;
        }
        return std::get<plan::SizeRange>(parsed);
    };
    if (const auto in_memory = size(memory, "memory")) {
        if (!is_name(pool_name)) {
            reading_.error("wrong-value", place,
                           fmt::format("\"{}\" is no pool for this memory", pool_name));
            return;
        }
        measured.figures.memory.emplace_back(pool(reading_.keep(pool_name)), *in_memory);
    }
    measured.figures.packed = size(packed, "packed");
    if (!objects.empty()) {
        const Parsed<double> number = parse_number(objects);
        const auto* count = std::get_if<double>(&number);
        if (count == nullptr || *count < 0 || *count > static_cast<double>(most_objects)) {
            reading_.error("wrong-value", place,
                           fmt::format("\"{}\" is no number of objects", objects));
            return;
        }
        measured.figures.objects = static_cast<std::int64_t>(*count);
    }
    if (const plan::LevelId level = levels_.find(piece)) {
        plan_.levels[level].content.measured.push_back(std::move(measured));
    } else if (const plan::KitId kit = kits_.find(piece)) {
        plan_.kits[kit].content.measured.push_back(std::move(measured));
    } else {
        std::vector<std::string_view> known = levels_.all();
        known.insert(known.end(), kits_.all().begin(), kits_.all().end());
        reading_.error(
            "unknown-name", place,
            fmt::format("no level and no kit is called \"{}\"{}", piece, hint(piece, known)));
    }
}

} // namespace hestrel::format
