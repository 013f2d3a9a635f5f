// What every figure keeps to: texts apart, on the sheet, as written.

#include "figure/budget_figure.hpp"
#include "figure/flow_figure.hpp"
#include "figure/order_figure.hpp"
#include "figure/slim_svg.hpp"
#include "figure/walk_figures.hpp"
#include "source/dot.hpp"
#include "source/xml.hpp"
#include "support/figures.hpp"
#include "support/random_plan.hpp"

using namespace hestrel;

namespace {

/// Some random plans go round in circles.
std::vector<walk::Record> short_walks_of(const plan::Plan& plan) {
    walk::Options options;
    options.most_transitions = 2'000;
    return tests::walks_of(plan, options);
}

void check_order(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    for (const plan::EditionId edition : plan.editions.ids()) {
        std::vector<order::ParcelOrder> parcels;
        for (const plan::DeviceId device : plan.devices.ids()) {
            if (auto of_device = order::order_parcels(plan, edition, device, records))
                parcels.push_back(std::move(*of_device));
        }
        if (!parcels.empty()) tests::check_sheet(figure::order_figure(plan, parcels, records));
    }
}

void check_all(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    tests::check_sheet(figure::budget_figure(plan, records));
    check_order(plan, records);
    for (const walk::Record& record : records) {
        const figure::WalkFigures figures = figure::walk_figures(plan, record);
        tests::check_sheet(figures.loads);
        tests::check_sheet(figures.memory);
        if (figures.residency) tests::check_sheet(*figures.residency);
        if (figures.map) tests::check_sheet(*figures.map);
        if (figures.storyboard) tests::check_sheet(*figures.storyboard);
        CHECK(figures.loads.sheet.width() == figures.memory.sheet.width());
    }
}

void check_all_drawn(const plan::Plan& plan, const std::vector<walk::Record>& records) {
    const figure::WalkFigures figures = figure::walk_figures(plan, records.front());
    REQUIRE(figures.map);
    REQUIRE(figures.residency);
    for (const figure::Figure* figure :
         {&figures.loads, &figures.memory, &*figures.map, &*figures.residency})
        tests::check_svg(figure::draw(*figure, figure::Picture::svg));
    tests::check_svg(figure::draw(figure::budget_figure(plan, records), figure::Picture::svg));
    tests::check_svg(
        figure::draw(figure::flow_figure(plan, records, figure::flow_chart(plan, records)),
                     figure::Picture::svg));
}

} // namespace

TEST_CASE("on the demo plan no text of a figure covers another or leaves the sheet") {
    const plan::Plan plan = tests::demo_plan();
    const auto records = short_walks_of(plan);
    check_all(plan, records);
    check_all_drawn(plan, records);
}

TEST_CASE("nor with three levels, whatever the plan's name") {
    const plan::Plan plan = tests::plan_from(tests::grid_plan(3, std::string(tests::nasty_name)));
    const auto records = short_walks_of(plan);
    check_all(plan, records);
    check_all_drawn(plan, records);
    const std::string svg =
        figure::draw(figure::walk_figures(plan, records.front()).memory, figure::Picture::svg);
    CHECK(svg.find("&lt;b>\"&amp;amp;&lt;/title>&lt;script>") != std::string::npos);
    CHECK(svg.find("\\n \\ `touch hacked` $(touch hacked) it's new line   é Ωμέγα 湖") !=
          std::string::npos);
    const std::string flow =
        figure::draw(figure::flow_figure(plan, records, figure::flow_chart(plan, records)),
                     figure::Picture::svg);
    CHECK(flow.find("&lt;b&gt;&quot;&amp;amp;&lt;/title&gt;") != std::string::npos);
    CHECK(flow.find("\\n \\ `touch hacked`") != std::string::npos);
}

TEST_CASE("nor with 200 levels: what does not fit is one row, band or box that says so") {
    const plan::Plan plan = tests::plan_from(tests::grid_plan(200));
    const auto records = short_walks_of(plan);
    check_all(plan, records);
    check_all_drawn(plan, records);
    const auto says = [](const figure::Figure& figure, std::string_view words) {
        for (const figure::Text& text : figure.sheet.texts()) {
            if (text.text.find(words) != std::string::npos) return true;
        }
        return false;
    };
    const figure::WalkFigures figures = figure::walk_figures(plan, records.front());
    // The first and second level of each row have their triggers where nobody walks: 181 levels,
    // each with a sublevel, and a kit are loaded, and the other 19 levels have gaps.
    CHECK(says(figures.loads, "343 others"));
    CHECK(says(figures.memory, "172 other levels"));
    CHECK(says(*figures.residency, "338 others, the most of any"));
    CHECK(says(*figures.map, "names are left out for lack of room"));
    const figure::FlowChart chart = figure::flow_chart(plan, records);
    CHECK(chart.boxes.size() == figure::most_flow_boxes + 1); // and "anywhere"
    CHECK(chart.boxes.front().name == "153 other levels");
    CHECK(figure::flow_figure(plan, records, chart).dot.find("have no box of their own") !=
          std::string::npos);
}

TEST_CASE("nor on random plans") {
    for (std::uint32_t seed = 0; seed < 60; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(tests::RandomPlan(seed, tests::Rich::yes).text());
        check_all(plan, short_walks_of(plan));
    }
}

TEST_CASE("text is measured: what gnuplot writes ends where it should") {
    // 'W' is 0.989 and 'i' 0.278 of the size wide in DejaVu Sans.
    CHECK(figure::text_width("WWi", 10) == Approx(22.56));
    CHECK(figure::text_width("", 10) == 0);
    const figure::Extent left = figure::extent_of({{5, 20}, "WW", figure::Align::left, 10, "", 0});
    CHECK(left.from.x == 5);
    CHECK(left.to.x == Approx(24.78));
    CHECK(left.from.y == 14);
    CHECK(left.to.y == 26);
    const figure::Extent up = figure::extent_of({{5, 20}, "WW", figure::Align::left, 10, "", 90});
    CHECK(up.from.x == Approx(-1));
    CHECK(up.to.x == Approx(11));
    CHECK(up.from.y == Approx(0.22));
    CHECK(up.to.y == Approx(20));
    CHECK(figure::wrapped("one two three", 10, 45) == std::vector<std::string>{"one two", "three"});
    CHECK(figure::wrapped("WWWW", 10, 21) == std::vector<std::string>{"WW", "WW"});
}

TEST_CASE("what programs read holds whatever is written as it is") {
    CHECK(figure::gnuplot_string("it's a\\b `touch x`\n\x01") == "'it''s a\\b `touch x`  '");
    CHECK(source::dot_string("a\"b\\n&lt;\nc") == R"("a\"b\\n&amp;lt;\nc")");
    CHECK(source::dot_string("a\nb\n", source::Lines::left) == R"("a\lb\l")");
    CHECK(source::xml_text("<a href=\"x\">'&'\x02\xEF\xBF\xBF</a>") ==
          "&lt;a href=&quot;x&quot;&gt;&#39;&amp;&#39;  &lt;/a&gt;");
}

TEST_CASE("an SVG in a page is slim, and looks the same") {
    // Ids that something leads to get a prefix, others go; groups of one become that one.
    CHECK(figure::slim_svg(
              "<?xml version='1.0'?>\n<svg><defs><path id='a' d='M 1.26,-0.04 L2.00,3'/>"
              "<circle id='unused' r='1'/></defs>\n<g id='plot' color='black'>\n\t<g "
              "stroke='none' fill='red'>\n<polygon fill = 'rgb(166, 212, 236)' "
              "points = '1.26,2.00 3.04,4.96 '/>\n</g></g><g/>"
              "<use xlink:href='#a' fill='url(#a)' stroke='#a0a0a0'/></svg>",
              "p-") == "<svg><defs><path id=\"p-a\" d=\"M 1.3,0 L2,3\"/></defs>"
                       "<polygon fill=\"#a6d4ec\" points=\"1.3,2 3,5\" stroke=\"none\"/>"
                       "<use xlink:href=\"#p-a\" fill=\"url(#p-a)\" stroke=\"#a0a0a0\"/></svg>\n");
    // What would count twice stays, blanks in texts too, and what says what a part is.
    const std::string kept = "<svg><g transform=\"scale(2)\"><g transform=\"scale(3)\"><text>a "
                             "<tspan>b</tspan> <tspan>c</tspan></text></g></g>"
                             "<g class=\"hot\"><rect x=\"1\"><title>a&#10;b</title></rect><rect/>"
                             "</g></svg>\n";
    CHECK(figure::slim_svg(kept, "p-").find("<tspan>b</tspan> <tspan>c</tspan>") !=
          std::string::npos);
    CHECK(figure::slim_svg(kept, "p-").find("scale(3)") != std::string::npos);
    CHECK(figure::slim_svg(kept, "p-").find("<rect x=\"1\"><title>a\nb</title></rect>") !=
          std::string::npos);
    CHECK(figure::slim_svg("<svg", "p-") == "<svg");
}
