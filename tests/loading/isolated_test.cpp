// How long a load takes when nothing else is going on.

#include "loading/isolated.hpp"

#include "support/dice.hpp"
#include "support/small_catalogue.hpp"

#include <catch2/catch.hpp>

using namespace hestrel;
using loading::IsolatedLoad;
using plan::LevelId;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;
using tests::Dice;
using tests::SmallCatalogue;

TEST_CASE("a level with its kit, then the same with the kit there already") {
    SmallCatalogue catalogue;
    const LevelId hall = catalogue.level({.memory = 100, .kits = {0}});
    const LevelId quay = catalogue.level({.memory = 200, .kits = {0}});
    catalogue.kit(50);
    catalogue.done();
    const auto times = loading::isolated_load(catalogue, {{}, {quay}});
    // Kit and level, one after the other or together: 250 MiB at the catalogue's rate.
    const Micros read = plan::duration_of(plan::mebibytes(250), catalogue.read.rate);
    CHECK(times.ready == read);
    CHECK(times.shown >= times.ready);
    const auto with_kit = loading::isolated_load(catalogue, {{hall}, {quay}});
    CHECK(with_kit.ready == plan::duration_of(plan::mebibytes(200), catalogue.read.rate));
    CHECK(loading::isolated_load(catalogue, {{quay}, {quay}}).shown == Micros{});
    CHECK(loading::isolated_load(catalogue, {{}, {}}).shown == Micros{});
}

TEST_CASE("a sublevel brings its parent, unless that is there") {
    SmallCatalogue catalogue;
    const LevelId hall = catalogue.level({.memory = 100});
    const LevelId loft = catalogue.level({.memory = 30, .parent = hall});
    catalogue.done();
    CHECK(loading::isolated_load(catalogue, {{}, {loft}}).ready ==
          plan::duration_of(plan::mebibytes(130), catalogue.read.rate));
    CHECK(loading::isolated_load(catalogue, {{hall}, {loft}}).ready ==
          plan::duration_of(plan::mebibytes(30), catalogue.read.rate));
}

TEST_CASE("what is there costs frames while others are attached") {
    // Frames of 10 ms. The yard takes 6 ms to attach in one frame; with the hall's 5 ms in two.
    SmallCatalogue catalogue;
    const LevelId hall = catalogue.level({.frame_cost = milliseconds(5)});
    const LevelId yard = catalogue.level({.attach = milliseconds(6)});
    catalogue.done();
    CHECK(loading::isolated_load(catalogue, {{}, {yard}}).shown == milliseconds(10));
    CHECK(loading::isolated_load(catalogue, {{hall}, {yard}}).shown == milliseconds(20));
    CHECK(loading::load_alone_at_most(catalogue, {{hall}, {yard}}) >= milliseconds(20));
}

TEST_CASE("random catalogues: as a loader of the whole would, and never above the bound") {
    Dice dice(17);
    for (int round = 0; round < 200; ++round) {
        CAPTURE(round);
        SmallCatalogue catalogue;
        if (dice.one_in(2))
            catalogue.unpack = plan::Unpacking{{plan::mebibytes(50 + dice.below(200)).count}, 2};
        catalogue.read.latency = milliseconds(dice.below(20));
        catalogue.read.parallel = static_cast<std::uint32_t>(1 + dice.below(3));
        if (dice.one_in(2)) catalogue.frame.attach = milliseconds(1 + dice.below(4));
        std::vector<LevelId> levels;
        for (int i = 0; i < 5; ++i) {
            const bool below = i > 0 && dice.one_in(3);
            levels.push_back(catalogue.level(
                {.memory = dice.below(150),
                 .packed = dice.below(100),
                 .parent = below ? levels[static_cast<std::size_t>(dice.below(i))] : LevelId{},
                 .with_parent = below && dice.one_in(2),
                 .attach = milliseconds(dice.below(9)),
                 .kits = dice.one_in(2) ? std::vector{0} : std::vector{0, 1},
                 .frame_cost = milliseconds(dice.below(7)),
                 .make = dice.one_in(3) ? std::optional{milliseconds(dice.below(2'000))}
                                        : std::nullopt}));
        }
        catalogue.kit(40, 21);
        catalogue.kit(17);
        catalogue.done();
        const LevelId asked = levels[static_cast<std::size_t>(dice.below(5))];
        const IsolatedLoad what{{}, {asked}};
        const auto times = loading::isolated_load(catalogue, what);
        CHECK(times.shown <= loading::load_alone_at_most(catalogue, what));
        loading::Sequence sequence;
        loading::Loader whole(catalogue, sequence);
        whole.show(asked, plan::Priority::soon, 1);
        whole.run_until_idle();
        Micros last_shown;
        for (const loading::Change& change : whole.take_changes()) {
            if (change.kind == loading::ChangeKind::level_shown) last_shown = change.at;
        }
        CHECK(times.shown == last_shown);
    }
}
