// Figures' data against the records they are made from.

#include "bench/large_situations.hpp"
#include "figure/budget_figure.hpp"
#include "figure/flow_figure.hpp"
#include "figure/frame.hpp"
#include "figure/loads_figure.hpp"
#include "figure/map_axis.hpp"
#include "figure/map_figure.hpp"
#include "figure/memory_figure.hpp"
#include "figure/residency_figure.hpp"
#include "figure/situations_figure.hpp"
#include "figure/walk_figures.hpp"
#include "plan/names.hpp"
#include "support/figures.hpp"
#include "support/random_plan.hpp"
#include "tables/explore_tables.hpp"
#include "walk/places.hpp"

using namespace hestrel;
using plan::Bytes;
using plan::Micros;
using plan::milliseconds;
using plan::seconds;

namespace {

Bytes stack_height(const figure::MemoryStack& stack, std::size_t index) {
    Bytes height;
    for (const figure::Band& band : stack.bands) height += band.sizes[index];
    return height;
}

/// Calls `each(plan, record)` for walks of random plans.
template <class Each>
void for_random_walks(std::uint32_t count, Each each) {
    for (std::uint32_t seed = 0; seed < count; ++seed) {
        CAPTURE(seed);
        const plan::Plan plan = tests::plan_from(
            tests::RandomPlan(seed, seed % 2 == 0 ? tests::Rich::yes : tests::Rich::no).text());
        walk::Options options;
        options.most_transitions = 2'000; // some go round in circles
        each(plan, walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0}, options));
    }
}

/// What a text that stands on the sheet's memory axis says, by its height.
std::vector<std::pair<double, double>> axis_of(const figure::Sheet& sheet) {
    std::vector<std::pair<double, double>> ticks;
    for (const figure::Text& text : sheet.texts()) {
        const bool number = text.text.find_first_not_of("0123456789") == std::string::npos;
        if (number && text.align == figure::Align::right)
            ticks.emplace_back(text.at.y, std::stod(text.text));
    }
    return ticks;
}

/// The highest point (least y) of what a script fills between `left` and `right`.
double highest_point(const std::string& script, double left, double right) {
    double least = 1e9;
    std::istringstream lines(script);
    bool filled = false;
    for (std::string line; std::getline(lines, line);) {
        if (line.starts_with("$d"))
            filled = script.find(line.substr(0, line.find(' ')) + " using 1:2 with filledcurves") !=
                     std::string::npos;
        double x = 0;
        double y = 0;
        const bool point = std::sscanf(line.c_str(), "%lf %lf", &x, &y) == 2;
        if (filled && point && left <= x && x <= right) least = std::min(least, y);
    }
    return least;
}

} // namespace

TEST_CASE("the stack's height is the memory in use, and its highest point the record's peak") {
    for_random_walks(100, [](const plan::Plan& plan, const walk::Record& record) {
        const figure::MemoryStack stack = figure::memory_stack(plan, record);
        Bytes highest;
        for (std::size_t i = 0; i + 1 < record.memory.size(); ++i) {
            CHECK(stack.times[i] == record.memory[i].at);
            CHECK(stack_height(stack, i) == record.memory[i].total);
            highest = std::max(highest, stack_height(stack, i));
        }
        highest = std::max(highest, record.memory.back().total);
        CHECK(highest == record.peak);
    });
}

TEST_CASE("the highest thing drawn in the memory figure is the peak, on the figure's own axis") {
    const plan::Plan plan = tests::demo_plan();
    for (const plan::RouteId route : plan.routes.ids()) {
        // On the handheld the peak is above the budget, so nothing else is drawn as high.
        const walk::Record record = walk::walk(plan, route, plan::DeviceId{0});
        if (record.peak <= plan.devices[record.device].memory.total) continue;
        const figure::MemoryStack stack = figure::memory_stack(plan, record);
        const figure::TimeFrame frame =
            figure::time_frame(record, {}, figure::memory_legend(plan, record, stack));
        const figure::Figure drawn = figure::memory_figure(plan, record, stack, frame);
        const auto ticks = axis_of(drawn.sheet);
        REQUIRE(ticks.size() > 2);
        const auto [zero, none] = ticks.front();
        REQUIRE(none == 0);
        const double per_pixel = ticks.back().second / (zero - ticks.back().first);
        const double highest = highest_point(drawn.sheet.script(), frame.left, frame.right + 0.01);
        const double drawn_peak = (zero - highest) * per_pixel;
        CHECK(drawn_peak == Approx(plan::in_mebibytes(record.peak)).epsilon(0.002));
    }
}

TEST_CASE("what does not fit into the memory figure is one band that says how many it stands for") {
    std::string text = std::string(tests::plain_device) +
                       "levels:\n  hall:\n    memory: {t: 50}\n    sublevels:\n";
    for (int i = 0; i < 3; ++i)
        text += fmt::format("      part{}: {{with-parent: true, memory: {{t: 1}}}}\n", i);
    for (int i = 0; i < 30; ++i)
        text += fmt::format("  room{}: {{memory: {{t: {}}}, persist: true}}\n", i, i + 1);
    text += "routes: {r: {start: {level: hall}, steps: []}}\n";
    const plan::Plan plan = tests::plan_from(text);
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    const figure::MemoryStack stack = figure::memory_stack(plan, record);
    REQUIRE(stack.bands.size() == 10);
    CHECK(stack.bands[0].name == "hall + 3 sublevels");
    CHECK(stack.bands[0].sizes.back() == plan::mebibytes(53));
    CHECK(stack.bands[1].name == "room22");
    CHECK(stack.bands[8].name == "room29");
    CHECK(stack.bands[9].name == "22 other levels");
    CHECK(stack.bands[9].sizes.back() == plan::mebibytes(22 * 23 / 2));
}

TEST_CASE("rows of the loads figure follow each other in time and hold every read as it was") {
    for_random_walks(60, [](const plan::Plan& plan, const walk::Record& record) {
        const figure::LoadRows rows = figure::load_rows(plan, record);
        for (const auto& row : rows.rows) {
            for (std::size_t i = 0; i < row.stretches.size(); ++i) {
                CHECK(row.stretches[i].from < row.stretches[i].to);
                CHECK(row.stretches[i].to <= std::max(record.end, record.events.back().at));
                if (i > 0) CHECK(row.stretches[i - 1].to <= row.stretches[i].from);
            }
        }
        for (const loading::LoadRecord& load : record.loads) {
            if (!load.read_start || !load.read_end || *load.read_start == *load.read_end) continue;
            bool found = false;
            for (const auto& row : rows.rows) {
                if (row.pieces.front() != load.piece) continue;
                for (const walk::Stretch& stretch : row.stretches) {
                    found = found ||
                            (stretch.condition == walk::LevelCondition::reading &&
                             stretch.from == *load.read_start && stretch.to >= *load.read_start);
                }
            }
            CHECK(found);
        }
    });
}

TEST_CASE("every gap of a walk is a gap in the residency figure, and there are no others") {
    std::size_t gaps = 0;
    for_random_walks(80, [&](const plan::Plan& plan, const walk::Record& record) {
        const figure::Residency residency = figure::residency_of(plan, record);
        for (const auto& row : residency.rows) {
            REQUIRE(row.cells.size() == residency.columns.size());
            for (std::size_t column = 0; column < row.cells.size(); ++column) {
                const auto& when = residency.columns[column];
                bool in_gap = false;
                for (const walk::Gap& gap : record.gaps) {
                    const bool meets = gap.from < when.to && when.from < gap.to;
                    in_gap = in_gap || (gap.level == row.levels.front() && meets);
                }
                if (in_gap) CHECK(row.cells[column] == figure::Presence::gap);
                gaps += in_gap ? 1 : 0;
            }
        }
    });
    CHECK(gaps > 10);
}

TEST_CASE("a level that is needed and never loaded is in the figures, as a gap") {
    const plan::Plan plan = tests::plan_from(tests::grid_plan(3)); // nobody meets the first trigger
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0});
    const figure::LoadRows rows = figure::load_rows(plan, record);
    const auto names = rows.names();
    const auto row = std::find(names.begin(), names.end(), "level1");
    REQUIRE(row != names.end());
    CHECK(rows.rows[static_cast<std::size_t>(row - names.begin())].stretches.empty());
    const figure::Residency residency = figure::residency_of(plan, record);
    std::vector<figure::Presence> cells;
    for (const auto& each : residency.rows) {
        if (each.name == "level1") cells = each.cells;
    }
    using figure::Presence;
    CHECK(cells == std::vector<Presence>{Presence::absent, Presence::gap, Presence::gap});
}

TEST_CASE("the residency of a small walk, worked out by hand") {
    // lake: read for 1 s from the press at 0 s (cellar boots at once) and shown a frame later.
    const tests::Walked walked(R"(
levels:
  cellar: {memory: {t: 0}, entries: {in: a}}
  lake: {memory: {t: 100}, area: {min: [5, -1, -1], max: [9, 1, 1]}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
triggers:
  bring: {box: {min: [1, -1, -1], max: [2, 1, 1]}, steps: [{show: [lake]}]}
players: {one: {speeds: {walk: 1}}}
routes: {r: {start: {level: cellar, at: in}, steps: [{pause: 1 s}, {go: b}, {pause: 1 s}]}}
)");
    const figure::Residency residency = figure::residency_of(walked.plan, walked.record);
    std::vector<std::string> columns;
    for (const auto& column : residency.columns) columns.push_back(column.name);
    CHECK(columns == std::vector<std::string>{"boot", "pause 1.00 s", "go b", "pause 1.00 s"});
    REQUIRE(residency.rows.size() == 2);
    using figure::Presence;
    CHECK(residency.rows[1].name == "lake");
    CHECK(residency.rows[1].cells == std::vector<Presence>{Presence::absent, Presence::absent,
                                                           Presence::needed, Presence::shown});
}

TEST_CASE("budget bars hold the most of any walk, and where it was") {
    const plan::Plan plan = tests::demo_plan();
    std::vector<walk::Record> records;
    for (const plan::RouteId route : plan.routes.ids())
        records.push_back(walk::walk(plan, route, plan::DeviceId{0}));
    const auto bars = figure::budget_bars(plan, records);
    REQUIRE(bars.size() == 1 + plan.devices[plan::DeviceId{0}].memory.pools.size());
    Bytes peak;
    for (const walk::Record& record : records) peak = std::max(peak, record.peak);
    CHECK_FALSE(bars[0].pool);
    CHECK(bars[0].most == peak);
    CHECK(records[bars[0].record].peak == peak);
    CHECK(records[bars[0].record].peak_at == bars[0].at);
    for (const figure::BudgetBar& bar : bars) {
        if (!bar.pool) continue;
        Bytes most;
        for (const walk::Record& record : records) {
            for (const loading::MemoryRow& row : record.memory)
                most = std::max(most, row.pools[bar.pool.value]);
        }
        CHECK(bar.most == most);
    }
}

TEST_CASE("arrows carry the least slack of what their list brings") {
    const plan::Plan plan = tests::demo_plan();
    std::vector<walk::Record> records;
    for (const plan::DeviceId device : plan.devices.ids()) {
        for (const plan::RouteId route : plan.routes.ids())
            records.push_back(walk::walk(plan, route, device));
    }
    const figure::FlowChart chart = figure::flow_chart(plan, records);
    bool late = false;
    for (const figure::FlowArrow& arrow : chart.arrows) {
        CHECK(arrow.from != arrow.to);
        const std::string& to = chart.boxes[arrow.to].name;
        if (to != "lamp-room") continue;
        REQUIRE(arrow.slack);
        CHECK(*arrow.slack == *walk::worst_slack(records[arrow.record]));
        CHECK(*arrow.slack < Micros{});
        late = true;
    }
    CHECK(late);
    CHECK(chart.merged == 0);
    // A box for each level; the cells of the fishing ground are one.
    const auto cells = std::count_if(plan.levels.begin(), plan.levels.end(),
                                     [](const plan::Level& level) { return bool(level.grid); });
    CHECK(cells == 92);
    // Nor have the five families without arrows, of six boxes.
    CHECK(chart.boxes.size() == plan.levels.size() - 91 - 6);
    CHECK(chart.loose.size() == 5);
}

TEST_CASE("a map shortens long stretches where nothing stands, and nothing else") {
    std::vector<double> points;
    for (int i = 0; i <= 10; ++i) points.push_back(10.0 * i); // 0 to 100, every 10
    const figure::MapAxis even(points);
    CHECK(even.drawn_length() == 100);
    CHECK(even.share(25) == Approx(0.25));
    for (int i = 0; i <= 10; ++i) points.push_back(1000 + 10.0 * i);
    const figure::MapAxis broken(points);
    // 900 m between two hundreds: an eighth of the 200 m that are left.
    CHECK(broken.drawn_length() == Approx(225));
    CHECK(broken.share(100) == Approx(100.0 / 225));
    CHECK(broken.share(550) == Approx(112.5 / 225));
    CHECK(broken.share(1000) == Approx(125.0 / 225));
    CHECK(broken.share(-5) == 0);
    CHECK(broken.share(5000) == 1);
    CHECK(figure::MapAxis({3, 3}).share(3) == 0.5);
}

TEST_CASE("where a player was: standing, on its way, placed elsewhere") {
    const tests::Walked walked(R"(
levels: {hall: {memory: {t: 0}, entries: {in: a}}}
waypoints: {a: [0, 0, 0], b: [10, 0, 0], c: [10, 0, 20]}
paths: [[a, b], [b, c]]
triggers: {back: {box: {min: [9, -1, 10], max: [11, 1, 12]}, steps: [{place: {at: hall.in}}]}}
players: {one: {speeds: {walk: 2}}}
routes: {r: {start: {level: hall, at: in}, steps: [{pause: 1 s}, {go: b}, {go: c}, {go: b}]}}
)");
    const Micros boot = *walked.record.boot;
    const auto x_at = [&](Micros after) {
        const walk::Keyframe spot =
            walk::place_at(walk::places_of(walked.plan, {&walked.record, 1}, 0), boot + after);
        REQUIRE(spot.world);
        return spot.place;
    };
    CHECK(x_at(milliseconds(500)) == plan::Vec3{0, 0, 0});
    CHECK(x_at(seconds(3)) == plan::Vec3{4, 0, 0});
    CHECK(x_at(seconds(8)) == plan::Vec3{10, 0, 4});
    // At 11 s it meets the trigger at z = 10 and is placed at a, from where it goes on.
    CHECK(x_at(seconds(11) - Micros{1})[2] == Approx(10));
    CHECK(x_at(seconds(11)) == plan::Vec3{0, 0, 0});
    CHECK(x_at(seconds(13)) == plan::Vec3{4, 0, 0});
    const auto parts =
        figure::walked_within(walked.plan, walked.record, 0, boot + seconds(5), boot + seconds(7));
    REQUIRE(parts.size() == 2);
    CHECK(parts[0].from == plan::Vec3{8, 0, 0});
    CHECK(parts[0].to == plan::Vec3{10, 0, 0});
    CHECK(parts[1].to == plan::Vec3{10, 0, 2});
}

TEST_CASE("the tracks of a walk join up and are as long as the metres it records") {
    for_random_walks(80, [](const plan::Plan&, const walk::Record& record) {
        for (std::uint32_t player = 0; player < record.shares_of.size(); ++player) {
            double metres = 0;
            Micros last;
            for (const walk::Track& track : record.tracks) {
                if (track.player != player) continue;
                CHECK(last <= track.from);
                CHECK(track.from <= track.to);
                last = track.to;
                for (const walk::Needed& needed : record.needed) {
                    const bool here = needed.player == player && needed.from == track.from;
                    if (here) CHECK(needed.metres == Approx(metres).margin(1e-6));
                }
                double squared = 0;
                for (std::size_t axis = 0; axis < 3; ++axis)
                    squared += (track.end[axis] - track.start[axis]) *
                               (track.end[axis] - track.start[axis]);
                metres += std::sqrt(squared);
            }
        }
    });
}

TEST_CASE("residency over situations holds what the table of places says") {
    const plan::Plan plan = tests::demo_plan();
    explore::Options options;
    options.edition = plan::EditionId{0};
    explore::Explorer explorer(plan, options);
    explorer.run();
    const figure::SituationsResidency residency = figure::situations_residency(explorer);
    tests::check_sheet(figure::situations_figure(explorer, residency));
    std::size_t cells = 0;
    std::size_t single = 0;
    std::uint64_t loaded = 0;
    std::uint64_t shown = 0;
    for (const tables::Presence& each : tables::presences(explorer)) {
        if (plan.levels[each.level].grid) continue; // of which the strongest counts
        ++single;
        loaded += each.loaded;
        shown += each.shown;
        for (std::size_t c = 0; c < residency.columns.size(); ++c) {
            const auto& column = residency.columns[c];
            if (!std::count(column.places.begin(), column.places.end(), each.at)) continue;
            for (const auto& row : residency.rows) {
                if (row.levels.front() != each.level) continue;
                // What share a column look alike: always and never are so at each of its places.
                CHECK((row.cells[c].shown == column.situations) == (each.shown == each.situations));
                CHECK((row.cells[c].loaded == 0) == (each.loaded == 0));
                ++cells;
            }
        }
    }
    CHECK(cells == single);
    for (const auto& row : residency.rows) {
        if (plan.levels[row.levels.front()].grid) {
            CHECK(row.name.starts_with("fishing-ground: "));
            continue;
        }
        for (const auto& cell : row.cells) {
            loaded -= cell.loaded;
            shown -= cell.shown;
        }
    }
    CHECK(loaded == 0);
    CHECK(shown == 0);
}

TEST_CASE("of more places and levels than fit the rest are together") {
    // A street with a door on each path, which only leads on: behind it one level is left for the
    // next.
    std::string levels = "levels:\n  hall: {memory: {t: 1}, entries: {in: w0}}\n";
    std::string points = "waypoints:\n  w0: [0, 0, 0]\n";
    std::string paths = "paths:\n";
    std::string doors = "triggers:\n";
    constexpr int count = 60;
    for (int i = 1; i < count; ++i) {
        levels += fmt::format("  l{}: {{memory: {{t: 1}}}}\n", i);
        points += fmt::format("  w{}: [{}, 0, 0]\n", i, 10 * i);
        paths += fmt::format("  - {{from: w{}, to: w{}, one-way: true}}\n", i - 1, i);
        doors += fmt::format(
            "  t{}: {{box: {{min: [{}, -1, -1], max: [{}, 1, 1]}}, steps: [{}{{show: "
            "[l{}]}}]}}\n",
            i, 10 * i - 6, 10 * i - 4, i == 1 ? "" : fmt::format("{{unload: [l{}]}}, ", i - 1), i);
    }
    const plan::Plan plan = tests::plan_from(bench::situations_head() + levels + points + paths +
                                             doors + "editions: {all: {levels: [hall]}}\n");
    explore::Options options;
    options.edition = plan::EditionId{0};
    explore::Explorer explorer(plan, options);
    explorer.run();
    CHECK(explorer.situations() == count);
    const figure::SituationsResidency residency = figure::situations_residency(explorer);
    REQUIRE(residency.columns.size() == figure::most_situations_columns);
    CHECK(residency.columns.front().name == "w0");
    CHECK(residency.columns.back().name == "13 others, together");
    CHECK(residency.columns.back().situations == 13);
    REQUIRE(residency.rows.size() == figure::most_situations_rows);
    CHECK(residency.rows.back().name == "17 others, the most of any");
    CHECK(residency.rows.back().cells.back().shown <= 13);
    tests::check_sheet(figure::situations_figure(explorer, residency));
}
