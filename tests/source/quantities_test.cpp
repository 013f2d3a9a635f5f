#include "source/quantities.hpp"

#include "source/did_you_mean.hpp"
#include "support/printing.hpp"

#include <array>

using namespace hestrel;
using namespace hestrel::source;

namespace {

template <class T>
bool refused(const Parsed<T>& parsed) {
    return std::holds_alternative<std::string>(parsed);
}

} // namespace

TEST_CASE("memory: MiB, or a unit; decimal units are decimal") {
    CHECK(std::get<plan::Bytes>(parse_memory("140")) == plan::mebibytes(140));
    CHECK(std::get<plan::Bytes>(parse_memory("1.5 GiB")) == plan::mebibytes(1536));
    CHECK(std::get<plan::Bytes>(parse_memory("512KiB")).count == 512 * 1024);
    CHECK(std::get<plan::Bytes>(parse_memory("2 MB")).count == 2'000'000);
    CHECK(std::get<plan::Bytes>(parse_memory("1 kB")).count == 1'000);
    CHECK(std::get<plan::Bytes>(parse_memory("1 GB")).count == 1'000'000'000);
}

TEST_CASE("a range of times takes one unit for both ends, or one each") {
    const auto read = [](const char* text) {
        const auto range = std::get<plan::TimeRange>(source::parse_time_range(text));
        return std::pair(range.low, range.high);
    };
    CHECK(read("2..5 s") == std::pair(plan::seconds(2), plan::seconds(5)));
    CHECK(read("200 ms..1 s") == std::pair(plan::milliseconds(200), plan::seconds(1)));
    CHECK(read("3") == std::pair(plan::seconds(3), plan::seconds(3)));
    CHECK(std::holds_alternative<std::string>(source::parse_time_range("5..2 s")));
    CHECK(std::holds_alternative<std::string>(source::parse_time_range("-1..2 s")));
}

TEST_CASE("a range of memory takes one unit for both ends, or one each") {
    const auto low = [](std::string_view text) {
        return std::get<plan::SizeRange>(parse_memory_range(text)).low;
    };
    const auto high = [](std::string_view text) {
        return std::get<plan::SizeRange>(parse_memory_range(text)).high;
    };
    CHECK(low("80..140") == plan::mebibytes(80));
    CHECK(high("80..140") == plan::mebibytes(140));
    CHECK(low("1..2 GiB") == plan::mebibytes(1024));
    CHECK(low("512 MiB..1 GiB") == plan::mebibytes(512));
    CHECK(low("70") == high("70"));
    CHECK(refused(parse_memory_range("140..80")));
    CHECK(refused(parse_memory_range("..80")));
    CHECK(refused(parse_memory_range("80..")));
}

TEST_CASE("times, rates, speeds and distances") {
    CHECK(std::get<plan::Micros>(parse_time("8 ms")) == plan::milliseconds(8));
    CHECK(std::get<plan::Micros>(parse_time("0.1")) == plan::milliseconds(100));
    CHECK(std::get<plan::Micros>(parse_time("2 min")) == plan::seconds(120));
    CHECK(std::get<plan::Micros>(parse_time("250 us")).count == 250);
    CHECK(std::get<plan::NanosPerObject>(parse_time_per_object("0.4 us")).count == 400);
    CHECK(std::get<plan::ByteRate>(parse_data_rate("90")).per_second == plan::mebibytes(90).count);
    CHECK(std::get<plan::ByteRate>(parse_data_rate("1 GB/s")).per_second == 1'000'000'000);
    CHECK(std::get<double>(parse_speed("36 km/h")) == Approx(10));
    CHECK(std::get<double>(parse_distance("150 cm")) == Approx(1.5));
    CHECK(std::get<double>(parse_distance("-3")) == -3);
}

TEST_CASE(
    "what is no quantity is refused: NaN, infinities, hex, nothing, wrong units, absurd sizes") {
    for (const auto* text : {"nan", ".nan", "inf", ".inf", "0x10", "", " ", "-", ".", "1e999", "1e",
                             "12 parsecs", "1,5"}) {
        CAPTURE(text);
        CHECK(refused(parse_memory(text)));
        CHECK(refused(parse_time(text)));
    }
    CHECK(refused(parse_memory("-1")));
    CHECK(refused(parse_memory("1e12")));
    CHECK(refused(parse_time("-1 ms")));
    CHECK(refused(parse_data_rate("0")));
    CHECK(refused(parse_speed("0")));
    CHECK(refused(parse_distance("1e9")));
    CHECK(refused(parse_number("1 s")));
}

TEST_CASE("the nearest right name, if it is near enough to be a slip") {
    constexpr std::array<std::string_view, 4> names{"post-hall", "quay", "ferry-deck", "net-shed"};
    CHECK(nearest("qauy", names) == "quay");
    CHECK(nearest("post-hal", names) == "post-hall");
    CHECK(nearest("observatory", names).empty());
    CHECK(hint("Quay", names) == "; it differs from \"quay\" only in capitals");
    CHECK(hint("fery-deck", names) == "; did you mean \"ferry-deck\"?");
    CHECK(hint("zzz", names).empty());
}
