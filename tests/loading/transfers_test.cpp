#include "loading/transfers.hpp"

#include "support/printing.hpp"

#include <random>

using namespace hestrel;
using loading::PieceId;
using loading::Transfers;
using plan::Micros;

namespace {

constexpr plan::ByteRate ninety{plan::mebibytes(90).count};

/// Runs to the next end, takes it and says what it was.
std::pair<Micros, PieceId> take(Transfers& transfers) {
    const auto end = transfers.next_end();
    REQUIRE(end);
    transfers.advance(end->at);
    transfers.take_end();
    return {end->at, end->piece};
}

} // namespace

TEST_CASE("a transfer alone gets the whole rate, its end rounded up") {
    Transfers transfers(ninety);
    transfers.start({}, PieceId{0}, plan::mebibytes(30), 1);
    CHECK(take(transfers).first == Micros{333'334});
    CHECK(transfers.idle());
}

TEST_CASE("three transfers share the rate; what rounding leaves over belongs to the others") {
    // 90 MiB/s, 20 + 30 + 40 MiB: ends at 60/90, 80/90 and exactly 90/90 s.
    Transfers transfers(ninety);
    transfers.start({}, PieceId{0}, plan::mebibytes(40), 1);
    transfers.start({}, PieceId{1}, plan::mebibytes(20), 2);
    transfers.start({}, PieceId{2}, plan::mebibytes(30), 3);
    CHECK(take(transfers) == std::pair{Micros{666'667}, PieceId{1}});
    CHECK(take(transfers) == std::pair{Micros{888'889}, PieceId{2}});
    CHECK(take(transfers) == std::pair{Micros{1'000'000}, PieceId{0}});
}

TEST_CASE("transfers that end in one microsecond end in order of start") {
    Transfers transfers(ninety);
    transfers.start({}, PieceId{7}, plan::mebibytes(45), 1);
    transfers.start({}, PieceId{3}, plan::mebibytes(45), 2);
    CHECK(take(transfers) == std::pair{Micros{1'000'000}, PieceId{7}});
    CHECK(take(transfers) == std::pair{Micros{1'000'000}, PieceId{3}});
}

TEST_CASE("a transfer given up leaves its share to the others from that moment on") {
    Transfers transfers(ninety);
    transfers.start({}, PieceId{0}, plan::mebibytes(90), 1);
    transfers.start({}, PieceId{1}, plan::mebibytes(90), 2);
    transfers.advance(plan::seconds(1)); // 45 MiB each
    transfers.give_up(PieceId{1});
    CHECK(take(transfers) == std::pair{Micros{1'500'000}, PieceId{0}});
}

TEST_CASE("nothing to transfer has ended at once") {
    Transfers transfers(ninety);
    transfers.start(plan::seconds(2), PieceId{0}, {}, 1);
    CHECK(take(transfers).first == plan::seconds(2));
}

TEST_CASE("whoever they are, transfers without a pause take their total over the rate") {
    std::mt19937 random(7);
    for (int round = 0; round < 200; ++round) {
        const plan::ByteRate rate{1 + static_cast<std::int64_t>(random() % 500'000'000)};
        Transfers transfers(rate);
        const std::size_t count = 1 + random() % 40;
        plan::Int128 total = 0;
        for (std::size_t i = 0; i < count; ++i) {
            const plan::Bytes size{static_cast<std::int64_t>(random() % 400'000'000)};
            total += size.count;
            transfers.start({}, PieceId{i}, size, i);
        }
        Micros last;
        for (std::size_t i = 0; i < count; ++i) {
            const Micros at = take(transfers).first;
            CHECK(last <= at);
            last = at;
        }
        CHECK(last == plan::duration_of({static_cast<std::int64_t>(total)}, rate));
        CHECK(transfers.idle());
    }
}
