// Memory, by pool and by holder, worked out by hand.

#include "loading/ledger.hpp"

#include "support/printing.hpp"

using namespace hestrel;
using loading::Holder;
using loading::Ledger;
using plan::Bytes;
using plan::mebibytes;
using plan::Micros;
using plan::seconds;

namespace {

constexpr plan::PoolId texture{std::size_t{0}};

/// 100 MiB in all, 10 of them base; 40 for textures.
plan::MemoryBudget budget() {
    plan::MemoryBudget budget;
    budget.total = mebibytes(100);
    budget.base = mebibytes(10);
    budget.pools = {{texture, mebibytes(40)}};
    return budget;
}

std::vector<Bytes> pools(int textures, int geometry) {
    return {mebibytes(textures), mebibytes(geometry)};
}

} // namespace

TEST_CASE("ledger: base is held from the start, and belongs to no pool") {
    Ledger ledger(budget(), 2);
    CHECK(ledger.total() == mebibytes(10));
    CHECK(ledger.pools() == pools(0, 0));
    REQUIRE(ledger.holdings().size() == 1);
    CHECK(ledger.holdings().front().holder == Holder::base);
    ledger.look({});
    REQUIRE(ledger.rows().size() == 1);
    CHECK(ledger.rows().front().total == mebibytes(10));
}

TEST_CASE("ledger: what is taken and given back cancels exactly") {
    Ledger ledger(budget(), 2);
    ledger.take(seconds(1), Holder::piece, 3, pools(20, 5));
    ledger.take(seconds(2), Holder::veil, 0, pools(2, 0));
    CHECK(ledger.total() == mebibytes(37));
    CHECK(ledger.pools() == pools(22, 5));
    ledger.give_back(seconds(3), Holder::piece, 3, pools(20, 5));
    ledger.give_back(seconds(4), Holder::veil, 0, pools(2, 0));
    CHECK(ledger.total() == mebibytes(10));
    CHECK(ledger.pools() == pools(0, 0));
    REQUIRE(ledger.holdings().size() == 3);
    const loading::Holding& piece = ledger.holdings()[1];
    CHECK(piece.index == 3);
    CHECK(piece.from == seconds(1));
    CHECK(piece.to == seconds(3));
    CHECK(piece.size == mebibytes(25));
}

TEST_CASE("ledger: staging counts in total and in no pool") {
    Ledger ledger(budget(), 2);
    ledger.stage({}, loading::PieceId{std::size_t{1}}, mebibytes(7));
    CHECK(ledger.total() == mebibytes(17));
    CHECK(ledger.staging() == mebibytes(7));
    CHECK(ledger.pools() == pools(0, 0));
    ledger.unstage(seconds(1), loading::PieceId{std::size_t{1}}, mebibytes(7));
    CHECK(ledger.staging() == Bytes{});
}

TEST_CASE("ledger: one row an instant, and none where nothing changed") {
    Ledger ledger(budget(), 2);
    ledger.look({});
    ledger.take(seconds(1), Holder::piece, 0, pools(30, 0));
    ledger.give_back(seconds(1), Holder::piece, 0, pools(30, 0));
    ledger.take(seconds(1), Holder::piece, 1, pools(1, 0));
    ledger.look(seconds(1));
    ledger.look(seconds(2));
    REQUIRE(ledger.rows().size() == 2);
    CHECK(ledger.rows().back().at == seconds(1));
    CHECK(ledger.rows().back().total == mebibytes(11)); // not the 41 in the middle
    CHECK(ledger.rows().back().veils == Bytes{});
}

TEST_CASE("ledger: an overrun lasts from the first look over budget to the first within it") {
    Ledger ledger(budget(), 2);
    ledger.take(seconds(1), Holder::piece, 0, pools(41, 0));
    ledger.look(seconds(1)); // textures 1 over, in all within
    ledger.take(seconds(2), Holder::piece, 1, pools(4, 60));
    ledger.look(seconds(2)); // textures 5 over, in all 15 over
    ledger.give_back(seconds(3), Holder::piece, 1, pools(4, 60));
    ledger.look(seconds(3)); // textures 1 over again
    REQUIRE(ledger.overruns().size() == 2);
    const loading::Overrun& pool = ledger.overruns()[0];
    CHECK(pool.pool == texture);
    CHECK(pool.from == seconds(1));
    CHECK(pool.to == Micros::never()); // it lasts
    CHECK(pool.worst_at == seconds(2));
    CHECK(pool.worst_over == mebibytes(5));
    const loading::Overrun& total = ledger.overruns()[1];
    CHECK_FALSE(total.pool);
    CHECK(total.from == seconds(2));
    CHECK(total.to == seconds(3));
    CHECK(total.worst_over == mebibytes(15));
    CHECK(total.budget == mebibytes(100));
    ledger.give_back(seconds(4), Holder::piece, 0, pools(41, 0));
    ledger.look(seconds(4));
    CHECK(ledger.overruns()[0].to == seconds(4));
}

TEST_CASE("ledger: just at the budget is within it") {
    Ledger ledger(budget(), 2);
    ledger.take({}, Holder::piece, 0, pools(40, 50));
    ledger.look({});
    CHECK(ledger.overruns().empty());
}

TEST_CASE("memory use: the larger of two, in total and pool by pool") {
    loading::MemoryUse one{mebibytes(9), pools(8, 1)};
    one.raise_to({mebibytes(8), pools(2, 6)});
    CHECK(one.total == mebibytes(9));
    CHECK(one.pools == pools(8, 6));
    CHECK(one.add(pools(1, 2)) == mebibytes(3));
    CHECK(one.total == mebibytes(12));
    CHECK(one.subtract(pools(1, 2)) == mebibytes(3));
    CHECK(one.pools == pools(8, 6));
}
