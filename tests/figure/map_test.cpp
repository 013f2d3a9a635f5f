// Maps: one scale for both axes, a world from the side, levels on one spot; and how hot places are.

#include "explore/explored.hpp"
#include "figure/flow_figure.hpp"
#include "figure/heat_figure.hpp"
#include "figure/map_figure.hpp"
#include "figure/storyboard_figure.hpp"
#include "support/figures.hpp"
#include "support/random_plan.hpp"
#include "tables/explore_tables.hpp"

using namespace hestrel;
using figure::Extent;

namespace {

struct Mapped : tests::Walked {
    explicit Mapped(const std::string& text)
        : Walked(text), map(*figure::map_figure(plan, record)) {
        tests::check_sheet(map);
    }
    /// Where something is pointed at, by what is said first of it.
    [[nodiscard]] std::vector<Extent> all(const std::string& said) const {
        std::vector<Extent> all;
        for (const figure::Hot& hot : map.sheet.hots()) {
            if (hot.text.substr(0, hot.text.find_first_of(",\n")) == said)
                all.push_back(hot.extent);
        }
        return all;
    }
    [[nodiscard]] figure::Point middle(const std::string& said, std::size_t number = 0) const {
        const Extent at = all(said).at(number);
        return {(at.from.x + at.to.x) / 2, (at.from.y + at.to.y) / 2};
    }
    [[nodiscard]] bool says(const std::string& words) const {
        return std::any_of(
            map.sheet.texts().begin(), map.sheet.texts().end(),
            [&](const figure::Text& text) { return text.text.find(words) != std::string::npos; });
    }

    figure::Figure map;
};

const std::string places = "players: {one: {speeds: {walk: 2}}}\nroutes: {r: {start: {level: hall, "
                           "waypoint: a}, steps: [{pause: 1 s}]}}\n";

} // namespace

TEST_CASE("a metre is as long down as across") {
    const Mapped mapped(
        "levels: {hall: {memory: {t: 1}, area: {min: [0, 0, 0], max: [100, 3, 60]}}}\n"
        "waypoints: {a: [0, 0, 0], b: [100, 0, 0], c: [0, 0, 60]}\n"
        "paths: [[a, b], [a, c]]\n" +
        places);
    const double across = (mapped.middle("waypoint b").x - mapped.middle("waypoint a").x) / 100;
    const double down = (mapped.middle("waypoint c").y - mapped.middle("waypoint a").y) / 60;
    CHECK(across == Approx(10));
    CHECK(down == Approx(across));
    CHECK(mapped.says("From above"));
    CHECK_FALSE(mapped.says("own scale"));
    CHECK_FALSE(mapped.says("the side"));
}

TEST_CASE("where one scale leaves nothing readable each axis has its own, and it is said") {
    const Mapped mapped(
        "levels: {hall: {memory: {t: 1}, area: {min: [0, 0, 0], max: [900, 3, 6]}}}\n"
        "waypoints: {a: [0, 0, 0], b: [900, 0, 6]}\npaths: [[a, b]]\n" +
        places);
    CHECK(mapped.middle("waypoint b").y - mapped.middle("waypoint a").y == Approx(150));
    CHECK(mapped.says("From above; each axis to its own scale"));
}

TEST_CASE("a tower is seen from the side, too; levels on one spot lie beside each other") {
    const Mapped mapped(R"(
levels:
  hall: {memory: {t: 1}, area: {min: [0, 0, 0], max: [60, 10, 60]}}
  loft: {memory: {t: 1}, area: {min: [0, 10, 0], max: [60, 20, 60]}}
  north: {memory: {t: 1}, area: {min: [80, 0, 0], max: [100, 4, 60]}}
  south: {memory: {t: 1}, area: {min: [80, 0, 0], max: [100, 4, 60]}}
waypoints: {a: [0, 0, 0], b: [60, 0, 60]}
paths: [[a, b]]
)" + places);
    CHECK(mapped.says("From the side"));
    REQUIRE(mapped.all("hall").size() == 2); // from above, and from the side
    const Extent hall = mapped.all("hall")[1];
    const Extent loft = mapped.all("loft")[1];
    CHECK(loft.to.y == Approx(hall.from.y));
    CHECK(loft.width() == Approx(hall.width()));
    CHECK_FALSE(mapped.all("north")[0].meets(mapped.all("south")[0]));
    CHECK(mapped.all("north")[0].height() == Approx(mapped.all("hall")[0].height() / 2));
}

TEST_CASE("a place is as hot as the worst situation with a player there") {
    // The hall holds 300 of 1,000 MiB; with the quay, which the trigger at b shows for good, 800.
    const plan::Plan plan = tests::plan_from(R"(hestrel: 1
devices: {box: {memory: {total: 1000, base: 100}, read: {rate: 100}, frame: {fps: 100}}}
players: {one: {speeds: {walk: 2}}}
waypoints: {a: [0, 0, 0], b: [50, 0, 0], c: [100, 0, 0]}
paths: [{from: a, to: b, one-way: true}, [b, c]]
levels: {hall: {memory: {t: 200}, entries: {in: a}}, quay: {memory: {t: 500}}}
triggers: {t: {box: {min: [49, -1, -1], max: [51, 1, 1]}, steps: [{show: [quay]}]}}
routes: {r: {start: {level: hall, waypoint: a}, steps: [{pause: 1 s}]}}
)");
    explore::Options options;
    options.devices = {plan::DeviceId{0}};
    const explore::Explored explored = explore::explored(plan, options);
    const std::vector<explore::Heat> heat = explore::heat(*explored.explorer);
    std::map<std::string, std::int64_t> most;
    for (const explore::Heat& each : heat)
        most[plan.waypoints[each.at].name] = each.most.total.count >> 20;
    CHECK(most == std::map<std::string, std::int64_t>{{"a", 300}, {"b", 800}, {"c", 800}});
    CHECK(tables::heat_csv(*explored.explorer, heat).find("\nbox,a,main,300.000,200.000") !=
          std::string::npos);
    const auto figure = figure::heat_figure(*explored.explorer, heat, figure::HeatOf::memory);
    REQUIRE(figure);
    tests::check_sheet(*figure);
    CHECK(figure->description.find("The tightest is b, on box: 800 of 1,000 MiB.") !=
          std::string::npos);
    CHECK_FALSE(figure::heat_figure(*explored.explorer, heat, figure::HeatOf::frames));
}

TEST_CASE("no situation is hotter than the worst, on random plans") {
    std::size_t compared = 0;
    for (std::uint32_t seed = 0; seed < tests::seeds(60); ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, tests::Rich::yes).text());
        explore::Options options;
        options.devices = {plan::DeviceId{0}};
        options.most_situations = 5'000;
        const explore::Explored explored = explore::explored(plan, options);
        const auto* worst = explore::worst_of(explored.worst, 0, {}, false);
        if (worst == nullptr) continue;
        for (const explore::Heat& each : explore::heat(*explored.explorer)) {
            ++compared;
            CHECK(each.most.total <= worst->used);
        }
    }
    CHECK(compared > 50);
}

TEST_CASE("levels without arrows stand in rows, and are no boxes") {
    const plan::Plan plan = tests::plan_from(R"(hestrel: 1
devices: {box: {memory: {total: 1000}, read: {rate: 100}, frame: {fps: 100}}}
players: {one: {speeds: {walk: 2}}}
waypoints: {a: [0, 0, 0]}
levels:
  hall: {memory: {t: 1}, entries: {in: a}}
  quay: {memory: {t: 1}}
  sky: {memory: {t: 1}, persist: true, sublevels: {sun: {memory: {t: 1}}}}
  huts: {memory: {t: 1}, area: {min: [0, 0, 0], max: [9, 9, 9]}, near: {load: 20, unload: 30}}
triggers: {t: {in: hall, box: {min: [49, -1, -1], max: [51, 1, 1]}, steps: [{show: [quay]}]}}
routes: {r: {start: {level: hall, waypoint: a}, steps: [{pause: 1 s}]}}
)");
    const figure::FlowChart chart = figure::flow_chart(plan, {});
    REQUIRE(chart.boxes.size() == 2);
    CHECK(chart.boxes[0].name == "hall");
    CHECK(chart.boxes[1].name == "quay");
    REQUIRE(chart.loose.size() == 2);
    CHECK(plan.levels[chart.loose[0].level].name == "sky");
    CHECK(chart.loose[0].sublevels == 1);
    CHECK(plan.levels[chart.loose[1].level].name == "huts");
    tests::check_svg(figure::draw(figure::flow_figure(plan, {}, chart), figure::Picture::svg));
}

TEST_CASE("a storyboard has a strip for each player, and shows a gap however short") {
    const plan::Plan plan = tests::demo_plan();
    const std::vector<walk::Record> records = tests::walks_of(plan);
    std::vector<const walk::Record*> on_handheld;
    for (const walk::Record& record : records) {
        if (plan.devices[record.device].name == "handheld" && !record.machine)
            on_handheld.push_back(&record);
    }
    const auto figure = figure::storyboard_figure(plan, on_handheld);
    REQUIRE(figure);
    tests::check_sheet(*figure);
    CHECK(figure->title == "Storyboard – Glasswater Post, device handheld");
    const auto gap = std::find_if(
        figure->sheet.hots().begin(), figure->sheet.hots().end(),
        [](const figure::Hot& hot) { return hot.text.starts_with("gap: lamp-room is missing"); });
    REQUIRE(gap != figure->sheet.hots().end());
    CHECK(gap->extent.width() >= 3);
    const auto named = [&](const std::string& name) {
        return std::any_of(figure->sheet.texts().begin(), figure->sheet.texts().end(),
                           [&](const figure::Text& text) { return text.text == name; });
    };
    CHECK(named("hurried-round"));
    CHECK(named("two-carriers, ada"));
    CHECK(named("two-carriers, ben"));
    CHECK_FALSE(figure::storyboard_figure(plan, {}));
}
