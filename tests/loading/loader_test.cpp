// The loader against figures worked out by hand (docs/model.md section 4).

#include "support/printing.hpp"
#include "support/small_catalogue.hpp"

using namespace hestrel;
using loading::ChangeKind;
using loading::LevelCondition;
using plan::mebibytes;
using plan::Micros;
using plan::milliseconds;
using plan::Priority;
using plan::seconds;
using tests::SmallCatalogue;
using tests::SmallLoader;

TEST_CASE("two reads that start at different times share the rate while both transfer") {
    // 100 MiB/s, latency 10 ms. A (150) from 0, B (50) from 0.5 s.
    // A alone from 0.01 to 0.51 s: 50 MiB. Both at 50 MiB/s: B ends at 1.51 s. A has 50 left: 2.01
    // s.
    SmallCatalogue catalogue;
    catalogue.read.latency = milliseconds(10);
    const auto a = catalogue.level({.memory = 150});
    const auto b = catalogue.level({.memory = 50});
    SmallLoader loader(catalogue);
    loader.ask_for(a);
    loader.run_until(milliseconds(500));
    loader.ask_for(b);
    loader.run_until_idle();
    CHECK(loader.ready_at(b) == Micros{1'510'000});
    CHECK(loader.ready_at(a) == Micros{2'010'000});
    CHECK(loader.loads()[1].read_start == milliseconds(500));
}

TEST_CASE(
    "no more reads than the device allows; the queue goes by priority, then by order of asking") {
    SmallCatalogue catalogue;
    catalogue.read.parallel = 1;
    const auto first = catalogue.level({.memory = 100});
    const auto later = catalogue.level({.memory = 100});
    const auto soon = catalogue.level({.memory = 100});
    const auto raised = catalogue.level({.memory = 100});
    SmallLoader loader(catalogue);
    loader.ask_for(first);
    loader.ask(later, Priority::later, 1);
    loader.ask(raised, Priority::later, 1);
    loader.ask_for(soon);
    loader.ask(raised, Priority::now, 2); // the highest of those who ask
    loader.run_until_idle();
    // All are asked for in one instant, so the queue is sorted before the first read starts.
    CHECK(loader.ready_at(raised) == seconds(1));
    CHECK(loader.ready_at(first) == seconds(2));
    CHECK(loader.ready_at(soon) == seconds(3));
    CHECK(loader.ready_at(later) == seconds(4));
    CHECK(loader.loads()[2].priority == Priority::now);
}

TEST_CASE("asking goes by parents, kits, the level, its with-parent sublevels, then those of its "
          "ancestors") {
    SmallCatalogue catalogue;
    const auto parent = catalogue.level({.memory = 1, .kits = {0}});
    const auto asked = catalogue.level({.memory = 1, .parent = parent, .kits = {1}});
    const auto inner = catalogue.level({.memory = 1, .parent = asked, .with_parent = true});
    const auto sibling = catalogue.level({.memory = 1, .parent = parent, .with_parent = true});
    const auto other = catalogue.level({.memory = 1, .parent = parent});
    const auto kit_of_parent = catalogue.kit(1);
    const auto kit_of_asked = catalogue.kit(1);
    SmallLoader loader(catalogue);
    loader.ask_for(asked);
    std::vector<loading::PieceId> order;
    for (const auto& load : loader.loads()) order.push_back(load.piece);
    const loading::Catalogue& c = catalogue;
    CHECK(order == std::vector{kit_of_parent, c.piece_of(parent), kit_of_asked, c.piece_of(asked),
                               c.piece_of(inner), c.piece_of(sibling)});
    CHECK(loader.condition(other) == LevelCondition::absent);
}

TEST_CASE("a kit that two levels share is read once and released once, with the last of them") {
    SmallCatalogue catalogue;
    const auto a = catalogue.level({.memory = 10, .kits = {0}});
    const auto b = catalogue.level({.memory = 20, .kits = {0}});
    const auto kit = catalogue.kit(40);
    SmallLoader loader(catalogue);
    loader.ask_for(a);
    loader.ask_for(b);
    loader.run_until_idle();
    CHECK(loader.loads().size() == 3);
    CHECK(loader.ledger().total() == mebibytes(70));
    loader.unload(a);
    CHECK(loader.ledger().total() == mebibytes(60));
    CHECK(loader.resident(kit));
    loader.unload(b);
    CHECK(loader.ledger().total() == mebibytes(0));
    CHECK_FALSE(loader.resident(kit));
}

TEST_CASE(
    "staging is held from the start of a read to the end of unpacking, memory from its start") {
    // 100 MiB packed at 100 MiB/s: read from 0 to 1 s. 300 MiB unpacked at 150 MiB/s: from 1 to 3
    // s.
    SmallCatalogue catalogue;
    catalogue.unpack = plan::Unpacking{{mebibytes(150).count}, 1};
    const auto level = catalogue.level({.memory = 300, .packed = 100});
    SmallLoader loader(catalogue);
    loader.ask_for(level);
    loader.run_until_idle();
    CHECK(loader.ready_at(level) == seconds(3));
    const auto& rows = loader.ledger().rows();
    REQUIRE(rows.size() == 3);
    CHECK(rows[0].total == mebibytes(100));
    CHECK(rows[0].staging == mebibytes(100));
    CHECK(rows[1].at == seconds(1));
    CHECK(rows[1].total == mebibytes(400)); // the peak
    CHECK(rows[2].at == seconds(3));
    CHECK(rows[2].total == mebibytes(300));
    CHECK(rows[2].staging == mebibytes(0));
}

TEST_CASE("each worker unpacks at the full rate; who waits goes by priority, then by end of read") {
    // One worker at 100 MiB/s; reads of 10, 20 and 30 MiB one after another end at 0.1, 0.3, 0.6 s.
    // The first unpacks 100 MiB until 1.1 s; of the two that wait, the urgent one goes first.
    SmallCatalogue catalogue;
    catalogue.read.parallel = 1;
    catalogue.unpack = plan::Unpacking{{mebibytes(100).count}, 1};
    const auto first = catalogue.level({.memory = 100, .packed = 10});
    const auto waits = catalogue.level({.memory = 100, .packed = 20});
    const auto urgent = catalogue.level({.memory = 100, .packed = 30});
    SmallLoader loader(catalogue);
    loader.ask_for(first);
    loader.ask_for(waits);
    loader.run_until(milliseconds(200));
    loader.ask(urgent, Priority::now, 1);
    loader.run_until(milliseconds(700));
    CHECK(loader.condition(urgent) ==
          LevelCondition::unpacking); // waiting for a worker counts as that
    loader.run_until_idle();
    CHECK(loader.ready_at(first) == Micros{1'100'000});
    CHECK(loader.ready_at(urgent) == Micros{2'100'000});
    CHECK(loader.ready_at(waits) == Micros{3'100'000});
}

TEST_CASE("unloading a level in every condition gives back what it held") {
    // 100 MiB packed: read 0 … 1 s (after 100 ms latency: 0.1 … 1.1 s), unpacked at 100 MiB/s:
    // … 3.1 s, attached from 3.1 s on: 25 ms of work, 5 ms a frame of 10 ms, so five frames: … 3.15
    // s.
    SmallCatalogue catalogue;
    catalogue.read.latency = milliseconds(100);
    catalogue.read.parallel = 1;
    catalogue.unpack = plan::Unpacking{{mebibytes(100).count}, 1};
    catalogue.release.sweep = seconds(5);
    catalogue.frame.attach = milliseconds(5);
    const auto level = catalogue.level({.memory = 200, .packed = 100, .attach = milliseconds(25)});
    const auto other = catalogue.level({.memory = 100, .packed = 100});
    const auto third = catalogue.level({.memory = 100, .packed = 100});
    SmallLoader loader(catalogue);
    const auto unload_at = [&](Micros at) {
        loader.show_it(level);
        loader.run_until(at);
        const LevelCondition before = loader.condition(level);
        loader.unload(level);
        loader.run_until(at); // the instant ends: memory is looked at
        return before;
    };

    SECTION("queued: dropped") {
        loader.ask_for(other);
        CHECK(unload_at(milliseconds(50)) == LevelCondition::queued);
        CHECK(loader.condition(level) == LevelCondition::absent);
        CHECK(loader.ledger().total() == mebibytes(100)); // the other's staging
        loader.run_until_idle();
        CHECK_FALSE(loader.loads()[1].read_start);
    }
    SECTION("in its latency: given up, staging freed, the next read starts at once") {
        loader.show_it(level);
        loader.ask_for(third);
        CHECK(unload_at(milliseconds(50)) == LevelCondition::reading);
        CHECK(loader.condition(level) == LevelCondition::absent);
        loader.run_until_idle();
        CHECK(loader.loads()[1].read_start == milliseconds(50));
        CHECK(loader.loads()[1].read_end == Micros{1'150'000});
    }
    SECTION("transferring: given up, staging freed") {
        CHECK(unload_at(milliseconds(600)) == LevelCondition::reading);
        CHECK(loader.condition(level) == LevelCondition::absent);
        CHECK(loader.ledger().total() == mebibytes(0));
        CHECK_FALSE(loader.loads()[0].read_end);
    }
    SECTION("waiting for a worker: given up, staging freed") {
        loader.ask_for(other); // unpacks from 1.1 to 2.1 s
        loader.run_until(milliseconds(1'150));
        loader.ask_for(third); // read until 2.25 s, while level is being unpacked from 2.1 s on
        loader.show_it(level);
        loader.run_until(milliseconds(3'400));
        CHECK(loader.condition(level) == LevelCondition::unpacking);
        loader.unload(level);
        CHECK(loader.condition(level) == LevelCondition::absent);
        loader.run_until_idle();
        CHECK(loader.ledger().total() == mebibytes(200));
    }
    SECTION("being unpacked: goes on to the end, and is leaving then until the next sweep") {
        CHECK(unload_at(seconds(2)) == LevelCondition::unpacking);
        CHECK(loader.condition(level) == LevelCondition::absent);
        CHECK(loader.ledger().total() == mebibytes(300));
        loader.run_until(milliseconds(3'100));
        CHECK(loader.condition(level) == LevelCondition::leaving);
        CHECK(loader.ledger().total() == mebibytes(200));
        loader.run_until_idle();
        CHECK(loader.now() == seconds(5));
        CHECK(loader.ledger().total() == mebibytes(0));
    }
    SECTION("ready: leaving until the sweep") {
        loader.ask_for(level);
        loader.run_until(milliseconds(3'100));
        CHECK(loader.condition(level) == LevelCondition::ready);
        loader.unload(level);
        CHECK(loader.condition(level) == LevelCondition::leaving);
        loader.run_until_idle();
        CHECK(loader.now() == seconds(5));
        CHECK(loader.condition(level) == LevelCondition::absent);
    }
    SECTION("attaching: leaving, never shown, the main thread free for others") {
        CHECK(unload_at(milliseconds(3'125)) == LevelCondition::attaching);
        CHECK(loader.condition(level) == LevelCondition::leaving);
        loader.run_until_idle();
        CHECK(loader.shown_at(level) == Micros::never());
        CHECK(loader.ledger().total() == mebibytes(0));
    }
    SECTION("shown: hidden at once, leaving until the sweep strictly after") {
        CHECK(unload_at(seconds(5)) == LevelCondition::shown);
        CHECK(loader.when(ChangeKind::level_hidden, level.value) == seconds(5));
        loader.run_until_idle();
        CHECK(loader.now() == seconds(10));
    }
}

TEST_CASE("a level taken back before its sweep is ready at once, without reading") {
    SmallCatalogue catalogue;
    catalogue.release.sweep = seconds(5);
    const auto level = catalogue.level({.memory = 100, .kits = {0}});
    catalogue.kit(50);
    SmallLoader loader(catalogue);
    loader.ask_for(level);
    loader.run_until(seconds(2));
    loader.unload(level);
    loader.run_until(seconds(3));
    CHECK(loader.condition(level) == LevelCondition::leaving);
    loader.ask_for(level);
    CHECK(loader.condition(level) == LevelCondition::ready);
    loader.run_until(seconds(20));
    CHECK(loader.condition(level) == LevelCondition::ready);
    CHECK(loader.ledger().total() == mebibytes(150));
    CHECK(loader.loads().size() == 2);
}

TEST_CASE("a level unloaded while being unpacked, and taken back, is ready when unpacking ends") {
    SmallCatalogue catalogue;
    catalogue.unpack = plan::Unpacking{{mebibytes(100).count}, 1};
    const auto level = catalogue.level({.memory = 100, .packed = 100});
    SmallLoader loader(catalogue);
    loader.ask_for(level);
    loader.run_until(milliseconds(1'500));
    loader.unload(level);
    loader.ask_for(level);
    loader.run_until_idle();
    CHECK(loader.ready_at(level) == seconds(2));
    CHECK(loader.loads().size() == 1);
    CHECK(loader.ledger().total() == mebibytes(100));
}

TEST_CASE("attaching begins with the first frame that starts when the level is ready") {
    // Ready at 103 ms, 10 ms frames: the next starts at 110 ms. 12 ms of work, 5 ms a frame: 5 + 5
    // + 2.
    SmallCatalogue catalogue;
    catalogue.read.latency = milliseconds(3);
    catalogue.frame.attach = milliseconds(5);
    const auto level = catalogue.level({.memory = 10, .attach = milliseconds(12)});
    SmallLoader loader(catalogue);
    loader.show_it(level);
    loader.run_until_idle();
    CHECK(loader.ready_at(level) == milliseconds(103));
    CHECK(loader.when(ChangeKind::level_attaching, level.value) == milliseconds(110));
    CHECK(loader.shown_at(level) == milliseconds(140));
    CHECK(loader.hitches().empty());
}

TEST_CASE("the attach budget under a veil counts for frames that start under it") {
    SmallCatalogue catalogue;
    catalogue.frame.base = milliseconds(4);
    catalogue.frame.attach = milliseconds(1);
    catalogue.frame.veiled_attach = milliseconds(8);
    const auto level = catalogue.level({.memory = 10, .attach = milliseconds(10)});
    SmallLoader loader(catalogue);
    loader.show_it(level);
    loader.run_until(
        milliseconds(105)); // ready at 100 ms; 1 ms done in the frame from 100 to 110 ms
    loader.set_veiled(true);
    loader.run_until_idle();
    // 110: 4 + 8 ms of work need two periods, until 130 ms, and exceed one by 2 ms. 130: the last 1
    // ms.
    CHECK(loader.shown_at(level) == milliseconds(140));
    REQUIRE(loader.hitches().size() == 1);
    CHECK(loader.hitches()[0].at == milliseconds(110));
    CHECK(loader.hitches()[0].length == milliseconds(2));
}

TEST_CASE("levels attach one at a time: by priority, then time of joining, then order of asking") {
    SmallCatalogue catalogue;
    const auto big = catalogue.level({.memory = 2, .attach = milliseconds(25)});
    const auto second = catalogue.level({.memory = 2});
    const auto urgent = catalogue.level({.memory = 2});
    SmallLoader loader(catalogue);
    loader.show_it(big);
    loader.run_until(
        milliseconds(20)); // big is ready, and attaching from 20 ms: one frame of 30 ms
    loader.show_it(second);
    loader.show(urgent, Priority::now, 1);
    loader.run_until_idle();
    CHECK(loader.shown_at(big) == milliseconds(50));
    CHECK(loader.shown_at(urgent) == milliseconds(70)); // ready at 60 ms, together with second
    CHECK(loader.shown_at(second) == milliseconds(80));
    REQUIRE(loader.hitches().size() == 1);
    CHECK(loader.hitches()[0].length == milliseconds(15)); // 25 ms in a frame of 10
}

TEST_CASE("a sublevel is attached only while its parent is shown, and goes with it") {
    SmallCatalogue catalogue;
    const auto parent = catalogue.level({.memory = 50});
    const auto child = catalogue.level({.memory = 10, .parent = parent});
    SmallLoader loader(catalogue);
    loader.show_it(child); // wants its ancestors shown too
    loader.run_until_idle();
    CHECK(loader.shown_at(parent) < loader.shown_at(child));
    loader.hide(parent);
    CHECK_FALSE(loader.shown(child));
    CHECK(loader.condition(child) == LevelCondition::ready);
    loader.show_it(parent); // the child was hidden, and nobody wants it shown again
    loader.run_until_idle();
    CHECK(loader.shown(parent));
    CHECK_FALSE(loader.shown(child));
    loader.unload(parent);
    CHECK(loader.ledger().total() == mebibytes(0));
}

TEST_CASE("what is released weighs on the next frame") {
    // 2000 objects at 4 us: 8 ms in the frame after the sweep, on top of 6 ms of base: 4 ms too
    // long.
    SmallCatalogue catalogue;
    catalogue.frame.base = milliseconds(6);
    catalogue.release.sweep = seconds(1);
    catalogue.release.per_object = {4'000};
    const auto level = catalogue.level({.memory = 10, .objects = 2'000});
    SmallLoader loader(catalogue);
    loader.ask_for(level);
    loader.run_until(milliseconds(400));
    loader.unload(level);
    loader.run_until_idle();
    REQUIRE(loader.hitches().size() == 1);
    CHECK(loader.hitches()[0].at == seconds(1)); // the sweep runs first, then the frame starts
    CHECK(loader.hitches()[0].length == milliseconds(4));
}

TEST_CASE("a blocking switch attaches its family in one go, without frames, as one hitch") {
    // Ready at 1 s; 30 + 20 ms of work in one piece. Another level that is ready waits for the end.
    SmallCatalogue catalogue;
    catalogue.frame.attach = milliseconds(1);
    const auto target = catalogue.level({.memory = 60, .attach = milliseconds(30)});
    const auto part = catalogue.level(
        {.memory = 40, .parent = target, .with_parent = true, .attach = milliseconds(20)});
    const auto bystander = catalogue.level({.memory = 0});
    SmallLoader loader(catalogue);
    const std::vector family{target, part};
    loader.block_for(family);
    loader.show_it(target);
    loader.show_block();
    loader.show_it(bystander);
    loader.run_until_idle();
    CHECK(loader.shown_at(target) == milliseconds(1'050));
    CHECK(loader.shown_at(part) == milliseconds(1'050));
    CHECK(loader.shown_at(bystander) == milliseconds(1'060));
    REQUIRE(loader.hitches().size() == 1);
    CHECK(loader.hitches()[0].at == milliseconds(0));
    CHECK(loader.hitches()[0].length == milliseconds(1'050));
}

TEST_CASE("a frame already begun ends before a blocking switch attaches") {
    SmallCatalogue catalogue;
    const auto long_one = catalogue.level({.memory = 0, .attach = milliseconds(95)});
    const auto target = catalogue.level({.memory = 1, .attach = milliseconds(7)});
    SmallLoader loader(catalogue);
    loader.show_it(long_one); // attaches in one frame from 0 to 100 ms
    loader.run_until(milliseconds(20));
    const std::vector family{target};
    loader.block_for(family);
    loader.show_it(target); // ready at 30 ms
    loader.show_block();
    loader.run_until_idle();
    CHECK(loader.shown_at(long_one) == milliseconds(100));
    CHECK(loader.shown_at(target) == milliseconds(107));
}

TEST_CASE("over budget from when to when, and by how much") {
    SmallCatalogue catalogue;
    catalogue.memory.total = mebibytes(120);
    catalogue.memory.base = mebibytes(10);
    catalogue.memory.pools = {{plan::PoolId{0}, mebibytes(100)}};
    catalogue.read.parallel = 1;
    const auto a = catalogue.level({.memory = 90});
    const auto b = catalogue.level({.memory = 40});
    SmallLoader loader(catalogue);
    loader.ask_for(a); // stored unpacked: memory is taken when the read starts
    loader.run_until(seconds(1));
    loader.ask_for(b);
    loader.run_until(seconds(2));
    loader.unload(a);
    loader.run_until(seconds(3));
    const auto& overruns = loader.ledger().overruns();
    REQUIRE(overruns.size() == 2);
    CHECK_FALSE(overruns[0].pool);
    CHECK(overruns[0].from == seconds(1));
    CHECK(overruns[0].to == seconds(2));
    CHECK(overruns[0].worst_over == mebibytes(20)); // 10 + 90 + 40 of 120
    CHECK(overruns[1].pool == plan::PoolId{0});
    CHECK(overruns[1].worst_over == mebibytes(30));
}
