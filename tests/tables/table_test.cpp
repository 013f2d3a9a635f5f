// A table is said once and written in several forms.

#include "tables/table.hpp"

#include "report/html_table.hpp"
#include "support/printing.hpp"
#include "tables/text_table.hpp"

using namespace hestrel;
using tables::Cell;

namespace {

struct Parcel {
    std::string name;
    plan::Bytes size;
    std::optional<plan::Micros> needed;
    std::vector<std::string> levels;
    bool exact = true;
};

tables::Columns<Parcel> columns() {
    return {{"parcel", [](const Parcel& each) { return each.name; }},
            {"size_mib", [](const Parcel& each) { return each.size; }, true},
            {"needed_s", [](const Parcel& each) { return each.needed; }, true},
            {"levels", [](const Parcel& each) { return each.levels; }},
            {"exact", [](const Parcel& each) { return each.exact; }}};
}

std::vector<Parcel> parcels() {
    return {{"core", plan::mebibytes(1'400), plan::milliseconds(12'500), {"title", "hall"}, true},
            {"coast|east", plan::Bytes{1 << 19}, std::nullopt, {}, false}};
}

} // namespace

TEST_CASE("tables: as CSV times have six decimals, sizes three, lists blanks between") {
    CHECK(tables::csv_of(columns(), parcels()) == "parcel,size_mib,needed_s,levels,exact\r\n"
                                                  "core,1400.000,12.500000,title hall,yes\r\n"
                                                  "coast|east,0.500,,,no\r\n");
    CHECK(tables::csv_of(columns(), std::vector<Parcel>{}) ==
          "parcel,size_mib,needed_s,levels,exact\r\n");
}

TEST_CASE("tables: as JSON numbers are numbers, lists arrays, nothing null") {
    const source::Json json = tables::json_of(columns(), parcels());
    CHECK(json.dump() ==
          R"([{"parcel":"core","size_mib":1400.0,"needed_s":12.5,"levels":["title","hall"],)"
          R"("exact":true},{"parcel":"coast|east","size_mib":0.5,"needed_s":null,"levels":[],)"
          R"("exact":false}])");
}

TEST_CASE("tables: as Markdown figures stand to the right, and bars are escaped") {
    CHECK(tables::markdown_of(columns(), parcels(), 9) ==
          "| parcel | size_mib | needed_s | levels | exact |\n|---|--:|--:|---|---|\n"
          "| core | 1,400 | 12.50 s | title, hall | yes |\n"
          "| coast\\|east | 0 |  |  | no |\n");
    const std::string cut = tables::markdown_of(columns(), parcels(), 1);
    CHECK(cut.ends_with("yes |\n\nand 1 more\n"));
}

TEST_CASE("tables: on a terminal columns are as wide as they need to be") {
    CHECK(tables::TextTable::of(columns(), parcels(), 1).text() ==
          "parcel  size_mib  needed_s  levels       exact\n"
          "core       1,400   12.50 s  title, hall  yes\n");
}

TEST_CASE("tables: on the page a value is sorted by what it is, not by what is read") {
    const report::HtmlTable::Cell size = plan::mebibytes(1'400);
    CHECK(size.text == "1,400");
    CHECK(size.key == std::to_string(plan::mebibytes(1'400).count));
    const auto time = report::HtmlTable::graded(plan::milliseconds(33), "bad");
    CHECK(time.text == "33 ms");
    CHECK(time.key == "33000");
    CHECK(time.grade == "bad");
    const report::HtmlTable::Cell name = std::string("quay");
    CHECK(name.key == "quay");
    const report::HtmlTable::Cell none = std::optional<plan::Micros>{};
    CHECK(none.text.empty());
    CHECK(none.key.empty());
}

TEST_CASE("tables: cells of every kind in every form") {
    CHECK(Cell(7U).csv() == "7");
    CHECK(Cell(std::int64_t{-7}).json() == -7);
    CHECK(Cell::number(2.0 / 3, 3).csv() == "0.667");
    CHECK(Cell::number(0.25, 3).json() == 0.25);
    CHECK(Cell("plain").text() == "plain");
    CHECK(Cell(std::string_view("view")).json() == "view");
    CHECK(Cell(plan::Micros{-1}).csv() == "-0.000001");
    CHECK(Cell().csv().empty());
    CHECK(Cell().json().is_null());
    CHECK(Cell(std::optional<plan::Bytes>(plan::mebibytes(2))).csv() == "2.000");
    CHECK(tables::markdown_cell("a_b*c\nd") == "a\\_b\\*c d");
}
