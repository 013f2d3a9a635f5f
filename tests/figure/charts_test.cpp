// Figures of trials, of measured loads, of parcels; and what gnuplot and Graphviz make of them.

#include "figure/calibration_figure.hpp"
#include "figure/order_figure.hpp"
#include "figure/palette.hpp"
#include "figure/spread_figure.hpp"
#include "support/figures.hpp"
#include "tables/words.hpp"

using namespace hestrel;
using tests::Lines;

namespace {

bool says(const figure::Figure& figure, std::string_view words) {
    for (const figure::Text& text : figure.sheet.texts()) {
        if (text.text.find(words) != std::string::npos) return true;
    }
    return false;
}

spread::Trial trial_of(std::optional<int> slack_ms, int stalls_ms) {
    spread::Trial trial;
    if (slack_ms) trial.slack = plan::milliseconds(*slack_ms);
    trial.stalls = plan::milliseconds(stalls_ms);
    return trial;
}

tables::TrialSet set_of(std::vector<spread::Trial> trials) {
    tables::TrialSet set{{plan::RouteId{0}, {plan::DeviceId{0}}}, 1, trials.size(), {}, {}};
    set.trials = std::move(trials);
    return set;
}

} // namespace

TEST_CASE("bars of trials hold how many of all there are; what is late is marked") {
    const plan::Plan plan = tests::demo_plan();
    // From -1 s to 1 s in 40 bars: -1 s is in the first, 0 in the 21st, 1 s in the last.
    const auto set =
        set_of({trial_of(-1'000, 5), trial_of(0, 5), trial_of(1'000, 5), trial_of(1'000, 5)});
    const figure::Figure figure = figure::spread_figure(plan, set, trial_of(500, 5));
    tests::check_sheet(figure);
    Lines hot;
    for (const figure::Hot& each : figure.sheet.hots()) hot.push_back(each.text);
    CHECK(hot == Lines{"-1.00 to -0.95: 25.0 % of trials", "0.00 to 0.05: 25.0 % of trials",
                       "0.95 to 1.00: 50.0 % of trials"});
    const auto& bars = figure.sheet.hots();
    CHECK(bars[2].extent.height() == Approx(2 * bars[0].extent.height()));
    CHECK(figure.description ==
          "worst slack: half of the trials within 1.00 s, 99 % within -1.00 s.");
    CHECK(says(figure, "worst slack, s"));
    CHECK_FALSE(says(figure, "stalls")); // the same in all
    CHECK(says(figure, "late"));
    CHECK(figure.title == "Spread over 4 trials – Glasswater Post, route " +
                              plan.routes[set.cast.route].name + ", device " +
                              plan.devices[set.cast.devices.front()].name);
    // The bar that ends at 0 is late, and is red; with none late there is no red.
    const std::string red(figure::palette::overrun);
    CHECK(figure.sheet.script().find(red) != std::string::npos);
    const figure::Figure early = figure::spread_figure(
        plan, set_of({trial_of(100, 1'000), trial_of(200, 3'000)}), trial_of(150, 1'000));
    tests::check_sheet(early);
    CHECK(early.sheet.script().find(red) == std::string::npos);
    CHECK(says(early, "worst slack, s"));
    CHECK(says(early, "stalls, s"));
    CHECK(early.sheet.width() > figure.sheet.width()); // two charts
}

TEST_CASE("trials that are all the same have no chart") {
    const plan::Plan plan = tests::demo_plan();
    const figure::Figure figure =
        figure::spread_figure(plan, set_of({trial_of(std::nullopt, 3), trial_of(std::nullopt, 3)}),
                              trial_of(std::nullopt, 3));
    tests::check_sheet(figure);
    CHECK(figure.description == "Neither slack nor stalls vary.");
    CHECK(figure.sheet.hots().empty());
    CHECK(says(figure, "Neither slack nor stalls vary."));
}

TEST_CASE("measured loads lie on their line; one that is off is marked and left out") {
    std::vector<calibrate::Measurement> measured;
    for (std::uint32_t i = 1; i <= 10; ++i) {
        calibrate::Measurement one;
        one.line = i + 1;
        one.piece = "level" + std::to_string(i);
        one.packed = 10.0 * i;
        one.read = 0.01 + 0.1 * i; // 10 ms and 100 MiB/s
        measured.push_back(one);
    }
    const auto straight = calibrate::calibrate(measured);
    const figure::Figure plain = figure::calibration_figure(straight, "loads.csv");
    tests::check_sheet(plain);
    CHECK(plain.title == "Measured loads – loads.csv");
    CHECK(plain.description == "read: 10 measured, 0 left out.");
    CHECK(says(plain, "packed, MiB"));
    CHECK(says(plain, "read, s"));
    CHECK_FALSE(says(plain, "outlier"));
    measured[4].read = 5;
    const auto with_outlier = calibrate::calibrate(measured);
    const figure::Figure marked = figure::calibration_figure(with_outlier, "loads.csv");
    tests::check_sheet(marked);
    CHECK(marked.description == "read: 10 measured, 1 left out.");
    CHECK(says(marked, "outlier, left out"));
    // What was not measured has no panel; in small times the axis is in milliseconds.
    for (calibrate::Measurement& one : measured) {
        one.read.reset();
        one.objects = one.packed;
        one.attach = 0.001 + 0.00001 * *one.packed;
    }
    const auto attached = calibrate::calibrate(measured);
    const figure::Figure small = figure::calibration_figure(attached, "loads.csv");
    tests::check_sheet(small);
    CHECK(says(small, "attach, ms"));
    CHECK_FALSE(says(small, "read"));
}

TEST_CASE("parcels follow each other; those for which players wait say so") {
    // At 10 MiB/s: core is there when play begins (time 0), east after 40 s. The walk needs hall
    // at once and barn after 20 s: 20 s too late.
    const plan::Plan plan = tests::plan_from(R"(
hestrel: 1
devices:
  box: {memory: {total: 10000}, read: {rate: 1000}, frame: {fps: 100}, download: {rate: 10}}
levels: {hall: {memory: {t: 100}, entries: {in: a}}, barn: {memory: {t: 400}}}
waypoints: {a: [0, 0, 0], b: [40, 0, 0]}
paths: [[a, b]]
triggers: {door: {in: hall, box: {min: [19, -1, -1], max: [21, 1, 1]}, steps: [{show: [barn]}]}}
players: {one: {speeds: {walk: 1}}}
editions: {full: {levels: [hall, barn], parcels: [{core: [hall]}, {east: [barn]}]}}
routes: {r: {edition: full, start: {level: hall, at: in}, steps: [{go: b}]}}
)");
    const auto records = tests::walks_of(plan);
    const auto order = order::order_parcels(plan, plan::EditionId{0}, plan::DeviceId{0}, records);
    REQUIRE(order);
    const order::RouteDelivery& route = order->worst();
    REQUIRE(route.parcels.size() == 2);
    REQUIRE(route.parcels[1].late.count > 0);
    const figure::Figure figure = figure::order_figure(plan, {*order}, records);
    tests::check_sheet(figure);
    CHECK(says(figure, "players wait"));
    CHECK(says(figure, "core"));
    CHECK(says(figure, "east"));
    CHECK(says(figure, tables::short_time(route.parcels[1].late) + " late"));
    CHECK(figure.description == fmt::format("box, r: {} must be there before play begins.",
                                            tables::short_memory(route.ahead)));
    REQUIRE(figure.sheet.hots().size() == 2);
    CHECK(figure.sheet.hots()[1].text.starts_with("parcel east: 400 MiB, arrives "));
    // In time, nobody waits.
    auto early = *order;
    for (order::ParcelArrival& parcel : early.routes.front().parcels) parcel.late = {};
    CHECK_FALSE(says(figure::order_figure(plan, {early}, records), "players wait"));
}

TEST_CASE("pictures carry what they say; a script that makes no sense is an error") {
    figure::Figure small{figure::Sheet(80, 40), "A <title>", "what it says"};
    small.sheet.rect({{10, 10}, {30, 20}}, figure::palette::shown);
    small.sheet.hot({{10, 10}, {30, 20}}, "a & b\nnext line");
    const std::string svg = figure::draw(small, figure::Picture::svg);
    tests::check_svg(svg);
    CHECK(svg.find("<title>A &lt;title&gt;</title>") != std::string::npos);
    CHECK(svg.find("aria-label=\"A &lt;title&gt;\"") != std::string::npos);
    CHECK(
        svg.find("<rect x=\"10.0\" y=\"10.0\" width=\"20.0\" height=\"10.0\"><title>a &amp; b&#10;"
                 "next line</title></rect>") != std::string::npos);
    CHECK(svg.find("<title>gnuplot_plot_") == std::string::npos);
    CHECK(figure::draw(small, figure::Picture::png).starts_with("\x89PNG"));
    CHECK(svg == figure::draw(small, figure::Picture::svg));

    const std::string in_page = figure::figure_html(svg, "p1-", " class=\"wide\"");
    CHECK(in_page.starts_with("<figure class=\"wide\">\n<svg"));
    CHECK(in_page.ends_with("<figcaption>what it says</figcaption>\n</figure>\n"));
    CHECK(figure::figure_html("", "p1-").empty());

    const figure::Graph graph{"digraph { a [id=\"one\"]; b [id=\"two\"]; a -> b }",
                              "Ways",
                              "a leads to b",
                              {{"one", "a: <said>"}}};
    const std::string ways = figure::draw(graph, figure::Picture::svg);
    tests::check_svg(ways);
    CHECK(ways.find("<title>a: &lt;said&gt;</title>") != std::string::npos);
    CHECK(ways.find("<title>b</title>") == std::string::npos); // no name of Graphviz' own

    CHECK_THROWS_AS(figure::run_dot("digraph {", figure::Picture::svg), figure::DrawingError);
}

TEST_CASE("drawing: one figure that can't be drawn costs no other, and leaves no trace in it") {
    const auto script = [](const std::string& before) {
        return figure::Script{before + "set xrange [0:1]\nset yrange [0:1]\n$d << END\n0 0\n1 "
                                       "1\nEND\nplot $d using 1:2 with lines notitle\n",
                              100, 80};
    };
    const figure::Script plain = script("");
    const std::vector<figure::Drawn> alone = figure::run_gnuplot({plain}, figure::Picture::svg);
    REQUIRE(alone.size() == 1);
    REQUIRE(alone[0].problem.empty());
    const std::vector<figure::Drawn> all =
        figure::run_gnuplot({script("no such command\n"), plain,
                             script("set label 'left behind' at 0,0\nset logscale x\n"), plain,
                             script("exit\n"), script("plot sin(\n"), plain},
                            figure::Picture::svg);
    REQUIRE(all.size() == 7);
    for (const std::size_t broken : {0U, 4U, 5U}) {
        CHECK(all[broken].picture.empty());
        CHECK(all[broken].problem.starts_with("gnuplot could not draw a figure"));
    }
    CHECK(all[0].problem.find("invalid command") != std::string::npos);
    for (const std::size_t whole : {1U, 3U, 6U}) {
        CHECK(all[whole].problem.empty());
        tests::check_svg(all[whole].picture);
        CHECK(all[whole].picture.find("left behind") == std::string::npos);
    }
    CHECK(figure::run_gnuplot({}, figure::Picture::png).empty());
}

TEST_CASE("drawing: a figure is the same, whatever is drawn with it") {
    figure::Figure lines{figure::Sheet(200, 100), "Lines", "two lines"};
    lines.sheet.line({{10, 10}, {90, 20}}, "#aa0000");
    lines.sheet.text({{20, 60}, "left", figure::Align::left, 12, "#0000aa"});
    figure::Figure areas{figure::Sheet(120, 100), "Areas", "an area"};
    areas.sheet.rect({{10, 10}, {60, 60}}, "#00aa00", figure::Fill::hatched);
    for (const auto picture : {figure::Picture::svg, figure::Picture::png}) {
        const auto together = figure::draw(std::vector{lines, areas, lines, lines}, picture);
        REQUIRE(together.size() == 4);
        CHECK(together[0].picture == figure::draw(lines, picture));
        CHECK(together[1].picture == figure::draw(areas, picture));
        CHECK(together[2].picture == together[0].picture);
        CHECK(together[3].picture == together[0].picture);
    }
}
