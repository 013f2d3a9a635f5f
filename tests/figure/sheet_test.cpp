// What every figure is drawn with: the sheet, names beside things, frames, charts, grids of cells.

#include "figure/sheet.hpp"

#include "figure/cell_grid.hpp"
#include "figure/chart.hpp"
#include "figure/frame.hpp"
#include "figure/labels.hpp"
#include "figure/palette.hpp"
#include "support/dice.hpp"
#include "support/figures.hpp"

#include <cmath>
#include <set>
#include <sstream>

using namespace hestrel;
using figure::Align;
using figure::Extent;
using figure::Point;
using figure::Sheet;
using figure::Text;
using tests::Lines;

namespace {

/// The points of all shapes, as the script has them.
std::vector<Point> points_of(const Sheet& sheet) {
    std::vector<Point> points;
    std::istringstream lines(sheet.script());
    for (std::string line; std::getline(lines, line);) {
        Point point;
        if (std::sscanf(line.c_str(), "%lf %lf", &point.x, &point.y) == 2) points.push_back(point);
    }
    return points;
}

Lines texts_of(const Sheet& sheet) {
    Lines all;
    for (const Text& text : sheet.texts()) all.push_back(text.text);
    return all;
}

bool inside(const Extent& inner, const Extent& outer) {
    return outer.from.x <= inner.from.x && inner.to.x <= outer.to.x &&
           outer.from.y <= inner.from.y && inner.to.y <= outer.to.y;
}

} // namespace

TEST_CASE("a sheet is a script: what is drawn alike in a row is one plot, texts come on top") {
    Sheet sheet(100, 50);
    sheet.rect({{10, 10}, {30, 20}}, "#0072b2");
    sheet.rect({{40, 10}, {60, 20}}, "#0072b2");
    sheet.line({{0, 5}, {100, 5}}, "#202020", 2, figure::Dash::dashed);
    sheet.text({{50, 40}, "it's", Align::centre, 12, "#595959"});
    sheet.text({{50, 45}, "", Align::left, 12, "#595959"}); // nothing to write
    CHECK(sheet.script() ==
          "unset border\nunset tics\nunset key\nset lmargin at screen 0\nset rmargin at screen 1\n"
          "set bmargin at screen 0\nset tmargin at screen 1\nset xrange [0:100.00]\n"
          "set yrange [50.00:0]\n"
          "$d0 << END\n10.00 10.00\n30.00 10.00\n30.00 20.00\n10.00 20.00\n\n"
          "40.00 10.00\n60.00 10.00\n60.00 20.00\n40.00 20.00\n\nEND\n"
          "$d1 << END\n0.00 5.00\n100.00 5.00\n\nEND\n"
          "set label 'it''s' at 50.00,40.00 center front tc rgb '#595959' font ',12'\n"
          "plot $d0 using 1:2 with filledcurves closed fs solid 1.0 noborder fc rgb '#0072b2' "
          "notitle, \\\n"
          "  $d1 using 1:2 with lines lw 2.00 dt (6,4) lc rgb '#202020' notitle\n");
    // In between drawn otherwise: the order stays, so the first is not joined to the third.
    Sheet mixed(10, 10);
    mixed.rect({{0, 0}, {1, 1}}, "#0072b2");
    mixed.rect({{0, 0}, {1, 1}}, "#0072b2", figure::Fill::hatched);
    mixed.rect({{0, 0}, {1, 1}}, "#0072b2");
    CHECK(mixed.script().find("$d2 << END") != std::string::npos);
    CHECK(mixed.script().find("fs transparent pattern 4 noborder") != std::string::npos);
    CHECK(Sheet(10, 10).script().ends_with("plot NaN notitle\n"));
}

TEST_CASE("frames are closed, discs round, diamonds stand on a corner") {
    Sheet framed(10, 10);
    framed.frame({{1, 2}, {5, 8}}, "#000000");
    const std::vector<Point> frame = points_of(framed);
    REQUIRE(frame.size() == 5);
    CHECK(frame.front().x == frame.back().x);
    CHECK(frame.front().y == frame.back().y);
    Sheet round(10, 10);
    round.disc({5, 5}, 2, "#000000");
    REQUIRE(points_of(round).size() == 12);
    for (const Point& point : points_of(round))
        CHECK(std::hypot(point.x - 5, point.y - 5) == Approx(2).margin(0.01));
    Sheet pointed(10, 10);
    pointed.diamond({5, 5}, 3, "#000000");
    const std::vector<Point> diamond = points_of(pointed);
    REQUIRE(diamond.size() == 4);
    for (const Point& point : diamond) CHECK(std::abs(point.x - 5) + std::abs(point.y - 5) == 3);
}

TEST_CASE("rectangles that only touch do not meet") {
    const Extent one{{0, 0}, {10, 10}};
    CHECK(one.width() == 10);
    CHECK(one.height() == 10);
    CHECK(one.meets({{9, 9}, {20, 20}}));
    CHECK(one.meets({{2, 2}, {3, 3}}));
    CHECK_FALSE(one.meets({{10, 0}, {20, 10}}));
    CHECK_FALSE(one.meets({{0, 10}, {10, 20}}));
}

TEST_CASE("wrapped lines fit their width and hold every sign of the text") {
    CHECK(figure::on_one_line("a\nb\r\tc") == "a b  c");
    CHECK(figure::wrapped("", 12, 100).empty());
    tests::Dice dice(7);
    constexpr std::array<std::string_view, 6> signs{"W", "i", " ", "é", "湖", "-"};
    for (int round = 0; round < 200; ++round) {
        std::string text;
        for (std::uint32_t i = 0; i < 40; ++i)
            text += signs.at(static_cast<std::size_t>(dice.below(static_cast<int>(signs.size()))));
        std::string joined;
        for (const std::string& line : figure::wrapped(text, 12, 60)) {
            CHECK(figure::text_width(line, 12) <= 60);
            joined += line;
        }
        // A line that was broken at a blank has lost that blank, and nothing else.
        std::erase(text, ' ');
        std::erase(joined, ' ');
        CHECK(joined == text);
    }
    // One sign that is too wide stands all the same.
    CHECK(figure::wrapped("WW", 12, 5) == Lines{"W", "W"});
}

TEST_CASE("a name goes to the first place that is free and inside the room") {
    Sheet sheet(200, 100);
    figure::Labels labels({{0, 0}, {200, 100}});
    const Extent thing{{80, 40}, {120, 60}};
    const auto places = figure::places_around(thing, "quay", 12, "#202020");
    for (const Text& place : places) CHECK_FALSE(figure::extent_of(place).meets(thing));
    CHECK(places[0].at.x == 123); // right of it
    CHECK(places[0].align == Align::left);
    CHECK(places[1].at.x == 77); // then left of it
    CHECK(places[1].align == Align::right);
    REQUIRE(labels.place(sheet, places));
    REQUIRE(labels.place(sheet, places));
    REQUIRE(sheet.texts().size() == 2);
    CHECK(sheet.texts()[0].at.x == 123);
    CHECK(sheet.texts()[1].at.x == 77);
    labels.block({{0, 0}, {200, 100}});
    CHECK_FALSE(labels.place(sheet, places));
    CHECK(sheet.texts().size() == 2);
    // At the edge of the room the place to the right is none.
    figure::Labels narrow({{0, 0}, {130, 100}});
    REQUIRE(narrow.place(sheet, places));
    CHECK(sheet.texts().back().at.x == 77);
}

TEST_CASE("many names around many things: none over another, all in the room") {
    tests::Dice dice(11);
    Sheet sheet(400, 300);
    const Extent room{{0, 0}, {400, 300}};
    figure::Labels labels(room);
    std::size_t placed = 0;
    for (int i = 0; i < 60; ++i) {
        const Point at{static_cast<double>(dice.below(400)), static_cast<double>(dice.below(300))};
        const Extent thing{at, {at.x + 6, at.y + 6}};
        placed += labels.place(sheet, figure::places_around(thing, "level", 11, "#202020")) ? 1 : 0;
    }
    CHECK(placed == sheet.texts().size());
    CHECK(placed > 30);
    for (std::size_t i = 0; i < sheet.texts().size(); ++i) {
        const Extent one = figure::extent_of(sheet.texts()[i]);
        CHECK(inside(one, room));
        for (std::size_t j = 0; j < i; ++j)
            CHECK_FALSE(one.meets(figure::extent_of(sheet.texts()[j])));
    }
}

TEST_CASE("the name of an area stands in it where it fits, else right beside it") {
    const Extent wide{{100, 100}, {300, 200}};
    const auto places = figure::places_inside(wide, "harbour", 12, "#202020");
    REQUIRE(places.size() == 9 + 4);
    for (std::size_t i = 0; i < 9; ++i) {
        const Extent extent = figure::extent_of(places[i]);
        CHECK(extent.from.x >= wide.from.x);
        CHECK(extent.to.x <= wide.to.x);
    }
    for (std::size_t i = 9; i < places.size(); ++i)
        CHECK_FALSE(figure::extent_of(places[i]).meets({{101, 101}, {299, 199}}));
    CHECK(figure::places_inside({{100, 100}, {110, 200}}, "harbour", 12, "#202020").size() == 4);
}

TEST_CASE("ticks stand at 1, 2 or 5 times a power of ten, and are not too many") {
    CHECK(figure::tick_step(10, 10) == 1);
    CHECK(figure::tick_step(10, 5) == 2);
    CHECK(figure::tick_step(12, 5) == 5); // 2.4 would be needed
    CHECK(figure::tick_step(60, 10) == 10);
    CHECK(figure::tick_step(0.3, 6) == Approx(0.05));
    CHECK(figure::tick_step(0, 5) == 1);
    CHECK(figure::tick_step(-3, 5) == 1);
    CHECK(figure::tick_step(std::nan(""), 5) == 1);
    CHECK(figure::tick_text(2, 1) == "2");
    CHECK(figure::tick_text(-0.0, 500) == "0");
    CHECK(figure::tick_text(-500, 500) == "-500");
    CHECK(figure::tick_text(0.15, 0.05) == "0.15");
    CHECK(figure::tick_text(0.5, 0.1) == "0.5");
    CHECK(figure::tick_text(0.004, 0.002) == "0.004");
    CHECK(figure::tick_text(1500, 500) == "1500");
    tests::Dice dice(3);
    for (int i = 0; i < 500; ++i) {
        const double span = std::pow(10.0, dice.below(9)) * (1 + dice.below(1000)) / 1000;
        const int most = 1 + static_cast<int>(dice.below(12));
        const double step = figure::tick_step(span, most);
        CHECK(span / step <= most * (1 + 1e-6));
        const double lead = step / std::pow(10.0, std::floor(std::log10(step) + 1e-9));
        CHECK((lead == Approx(1) || lead == Approx(2) || lead == Approx(5)));
    }
}

TEST_CASE("a legend takes as many rows as its width asks for") {
    const std::vector<figure::Swatch> legend{
        {"shown", figure::palette::shown},
        {"waiting", figure::palette::waiting, figure::Swatch::Kind::hatched},
        {"budget", figure::palette::ink, figure::Swatch::Kind::dashed}};
    CHECK(figure::legend_width(legend) ==
          22 + figure::text_width("waiting", figure::normal_text)); // the widest
    CHECK(figure::legend_line(nullptr, {}, 1000, legend) == figure::legend_row);
    CHECK(figure::legend_line(nullptr, {}, 10, legend) == 3 * figure::legend_row);
    Sheet sheet(200, 100);
    const double height = figure::legend_line(&sheet, {16, 20}, 160, legend);
    CHECK(height == 2 * figure::legend_row);
    CHECK(texts_of(sheet) == Lines{"shown", "waiting", "budget"});
    for (const Text& text : sheet.texts())
        CHECK(inside(figure::extent_of(text), {{16, 20}, {176, 20 + height}}));
    Sheet column(200, 100);
    figure::draw_legend(column, {10, 10}, legend);
    CHECK(column.texts()[2].at.y - column.texts()[0].at.y == 2 * figure::legend_row);
}

TEST_CASE("a long title takes several lines, and the room that it says") {
    const std::string title = "Memory – a plan with a name that is much too long for its figure";
    CHECK(figure::title_height("Memory", 900) == figure::margin + 20);
    const auto lines = figure::wrapped(title, figure::title_text, 200 - 2 * figure::margin);
    REQUIRE(lines.size() > 2);
    CHECK(figure::title_height(title, 200) ==
          figure::margin + 20 * static_cast<double>(lines.size()));
    Sheet sheet(200, 200);
    figure::draw_title(sheet, title);
    CHECK(texts_of(sheet) == lines);
    for (const Text& text : sheet.texts())
        CHECK(figure::extent_of(text).to.y <= figure::title_height(title, 200));
}

TEST_CASE("all figures of a record share one time axis") {
    walk::Record record;
    record.end = plan::milliseconds(12'500);
    const figure::TimeFrame frame = figure::time_frame(record, {"quay"}, {{"shown", "#0072b2"}});
    CHECK(frame.right - frame.left == 900);
    CHECK(frame.x(plan::Micros{}) == frame.left);
    CHECK(frame.x(plan::milliseconds(6'250)) == (frame.left + frame.right) / 2);
    CHECK(frame.x(plan::seconds(90)) == frame.right); // no farther
    const std::string row(60, 'W');
    CHECK(figure::time_frame(record, {row}, {}).left ==
          figure::text_width(row, figure::normal_text) + 2 * figure::margin);
    Sheet sheet(frame.width, 100);
    figure::draw_time_axis(sheet, frame, 10, 50);
    CHECK(texts_of(sheet) == Lines{"0", "2", "4", "6", "8", "10", "12", "time (s)"});
    // Of a walk that ends at once the axis is a millisecond long, not nothing.
    CHECK(figure::time_frame({}, {}, {}).end == plan::milliseconds(1));
    record.route = plan::RouteId{0};
    record.device = plan::DeviceId{2};
    CHECK(figure::where_walked(tests::demo_plan(), record) ==
          "Glasswater Post, route first-round, device desktop");
}

TEST_CASE("values stand in a chart where its numbers say") {
    Sheet sheet(300, 200);
    const Extent extent{{60, 20}, {260, 160}};
    const figure::Chart chart(sheet, extent, {-1, 1, "slack, s"}, {0, 70, "% of trials"});
    CHECK(chart.at(-1, 0).x == 60);
    CHECK(chart.at(-1, 0).y == 160); // up is less
    CHECK(chart.at(1, 70).x == 260);
    CHECK(chart.at(1, 70).y == 20);
    CHECK(chart.at(0, 35).x == 160);
    CHECK(chart.at(0, 35).y == 90);
    const Lines texts = texts_of(sheet);
    CHECK(texts == Lines{"-1.0", "-0.5", "0.0", "0.5", "1.0", "0", "20", "40", "60", "% of trials",
                         "slack, s"}); // and no -0.0
    for (const Text& text : sheet.texts()) {
        if (text.text == "0.5") CHECK(text.at.x == chart.at(0.5, 0).x);
        if (text.text == "40") CHECK(text.at.y == chart.at(0, 40).y);
    }
}

TEST_CASE("a grid of cells has a legend of the kinds that are in it, and says each cell") {
    figure::CellGrid grid;
    grid.title = "What is there where";
    grid.description = "two levels";
    grid.columns = {"pier", "the stair to the keeper's room"};
    grid.kinds = {{"never", "#e5e5e5"}, {"sometimes", "#56b4e9"}, {"always", "#0072b2"}};
    grid.rows = {{"hall", {{2, "hall: always"}, {2, "hall: always"}}},
                 {"cellar", {{0, "cellar: never"}, {2, "cellar: always"}}}};
    const figure::Figure drawn = figure::draw_cells(grid);
    tests::check_sheet(drawn);
    const Lines texts = texts_of(drawn.sheet);
    const std::set<std::string> all(texts.begin(), texts.end());
    CHECK(all.contains("always"));
    CHECK(all.contains("never"));
    CHECK_FALSE(all.contains("sometimes"));
    CHECK(all.contains("cellar"));
    CHECK(all.contains("the stair to the keeper's room"));
    const auto& hots = drawn.sheet.hots();
    REQUIRE(hots.size() == 4);
    CHECK(hots[2].text == "cellar: never");
    CHECK(hots[3].extent.from.x > hots[2].extent.to.x);
    CHECK(hots[2].extent.from.y > hots[0].extent.to.y);
    // Without anything in it it is a title.
    CHECK(texts_of(figure::draw_cells({"Empty", "nothing", {}, {}, {}}).sheet) == Lines{"Empty"});
}
