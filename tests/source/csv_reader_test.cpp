// Tables read cell by cell (RFC 4180), each cell with its place.

#include "source/csv_reader.hpp"

#include "support/printing.hpp"
#include "tables/csv.hpp"

#include <random>

using namespace hestrel;
using source::CsvCell;

namespace {

/// All records: each cell as "text@line:column".
std::vector<std::vector<std::string>> records_of(std::string_view csv) {
    std::vector<std::vector<std::string>> records;
    plan::Place place{0, 1, 1};
    for (std::size_t at = 0; at < csv.size();) {
        auto& record = records.emplace_back();
        for (const CsvCell& cell : source::next_record(csv, at, place))
            record.push_back(cell.text + "@" + std::to_string(cell.place.line) + ":" +
                             std::to_string(cell.place.column));
    }
    return records;
}
using Records = std::vector<std::vector<std::string>>;

} // namespace

TEST_CASE("CSV: cells, empty ones too, with their places") {
    CHECK(records_of("piece,packed\nquay,140\n") ==
          Records{{"piece@1:1", "packed@1:7"}, {"quay@2:1", "140@2:6"}});
    CHECK(records_of("a,,c\n") == Records{{"a@1:1", "@1:3", "c@1:4"}});
}

TEST_CASE("CSV: lines end with LF, CRLF, or the file") {
    CHECK(records_of("a,b\r\nc,d") == Records{{"a@1:1", "b@1:3"}, {"c@2:1", "d@2:3"}});
}

TEST_CASE("CSV: a quoted cell holds commas, quotes and lines") {
    CHECK(records_of("\"a,b\",c\n") == Records{{"a,b@1:1", "c@1:7"}});
    CHECK(records_of("\"say \"\"hi\"\"\"\n") == Records{{"say \"hi\"@1:1"}});
    CHECK(records_of("\"two\nlines\",x\ny\n") == Records{{"two\nlines@1:1", "x@2:8"}, {"y@3:1"}});
}

TEST_CASE("CSV: columns count characters, not bytes") {
    CHECK(records_of("süd,x\n") == Records{{"süd@1:1", "x@1:5"}});
}

TEST_CASE("CSV: a quote that is never closed takes the rest, and ends") {
    CHECK(records_of("a,\"b,c\nd") == Records{{"a@1:1", "b,c\nd@1:3"}});
}

TEST_CASE("CSV: what is written is read again, whatever it is") {
    std::mt19937 random(1);
    constexpr std::string_view letters = "ab,\"\r\n é";
    for (int round = 0; round < 300; ++round) {
        std::vector<std::string> cells(1 + random() % 4);
        for (std::string& cell : cells) {
            for (std::size_t left = random() % 6; left > 0; --left)
                cell += letters.substr(random() % letters.size(), 1);
        }
        tables::Csv csv;
        for (const std::string& cell : cells) csv.add(cell);
        csv.end_row();
        plan::Place place{0, 1, 1};
        const std::string text = csv.take();
        std::size_t at = 0;
        std::vector<std::string> again;
        for (const CsvCell& cell : source::next_record(text, at, place)) again.push_back(cell.text);
        CHECK(again == cells);
        CHECK(at == text.size());
    }
}
