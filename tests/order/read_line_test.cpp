// Reads that share a rate, in a line.

#include "order/read_line.hpp"

#include <catch2/catch.hpp>

using namespace hestrel;

namespace {

plan::ReadSettings reading(std::int64_t per_second, plan::Micros latency, std::uint32_t parallel) {
    plan::ReadSettings reading;
    reading.rate = {per_second};
    reading.latency = latency;
    reading.parallel = parallel;
    return reading;
}

using Times = std::vector<std::int64_t>;
constexpr std::int64_t second = 1'000'000;

} // namespace

TEST_CASE("reads two at a time share the rate") {
    order::ReadLine line(reading(100, {}, 2));
    CHECK(line.ends().empty());
    line.push(100);
    CHECK(line.ends() == Times{second});
    // 50 bytes/s each until 2 s; the other has 200 left then, and all the rate.
    line.push(300);
    CHECK(line.ends() == Times{2 * second, 4 * second});
    // A third starts at 2 s, and has 50 bytes/s.
    CHECK(line.end_of_next(50) == 3 * second);
    // By the time that any 50 bytes more are read, so are 50 of the 200.
    CHECK(std::abs(line.free_from(50) - 2'500'000) <= 1);
    line.push(50);
    CHECK(line.ends() == Times{2 * second, 9 * second / 2, 3 * second});
    line.pop();
    CHECK(line.ends() == Times{2 * second, 4 * second});
    line.pop();
    CHECK(line.ends() == Times{second});
}

TEST_CASE("one at a time, each has its latency") {
    order::ReadLine line(reading(100, plan::seconds(1), 1));
    line.push(100);
    line.push(0);
    line.push(50);
    CHECK(line.ends() == Times{2 * second, 3 * second, 9 * second / 2});
    CHECK(line.end_of_next(100) == 13 * second / 2);
}

TEST_CASE("beside another a latency passes, and costs it nothing") {
    order::ReadLine line(reading(100, plan::seconds(1), 2));
    line.push(100);
    line.push(100);
    // Both transfer from 1 s on.
    CHECK(line.ends() == Times{3 * second, 3 * second});
    // The third waits for room, then for its latency.
    CHECK(line.end_of_next(100) == 5 * second);
}

TEST_CASE("what takes ages ends, too") {
    order::ReadLine line(reading(1, {}, 3));
    const std::int64_t huge = 1'000'000'000'000'000'000;
    for (int i = 0; i < 5; ++i) line.push(huge - 7 * i);
    for (const std::int64_t end : line.ends()) CHECK(end == 100'000'000'000'000'000);
}
