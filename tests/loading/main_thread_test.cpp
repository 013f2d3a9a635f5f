// How the main thread spends its frames, worked out by hand: frames of 10 ms that start at whole
// multiples, 4 ms of other work, 3 ms of attaching a frame, 6 ms while a veil is up.

#include "loading/main_thread.hpp"

#include "support/printing.hpp"

using namespace hestrel;
using loading::MainThread;
using plan::Micros;
using plan::milliseconds;

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
    main.give_up(hall); // another one
    CHECK(main.busy());
    main.give_up(quay);
    CHECK_FALSE(main.busy());
    main.attach(quay, milliseconds(7));
    CHECK(main.work_left(quay, milliseconds(7)) == milliseconds(7));
}

TEST_CASE("main thread: releasing is work of the next frame, and can make it a hitch") {
    MainThread main(frames());
    main.released(milliseconds(5));
    CHECK(main.frame_due({}, false) == Micros{});
    main.start_frame({}, false); // 4 + 5
    CHECK(main.hitches().empty());
    main.released(milliseconds(17));
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
    main.block();
    CHECK(main.frame_due(milliseconds(2), true) == Micros::never());
    CHECK(main.free_at(milliseconds(2)) == milliseconds(10)); // the frame begun ends
    main.released(milliseconds(30));
    main.give_up(quay);
    main.unblock(milliseconds(2), milliseconds(45));
    REQUIRE(main.hitches().size() == 1);
    CHECK(main.hitches().front().at == milliseconds(2));
    CHECK(main.hitches().front().length == milliseconds(43));
    CHECK(main.frame_due(milliseconds(45), false) == Micros::never()); // the release was part of it
    CHECK(main.frame_due(milliseconds(45), true) == milliseconds(50));
}
