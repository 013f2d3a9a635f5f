// Content that is made at run time, against figures worked out by hand (docs/model.md section 4).

#include "loading/isolated.hpp"
#include "support/plan_text.hpp"
#include "support/small_catalogue.hpp"

using namespace hestrel;
using loading::LevelCondition;
using plan::mebibytes;
using plan::Micros;
using plan::milliseconds;
using plan::Priority;
using plan::seconds;
using tests::SmallCatalogue;
using tests::SmallLoader;

TEST_CASE("two makers take three pieces that are not read, beside a read") {
    // Asked for in one instant: a 0 to 2 s, b 0 to 3 s, c from 2 s, when the first maker is free,
    // to 6 s. What is read meanwhile needs none of them, and they need no read slot.
    SmallCatalogue catalogue;
    catalogue.makers = 2;
    catalogue.read.parallel = 1;
    const auto a = catalogue.level({.memory = 10, .packed = 0, .make = seconds(2)});
    const auto b = catalogue.level({.memory = 20, .packed = 0, .make = seconds(3)});
    const auto c = catalogue.level({.memory = 40, .packed = 0, .make = seconds(4)});
    const auto read = catalogue.level({.memory = 100});
    SmallLoader loader(catalogue);
    for (const auto level : {a, b, c, read}) loader.ask_for(level);
    CHECK(loader.condition(c) == LevelCondition::making); // waiting for a maker counts as that
    loader.run_until_idle();
    CHECK(loader.ready_at(a) == seconds(2));
    CHECK(loader.ready_at(b) == seconds(3));
    CHECK(loader.ready_at(c) == seconds(6));
    CHECK(loader.ready_at(read) == seconds(1));
    CHECK_FALSE(loader.loads()[0].read_start);
    CHECK(loader.loads()[2].make_start == seconds(2));
    // Memory is taken when making starts.
    const auto& rows = loader.ledger().rows();
    REQUIRE(rows.size() == 2);
    CHECK(rows[0].total == mebibytes(130));
    CHECK(rows[1].at == seconds(2));
    CHECK(rows[1].total == mebibytes(170));
}

TEST_CASE("what is read is made once it is unpacked; makers take first by priority, then by that") {
    // One read, one worker at 100 MiB/s, one maker. x: read to 0.5, unpacked to 1.5 s; y: to 1 and
    // 2.5 s. At 1 s, u (not read) is asked for, and has the maker from 1 to 6 s. Both wait: y, of
    // priority now, goes first, from 6 to 7 s; x from 7 to 8 s.
    SmallCatalogue catalogue;
    catalogue.read.parallel = 1;
    catalogue.unpack = plan::Unpacking{{mebibytes(100).count}, 1};
    const auto x = catalogue.level({.memory = 100, .packed = 50, .make = seconds(1)});
    const auto y = catalogue.level({.memory = 100, .packed = 50, .make = seconds(1)});
    const auto u = catalogue.level({.memory = 7, .packed = 0, .make = seconds(5)});
    SmallLoader loader(catalogue);
    Priority of_y = Priority::soon;
    SECTION("in order of unpacking") {}
    SECTION("by priority") {
        of_y = Priority::now;
    }
    loader.ask_for(x);
    loader.run_until(milliseconds(100));
    loader.ask(y, of_y, 1);
    const auto total_at = [&](Micros at) {
        loader.run_until(at);
        return loader.ledger().total();
    };
    CHECK(total_at(milliseconds(200)) == mebibytes(50));  // x as read
    CHECK(total_at(milliseconds(700)) == mebibytes(200)); // x itself, and y as read
    CHECK(total_at(seconds(1)) == mebibytes(200));
    loader.ask_for(u);
    CHECK(total_at(milliseconds(1'200)) == mebibytes(207));
    CHECK(total_at(milliseconds(1'600)) == mebibytes(257)); // y itself; x no longer as read
    CHECK(loader.condition(x) == LevelCondition::making);
    CHECK(loader.condition(y) == LevelCondition::unpacking);
    CHECK(total_at(milliseconds(2'600)) == mebibytes(207));
    loader.run_until_idle();
    CHECK(loader.ready_at(u) == seconds(6));
    CHECK(loader.ready_at(of_y == Priority::now ? y : x) == seconds(7));
    CHECK(loader.ready_at(of_y == Priority::now ? x : y) == seconds(8));
}

TEST_CASE("a piece that is not read and waits for a maker takes the highest priority of all who "
          "ask") {
    SmallCatalogue catalogue;
    const auto first = catalogue.level({.memory = 1, .packed = 0, .make = seconds(1)});
    const auto second = catalogue.level({.memory = 1, .packed = 0, .make = seconds(1)});
    const auto third = catalogue.level({.memory = 1, .packed = 0, .make = seconds(1)});
    SmallLoader loader(catalogue);
    for (const auto level : {first, second, third}) loader.ask_for(level);
    loader.run_until(milliseconds(100));
    loader.ask(third, Priority::now, 2);
    loader.run_until_idle();
    CHECK(loader.ready_at(third) == seconds(2));
    CHECK(loader.ready_at(second) == seconds(3));
}

TEST_CASE("what is made is let go of") {
    // Swept at 5 s. `made` is not read and takes 2 s; `read` is read to 1 s, unpacked to 2 s, and
    // takes 2 s more.
    SmallCatalogue catalogue;
    catalogue.unpack = plan::Unpacking{{mebibytes(100).count}, 1};
    catalogue.release.sweep = seconds(5);
    const auto made = catalogue.level({.memory = 10, .packed = 0, .make = seconds(2)});
    const auto read = catalogue.level({.memory = 100, .packed = 100, .make = seconds(2)});
    SmallLoader loader(catalogue);
    SECTION("being made: it goes on to the end, and is leaving then") {
        loader.ask_for(made);
        loader.run_until(seconds(1));
        loader.unload(made);
        CHECK(loader.condition(made) == LevelCondition::absent);
        CHECK(loader.ledger().total() == mebibytes(10));
        loader.run_until(milliseconds(2'100));
        CHECK(loader.condition(made) == LevelCondition::leaving);
        CHECK(loader.releasing());
        loader.run_until(seconds(5));
        CHECK(loader.condition(made) == LevelCondition::absent);
        CHECK(loader.ledger().total() == mebibytes(0));
    }
    SECTION("waiting for a maker: given up at once, its memory with it") {
        loader.ask_for(made);
        loader.run_until(milliseconds(500));
        loader.ask_for(read);
        loader.run_until(milliseconds(2'400)); // unpacked at 2.5 s; `made` is made at 2 s
        const auto other = made;
        loader.unload(other);
        loader.ask_for(other); // taken back: nothing is to be done again
        CHECK(loader.loaded(other));
        loader.run_until(milliseconds(2'600));
        CHECK(loader.condition(read) == LevelCondition::making);
        loader.unload(read); // a maker has it
        CHECK(loader.ledger().total() == mebibytes(110));
        loader.run_until(milliseconds(4'600));
        CHECK(loader.condition(read) == LevelCondition::leaving);
    }
    SECTION("read, and waiting for a maker") {
        loader.ask_for(read);
        loader.run_until(milliseconds(1'900));
        loader.ask_for(made); // has the maker from 1.9 to 3.9 s
        loader.run_until(milliseconds(2'500));
        CHECK(loader.condition(read) == LevelCondition::making);
        CHECK(loader.ledger().total() == mebibytes(110));
        loader.unload(read);
        CHECK(loader.condition(read) == LevelCondition::absent);
        CHECK(loader.ledger().total() == mebibytes(10));
        loader.run_until_idle();
        CHECK(loader.now() == milliseconds(3'900));
    }
    SECTION("being unpacked: leaving at the end of that; taken back, only the making is left") {
        loader.ask_for(read);
        loader.run_until(milliseconds(1'500));
        loader.unload(read);
        CHECK(loader.condition(read) == LevelCondition::absent);
        loader.run_until(milliseconds(3'000));
        CHECK(loader.condition(read) == LevelCondition::leaving);
        CHECK(loader.ledger().total() == mebibytes(100));
        CHECK_FALSE(loader.loads()[0].make_start);
        SECTION("taken back") {
            loader.ask_for(read);
            CHECK(loader.condition(read) == LevelCondition::making);
            loader.run_until(seconds(6));
            CHECK(loader.ready_at(read) == seconds(5));
            CHECK(loader.loads().size() == 1);
        }
        SECTION("swept") {
            loader.run_until(seconds(5));
            CHECK(loader.ledger().total() == mebibytes(0));
        }
    }
}

TEST_CASE("a device makes as long as its speed says, and a level waits for a kit that is made") {
    const plan::Plan plan = tests::plan_from(R"(
hestrel: 1
devices:
  quick: &quick
    memory: {total: 1000}
    read: {rate: 100}
    unpack: {rate: 100}
    frame: {fps: 100}
    makers: {workers: 2, speed: 4}
  slow:
    <<: *quick
    unpack: {rate: 100}
    makers: {speed: 0.3}
  plain:
    memory: {total: 1000}
    read: {rate: 100}
    frame: {fps: 100}
kits:
  reeds: {memory: {geometry: 50}, packed: 0, make: 3 s}
levels:
  moor: {memory: {geometry: 100}, packed: 100, make: 2..5 s, kits: [reeds], on: {quick: {make: 600 ms}}}
  hall: {memory: {geometry: 100}, packed: 100, make: 0 s}
routes: {r: {start: {level: moor}, steps: []}}
)");
    const auto on = [&](std::string_view device) {
        return loading::catalogue_for(plan, tests::named<plan::DeviceId>(plan.devices, device));
    };
    const auto make = [&](const loading::Catalogue& catalogue, std::size_t level) {
        return catalogue.pieces[loading::PieceId{level}].make;
    };
    CHECK(make(on("quick"), 0) == milliseconds(150));
    CHECK(make(on("slow"), 0) == Micros{16'666'667}); // the high end, divided and rounded up
    CHECK(make(on("plain"), 0) == seconds(5));
    CHECK_FALSE(make(on("plain"), 1)); // nothing is to be done
    // Not read on any device, also where content is stored unpacked.
    for (const std::string_view device : {"quick", "slow", "plain"}) {
        const loading::Catalogue catalogue = on(device);
        CHECK_FALSE(catalogue.pieces[catalogue.piece_of(plan::KitId{0})].read);
        CHECK(catalogue.pieces[catalogue.piece_of(plan::KitId{0})].packed == plan::Bytes{});
        CHECK(catalogue.pieces[loading::PieceId{0}].read);
    }
    // quick: the kit is made from 0 to 0.75 s; the level is read to 1, unpacked to 2, made to 2.15.
    // plain: the kit from 0 to 3 s, when the level, read at 1 s, gets the only maker, to 8 s.
    const auto ready = [](const loading::Catalogue& catalogue) {
        return loading::isolated_load(catalogue, {{}, {plan::LevelId{0}}}).ready;
    };
    CHECK(ready(on("quick")) == milliseconds(2'150));
    CHECK(ready(on("plain")) == seconds(8));
}

TEST_CASE("makers that can't be") {
    const auto said = [](const std::string& makers, const std::string& level) {
        const tests::Lines lines = tests::findings_of(
            "hestrel: 1\ndevices: {d: {memory: {total: 9}, read: {rate: 9}, frame: {fps: 9}, "
            "makers: {" +
            makers + "}}}\nlevels: {hall: {" + level +
            "}}\nroutes: {r: {start: {level: hall}, steps: []}}\n");
        return lines.empty() ? std::string() : lines.front();
    };
    CHECK(said("workers: 3, speed: 0.5", "make: 1..2 s, frame-cost: 1 ms").empty());
    CHECK(said("speed: 0", "").find("\"0\" must be from 0.001 to 1000") != std::string::npos);
    CHECK(said("speed: -1", "").find("must be from") != std::string::npos);
    CHECK(said("speed: .inf", "").find("wrong-value") != std::string::npos);
    CHECK(said("workers: 0", "").find("wrong-value") != std::string::npos);
    CHECK(said("", "make: 3..2 s").find("high end comes first") != std::string::npos);
    CHECK(said("", "make: -1 s").find("wrong-value") != std::string::npos);
    CHECK(said("", "frame-cost: -1 ms").find("wrong-value") != std::string::npos);
}
