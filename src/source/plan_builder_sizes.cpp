// Tables of measured sizes: piece,device,pool,memory,packed,objects,build,date.

#include "source/plan_builder.hpp"

#include "source/csv_reader.hpp"

#include <algorithm>
#include <array>

namespace hestrel::source {

namespace {

constexpr std::array<std::string_view, 8> column_names{"piece",  "device",  "pool",  "memory",
                                                       "packed", "objects", "build", "date"};
constexpr std::size_t columns_read = 6; ///< build and date are for people

} // namespace

void PlanBuilder::measure(std::string_view csv, std::uint32_t file, plan::Place named_at) {
    std::size_t at = 0;
    plan::Place place{file, 1, 1};
    const std::vector<CsvCell> header = next_record(csv, at, place);
    std::vector<std::size_t> columns; // by column_names: where it stands, or header.size()
    for (const std::string_view name : column_names) {
        const auto found = std::find_if(header.begin(), header.end(),
                                        [&](const CsvCell& cell) { return cell.text == name; });
        columns.push_back(static_cast<std::size_t>(found - header.begin()));
    }
    const bool knows_none = std::all_of(columns.begin(), columns.end(), [&](std::size_t column) {
        return column == header.size();
    });
    if (knows_none) { // whatever it is, nothing of it is told
        reading_.error("wrong-value", named_at,
                       fmt::format("{} is no table of sizes", plan_.files[file]));
        return;
    }
    for (const auto& [name, where] : header) {
        if (std::find(column_names.begin(), column_names.end(), name) != column_names.end())
            continue;
        reading_.error("unknown-key", where,
                       fmt::format("a table of sizes has no column \"{}\"{}", name,
                                   reading_.hint(name, column_names)));
    }
    if (columns[0] == header.size()) {
        reading_.error("missing-key", {file, 1, 1}, "a table of sizes needs the column \"piece\"");
        return;
    }
    while (at < csv.size()) {
        const plan::Place line = place;
        const std::vector<CsvCell> cells = next_record(csv, at, place);
        if (cells.size() == 1 && cells.front().text.empty()) continue;
        if (cells.size() != header.size()) {
            reading_.error("wrong-value", line,
                           fmt::format("{} fields under {} columns", cells.size(), header.size()));
            continue;
        }
        SizesRow row{line, {}};
        for (std::size_t i = 0; i < columns_read; ++i) {
            row.cells.at(i).place = line;
            if (columns[i] == header.size()) continue;
            row.cells.at(i) = {cells[columns[i]].text, cells[columns[i]].place};
        }
        measure_row(row);
    }
}

void PlanBuilder::measure_row(const SizesRow& row) {
    const auto& [piece, device, pool_name, memory, packed, objects] = row.cells;
    plan::Measured measured;
    measured.place = row.place;
    const auto kept = [&](const SizesCell& cell) {
        const std::string_view text = reading_.keep(cell.text);
        return Spot{cell.place, text};
    };
    if (!device.text.empty()) {
        const Spot spot = kept(device);
        measured.device = reading_.lookup(spot.text, spot, devices_);
        if (!measured.device) return;
    }
    const auto size = [&](const SizesCell& cell,
                          std::string_view column) -> std::optional<plan::SizeRange> {
        if (cell.text.empty()) return std::nullopt;
        const Parsed<plan::SizeRange> parsed = parse_memory_range(cell.text);
        if (const auto* problem = std::get_if<std::string>(&parsed)) {
            reading_.error("wrong-value", cell.place,
                           fmt::format("{} \"{}\" {}", column, cell.text, *problem));
            return std::nullopt;
        }
        return std::get<plan::SizeRange>(parsed);
    };
    if (const auto in_memory = size(memory, "memory")) {
        if (!is_name(pool_name.text)) {
            reading_.error("wrong-value", pool_name.place,
                           fmt::format("\"{}\" is no pool for this memory", pool_name.text));
            return;
        }
        measured.figures.memory.emplace_back(pool(kept(pool_name).text, pool_name.place),
                                             *in_memory);
    }
    measured.figures.packed = size(packed, "packed");
    if (!objects.text.empty()) {
        const Parsed<double> number = parse_number(objects.text);
        const auto* count = std::get_if<double>(&number);
        if (count == nullptr || *count < 0 || *count > static_cast<double>(most_objects)) {
            reading_.error("wrong-value", objects.place,
                           fmt::format("\"{}\" is no number of objects", objects.text));
            return;
        }
        measured.figures.objects = static_cast<std::int64_t>(*count);
    }
    const Spot spot = kept(piece);
    if (const plan::LevelId level = levels_.find(piece.text)) {
        reading_.mention("level", {}, spot.text, spot);
        plan_.levels[level].content.measured.push_back(std::move(measured));
    } else if (const plan::KitId kit = kits_.find(piece.text)) {
        reading_.mention("kit", {}, spot.text, spot);
        plan_.kits[kit].content.measured.push_back(std::move(measured));
    } else {
        reading_.error("unknown-name", piece.place,
                       fmt::format("no level and no kit is called \"{}\"{}", piece.text,
                                   reading_.hint(piece.text, levels_, kits_)));
    }
}

} // namespace hestrel::source
