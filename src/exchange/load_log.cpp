#include "exchange/load_log.hpp"

#include "source/csv_reader.hpp"
#include "source/did_you_mean.hpp"
#include "source/quantities.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace hestrel::exchange {

namespace {

using calibrate::Measurement;

constexpr std::array<std::string_view, 9> log_columns{
    "piece", "packed", "unpacked", "objects", "make", "read_s", "unpack_s", "make_s", "attach_s"};
constexpr double most_objects_measured = 1e9;
constexpr double longest_measured_s = 1e7; // as the times of a plan

class LogReader {
public:
    LogReader(std::string_view csv, const std::string& path) : csv_(csv), path_(path) {}

    LoadLog read() {
        std::size_t at = 0;
        plan::Place place{0, 1, 1};
        const std::vector<source::CsvCell> header = source::next_record(csv_, at, place);
        if (!read_header(header)) return std::move(log_);
        while (at < csv_.size()) {
            const plan::Place line = place;
            const std::vector<source::CsvCell> cells = source::next_record(csv_, at, place);
            if (cells.size() == 1 && cells.front().text.empty()) continue;
            if (cells.size() != header.size()) {
                complain(line,
                         fmt::format("{} fields under {} columns", cells.size(), header.size()));
                continue;
            }
            read_row(cells, line);
        }
        return std::move(log_);
    }

private:
    void complain(plan::Place place, const std::string& message) {
        log_.errors.push_back(
            fmt::format("{}:{}:{}: error: {}", path_, place.line, place.column, message));
    }

    bool read_header(const std::vector<source::CsvCell>& header) {
        for (std::size_t i = 0; i < log_columns.size(); ++i) {
            const auto found =
                std::find_if(header.begin(), header.end(), [&](const source::CsvCell& cell) {
                    return cell.text == log_columns[i];
                });
            columns_[i] = static_cast<std::size_t>(found - header.begin());
        }
        for (const source::CsvCell& cell : header) {
            if (std::find(log_columns.begin(), log_columns.end(), cell.text) == log_columns.end())
                complain(cell.place, fmt::format("a log of loads has no column \"{}\"{}", cell.text,
                                                 source::hint(cell.text, log_columns)));
        }
        width_ = header.size();
        if (columns_[0] == width_) complain({0, 1, 1}, "a log of loads needs the column \"piece\"");
        return log_.errors.empty();
    }

    /// The number in a column; nothing where the cell is empty or its column is not there.
    template <class Parse>
    std::optional<double> number(const std::vector<source::CsvCell>& cells, std::size_t column,
                                 Parse parse) {
        if (columns_[column] == width_) return std::nullopt;
        const source::CsvCell& cell = cells[columns_[column]];
        if (cell.text.empty()) return std::nullopt;
        const auto parsed = parse(cell.text);
        if (const auto* wrong = std::get_if<std::string>(&parsed)) {
            complain(cell.place,
                     fmt::format("{} \"{}\" {}", log_columns[column], cell.text, *wrong));
            return std::nullopt;
        }
        return std::get<double>(parsed);
    }

    void read_row(const std::vector<source::CsvCell>& cells, plan::Place line) {
        const auto size = [](const std::string& text) -> source::Parsed<double> {
            const auto parsed = source::parse_memory(text);
            if (const auto* wrong = std::get_if<std::string>(&parsed)) return *wrong;
            return plan::in_mebibytes(std::get<plan::Bytes>(parsed));
        };
        const auto seconds = [](const std::string& text) -> source::Parsed<double> {
            auto parsed = source::parse_quantity(text, source::Quantity::time);
            const auto* value = std::get_if<double>(&parsed);
            if (value != nullptr && *value < 0) return std::string("is negative");
            if (value != nullptr && *value > longest_measured_s)
                return fmt::format("is more than {:.0f} s", longest_measured_s);
            return parsed;
        };
        const auto objects = [](const std::string& text) -> source::Parsed<double> {
            auto parsed = source::parse_number(text);
            const auto* value = std::get_if<double>(&parsed);
            if (value != nullptr && (*value < 0 || *value > most_objects_measured))
                return std::string("is no number of objects");
            return parsed;
        };
        Measurement measured;
        measured.line = line.line;
        measured.piece = cells[columns_[0]].text;
        std::size_t column = 1;
        measured.packed = number(cells, column++, size);
        measured.unpacked = number(cells, column++, size);
        measured.objects = number(cells, column++, objects);
        measured.planned_make = number(cells, column++, seconds);
        measured.read = number(cells, column++, seconds);
        measured.unpack = number(cells, column++, seconds);
        measured.make = number(cells, column++, seconds);
        measured.attach = number(cells, column, seconds);
        log_.measurements.push_back(std::move(measured));
    }

    std::string_view csv_;
    const std::string& path_;
    LoadLog log_;
    std::array<std::size_t, log_columns.size()> columns_{}; ///< by name; `width_`: not there
    std::size_t width_ = 0;
};

} // namespace

LoadLog read_load_log(std::string_view csv, const std::string& path) {
    return LogReader(csv, path).read();
}

} // namespace hestrel::exchange
