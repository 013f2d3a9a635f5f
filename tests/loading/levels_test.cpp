// The state machine of levels, driven by hand: what is asked for, ready, queued, shown and let go,
// and in which order whoever drives it is told.

#include "loading/levels.hpp"

#include "support/printing.hpp"

#include <fmt/format.h>
#include <string>
#include <vector>

using namespace hestrel;
using loading::Levels;
using plan::LevelId;
using plan::Priority;

namespace {

/// Writes down all that it is told; brings and attaches nothing by itself.
struct Diary : loading::LevelDriver {
    std::vector<std::string> told;
    plan::Micros time;

    std::vector<std::string> take() { return std::exchange(told, {}); }

    [[nodiscard]] plan::Micros moment() const override { return time; }
    void asked_for(LevelId level, std::uint32_t by) override {
        told.push_back(fmt::format("{} asked by {}", level.value, by));
    }
    void raised(const loading::LevelNow& level, Priority before) override {
        told.push_back(
            fmt::format("{} raised from {}", level.turn.level.value, static_cast<int>(before)));
    }
    void let_go(const loading::LevelNow& before) override {
        told.push_back(fmt::format("{} let go{}", before.turn.level.value,
                                   before.arrived ? ", had arrived" : ""));
    }
    void left_queue(LevelId level) override {
        told.push_back(fmt::format("{} left the queue", level.value));
    }
    void block_ready() override { told.emplace_back("block ready"); }
    void block_over() override { told.emplace_back("block over"); }
    void changed(loading::LevelEvent event) override {
        constexpr std::array words{"ready", "shown", "hidden", "unloaded"};
        told.push_back(fmt::format("{} {}", event.level.value,
                                   words.at(static_cast<std::size_t>(event.change))));
    }
};

using Told = std::vector<std::string>;

/// Three levels: hall with its loft (with-parent) and cellar (not), and a quay.
struct Game {
    LevelId hall{std::size_t{0}}, loft{std::size_t{1}}, cellar{std::size_t{2}},
        quay{std::size_t{3}};
    plan::LevelTree tree{4};
    loading::Sequence sequence;
    Diary diary;
    Levels levels{tree, sequence, diary};

    Game() {
        tree[hall].sublevels = {loft, cellar};
        tree[hall].with_parent = {loft};
        tree[loft].parent = tree[cellar].parent = hall;
    }
    void ask(LevelId level, Priority priority = Priority::soon) { levels.ask(level, priority, 7); }
    void show(LevelId level, Priority priority = Priority::soon) {
        levels.show(level, priority, 7);
    }
    /// Brings and attaches all that can be, one after another.
    void settle() {
        for (bool any = true; any;) {
            any = false;
            const std::set<LevelId> asked = levels.asked();
            for (const LevelId level : asked) {
                if (levels[level].arrived) continue;
                levels.arrived(level);
                any = true;
            }
            if (const LevelId next = levels.take_first()) {
                levels.attached(next);
                any = true;
            }
        }
    }
};

} // namespace

TEST_CASE("levels: asking asks for what comes with it, once") {
    Game game;
    game.ask(game.cellar);
    // Its parent first, then itself, last the parent's with-parent sublevels.
    CHECK(game.diary.take() == Told{"0 asked by 7", "2 asked by 7", "1 asked by 7"});
    game.ask(game.hall);
    CHECK(game.diary.take().empty());
    CHECK(game.levels.asked() == std::set<LevelId>{game.hall, game.loft, game.cellar});
    CHECK_FALSE(game.levels[game.hall].wanted);
}

TEST_CASE("levels: a sublevel is ready only once its parent is") {
    Game game;
    game.ask(game.hall);
    game.diary.take();
    game.levels.arrived(game.loft);
    CHECK(game.diary.take().empty());
    CHECK_FALSE(game.levels[game.loft].loaded);
    game.levels.arrived(game.hall);
    CHECK(game.diary.take() == Told{"0 ready", "1 ready"});
    CHECK(game.levels[game.loft].loaded);
    CHECK(game.levels.queue().empty()); // nobody wants them shown
}

TEST_CASE("levels: a sublevel queues only once its parent is shown") {
    Game game;
    game.show(game.hall);
    game.levels.arrived(game.hall);
    game.levels.arrived(game.loft);
    REQUIRE(game.levels.queue().size() == 1);
    CHECK(game.levels.take_first() == game.hall);
    CHECK(game.levels[game.hall].in_queue); // it is being attached
    CHECK_FALSE(game.levels.take_first());
    game.diary.take();
    game.levels.attached(game.hall);
    CHECK(game.diary.take() == Told{"0 shown"});
    CHECK_FALSE(game.levels[game.hall].in_queue);
    CHECK(game.levels.take_first() == game.loft);
}

TEST_CASE("levels: the queue goes by priority, then by joining, then by asking") {
    Game game;
    game.show(game.quay);
    game.show(game.hall);
    game.diary.time = plan::seconds(2);
    game.levels.arrived(game.hall);
    game.diary.time = plan::seconds(3);
    game.levels.arrived(game.quay);
    CHECK(game.levels.queue().begin()->level == game.hall); // it joined first
    game.show(game.quay, Priority::now);
    CHECK(game.diary.take().size() == 5); // showing again does not raise it
    CHECK(game.levels.queue().begin()->level == game.hall);
    game.ask(game.quay, Priority::now);
    CHECK(game.diary.take() == Told{"3 raised from 1"});
    CHECK(game.levels.queue().begin()->level == game.quay);
    // Raised, it keeps the time at which it joined.
    CHECK(game.levels[game.quay].turn.joined == plan::seconds(3));
    game.ask(game.quay, Priority::later);
    CHECK(game.diary.take().empty()); // never lowered
}

TEST_CASE("levels: hiding takes sublevels along, innermost first, and out of the queue") {
    Game game;
    game.show(game.hall);
    game.show(game.cellar);
    game.settle();
    REQUIRE(game.levels[game.cellar].shown);
    game.diary.take();
    game.levels.hide(game.hall);
    CHECK(game.diary.take() == Told{"2 hidden", "1 hidden", "0 hidden"});
    CHECK(game.levels[game.hall].loaded);
    game.show(game.hall);
    CHECK(game.levels.queue().size() == 1);
    game.levels.hide(game.hall);
    CHECK(game.diary.take() == Told{"0 left the queue"});
    CHECK(game.levels.queue().empty());
}

TEST_CASE("levels: unloading hides, then lets go, and says whether it had arrived") {
    Game game;
    game.show(game.hall);
    game.levels.arrived(game.hall);
    game.levels.attached(game.levels.take_first());
    game.diary.take();
    game.levels.unload(game.hall);
    CHECK(game.diary.take() ==
          Told{"0 hidden", "1 unloaded", "1 let go", "0 unloaded", "0 let go, had arrived"});
    CHECK(game.levels.asked().empty());
    game.levels.unload(game.hall);
    CHECK(game.diary.take().empty());
}

TEST_CASE("levels: a blocked family waits for all of it, and is shown in one go") {
    Game game;
    const std::vector<LevelId> family{game.hall, game.loft, game.quay};
    game.levels.block_for(family);
    game.show(game.hall);
    game.show(game.quay);
    game.levels.show_block();
    game.levels.arrived(game.hall);
    game.levels.arrived(game.quay);
    CHECK(game.levels.queue().empty()); // what is blocked does not queue
    CHECK_FALSE(game.levels.is_block_ready());
    game.diary.take();
    game.levels.arrived(game.loft);
    CHECK(game.diary.take() == Told{"1 ready", "block ready"});
    game.levels.hide(game.quay); // the switch being over, it may be hidden meanwhile
    game.diary.take();
    game.levels.block_attached();
    CHECK(game.diary.take() == Told{"0 shown", "1 shown", "block over"});
    CHECK(game.levels.block().empty());
    CHECK_FALSE(game.levels[game.quay].shown);
    CHECK_FALSE(game.levels[game.quay].blocked);
}

TEST_CASE("levels: restored, what can be attached is queued, and nobody is told") {
    Game game;
    loading::LevelNow there;
    there.asked = there.arrived = there.wanted = there.shown = true;
    game.levels.restore(game.hall, there);
    there.shown = false;
    game.levels.restore(game.loft, there);
    there.arrived = false;
    game.levels.restore(game.cellar, there);
    game.levels.restored();
    CHECK(game.diary.take().empty());
    REQUIRE(game.levels.queue().size() == 1);
    CHECK(game.levels.queue().begin()->level == game.loft);
    CHECK_FALSE(game.levels[game.cellar].loaded);
    game.levels.clear();
    CHECK(game.levels.asked().empty());
    CHECK(game.levels.queue().empty());
    CHECK_FALSE(game.levels[game.hall].asked);
}

TEST_CASE("levels: whatever is asked, shown, hidden and unloaded, the machine keeps its rules") {
    for (std::uint32_t seed = 0; seed < 200; ++seed) {
        CAPTURE(seed);
        std::mt19937 random(seed);
        const auto below = [&](std::uint32_t limit) { return random() % limit; };
        Game game;
        for (int turn = 0; turn < 60; ++turn) {
            const LevelId level{std::size_t{below(4)}};
            switch (below(7)) {
            case 0: game.ask(level, static_cast<Priority>(below(3))); break;
            case 1: game.show(level, static_cast<Priority>(below(3))); break;
            case 2: game.levels.hide(level); break;
            case 3: game.levels.unload(level); break;
            case 4:
                if (game.levels[level].asked && !game.levels[level].arrived)
                    game.levels.arrived(level);
                break;
            default:
                if (const LevelId next = game.levels.take_first()) game.levels.attached(next);
            }
            for (const LevelId each : {game.hall, game.loft, game.cellar, game.quay}) {
                const loading::LevelNow& now = game.levels[each];
                const LevelId parent = game.tree[each].parent;
                CHECK(now.asked == game.levels.asked().contains(each));
                CHECK(now.loaded == (now.arrived && (!parent || game.levels[parent].loaded)));
                if (now.shown) CHECK((now.loaded && now.wanted && !now.in_queue));
                if (now.shown && parent) CHECK(game.levels[parent].shown);
                if (now.wanted) CHECK(now.asked);
                const bool can = now.loaded && now.wanted && !now.shown &&
                                 (!parent || game.levels[parent].shown);
                CHECK(now.in_queue == can);
            }
        }
        game.settle();
        for (const LevelId each : game.levels.asked())
            CHECK((game.levels[each].loaded || game.tree[each].parent));
    }
}
