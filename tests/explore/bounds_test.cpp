// The bound on memory during a move, worked out by hand.

#include "explore/bounds.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;
using explore::Bounds;
using explore::LevelThere;
using explore::MoveLog;
using explore::Use;
using plan::LevelId;
using plan::mebibytes;
using tests::named;

namespace {

/// Base 10; hall 40 with the kit wood 8, quay 30 packed as 12 with the same kit, a veil of 5, and
/// a carrier of 2. One worker.
plan::Plan plan_of_two(const std::string& unpack = "unpack: {rate: 50, workers: 1}") {
    return tests::plan_from(
        "hestrel: 1\n"
        "devices:\n  box: {memory: {total: 100, base: 10}, read: {rate: 50}, " +
        unpack +
        ", frame: {fps: 30}}\n"
        "kits: {wood: {memory: {texture: 8}, packed: 4}}\n"
        "levels:\n"
        "  hall: {memory: {texture: 40}, packed: 20, kits: [wood]}\n"
        "  quay: {memory: {texture: 20, geometry: 10}, packed: 12, kits: [wood]}\n"
        "veils: {dawn: {memory: {texture: 5}}}\n"
        "players: {carrier: {memory: {texture: 2}, speeds: {walk: 1}}}\n");
}

struct Move {
    plan::Plan plan = plan_of_two();
    LevelId hall = named(plan.levels, "hall"), quay = named(plan.levels, "quay");
    plan::VeilId dawn = named(plan.veils, "dawn");
    MoveLog log;
    std::vector<LevelThere> before;

    using Kind = MoveLog::Memory::Kind;
    Move& there(LevelId level) {
        before.push_back({level, true, true, false, false, false});
        return *this;
    }
    Move& then(Kind kind, std::uint32_t index = 0) {
        log.memory.push_back({kind, index});
        return *this;
    }
    Move& released(std::vector<LevelId> family) {
        log.memory.push_back({Kind::released, static_cast<std::uint32_t>(log.families.size())});
        log.families.push_back(std::move(family));
        return *this;
    }
    [[nodiscard]] Use during(const std::vector<plan::VeilId>& veils = {}) const {
        const Bounds bounds(plan, plan::DeviceId{std::size_t{0}}, {named(plan.players, "carrier")});
        return bounds.during(before, veils, log);
    }
    [[nodiscard]] Use settled(const std::vector<plan::VeilId>& veils = {}) const {
        const Bounds bounds(plan, plan::DeviceId{std::size_t{0}}, {named(plan.players, "carrier")});
        return bounds.settled(before, veils);
    }
};
using Kind = MoveLog::Memory::Kind;

int total_mib(const Use& use) {
    return static_cast<int>(use.total.count >> 20);
}

} // namespace

TEST_CASE("bounds: settled are base, players, levels, and each kit once") {
    Move move;
    CHECK(total_mib(move.settled()) == 12);                  // 10 + 2
    CHECK(total_mib(move.there(move.hall).settled()) == 60); // + 40 + 8
    CHECK(total_mib(move.there(move.quay).settled()) == 90); // + 30, the kit is there
    CHECK(total_mib(move.settled({move.dawn})) == 95);
    const Use use = move.settled();
    CHECK(use.pools[named(move.plan.levels, "hall").value == 0 ? 0 : 0] == mebibytes(70));
    CHECK(use.pools[1] == mebibytes(10)); // geometry
}

TEST_CASE("bounds: what is asked for is held from then on, packed or unpacked, one of them both") {
    Move move;
    move.there(move.hall).then(Kind::asked, move.quay.value).then(Kind::settled);
    // 60, and the quay's 30 with the 12 that are read while the worker unpacks them.
    CHECK(total_mib(move.during()) == 102);
    CHECK(move.during().pools[1] == mebibytes(10));
}

TEST_CASE("bounds: without unpacking nothing is held twice") {
    Move move;
    move.plan = plan_of_two("attach: {fixed: 0 s}");
    move.there(move.hall).then(Kind::asked, move.quay.value).then(Kind::settled);
    CHECK(total_mib(move.during()) == 90);
}

TEST_CASE("bounds: as many are both packed and unpacked as there are workers, the largest") {
    Move move;
    move.then(Kind::asked, move.hall.value).then(Kind::asked, move.quay.value).then(Kind::settled);
    // 12 + 40 + 30 + 8, and of 20, 12 and 4 that are read the largest.
    CHECK(total_mib(move.during()) == 110);
    move.plan = plan_of_two("unpack: {rate: 50, workers: 2}");
    CHECK(total_mib(move.during()) == 122);
}

TEST_CASE("bounds: what is unloaded is held until all has settled") {
    Move move;
    move.there(move.hall)
        .then(Kind::unloaded, move.hall.value)
        .then(Kind::asked, move.quay.value)
        .then(Kind::settled)
        .then(Kind::veil_up, move.dawn.value)
        .then(Kind::settled);
    CHECK(total_mib(move.during()) == 102);
    Move apart;
    apart.there(apart.hall)
        .then(Kind::unloaded, apart.hall.value)
        .then(Kind::settled)
        .then(Kind::asked, apart.quay.value)
        .then(Kind::settled);
    // 60 before; then 12 + 30 + 8, and 12 of the quay beside.
    CHECK(total_mib(apart.during()) == 62);
}

TEST_CASE("bounds: what is asked for again may have been released, and is read again") {
    Move move;
    move.there(move.hall)
        .then(Kind::unloaded, move.hall.value)
        .then(Kind::asked, move.hall.value)
        .then(Kind::settled);
    CHECK(total_mib(move.during()) == 80); // 60, and 20 of the hall that are read beside
    Move back;                             // a switch keeps what comes back
    back.there(back.hall)
        .then(Kind::unloaded, back.hall.value)
        .released({back.hall})
        .then(Kind::asked, back.hall.value)
        .then(Kind::settled);
    CHECK(total_mib(back.during()) == 60);
}

TEST_CASE("bounds: a switch releases at once, but not what its family needs") {
    Move move;
    move.there(move.hall)
        .then(Kind::unloaded, move.hall.value)
        .released({move.quay})
        .then(Kind::asked, move.quay.value)
        .then(Kind::settled);
    // The hall's 40 go, the kit stays: 20, then 50 and 12 beside.
    CHECK(total_mib(move.during()) == 62);
}

TEST_CASE("bounds: veils count while they are up") {
    Move move;
    move.there(move.hall)
        .then(Kind::veil_up, move.dawn.value)
        .then(Kind::veil_down, move.dawn.value);
    CHECK(total_mib(move.during()) == 65);
    CHECK(total_mib(move.during({move.dawn})) == 70); // up before, and raised again: held twice
}

TEST_CASE("bounds: where players hurry, what is on its way counts as if it were read") {
    Move move;
    move.before.push_back({move.hall, false, true, true, false, false}); // pending
    CHECK(total_mib(move.settled()) == 80); // 12 + 48, and 20 of what is read
    move.before.front() = {move.hall, false, false, false, false, true}; // leaving
    CHECK(total_mib(move.settled()) == 60);
}
