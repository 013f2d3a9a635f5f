#include "tables/words.hpp"

#include "support/printing.hpp"
#include "tables/csv.hpp"

using namespace hestrel;

TEST_CASE("CSV quotes what needs it, and ends rows with CRLF") {
    tables::Csv csv{"a", "b"};
    csv.row({"plain", "with, comma"});
    csv.row({"say \"hi\"", "two\nlines"});
    csv.row({"", ""});
    CHECK(csv.text() ==
          "a,b\r\nplain,\"with, comma\"\r\n\"say \"\"hi\"\"\",\"two\nlines\"\r\n,\r\n");
}

TEST_CASE("times and sizes in words") {
    CHECK(tables::seconds_text(plan::Micros{12'500'000}) == "12.500000");
    CHECK(tables::seconds_text(plan::Micros{-1}) == "-0.000001");
    CHECK(tables::short_time(plan::milliseconds(33)) == "33 ms");
    CHECK(tables::short_time(plan::milliseconds(12'346)) == "12.35 s");
    CHECK(tables::short_memory(plan::mebibytes(999)) == "999 MiB");
    CHECK(tables::short_memory(plan::mebibytes(1'312)) == "1,312 MiB");
    CHECK(tables::short_memory(plan::mebibytes(1'048'576)) == "1,048,576 MiB");
}
