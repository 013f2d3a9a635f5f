// What lists of steps ask for, read off the plan: each step, worked out by hand.

#include "study/list_reading.hpp"

#include "plan/names.hpp"
#include "study/isolated_list.hpp"
#include "support/plan_text.hpp"

using namespace hestrel;
using study::StepReading;
using tests::named;

namespace {

constexpr std::string_view world = R"(hestrel: 1
devices:
  box: {memory: {total: 900, base: 10}, read: {rate: 10}, frame: {fps: 50}}
levels:
  hall: {memory: {texture: 10}, entries: {door: door}}
  quay: {memory: {texture: 20}}
  loft: {memory: {texture: 30}}
waypoints: {door: [0, 0, 0]}
veils: {mist: {min: 2 s}, dawn: {min: 5 s}}
gates: {way: {needs: [quay, loft]}}
facts: {up: {initial: false}}
triggers:
  t:
    when: up
    steps:
)";

struct List {
    plan::Plan plan;
    explicit List(const std::string& steps) {
        std::string text(world);
        for (std::size_t at = 0; at < steps.size();) {
            const std::size_t end = std::min(steps.find('\n', at), steps.size());
            text += "      - " + steps.substr(at, end - at) + "\n";
            at = end + 1;
        }
        plan = tests::plan_from(text);
    }
    [[nodiscard]] const plan::StepList& list() const {
        return plan.lists[plan.triggers[named(plan.triggers, "t")].steps];
    }
    [[nodiscard]] StepReading only() const { return study::read_list(list()).front(); }
    [[nodiscard]] std::string names(const std::vector<plan::LevelId>& levels) const {
        return plan::level_names(plan, levels, " ");
    }
};

} // namespace

TEST_CASE("reading: load only asks, show wants shown, mark asks for nothing") {
    CHECK(List("{load: [quay, hall]}").names(List("{load: [quay, hall]}").only().asks) ==
          "quay hall");
    CHECK_FALSE(List("{load: [quay]}").only().shows);
    CHECK(List("{show: [quay]}").only().shows);
    const List marks("{mark: hall.door}");
    CHECK(marks.only().asks.empty());
    CHECK(marks.names(marks.only().called()) == "hall");
}

TEST_CASE("reading: a switch asks for its target, then what comes with it") {
    const List list("{switch: {to: quay, with: [loft], veil: mist}}");
    const StepReading step = list.only();
    CHECK(list.names(step.asks) == "quay loft");
    CHECK(step.shows);
    CHECK(step.switches != nullptr);
    CHECK(step.moves_on());
    CHECK(step.leaves_all());
    CHECK_FALSE(step.covers()); // the switch's veil hides the switch alone
    CHECK(study::switch_of(list.list().steps.front()) == step.switches);
}

TEST_CASE("reading: what takes away, moves and covers") {
    const List hides("{hide: [quay]}");
    CHECK(hides.names(*hides.only().hides) == "quay");
    const List unloads("{unload: [quay, loft]}");
    CHECK(unloads.names(*unloads.only().unloads) == "quay loft");
    const List keeps("{keep-only: [hall]}");
    CHECK(keeps.only().leaves_all());
    CHECK_FALSE(keeps.only().moves_on());
    CHECK(List("{place: {at: hall.door}}").only().moves_on());
    CHECK(List("{return: checkpoint}").only().leaves_all());
    CHECK(List("{veil: mist}").only().covers());
    CHECK(List("{freeze: players}").only().covers());
    CHECK(List("{thaw: players}").only().thaws);
    CHECK(List("{unveil: mist}").only().takes_down);
    CHECK_FALSE(List("{set: {up: true}}").only().moves_on());
}

TEST_CASE("reading: a list hides what it loads by a veil, a freeze or a switch") {
    CHECK(study::hides_loading(List("{veil: mist}\n{show: [quay]}").list()));
    CHECK(study::hides_loading(List("{switch: {to: quay, veil: mist}}").list()));
    CHECK_FALSE(study::hides_loading(List("{show: [quay]}").list()));
}

TEST_CASE("reading: how long a veil hides, and what it lasts for") {
    const List list("{show: [hall]}\n{wait: 9 s}\n{veil: mist}\n{wait: 3 s}\n"
                    "{wait: {shown: [quay]}}\n{wait: {shown: [loft]}, at-most: 1 s}");
    const study::Hiding hiding = study::hiding_of(list.plan, list.list());
    CHECK(hiding.hidden == plan::seconds(3)); // the 9 s are before it
    CHECK(list.names(hiding.held) == "quay"); // not what a wait gives up
    CHECK(study::hiding_of(list.plan, List("{veil: dawn}").list()).hidden == plan::seconds(5));
}

TEST_CASE("reading: asked for before the first wait for levels, and what that waits for") {
    const List list("{load: [quay]}\n{show: [hall]}\n{wait: {ready: [quay]}}\n{load: [loft]}");
    const study::Asking asking = study::asking_of(list.plan, list.list());
    CHECK(list.names(asking.asked) == "quay hall");
    CHECK(list.names(asking.awaited) == "quay");
}

TEST_CASE("reading: a switch waits for all that it asks for; waits before any asking are none") {
    const List list("{wait: 1 s}\n{switch: {to: quay, with: [hall], veil: mist}}\n{load: [loft]}");
    const study::Asking asking = study::asking_of(list.plan, list.list());
    CHECK(list.names(asking.asked) == "quay hall");
    CHECK(list.names(asking.awaited) == "quay hall");
}

TEST_CASE("reading: where nothing waits the gates do, else all of it is meant") {
    const List gated("{show: [quay]}");
    CHECK(gated.names(study::asking_of(gated.plan, gated.list()).awaited) == "quay loft");
    const List free("{show: [hall]}");
    CHECK(free.names(study::asking_of(free.plan, free.list()).awaited) == "hall");
}

namespace {

std::vector<study::FixedWait> waits_of(const List& list) {
    return study::fixed_waits(list.plan, list.list());
}

} // namespace

TEST_CASE("reading: a fixed wait is one only where something behind it relies on the load") {
    CHECK(waits_of(List("{load: [quay]}\n{wait: 2 s}")).empty());
    const List list("{load: [quay]}\n{wait: 2 s}\n{wait: 1 s}\n{show: [quay]}");
    const auto waits = waits_of(list);
    REQUIRE(waits.size() == 1);
    CHECK(waits.front().time == plan::seconds(3));
    CHECK(waits.front().index == 2); // the last of both
    CHECK_FALSE(waits.front().shown);
    CHECK(list.names(waits.front().levels) == "quay");
}

TEST_CASE("reading: taking away the very levels that were waited for relies on nothing") {
    CHECK(waits_of(List("{load: [quay]}\n{wait: 2 s}\n{unload: [quay]}")).empty());
    CHECK(waits_of(List("{load: [quay]}\n{wait: 2 s}\n{unload: [hall]}")).size() == 1);
    CHECK(waits_of(List("{show: [quay]}\n{wait: {shown: [quay]}}\n{unveil: mist}")).empty());
}

TEST_CASE("isolated list: what is asked for between two waits is loaded together") {
    // 10 MiB/s, one read at a time, frames of 20 ms.
    const List list("{show: [hall, quay]}\n{wait: {shown: [quay]}}\n{load: [loft]}");
    const loading::Catalogue catalogue =
        loading::catalogue_for(list.plan, plan::DeviceId{std::size_t{0}});
    study::IsolatedList run(catalogue, {});
    run.run(list.plan, list.list());
    const auto time = [&](const char* name) { return run.time_of(named(list.plan.levels, name)); };
    CHECK(time("hall").ready == plan::seconds(1));
    CHECK(time("quay").ready == plan::seconds(3));
    CHECK(time("quay").shown == plan::milliseconds(3'020));
    CHECK(time("quay").to_read == plan::mebibytes(30)); // what is asked for before it, too
    CHECK(time("loft").ready == plan::milliseconds(6'020));
    CHECK(time("loft").shown == plan::milliseconds(6'040)); // as if somebody showed it
}

TEST_CASE("isolated list: shown later, what was loaded has only to be attached") {
    const List list("{load: [hall]}\n{wait: 4 s}\n{show: [hall]}");
    const loading::Catalogue catalogue =
        loading::catalogue_for(list.plan, plan::DeviceId{std::size_t{0}});
    study::IsolatedList run(catalogue, {});
    run.run(list.plan, list.list());
    const study::IsolatedTimes time = run.time_of(named(list.plan.levels, "hall"));
    CHECK(time.ready == plan::seconds(1));
    // Attached alone it would take to the end of the frame: 20 ms.
    CHECK(time.shown == plan::milliseconds(4'020));
    CHECK(run.time_of(named(list.plan.levels, "quay")).shown == plan::Micros{}); // not asked for
}
