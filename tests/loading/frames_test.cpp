// What is shown costs time in every frame (docs/model.md section 4), worked out by hand.

#include "support/printing.hpp"
#include "support/small_catalogue.hpp"

using namespace hestrel;
using plan::Micros;
using plan::milliseconds;
using tests::SmallCatalogue;
using tests::SmallLoader;

namespace {

/// Frames of 10 ms with 4 ms of base; at most 3 ms of attaching in one.
SmallCatalogue with_base() {
    SmallCatalogue catalogue;
    catalogue.frame.base = milliseconds(4);
    catalogue.frame.attach = milliseconds(3);
    catalogue.frame.veiled_attach = milliseconds(3);
    return catalogue;
}

} // namespace

TEST_CASE("frames in which something is attached are as long as what is shown makes them") {
    // `dear` is shown at 10 ms: from then on every frame has 12 ms of work. `other` takes 6 ms to
    // attach: two frames of 15 ms of work, which last 20 ms each, from 10 to 50 ms. Both are 3 ms
    // longer than frames are anyway.
    SmallCatalogue catalogue = with_base();
    const auto dear = catalogue.level({.memory = 0, .frame_cost = milliseconds(8)});
    const auto other = catalogue.level({.memory = 0, .attach = milliseconds(6)});
    SmallLoader loader(catalogue);
    loader.show_it(dear);
    loader.run_until(milliseconds(10));
    CHECK(loader.shown_at(dear) == milliseconds(10));
    loader.show_it(other);
    Micros shown = milliseconds(50);
    SECTION("shown all the while") {
        loader.run_until_idle();
    }
    SECTION("hidden at the start of a frame: it counts no more in that") {
        // 4 + 3 ms of work: one period, and no hitch.
        loader.run_until(milliseconds(29));
        loader.run_until(Micros{29'999});
        loader.set_now(milliseconds(30));
        loader.hide(dear);
        loader.run_until_idle();
        shown = milliseconds(40);
    }
    SECTION("hidden during a frame: that is as long as it was begun") {
        loader.run_until(milliseconds(12));
        loader.hide(dear);
        loader.run_until_idle();
        shown = milliseconds(40);
    }
    CHECK(loader.shown_at(other) == shown);
    const auto& hitches = loader.hitches();
    REQUIRE(hitches.size() == (shown == milliseconds(50) ? 2 : 1));
    CHECK(hitches[0].at == milliseconds(10));
    CHECK(hitches[0].length == milliseconds(3));
}

TEST_CASE("many frames alike end where what is shown changes") {
    // 300 ms of attaching in frames of 13 ms of work at first (20 ms each), of 7 ms (10 ms each)
    // once `dear` is hidden, at 110 ms: five frames by then, ninety-five after that.
    SmallCatalogue catalogue = with_base();
    const auto dear = catalogue.level({.memory = 0, .frame_cost = milliseconds(6)});
    const auto slow = catalogue.level({.memory = 0, .attach = milliseconds(300)});
    SmallLoader loader(catalogue);
    loader.show_it(dear);
    loader.run_until(milliseconds(10));
    loader.show_it(slow);
    loader.run_until(Micros{109'999});
    loader.set_now(milliseconds(110));
    loader.hide(dear);
    loader.run_until_idle();
    CHECK(loader.shown_at(slow) == milliseconds(110 + 95 * 10));
    std::int64_t frames = 0;
    for (const loading::Hitch& hitch : loader.hitches()) {
        CHECK(hitch.length == milliseconds(3));
        frames += hitch.frames;
    }
    CHECK(frames == 5);
}

TEST_CASE("a row for each time at which frames change, and none where they don't") {
    SmallCatalogue catalogue = with_base();
    const auto dear = catalogue.level({.memory = 0, .frame_cost = milliseconds(8)});
    const auto free = catalogue.level({.memory = 0});
    SmallLoader loader(catalogue);
    loader.show_it(dear);
    loader.show_it(free);
    loader.run_until(milliseconds(100));
    loader.unload(dear);
    loader.run_until_idle();
    loader.show_it(dear);
    loader.run_until(milliseconds(200));
    loader.switch_off();
    loader.end_instant();
    std::vector<std::pair<Micros, Micros>> rows;
    for (const loading::FrameRow& row : loader.frames()) rows.emplace_back(row.at, row.work);
    CHECK(rows == std::vector<std::pair<Micros, Micros>>{{{}, milliseconds(4)},
                                                         {milliseconds(10), milliseconds(12)},
                                                         {milliseconds(100), milliseconds(4)},
                                                         {milliseconds(110), milliseconds(12)},
                                                         {milliseconds(200), milliseconds(4)}});
}
