// Advice is true: what it says mends a plan does, when walked, and one unit less does not.

#include "advise/advice.hpp"
#include "edit/applied.hpp"
#include "edit/settings.hpp"
#include "plan/names.hpp"
#include "support/figures.hpp"
#include "support/plan_text.hpp"
#include "support/random_plan.hpp"
#include "tables/advice_words.hpp"

#include <algorithm>

using namespace hestrel;
using advise::Advice;
using advise::Kind;
using plan::milliseconds;
using plan::seconds;
using tests::Lines;
using tests::walks_of;

namespace {

/// A plan, its walks, and what is advised.
struct AdviceOf {
    explicit AdviceOf(std::string plan_text) : text(std::move(plan_text)) {
        disk.files["plan.yaml"] = text;
        plan = tests::plan_from(text);
        records = walks_of(plan);
        advise::Options options;
        for (const plan::DeviceId device : plan.devices.ids()) options.devices.push_back(device);
        advised = advise::advise(plan, records, options);
    }
    [[nodiscard]] const Advice* find(Kind kind) const {
        for (const Advice* each : advised.all()) {
            if (each->kind == kind) return each;
        }
        return nullptr;
    }
    /// The plan as it is read with what the advice says to set.
    [[nodiscard]] plan::Plan tried(const std::vector<advise::Edit>& edits) {
        const edit::Settings settings(disk, plan, "plan.yaml", {});
        const auto values = settings.of(edits);
        REQUIRE(values);
        auto reading = source::read_plan(disk, "plan.yaml", {*values, nullptr});
        for (const auto& finding : reading.findings)
            FAIL_CHECK(plan::finding_text(reading.plan, finding));
        return std::move(reading.plan);
    }
    /// How many gaps its routes have with these changes, on all devices.
    [[nodiscard]] std::size_t gaps(const std::vector<advise::Edit>& edits) {
        std::size_t count = 0;
        for (const walk::Record& record : walks_of(tried(edits))) count += record.gaps.size();
        return count;
    }

    std::string text;
    source::MemoryDisk disk;
    plan::Plan plan;
    std::vector<walk::Record> records;
    advise::Advised advised;
};

/// A hall, and a quay of 300 MiB that a trigger shows 10 m before players are in it. At 5 m/s they
/// are there after 2 s; reading takes 3 s, and attaching one frame of 10 ms.
std::string short_road(const std::string& steps = "[{show: [quay]}]",
                       const std::string& more = "") {
    return std::string(tests::plain_device) + R"(
waypoints: {a: [0, 0, 0], b: [50, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {run: 5}}}
levels:
  hall: {memory: {texture: 10}, area: [{min: [-1, -1, -9], max: [39, 5, 9]}], entries: {door: a}}
  quay: {memory: {texture: 300}, area: [{min: [40, -1, -9], max: [60, 5, 9]}]}
triggers:
  approach: {in: hall, box: {min: [30, -1, -5], max: [33, 3, 5]}, steps: )" +
           steps + R"(}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)" + more;
}

/// The same changes with one unit less of what is counted.
std::vector<advise::Edit> one_less(const plan::Plan& plan, const Advice& advice) {
    std::vector<advise::Edit> edits = advice.edits;
    for (advise::Edit& edit : edits) {
        if (auto* shape = std::get_if<advise::SetShape>(&edit)) {
            auto& now = std::get<plan::Box>(shape->shape);
            const auto& today = std::get<plan::Box>(plan.triggers[shape->trigger].shape);
            for (const std::size_t axis : {0U, 2U}) {
                if (now.min[axis] < today.min[axis]) now.min[axis] += 1;
                if (now.max[axis] > today.max[axis]) now.max[axis] -= 1;
            }
        }
        if (auto* near = std::get_if<advise::SetNear>(&edit)) near->near.load -= 1;
        if (auto* veil = std::get_if<advise::AddVeil>(&edit)) veil->min -= milliseconds(100);
        if (auto* veil = std::get_if<advise::SetVeilMin>(&edit)) veil->min -= milliseconds(100);
        if (auto* wait = std::get_if<advise::SetWait>(&edit)) wait->time -= milliseconds(100);
        if (auto* makers = std::get_if<advise::SetMakers>(&edit)) makers->workers -= 1;
        if (auto* size = std::get_if<advise::SetFigures>(&edit)) {
            if (size->make) *size->make += milliseconds(100);
            if (!size->memory.empty()) size->memory.front().second += plan::mebibytes(1);
        }
    }
    return edits;
}

/// A kind of advice is there, has that amount, and is neither too little nor too much.
void check_true(AdviceOf& lake, Kind kind, std::int64_t amount) {
    CAPTURE(tables::kind_name(kind));
    REQUIRE(lake.gaps({}) > 0);
    const Advice* advice = lake.find(kind);
    REQUIRE(advice != nullptr);
    CHECK(advice->amount == amount);
    CHECK(lake.gaps(advice->edits) == 0);
    if (amount > 0 && kind != Kind::persist) CHECK(lake.gaps(one_less(lake.plan, *advice)) > 0);
}

} // namespace

TEST_CASE("advice: how long a load takes, and how soon players need it") {
    const AdviceOf lake(short_road());
    REQUIRE(lake.advised.loads.size() == 1);
    const advise::Load& load = lake.advised.loads.front();
    REQUIRE(load.times.size() == 1);
    const advise::DeviceTime& time = load.times.front();
    CHECK(time.isolated.to_read == plan::mebibytes(300));
    CHECK(time.isolated.read == seconds(3));
    CHECK(time.isolated.shown == milliseconds(3010));
    REQUIRE(load.way);
    CHECK(load.way->metres == Approx(10));
    CHECK(load.lead() == seconds(2));
    CHECK(time.slack == milliseconds(-1010));
    CHECK(time.seen_slack == milliseconds(-1010));
    REQUIRE(time.contended);
    CHECK(time.contended->took == milliseconds(3010));
    REQUIRE(lake.advised.problems.size() == 1);
    CHECK(lake.advised.problems.front().short_by == milliseconds(1010));
}

TEST_CASE("advice: what mends a late load, by hand") {
    AdviceOf lake(short_road());
    // 3.01 s at 5 m/s are 15.05 m: 6 m more than the 10 there are, 5 are not enough.
    check_true(lake, Kind::deepen, 6);
    // Under a veil until it is shown, in tenths of a second.
    check_true(lake, Kind::veil, 31);
    // 199 MiB are read in 1.99 s, and shown at the end of the next frame: at 2 s.
    check_true(lake, Kind::lighter, 101);
    check_true(lake, Kind::persist, 300);
    check_true(lake, Kind::gate, 0);
    // The gate stands 1 m before the quay: players get there after 1.8 s.
    CHECK(lake.find(Kind::gate)->then->held == milliseconds(3010 - 1800));
    // The cheapest first.
    std::vector<Kind> kinds;
    for (const Advice& each : lake.advised.problems.front().fixes) kinds.push_back(each.kind);
    CHECK(std::is_sorted(kinds.begin(), kinds.end()));
    CHECK(kinds.size() == 5);
}

TEST_CASE("advice: a wanted slack is mended to") {
    AdviceOf lake(short_road("[{show: [quay]}]", "limits: {slack: 0.5 s}"));
    CHECK(lake.advised.problems.front().short_by == milliseconds(1510));
    const Advice* deeper = lake.find(Kind::deepen);
    REQUIRE(deeper != nullptr);
    CHECK(deeper->amount == 8); // 3.51 s are 17.55 m
    CHECK(deeper->then->slack == milliseconds(3600 - 3010));
    CHECK(deeper->one_less->slack == milliseconds(3400 - 3010));
}

TEST_CASE("advice: the order of names, and priorities") {
    // The loft is read beside it, half of the rate each: 2 s for both, then the quay's last 100.
    std::string text = short_road("[{load: [loft, quay]}, {show: [quay]}]");
    text.replace(text.find("read: {rate: 100}"), 17, "read: {rate: 200}");
    text.replace(text.find("  quay: {"), 0, "  loft: {memory: {texture: 200}}\n");
    AdviceOf lake(text);
    // One after the other: the loft takes 1 s, the quay 1.5 s: 2.51 s, and 1.51 s if it comes
    // first.
    check_true(lake, Kind::names_order, 0);
    CHECK(lake.find(Kind::names_order)->then->slack == milliseconds(2000 - 1510));
    CHECK(lake.find(Kind::priority) == nullptr); // of the same list both are asked for with `now`
}

TEST_CASE("advice: a load goes before what others ask for") {
    std::string text = short_road();
    text.replace(text.find("read: {rate: 100}"), 17, "read: {rate: 200}");
    text.replace(text.find("  quay: {"), 0,
                 "  loft: {memory: {texture: 150}}\n  attic: {memory: {texture: 150}}\n");
    text.replace(text.find("  approach:"), 0,
                 "  before: {in: hall, box: {min: [29, -1, -5], max: [30, 3, 5]}, steps: [{load: "
                 "[loft, attic]}]}\n");
    text.replace(text.find("{texture: 300}"), 14, "{texture: 260}");
    AdviceOf lake(text);
    // Asked for 0.2 s later, the quay waits for both: 1.5 s less 0.2, and 1.3 s of its own. Before
    // the attic, it waits for the rest of the loft only: 0.55 s.
    check_true(lake, Kind::priority, 0);
    CHECK(lake.find(Kind::priority)->then->slack == milliseconds(2000 - 550 - 1310));
}

TEST_CASE("advice: a level that comes with nearness") {
    std::string text = short_road("[{set: {seen: true}}]", "facts: {seen: {initial: false}}\n");
    text.replace(text.find("{texture: 300}"), 14, "{texture: 300}, near: {load: 10, unload: 20}");
    AdviceOf lake(text);
    check_true(lake, Kind::near, 6);
    const auto* near = std::get_if<advise::SetNear>(&lake.find(Kind::near)->edits.front());
    REQUIRE(near != nullptr);
    CHECK(near->near.load == 16);
    CHECK(near->near.unload == 26);
    CHECK(lake.find(Kind::veil) == nullptr); // there is no list to raise it
}

TEST_CASE("advice: fixed waits and veils that are too short") {
    SECTION("a wait") {
        AdviceOf lake(short_road("[{veil: dawn}, {show: [quay]}, {wait: 2.5 s}, {unveil: dawn}]",
                                 "veils: {dawn: {min: 1 s}}\n"));
        check_true(lake, Kind::wait, 31);
        REQUIRE(lake.advised.waits.size() == 1);
        CHECK(lake.advised.waits.front().time == milliseconds(2500));
        CHECK(lake.advised.waits.front().least == milliseconds(3100));
        CHECK_FALSE(lake.advised.waits.front().fix); // it is not said twice
    }
    SECTION("a veil") {
        AdviceOf lake(short_road("[{veil: dawn}, {show: [quay]}, {unveil: dawn}]",
                                 "veils: {dawn: {min: 2.5 s}}\n"));
        check_true(lake, Kind::veil_min, 31);
        REQUIRE(lake.advised.veils.size() == 1);
        CHECK(lake.advised.veils.front().takes == milliseconds(3010));
        CHECK(lake.advised.veils.front().least == milliseconds(3100));
    }
    SECTION("a wait that is too long is found, though nothing is late") {
        AdviceOf lake(short_road("[{veil: dawn}, {show: [quay]}, {wait: 5 s}, {unveil: dawn}]",
                                 "veils: {dawn: {min: 1 s}}\n"));
        CHECK(lake.advised.problems.empty());
        REQUIRE(lake.advised.waits.size() == 1);
        const auto& mend = lake.advised.waits.front().fix;
        REQUIRE(mend);
        CHECK(mend->amount == 31);
        CHECK(lake.gaps(mend->edits) == 0);
        CHECK(lake.gaps(one_less(lake.plan, *mend)) > 0);
    }
    SECTION("a wait that fits is left alone") {
        AdviceOf lake(short_road("[{veil: dawn}, {show: [quay]}, {wait: 3.5 s}, {unveil: dawn}]",
                                 "veils: {dawn: {min: 1 s}}\n"));
        REQUIRE(lake.advised.waits.size() == 1);
        CHECK_FALSE(lake.advised.waits.front().fix);
    }
}

TEST_CASE("advice: what loads under a veil is what is asked for while it is up") {
    const std::string veil = "veils: {dawn: {min: 1 s}}\n";
    SECTION("from the raising, and not from the firing") {
        const AdviceOf lake(short_road("[{wait: 8 s}, {veil: dawn}, {show: [quay]}, {wait: {shown: "
                                       "[quay]}}, {unveil: dawn}]",
                                       veil));
        REQUIRE(lake.advised.veils.size() == 1);
        CHECK(lake.advised.veils.front().takes == milliseconds(3010));
        CHECK(lake.advised.veils.front().least == milliseconds(3100));
        CHECK_FALSE(lake.advised.veils.front().contended); // no longer on the route
    }
    SECTION("ready is enough where it is only loaded") {
        const AdviceOf lake(short_road("[{veil: dawn}, {load: [quay]}, {unveil: dawn}]", veil));
        REQUIRE(lake.advised.veils.size() == 1);
        CHECK(lake.advised.veils.front().takes == seconds(3));
    }
    SECTION("nothing, where it is asked for before or after") {
        CHECK(AdviceOf(
                  short_road("[{show: [quay]}, {wait: 1 s}, {veil: dawn}, {unveil: dawn}]", veil))
                  .advised.veils.empty());
        CHECK(AdviceOf(short_road("[{veil: dawn}, {unveil: dawn}, {show: [quay]}]", veil))
                  .advised.veils.empty());
    }
}

TEST_CASE("advice: a fixed wait is measured from the asking, near levels of a place among them") {
    SECTION("not from the firing") {
        const AdviceOf lake(short_road("[{wait: 4 s}, {veil: dawn}, {show: [quay]}, {wait: 3.5 s}, "
                                       "{unveil: dawn}]",
                                       "veils: {dawn: {min: 1 s}}\n"));
        REQUIRE(lake.advised.waits.size() == 1);
        CHECK(lake.advised.waits.front().time == milliseconds(3500));
        CHECK(lake.advised.waits.front().least == milliseconds(3100));
        CHECK_FALSE(lake.advised.waits.front().fix);
    }
    SECTION("what comes near where it places players") {
        std::string text = short_road("[{veil: dawn}, {place: {at: far.door}}, {wait: 1 s}, "
                                      "{unveil: dawn}]",
                                      "veils: {dawn: {min: 1 s}}\n");
        text.replace(text.find("levels:"), 7,
                     "levels:\n  far: {memory: {texture: 200}, area: [{min: [490, -1, -9], max: "
                     "[510, 5, 9]}], near: {load: 20, unload: 50}, entries: {door: f}}");
        text.replace(text.find("b: [50, 0, 0]"), 13, "b: [50, 0, 0], f: [500, 0, 0]");
        const AdviceOf lake(text);
        REQUIRE(lake.advised.waits.size() == 1);
        CHECK(lake.advised.waits.front().takes == milliseconds(2020)); // asked in mid-frame
        REQUIRE(lake.advised.waits.front().fix);
        CHECK(lake.advised.waits.front().fix->amount == 21);
    }
}

TEST_CASE("advice: a turned box is deepened on one side only") {
    std::string text = short_road();
    // A quarter turned, its own z side faces who comes: 6 x 10 becomes 10 x 6 about (33, 1, 0).
    text.replace(text.find("box: {min: [30, -1, -5], max: [33, 3, 5]}"), 41,
                 "box: {min: [28, -1, -3], max: [38, 3, 3], turn: 90}");
    AdviceOf lake(text);
    check_true(lake, Kind::deepen, 6);
    const auto shape = std::get<advise::SetShape>(lake.find(Kind::deepen)->edits.front()).shape;
    // Its other sides stay where they are.
    CHECK(geometry::contains(shape, {24, 0, 0}));
    CHECK_FALSE(geometry::contains(shape, {23.9, 0, 0}));
    CHECK(geometry::contains(shape, {36, 0, 5}));
    CHECK_FALSE(geometry::contains(shape, {36.1, 0, 0}));
    CHECK_FALSE(geometry::contains(shape, {30, 0, 5.1}));
}

TEST_CASE("advice: spheres and half spaces reach farther") {
    const std::string shape =
        GENERATE("sphere: {at: [32, 0, 0], radius: 2}", "beyond: {axis: x, over: 30}");
    CAPTURE(shape);
    std::string text = short_road();
    text.replace(text.find("box: {min: [30, -1, -5], max: [33, 3, 5]}"), 41, shape);
    AdviceOf lake(text);
    const Advice* advice = lake.find(Kind::deepen);
    REQUIRE(advice != nullptr);
    CHECK(advice->amount == 6);
    CHECK(lake.gaps(advice->edits) == 0);
}

TEST_CASE("advice: what comes along with a level that is named") {
    std::string text = short_road("[{show: [loft]}]");
    text.replace(text.find("texture: 300}, area"), 13,
                 "texture: 200}, sublevels: {loft: {memory: {texture: 100}}}");
    AdviceOf lake(text);
    // The quay is read first, then the loft: players are late in the quay, by as much as it takes.
    REQUIRE(lake.advised.loads.size() == 2);
    CHECK(lake.plan.levels[lake.advised.loads.back().level].name == "quay");
    CHECK(lake.advised.loads.back().times.front().isolated.shown == milliseconds(2010));
    CHECK(lake.advised.loads.back().times.front().slack == milliseconds(-10));
    CHECK(lake.advised.loads.front().times.front().isolated.shown == milliseconds(3010));
    CHECK_FALSE(lake.advised.loads.front().times.front().slack); // it has no area
    check_true(lake, Kind::deepen, 1);
}

TEST_CASE("advice: where nothing is late there is nothing to mend") {
    std::string text = short_road();
    text.replace(text.find("{texture: 300}"), 14, "{texture: 100}");
    const AdviceOf lake(text);
    CHECK(lake.advised.problems.empty());
    CHECK(lake.advised.all().empty());
    CHECK(lake.advised.loads.front().times.front().slack == milliseconds(2000 - 1010));
}

TEST_CASE("advice: what makes players wait for good mends nothing") {
    // 300 MiB at 1 KiB/s take three and a half days: no walk gets through a gate, or past a boot.
    std::string text = short_road();
    text.replace(text.find("read: {rate: 100}"), 17, "read: {rate: 0.001}");
    text.replace(text.find("hall: {memory: {texture: 10}"), 28, "hall: {memory: {texture: 0}");
    const AdviceOf lake(text);
    REQUIRE(lake.advised.problems.size() == 1);
    CHECK(lake.find(Kind::gate) == nullptr);
    CHECK(lake.find(Kind::persist) == nullptr);
    // Only an empty level is there in time.
    REQUIRE(lake.advised.all().size() == 1);
    CHECK(lake.find(Kind::lighter)->amount == 300);
}

TEST_CASE("advice: on several devices the worst decides") {
    std::string text = short_road();
    text.replace(text.find("  box: {"), 0,
                 "  slow: {memory: {total: 10000}, read: {rate: 80}, frame: {fps: 100}}\n"
                 "  fast: {memory: {total: 10000}, read: {rate: 800}, frame: {fps: 100}}\n");
    AdviceOf lake(text);
    REQUIRE(lake.advised.problems.size() == 1);
    CHECK(lake.advised.problems.front().late.size() == 2);
    CHECK(lake.plan.devices[lake.advised.problems.front().worst].name == "slow");
    check_true(lake, Kind::deepen, 9); // 3.76 s are 18.8 m
}

TEST_CASE("advice: what is made too late is made quicker, or by more makers") {
    // One maker: the barn until 1 s, then the quay until 2.5 s and 10 ms to attach. Needed after 2
    // s.
    std::string text = short_road("[{show: [barn, quay]}]");
    const std::string quay = "quay: {memory: {texture: 300}";
    text.replace(text.find(quay), quay.size(),
                 "barn: {memory: {texture: 9}, packed: 0, make: 1 s}\n  " + quay +
                     ", packed: 0, make: 1.5 s");
    AdviceOf lake(text);
    check_true(lake, Kind::quicker, 6);
    check_true(lake, Kind::makers, 1);
    CHECK(tables::advice_text(lake.plan, *lake.find(Kind::quicker)) ==
          "take 0.6 s less to make quay on box");
    CHECK(tables::advice_text(lake.plan, *lake.find(Kind::makers)) == "give box 1 maker more");
}

TEST_CASE("advice: what nobody needs any more is hidden where frames are slow") {
    // Frames of 10 ms; the hall takes 8 of them and the quay 6. At x = 45 the hall is not needed.
    std::string text = short_road("[{show: [quay]}]", "");
    const auto add = [&](const std::string& behind, const std::string& more) {
        text.insert(text.find(behind) + behind.size(), more);
    };
    add("hall: {memory: {texture: 10}", ", frame-cost: 8 ms");
    const std::string quay = "quay: {memory: {texture: 300}"; // shown a second before it is needed
    text.replace(text.find(quay), quay.size(), "quay: {memory: {texture: 100}, frame-cost: 6 ms");
    add("[{show: [quay]}]}\n", "  passed: {in: quay, box: {min: [45, -1, -5], max: [46, 3, 5]}, "
                               "steps: [{set: {past: true}}]}\n");
    text += "facts: {past: {initial: false}}\n";
    text.replace(text.find("[{go: b}]"), 9, "[{go: b}, {pause: 5 s}]");
    AdviceOf lake(text);
    REQUIRE(lake.records.front().slow_frames.size() == 1);
    const Advice* hide = lake.find(Kind::hide);
    REQUIRE(hide != nullptr);
    CHECK(tables::advice_text(lake.plan, *hide) == "hide hall in trigger passed");
    const walk::Record after = walks_of(lake.tried(hide->edits)).front();
    REQUIRE(after.slow_frames.size() == 1);
    // From the hiding on, at x = 45, a second before the player stands, and 5 s more.
    CHECK(lake.records.front().slow_frames[0].to - after.slow_frames[0].to == seconds(6));
    CHECK(hide->effects.front().slow_before - hide->effects.front().slow_after == seconds(6));
}

TEST_CASE("advice: the plan as a whole") {
    // The device has room for 700 MiB: old and new together, 10 + 300 + 500, are too much.
    const std::string cove = std::string(R"(
hestrel: 1
devices: {box: {memory: {total: 700}, read: {rate: 100}, frame: {fps: 100}}}
waypoints: {a: [0, 0, 0], b: [50, 0, 0], c: [90, 0, 0], d: [200, 0, 0]}
paths: [{from: a, to: b, one-way: true}, {from: b, to: c, one-way: true}]
players: {carrier: {speeds: {run: 5}}}
veils: {dusk: {}}
levels:
  hall: {memory: {texture: 10}, area: [{min: [-1, -1, -9], max: [10, 5, 9]}], entries: {door: a}}
  store: {memory: {texture: 300}, area: [{min: [20, -1, -9], max: [30, 5, 9]}]}
  cove: {memory: {texture: 500}, entries: {landing: d}}
  spare: {memory: {texture: 20}, persist: true}
triggers:
  in-store: {in: hall, box: {min: [2, -1, -5], max: [3, 3, 5]}, steps: [{show: [store]}]}
  passed: {in: hall, box: {min: [60, -1, -5], max: [61, 3, 5]}, steps: [{set: {past: true}}]}
  leaves: {in: hall, box: {min: [80, -1, -5], max: [81, 3, 5]}, steps: [{switch: {to: cove, veil: dusk}}]}
facts: {past: {initial: false}}
routes: {r: {start: {level: hall}, steps: [{pause: 9 s}, {go: c}]}}
)");
    AdviceOf lake(cove);
    REQUIRE(lake.records.front().peak > plan::mebibytes(700));
    const auto peak = [&](const Advice& advice) {
        return walks_of(lake.tried(advice.edits)).front().peak;
    };

    const Advice* unload = lake.find(Kind::unload);
    REQUIRE(unload != nullptr);
    CHECK(tables::advice_text(lake.plan, *unload) == "unload store in trigger passed");
    CHECK(peak(*unload) == plan::mebibytes(530));
    CHECK(unload->effects.front().peak_after == plan::mebibytes(530));

    const Advice* free_first = lake.find(Kind::free_first);
    REQUIRE(free_first != nullptr);
    CHECK(peak(*free_first) == plan::mebibytes(520));

    const Advice* let_go = lake.find(Kind::let_go);
    REQUIRE(let_go != nullptr);
    CHECK(lake.plan.levels[let_go->level].name == "spare");
    CHECK(let_go->amount == 20);
    CHECK(peak(*let_go) == lake.records.front().peak - plan::mebibytes(20));
}

TEST_CASE("advice: a level that is read again and again is better kept") {
    AdviceOf lake(std::string(tests::plain_device) + R"(
veils: {dusk: {}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [50, 0, 0], d: [60, 0, 0]}
paths: [[a, b], [c, d]]
players: {carrier: {speeds: {run: 5}}}
levels:
  hall: {memory: {texture: 10}, entries: {door: a}}
  cove: {memory: {texture: 400}, entries: {landing: c}}
triggers:
  out: {in: hall, box: {min: [9, -1, -5], max: [11, 3, 5]}, steps: [{switch: {to: cove, veil: dusk}}]}
  home: {in: cove, box: {min: [59, -1, -5], max: [61, 3, 5]}, steps: [{switch: {to: hall, veil: dusk}}]}
routes:
  r:
    start: {level: hall}
    steps: [{go: b}, {pause: 9 s}, {go: d}, {pause: 9 s}, {go: b}, {pause: 9 s}, {go: d}, {pause: 9 s}]
)");
    // For each MiB, keeping the small hall saves more: it comes first.
    REQUIRE(lake.advised.whole.size() == 2);
    CHECK(lake.plan.levels[lake.advised.whole.front().level].name == "hall");
    const Advice* keep = &lake.advised.whole.back();
    CHECK(keep->kind == Kind::persist);
    CHECK(lake.plan.levels[keep->level].name == "cove");
    CHECK(keep->amount == 400);
    // Its 4 s are waited for once, at the boot, instead of twice.
    const advise::Effect& effect = keep->effects.front();
    CHECK(plan::in_seconds(effect.waiting_before - effect.waiting_after) == Approx(4).margin(0.05));
    CHECK(effect.peak_after == plan::mebibytes(410));
}

TEST_CASE("advice: on random plans it does what it says, read from text or changed in place") {
    std::size_t pieces = 0;
    for (std::uint32_t seed = 1; seed <= 60; ++seed) {
        const tests::Rich rich = seed % 2 == 0 ? tests::Rich::yes : tests::Rich::no;
        const std::string text = tests::RandomPlan(seed, rich).text();
        CAPTURE(seed, text);
        source::MemoryDisk disk;
        disk.files["plan.yaml"] = text;
        const plan::Plan plan = tests::plan_from(text);
        walk::Options walking;
        walking.most_transitions = 2'000; // some go round in circles
        const auto records = walks_of(plan, walking);
        if (records.front().transitions.size() >= walking.most_transitions) continue;
        advise::Options options;
        options.devices = {plan::DeviceId{std::size_t{0}}};
        const advise::Advised advised = advise::advise(plan, records, options);
        const edit::Settings settings(disk, plan, "plan.yaml", {});
        for (const Advice* advice : advised.all()) {
            ++pieces;
            CAPTURE(tables::advice_text(plan, *advice));
            if (advice->then) CHECK(advice->then->in_time(advised.wanted));
            if (advice->one_less) CHECK_FALSE(advice->one_less->in_time(advised.wanted));
            const auto values = settings.of(advice->edits);
            REQUIRE(values);
            const auto reading = source::read_plan(disk, "plan.yaml", {*values, nullptr});
            REQUIRE_FALSE(reading.has_errors());
            const auto read = walks_of(reading.plan, walking);
            const auto changed = walks_of(advise::with(plan, advice->edits), walking);
            CHECK(read.front().end == changed.front().end);
            CHECK(read.front().peak == changed.front().peak);
            CHECK(read.front().events.size() == changed.front().events.size());
        }
    }
    CHECK(pieces > 30);
}

TEST_CASE("advice: on the demo plan all advice is true when read from the plan files") {
    source::RealDisk disk;
    const std::string path = std::string(HESTREL_SOURCE) + "/examples/glasswater/glasswater.yaml";
    const plan::Plan plan = tests::demo_plan();
    const auto records = walks_of(plan);
    advise::Options options;
    for (const plan::DeviceId device : plan.devices.ids()) options.devices.push_back(device);
    const advise::Advised advised = advise::advise(plan, records, options);
    const edit::Settings settings(disk, plan, path, {});
    REQUIRE(advised.all().size() > 10);
    std::size_t most_files = 0;
    for (std::size_t i = 0; i < advised.all().size(); ++i) {
        const Advice& advice = *advised.all()[i];
        CAPTURE(tables::advice_text(plan, advice));
        const auto values = settings.of(advice.edits);
        REQUIRE(values);
        const auto reading = source::read_plan(disk, path, {*values, nullptr});
        REQUIRE_FALSE(reading.has_errors());
        most_files = std::max(most_files, edit::applied(disk, path, *values).size());
        // Read or changed in place, it is the same plan.
        const auto read = walks_of(reading.plan);
        const auto changed = walks_of(advise::with(plan, advice.edits));
        for (std::size_t j = 0; j < read.size(); ++j) {
            CHECK(read[j].end == changed[j].end);
            CHECK(read[j].peak == changed[j].peak);
            CHECK(read[j].events.size() == changed[j].events.size());
            CHECK(walk::worst_slack(read[j]) == walk::worst_slack(changed[j]));
        }
    }
    CHECK(most_files == 2); // a veil, and the list that raises it
    // The stair is too short for the handheld; the first advice makes the hurried round go well.
    const auto load = advised.loads[advised.problems.front().load];
    CHECK(tables::cause_text(plan, load.cause) == "trigger quay.keeper-stair");
    const auto reading =
        source::read_plan(disk, path, {*settings.of(advised.all().front()->edits), nullptr});
    for (const walk::Record& record : walks_of(reading.plan)) CHECK(record.gaps.empty());
}
