// How the main thread spends its frames, worked out by hand: frames of 10 ms that start at whole
// multiples, 4 ms of other work, 3 ms of attaching a frame, 6 ms while a veil is up.

#include "loading/main_thread.hpp"

#include "support/dice.hpp"
#include "support/printing.hpp"

using namespace hestrel;
using loading::MainThread;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;

namespace {

constexpr plan::LevelId quay{std::size_t{1}}, hall{std::size_t{2}};

plan::FrameTime frames() {
    plan::FrameTime frame;
    frame.period = milliseconds(10);
    frame.base = milliseconds(4);
    frame.attach = milliseconds(3);
    frame.veiled_attach = milliseconds(6);
    return frame;
}

} // namespace

TEST_CASE("main thread: without work no frame is due") {
    MainThread main(frames());
    CHECK(main.frame_due(milliseconds(3), false) == Micros::never());
    CHECK(main.frame_due(milliseconds(3), true) == milliseconds(10)); // at a whole multiple
    CHECK(main.frame_due(milliseconds(20), true) == milliseconds(20));
    CHECK_FALSE(main.busy());
}

TEST_CASE("main thread: attaching takes as many frames as its slices") {
    MainThread main(frames());
    main.attach(quay, milliseconds(7)); // 3 + 3 + 1
    CHECK(main.attaching() == quay);
    CHECK_FALSE(main.start_frame({}, false).finished);
    CHECK(main.frame_due({}, false) == milliseconds(10)); // the frame begun ends first
    CHECK(main.work_left(quay, milliseconds(7)) == milliseconds(4));
    CHECK(main.work_left(hall, milliseconds(7)) == milliseconds(7));
    CHECK_FALSE(main.start_frame(milliseconds(10), false).finished);
    const MainThread::Started last = main.start_frame(milliseconds(20), false);
    CHECK(last.finished == quay);
    CHECK(last.end == milliseconds(30));
    CHECK(main.busy()); // until it is said to be shown
    main.finished();
    CHECK_FALSE(main.busy());
    CHECK(main.frame_due(milliseconds(30), false) == Micros::never());
    CHECK(main.hitches().empty()); // 4 + 3 ms fit into a frame
}

TEST_CASE("main thread: many frames alike are one, and any of them can be the last") {
    MainThread main(frames());
    main.attach(quay, milliseconds(3000)); // 1,000 frames
    CHECK_FALSE(main.start_frame({}, false).finished);
    CHECK(main.frame_due({}, false) == milliseconds(9990)); // the last one finishes it
    // Half a frame after the 100th began, after 99 whole slices and one that is begun.
    main.catch_up(milliseconds(995));
    CHECK(main.work_left(quay, {}) == milliseconds(3000 - 300));
    CHECK(main.free_at(milliseconds(995)) == milliseconds(1000));
    // One that starts now has not begun; under a veil it does more.
    main.catch_up(milliseconds(1000));
    CHECK(main.frame_due(milliseconds(1000), false) == milliseconds(1000));
    CHECK_FALSE(main.start_frame(milliseconds(1000), true).finished);
    CHECK(main.frame_due(milliseconds(1000), true) == milliseconds(1000 + 4490));
    const MainThread::Started last = main.start_frame(milliseconds(5490), true);
    CHECK(last.finished == quay); // 2,700 ms in 450 frames
    CHECK(last.end == milliseconds(5500));
    CHECK(main.hitches().empty());
}

TEST_CASE("main thread: many frames alike that all take too long are counted") {
    plan::FrameTime frame = frames();
    frame.base = milliseconds(9); // 2 too long with a slice, and then 20 from one to the next
    MainThread main(frame);
    main.attach(quay, milliseconds(3000));
    CHECK_FALSE(main.start_frame({}, false).finished);
    main.catch_up(milliseconds(2000)); // after the frames at 20 to 1,980
    REQUIRE(main.hitches().size() == 2);
    CHECK(main.hitches()[1].at == milliseconds(20));
    CHECK(main.hitches()[1].length == milliseconds(2));
    CHECK(main.hitches()[1].frames == 99);
    CHECK(main.hitches()[1].every == milliseconds(20));
    CHECK(main.hitches()[1].last() == milliseconds(1980));
}

TEST_CASE("main thread: whatever comes between, frames are as if each were done by itself") {
    tests::Dice dice(7);
    for (int round = 0; round < 300; ++round) {
        plan::FrameTime frame = frames();
        frame.base = milliseconds(0 + dice.below(12));
        frame.attach = milliseconds(1 + dice.below(4));
        MainThread together(frame);
        MainThread alone(frame);
        const Micros work = milliseconds(1 + dice.below(900));
        together.attach(quay, work);
        alone.attach(quay, work);
        bool veiled = false;
        Micros end_together;
        Micros end_alone;
        std::vector<Micros> changes; // a veil comes or goes, or something is released
        for (Micros at; at < seconds(20); at += milliseconds(1 + dice.below(1500)))
            changes.push_back(at);
        Micros now;
        for (const Micros change : changes) {
            for (Micros due = together.frame_due(now, false); due < change;
                 due = together.frame_due(now, false)) {
                now = due;
                const auto started = together.start_frame(due, veiled);
                if (started.finished) {
                    together.finished();
                    end_together = started.end;
                }
            }
            now = change;
            together.catch_up(now);
            if (change.count % 2 == 0) together.released(milliseconds(1), now);
            veiled = !veiled;
        }
        veiled = false;
        now = {};
        for (const Micros change : changes) {
            for (Micros due = alone.frame_due(now, false); due < change;
                 due = alone.frame_due(now, false)) {
                now = due;
                const auto started = alone.start_frame(due, veiled);
                alone.catch_up(due); // forgets what it would do together
                if (started.finished) {
                    alone.finished();
                    end_alone = started.end;
                }
            }
            now = change;
            if (change.count % 2 == 0) alone.released(milliseconds(1), now);
            veiled = !veiled;
        }
        CAPTURE(round);
        CHECK(end_together == end_alone);
        const auto too_long = [](const MainThread& main) {
            std::int64_t frames = 0;
            Micros sum;
            for (const loading::Hitch& hitch : main.hitches()) {
                frames += hitch.frames;
                sum += hitch.length * hitch.frames + hitch.at * hitch.frames +
                       hitch.every * (hitch.frames * (hitch.frames - 1) / 2);
            }
            return std::pair(frames, sum);
        };
        CHECK(too_long(together) == too_long(alone));
    }
}

TEST_CASE("main thread: under a veil it may do more in a frame") {
    MainThread main(frames());
    main.attach(quay, milliseconds(7));
    CHECK_FALSE(main.start_frame({}, true).finished); // 6 of 7
    CHECK(main.start_frame(milliseconds(10), true).finished == quay);
}

TEST_CASE("main thread: what was done on a level is lost when it is given up") {
    MainThread main(frames());
    main.attach(quay, milliseconds(7));
    main.start_frame({}, false);
    main.give_up(hall, milliseconds(5)); // another one
    CHECK(main.busy());
    main.give_up(quay, milliseconds(5));
    CHECK_FALSE(main.busy());
    main.attach(quay, milliseconds(7));
    CHECK(main.work_left(quay, milliseconds(7)) == milliseconds(7));
}

TEST_CASE("main thread: releasing is work of the next frame, and can make it a hitch") {
    MainThread main(frames());
    main.released(milliseconds(5), {});
    CHECK(main.frame_due({}, false) == Micros{});
    main.start_frame({}, false); // 4 + 5
    CHECK(main.hitches().empty());
    main.released(milliseconds(17), milliseconds(10));
    const MainThread::Started long_one = main.start_frame(milliseconds(10), false); // 4 + 17
    CHECK(long_one.end == milliseconds(40));                                        // whole periods
    REQUIRE(main.hitches().size() == 1);
    CHECK(main.hitches().front().at == milliseconds(10));
    CHECK(main.hitches().front().length == milliseconds(11));
    CHECK(main.frame_due(milliseconds(12), true) == milliseconds(40));
}

TEST_CASE("main thread: attaching no work at all still takes a frame") {
    MainThread main(frames());
    main.attach(quay, {});
    const MainThread::Started started = main.start_frame({}, false);
    CHECK(started.finished == quay);
    CHECK(started.end == milliseconds(10));
}

TEST_CASE("main thread: without a limit all is attached in one frame, which is a hitch") {
    plan::FrameTime frame = frames();
    frame.attach.reset();
    MainThread main(frame);
    main.attach(quay, milliseconds(25));
    const MainThread::Started started = main.start_frame({}, false); // 4 + 25
    CHECK(started.finished == quay);
    CHECK(started.end == milliseconds(30));
    REQUIRE(main.hitches().size() == 1);
    CHECK(main.hitches().front().length == milliseconds(19));
}

TEST_CASE("main thread: a standstill stops frames, takes in releases, and is one hitch") {
    MainThread main(frames());
    main.attach(quay, milliseconds(7));
    main.start_frame({}, false);
    main.block(milliseconds(2));
    CHECK(main.frame_due(milliseconds(2), true) == Micros::never());
    CHECK(main.free_at(milliseconds(2)) == milliseconds(10)); // the frame begun ends
    main.released(milliseconds(30), milliseconds(20));
    main.give_up(quay, milliseconds(20));
    main.unblock(milliseconds(2), milliseconds(45));
    REQUIRE(main.hitches().size() == 1);
    CHECK(main.hitches().front().at == milliseconds(2));
    CHECK(main.hitches().front().length == milliseconds(43));
    CHECK(main.frame_due(milliseconds(45), false) == Micros::never()); // the release was part of it
    CHECK(main.frame_due(milliseconds(45), true) == milliseconds(50));
}
