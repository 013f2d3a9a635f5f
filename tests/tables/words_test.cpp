#include "tables/words.hpp"

#include "support/dice.hpp"
#include "support/printing.hpp"
#include "tables/csv.hpp"

#include <fmt/format.h>

using namespace hestrel;

TEST_CASE("CSV quotes what needs it, and ends rows with CRLF") {
    tables::Csv csv{"a", "b"};
    csv.row({"plain", "with, comma"});
    csv.row({"say \"hi\"", "two\nlines"});
    csv.row({"", ""});
    CHECK(csv.take() ==
          "a,b\r\nplain,\"with, comma\"\r\n\"say \"\"hi\"\"\",\"two\nlines\"\r\n,\r\n");
}

TEST_CASE("CSV takes figures as they are written everywhere else") {
    tables::Csv csv{"count", "s", "mib", "none"};
    csv.add(std::int64_t{-12}).add(plan::Micros{1'000'001}).add(plan::mebibytes(3));
    csv.add(std::optional<plan::Micros>()).end_row();
    csv.add("=1+1").add("'x").add("-3.5").add("+49 30").end_row(); // the first and last are
                                                                   // formulas
    CHECK(csv.take() == "count,s,mib,none\r\n-12,1.000001,3.000,\r\n'=1+1,'x,-3.5,'+49 30\r\n");
    CHECK(tables::seconds_text(plan::Micros{INT64_MIN}) == "-9223372036854.775808");
}

TEST_CASE("sizes in MiB are rounded as any number is, to the even one of two") {
    const auto by_the_library = [](std::int64_t bytes) {
        return fmt::format("{:.3f}", static_cast<double>(bytes) / 1'048'576);
    };
    // Half a thousandth of a MiB is 524.288 bytes: it is met at multiples of 2^16 bytes.
    for (std::int64_t count = 0; count < 200; ++count) {
        const std::int64_t bytes = count * 65'536;
        CHECK(tables::mebibytes_text({bytes}) == by_the_library(bytes));
    }
    tests::Dice dice(1);
    for (int i = 0; i < 3000; ++i) {
        const std::int64_t bytes = (std::int64_t{dice.below(1 << 30)} << dice.below(24)) - 1;
        CHECK(tables::mebibytes_text({bytes}) == by_the_library(bytes));
    }
    for (const std::int64_t bytes :
         {std::int64_t{-1}, std::int64_t{-5'000'000}, std::int64_t{1} << 50,
          (std::int64_t{1} << 50) + 524'288, std::int64_t{1} << 61})
        CHECK(tables::mebibytes_text({bytes}) == by_the_library(bytes));
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
