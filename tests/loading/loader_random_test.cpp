// What must hold of the loader whatever it is told: 300 random devices, contents and instructions.

#include "support/dice.hpp"
#include "support/printing.hpp"
#include "support/small_catalogue.hpp"

#include <map>

using namespace hestrel;
using plan::Bytes;
using plan::LevelId;
using plan::Micros;
using tests::Dice;

namespace {

tests::SmallCatalogue random_catalogue(Dice& dice) {
    tests::SmallCatalogue catalogue;
    catalogue.read = {{plan::mebibytes(20 + dice.below(400)).count + dice.below(1000)},
                      Micros{dice.below(20'000)},
                      static_cast<std::uint32_t>(1 + dice.below(5))};
    if (!dice.one_in(3)) {
        catalogue.unpack = plan::Unpacking{{plan::mebibytes(40 + dice.below(500)).count},
                                           static_cast<std::uint32_t>(1 + dice.below(3))};
    }
    catalogue.frame = {Micros{5'000 + dice.below(30'000)}, Micros{dice.below(5'000)}, {}, {}};
    if (!dice.one_in(3)) catalogue.frame.attach = Micros{1 + dice.below(6'000)};
    if (!dice.one_in(3)) catalogue.release.sweep = Micros{100'000 * (1 + dice.below(30))};
    catalogue.release.per_object = {dice.below(5'000)};
    catalogue.memory.base = plan::mebibytes(dice.below(300));
    catalogue.makers = static_cast<std::uint32_t>(1 + dice.below(2));
    const int levels = 2 + dice.below(12);
    const int kits = dice.below(4);
    for (int i = 0; i < levels; ++i) {
        tests::SmallCatalogue::LevelIs level;
        level.memory = dice.below(200);
        level.packed = dice.below(150);
        level.objects = dice.below(3'000);
        level.attach = Micros{dice.below(60'000)};
        if (i > 0 && dice.one_in(3))
            level.parent = LevelId{static_cast<std::size_t>(dice.below(i))};
        level.with_parent = level.parent && dice.one_in(2);
        if (dice.one_in(3)) level.make = Micros{dice.below(2'000'000)};
        if (level.make && dice.one_in(2)) level.packed = 0;
        for (int kit = 0; kit < kits; ++kit) {
            if (dice.one_in(2)) level.kits.push_back(kit);
        }
        catalogue.level(level);
    }
    for (int kit = 0; kit < kits; ++kit)
        catalogue.kit(dice.below(120), dice.below(80), dice.below(500));
    return catalogue;
}

void instruct_at_random(tests::SmallLoader& loader, Dice& dice, std::size_t levels,
                        bool may_unload) {
    for (int i = 0; i < 40; ++i) {
        const LevelId level{static_cast<std::size_t>(dice.below(static_cast<int>(levels)))};
        switch (dice.below(may_unload ? 5 : 2)) {
        case 0: loader.ask(level, static_cast<plan::Priority>(dice.below(3)), 1); break;
        case 1: loader.show_it(level); break;
        case 2: loader.hide(level); break;
        default: loader.unload(level); break;
        }
        if (!dice.one_in(4)) loader.run_until(loader.now() + Micros{dice.below(700'000)});
    }
    loader.run_until_idle();
}

void check_order_of_times(const tests::SmallLoader& loader, const loading::Catalogue& catalogue) {
    const bool unpacks = catalogue.unpack.has_value();
    for (const loading::LoadRecord& load : loader.loads()) {
        const Micros never = Micros::never();
        CHECK(load.asked <= load.read_start.value_or(never));
        CHECK(load.read_start.value_or(Micros{}) <= load.read_end.value_or(never));
        CHECK(load.read_end.value_or(Micros{}) <= load.unpack_start.value_or(never));
        CHECK(load.unpack_start.value_or(Micros{}) <= load.unpack_end.value_or(never));
        CHECK((load.read_start || !load.read_end));
        CHECK((load.read_end || !load.unpack_start));
        CHECK((unpacks || !load.unpack_start));
        const loading::Piece& piece = catalogue.pieces[load.piece];
        CHECK(load.unpack_end.value_or(load.read_end.value_or(load.asked)) <=
              load.make_start.value_or(never));
        CHECK((!load.make_end || *load.make_end == *load.make_start + *piece.make));
        CHECK((piece.make || !load.make_start));
        CHECK((piece.read || !load.read_start));
    }
}

/// How many makers were ever busy at once.
std::uint32_t makers_busy_at_most(const tests::SmallLoader& loader) {
    std::map<Micros, int> changes;
    for (const loading::LoadRecord& load : loader.loads()) {
        if (!load.make_start || load.make_end == load.make_start) continue;
        ++changes[*load.make_start];
        --changes[*load.make_end];
    }
    int busy = 0;
    int most = 0;
    for (const auto& [at, change] : changes) {
        busy += change;
        most = std::max(most, busy);
    }
    return static_cast<std::uint32_t>(most);
}

/// All transfers that came to their end, and no others.
struct Transferred {
    Micros from, to;
    Bytes size;
};

std::vector<Transferred> transferred(const tests::SmallLoader& loader,
                                     const loading::Catalogue& catalogue) {
    std::vector<Transferred> all;
    for (const loading::LoadRecord& load : loader.loads()) {
        if (!load.read_end) continue;
        all.push_back({*load.read_start + catalogue.read.latency, *load.read_end,
                       catalogue.pieces[load.piece].packed});
    }
    std::sort(all.begin(), all.end(),
              [](const auto& one, const auto& other) { return one.from < other.from; });
    return all;
}

} // namespace

TEST_CASE(
    "memory is never negative and ends where it started, whatever is loaded and unloaded when") {
    for (std::uint32_t seed = 0; seed < 300; ++seed) {
        CAPTURE(seed);
        Dice dice(seed);
        tests::SmallCatalogue catalogue = random_catalogue(dice);
        tests::SmallLoader loader(catalogue);
        instruct_at_random(loader, dice, catalogue.levels.size(), true);
        for (const LevelId level : catalogue.levels.ids()) loader.unload(level);
        loader.run_until_idle();
        CHECK(loader.idle());
        CHECK(loader.ledger().total() == catalogue.memory.base);
        CHECK(loader.ledger().pools()[0] == Bytes{});
        CHECK(loader.ledger().staging() == Bytes{});
        for (const auto& row : loader.ledger().rows()) {
            CHECK(row.staging >= Bytes{});
            CHECK(row.pools[0] >= Bytes{});
            CHECK(row.total == catalogue.memory.base + row.pools[0] + row.staging + row.veils);
        }
        check_order_of_times(loader, catalogue);
        CHECK(makers_busy_at_most(loader) <= catalogue.makers);
    }
}

TEST_CASE("the bandwidth is conserved: never more than the rate, and all of it while anything "
          "transfers") {
    for (std::uint32_t seed = 1'000; seed < 1'300; ++seed) {
        CAPTURE(seed);
        Dice dice(seed);
        tests::SmallCatalogue catalogue = random_catalogue(dice);
        tests::SmallLoader loader(catalogue);
        instruct_at_random(loader, dice, catalogue.levels.size(), false); // nothing is given up
        const std::vector<Transferred> all = transferred(loader, catalogue);
        CHECK(all.size() ==
              static_cast<std::size_t>(std::count_if(loader.loads().begin(), loader.loads().end(),
                                                     [&](const loading::LoadRecord& load) {
                                                         return catalogue.pieces[load.piece].read;
                                                     })));
        // Busy periods: what they transfer is the rate times their length, rounded up once.
        for (std::size_t first = 0; first < all.size();) {
            Micros end = all[first].to;
            Bytes sum = all[first].size;
            std::size_t next = first + 1;
            for (; next < all.size() && all[next].from < end; ++next) {
                end = std::max(end, all[next].to);
                sum += all[next].size;
            }
            CHECK(end - all[first].from == plan::duration_of(sum, catalogue.read.rate));
            first = next;
        }
    }
}

TEST_CASE("with unloading in between, what was read by any moment stays below rate times time") {
    for (std::uint32_t seed = 2'000; seed < 2'200; ++seed) {
        CAPTURE(seed);
        Dice dice(seed);
        tests::SmallCatalogue catalogue = random_catalogue(dice);
        tests::SmallLoader loader(catalogue);
        instruct_at_random(loader, dice, catalogue.levels.size(), true);
        std::map<Micros, Bytes> read_by;
        for (const Transferred& transfer : transferred(loader, catalogue))
            read_by[transfer.to] += transfer.size;
        Bytes sum;
        for (const auto& [at, size] : read_by) {
            sum += size;
            CHECK(plan::duration_of(sum, catalogue.read.rate) <= at);
        }
    }
}

TEST_CASE("a level is shown only with its parent, and ready only with its kits") {
    for (std::uint32_t seed = 3'000; seed < 3'200; ++seed) {
        CAPTURE(seed);
        Dice dice(seed);
        tests::SmallCatalogue catalogue = random_catalogue(dice);
        tests::SmallLoader loader(catalogue);
        for (int i = 0; i < 10; ++i) {
            instruct_at_random(loader, dice, catalogue.levels.size(), true);
            for (const LevelId level : catalogue.levels.ids()) {
                const LevelId parent = catalogue.tree[level].parent;
                if (loader.shown(level)) CHECK(loader.loaded(level));
                if (loader.shown(level) && parent) CHECK(loader.shown(parent));
                if (!loader.loaded(level)) continue;
                CHECK(loader.resident(catalogue.piece_of(level)));
                for (const auto kit : catalogue.levels[level].kits) CHECK(loader.resident(kit));
            }
        }
    }
}
