#include "figure/map_panel.hpp"

#include "figure/frame.hpp"
#include "figure/map_cells.hpp"
#include "geometry/crossing.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>
#include <utility>

namespace hestrel::figure {

using geometry::Footprint;
using plan::Vec3;
using plan::WorldId;

namespace {

constexpr double dot = 3.5;

/// A circle around a place, in the plane of two axes.
std::vector<Vec3> ring_of(const plan::Sphere& sphere, std::size_t one, std::size_t other) {
    constexpr int corners = 24;
    std::vector<Vec3> ring;
    for (int i = 0; i < corners; ++i) {
        const double angle = 2 * std::numbers::pi * i / corners;
        Vec3 corner = sphere.at;
        corner.at(one) += sphere.radius * std::cos(angle);
        corner.at(other) += sphere.radius * std::sin(angle);
        ring.push_back(corner);
    }
    return ring;
}

Extent around(const std::vector<Point>& points) {
    Extent extent{points.front(), points.front()};
    for (const Point& point : points) {
        extent.from = {std::min(extent.from.x, point.x), std::min(extent.from.y, point.y)};
        extent.to = {std::max(extent.to.x, point.x), std::max(extent.to.y, point.y)};
    }
    return extent;
}
Extent around(Point point, double radius) {
    return {{point.x - radius, point.y - radius}, {point.x + radius, point.y + radius}};
}

WorldId world_of(const plan::Plan& plan, plan::PathId path) {
    return plan.waypoints[plan.paths[path].from].world;
}

/// Whether a world holds more than a map can show one by one.
bool is_crowded(const plan::Plan& plan, WorldId world) {
    constexpr std::ptrdiff_t most = 1000;
    const auto here = [&](const auto& thing) {
        if constexpr (std::is_base_of_v<plan::Belonging, std::remove_cvref_t<decltype(thing)>>) {
            if (thing.home && plan.levels[thing.home].grid) return false;
        } else if (thing.grid) {
            return false;
        }
        return thing.world == world;
    };
    return std::count_if(plan.levels.begin(), plan.levels.end(), here) +
               std::count_if(plan.triggers.begin(), plan.triggers.end(), here) +
               std::count_if(plan.waypoints.begin(), plan.waypoints.end(), here) >
           most;
}

} // namespace

MapGround::MapGround(const plan::Plan& of)
    : plan(of), footprints(geometry::footprints_of(of)), triggers(of.triggers), gates(of.gates),
      waypoints(of.waypoints) {}

Point MapFrame::at(const Vec3& place) const {
    const double x = room.from.x + room.width() * across.share(place[0]);
    return looking == Looking::down ? Point{x, room.from.y + room.height() * down.share(place[2])}
                                    : Point{x, room.to.y - room.height() * down.share(place[1])};
}

std::vector<double> stands_along(const plan::Plan& plan, WorldId world, std::size_t axis) {
    std::vector<double> all;
    const auto add = [&](const plan::Shape& shape) {
        if (std::holds_alternative<plan::Beyond>(shape) ||
            std::holds_alternative<std::monostate>(shape))
            return;
        const plan::Box bounds = geometry::bounds_of(shape);
        all.push_back(bounds.min.at(axis));
        all.push_back(bounds.max.at(axis));
    };
    for (const plan::Level& level : plan.levels) {
        if (level.world != world) continue;
        for (const plan::Box& box : level.area) add(box);
        for (const plan::Box& box : level.seen_from) add(box);
    }
    for (const plan::Waypoint& waypoint : plan.waypoints) {
        if (waypoint.world == world) all.push_back(waypoint.at.at(axis));
    }
    for (const plan::Path& path : plan.paths) {
        if (plan.waypoints[path.from].world != world) continue;
        for (const Vec3& via : path.via) all.push_back(via.at(axis));
    }
    for (const plan::Trigger& trigger : plan.triggers) {
        if (trigger.world == world) add(trigger.shape);
    }
    return all;
}

MapPanel::MapPanel(const MapGround& ground, WorldId world, Sheet& sheet, const MapFrame& frame)
    : ground_(ground), plan_(ground.plan), world_(world), sheet_(sheet), frame_(frame),
      labels_({{0, frame.room.from.y - above}, {sheet.width(), frame.room.to.y + above / 2}}),
      crowded_(is_crowded(ground.plan, world)) {}

void MapPanel::draw_ground(const std::set<plan::LevelId>& shown) {
    if (frame_.looking == Looking::down) grids(shown);
    if (crowded_)
        many_areas();
    else
        areas();
    paths();
    triggers();
}

void MapPanel::draw_places() {
    if (std::exchange(places_drawn_, true)) return;
    gates();
    waypoints();
}

std::size_t MapPanel::finish() {
    names();
    axis();
    return left_out_;
}

// --- shapes ------------------------------------------------------------------

std::vector<Point> MapPanel::at(const std::vector<Vec3>& places) const {
    std::vector<Point> points;
    for (const Vec3& place : places) points.push_back(at(place));
    return points;
}

std::vector<Point> MapPanel::outline_of(const Footprint& of) const {
    std::vector<Vec3> places;
    if (frame_.looking == Looking::down) {
        for (const auto& [x, z] : of.corners) places.push_back({x, of.low, z});
        return at(places);
    }
    const auto by_x = [](const auto& one, const auto& other) { return one[0] < other[0]; };
    const auto [least, most] = std::minmax_element(of.corners.begin(), of.corners.end(), by_x);
    const double from = (*least)[0];
    const double to = (*most)[0];
    return at({{from, of.low, 0}, {to, of.low, 0}, {to, of.high, 0}, {from, of.high, 0}});
}

std::vector<Point> MapPanel::outline_of(const plan::Box& box) const {
    return outline_of(Footprint{geometry::corners_of(box), box.min[1], box.max[1]});
}

std::vector<Point> MapPanel::outline_of(const plan::Shape& shape) const {
    const std::size_t second = frame_.looking == Looking::down ? 2 : 1;
    if (const auto* box = std::get_if<plan::Box>(&shape)) return outline_of(*box);
    if (const auto* sphere = std::get_if<plan::Sphere>(&shape))
        return at(ring_of(*sphere, 0, second));
    const auto* beyond = std::get_if<plan::Beyond>(&shape);
    if (beyond == nullptr || (beyond->axis != 0 && beyond->axis != second)) return {};
    const Point on = at(Vec3{beyond->limit, beyond->limit, beyond->limit});
    const Extent& room = frame_.room;
    if (beyond->axis == 0) return {{on.x, room.from.y}, {on.x, room.to.y}};
    return {{room.from.x, on.y}, {room.to.x, on.y}};
}

void MapPanel::outline(std::vector<Point> points, std::string_view colour, double width,
                       Dash dash) {
    points.push_back(points.front());
    sheet_.line(std::move(points), colour, width, dash);
}

/// The outline of a heap; where it is but one thing, its own.
void MapPanel::outline(const Heaps::Heap& heap, std::string_view colour, double width, Dash dash) {
    if (heap.names.size() > 1)
        sheet_.frame(heap.extent, colour, width, dash);
    else
        outline(heap.points, colour, width, dash);
}

/// Draws each heap and says what it holds; where it is but one thing, that has its name by it,
/// as `alone` has it.
template <class Draw>
void MapPanel::draw_heaps(const Heaps& heaps, const std::string& kind, Name alone, Draw draw) {
    for (const Heaps::Heap& heap : heaps.all()) {
        draw(heap);
        sheet_.hot(heap.extent, said_of(kind, heap.names));
        if (heap.names.size() > 1) {
            left_out_ += heap.names.size();
            continue;
        }
        alone.text = heap.names.front();
        alone.thing = heap.extent;
        names_.push_back(alone);
    }
}

// --- the ground --------------------------------------------------------------

/// Open worlds, each with one name.
void MapPanel::grids(const std::set<plan::LevelId>& shown) {
    for (const plan::GridId id : plan_.grids.ids()) {
        if (plan_.levels[plan_.grids[id].level].world != world_) continue;
        const std::vector<Point> all = draw_open_world(
            plan_, plan_.grids[id], shown, sheet_, [&](const Vec3& place) { return at(place); });
        if (all.empty()) continue;
        const bool walked = !shown.empty();
        const std::string text = walked
                                     ? plan::cells_text(plan_, id, shown_of(plan_.grids[id], shown))
                                     : plan::cells_text(plan_, id);
        sheet_.hot(around(all), walked ? text + " shown" : text);
        names_.push_back({text, around(all), true, palette::ink, normal_text});
    }
}

void MapPanel::areas() {
    for (const plan::LevelId id : plan_.levels.ids()) {
        const plan::Level& level = plan_.levels[id];
        if (level.world != world_ || level.grid) continue;
        for (const plan::Box& box : level.seen_from)
            outline(outline_of(box), palette::area_edge, 1, Dash::dotted);
        bool named = false;
        for (const Footprint& part : ground_.footprints[id]) {
            const std::vector<Point> points = outline_of(part);
            sheet_.polygon(points, palette::area);
            outline(points, palette::area_edge, 1, Dash::solid);
            std::string said = level.name;
            if (level.variants) said += ", one of " + plan::place_name(plan_, id);
            if (!level.title.empty()) said += "\n" + level.title;
            if (level.near)
                said += fmt::format("\nstreams in within {:g} m, out beyond {:g} m",
                                    level.near->load, level.near->unload);
            sheet_.hot(around(points), said);
            if (!named)
                names_.push_back({level.name, around(points), true, palette::ink, normal_text});
            named = true;
        }
    }
}

/// All areas, then their edges: gnuplot takes its time for each change of what is drawn.
void MapPanel::many_areas() {
    Heaps areas;
    Heaps seen_from;
    for (const plan::LevelId id : plan_.levels.ids()) {
        const plan::Level& level = plan_.levels[id];
        if (level.world != world_ || level.grid) continue;
        for (const Footprint& part : ground_.footprints[id]) {
            const std::vector<Point> points = outline_of(part);
            sheet_.polygon(points, palette::area);
            areas.add(points, around(points), level.name);
        }
        for (const plan::Box& box : level.seen_from) {
            const std::vector<Point> points = outline_of(box);
            seen_from.add(points, around(points), level.name);
        }
    }
    for (const Heaps::Heap& heap : seen_from.all())
        sheet_.frame(heap.extent, palette::area_edge, 1, Dash::dotted);
    draw_heaps(areas, "level", {"", {}, true, palette::ink, normal_text},
               [&](const Heaps::Heap& heap) { outline(heap, palette::area_edge, 1, Dash::solid); });
}

bool MapPanel::is_drawn(std::set<std::array<long, 4>>& drawn, Point from, Point to) const {
    if (!crowded_) return false;
    const std::array<long, 4> pixels{std::lround(from.x), std::lround(from.y), std::lround(to.x),
                                     std::lround(to.y)};
    return !drawn.insert(pixels).second;
}

void MapPanel::paths() {
    std::set<std::array<long, 4>> drawn;
    for (const plan::Path& path : plan_.paths) {
        const plan::Waypoint& from = plan_.waypoints[path.from];
        if (from.world != world_) continue;
        if (is_in_cells(plan_, path)) continue;
        std::vector<Vec3> corners{plan_.waypoints[path.from].at};
        corners.insert(corners.end(), path.via.begin(), path.via.end());
        corners.push_back(plan_.waypoints[path.to].at);
        const std::vector<Point> points = at(corners);
        if (path.via.empty() && is_drawn(drawn, points.front(), points.back())) continue;
        for (std::size_t i = 0; i + 1 < points.size(); ++i) block(points[i], points[i + 1]);
        sheet_.line(points, palette::path, 1.5, path.one_way ? Dash::dashed : Dash::solid);
    }
}

void MapPanel::block(Point from, Point to) {
    constexpr double step = 6;
    const double length = std::hypot(to.x - from.x, to.y - from.y);
    const int steps = static_cast<int>(length / step) + 1;
    for (int i = 0; i <= steps; ++i) {
        const double share = static_cast<double>(i) / steps;
        labels_.block(
            around({from.x + (to.x - from.x) * share, from.y + (to.y - from.y) * share}, step / 3));
    }
}

void MapPanel::triggers() {
    Heaps many;
    for (const plan::Trigger& trigger : plan_.triggers) {
        if (trigger.world != world_) continue;
        const std::vector<Point> points = outline_of(trigger.shape);
        if (points.empty()) continue;
        if (crowded_) {
            many.add(points, around(points), trigger.name);
            continue;
        }
        outline(points, palette::trigger, 1.2, Dash::dashed);
        sheet_.hot(around(points), "trigger " + trigger.name);
        names_.push_back({ground_.triggers(trigger.name), around(points), false, palette::trigger});
    }
    draw_heaps(many, "trigger", {"", {}, false, palette::trigger}, [&](const Heaps::Heap& heap) {
        outline(heap, palette::trigger, 1.2, Dash::dashed);
    });
}

void MapPanel::gates() {
    constexpr double off = 9; // from the waypoint before which it stands
    for (const plan::PathId id : plan_.paths.ids()) {
        const plan::Path& path = plan_.paths[id];
        if (!path.gate || world_of(plan_, id) != world_) continue;
        const Point start = at(plan_.waypoints[path.from].at);
        const Point next = at(path.via.empty() ? plan_.waypoints[path.to].at : path.via.front());
        const double length = std::hypot(next.x - start.x, next.y - start.y);
        const double share = length > 0 ? std::min(off / length, 0.5) : 0;
        const Point door{start.x + (next.x - start.x) * share,
                         start.y + (next.y - start.y) * share};
        const Extent box = around(door, 4);
        sheet_.rect(box, palette::ink);
        sheet_.hot(box, "gate " + plan_.gates[path.gate].name);
        labels_.block(box);
        names_.push_back({ground_.gates(plan_.gates[path.gate].name), box, false, palette::ink});
    }
}

void MapPanel::waypoints() {
    Heaps many;
    for (const plan::Waypoint& waypoint : plan_.waypoints) {
        if (waypoint.world != world_ || is_in_cell(plan_, waypoint)) continue;
        const Point point = at(waypoint.at);
        if (crowded_) {
            many.add({point}, around(point, dot), waypoint.name);
            continue;
        }
        sheet_.disc(point, dot, palette::ink);
        const Extent box = around(point, dot);
        sheet_.hot(box, "waypoint " + waypoint.name);
        labels_.block(box);
        names_.push_back({ground_.waypoints(waypoint.name), box, false, palette::muted});
    }
    draw_heaps(many, "waypoint", {"", {}, false, palette::muted}, [&](const Heaps::Heap& heap) {
        sheet_.disc(heap.points.front(), dot, palette::ink);
    });
}

// --- what happens there ------------------------------------------------------

void MapPanel::line(const Vec3& from, const Vec3& to, std::string_view colour, double width) {
    sheet_.line({at(from), at(to)}, colour, width);
}

void MapPanel::diamond(const Vec3& place, std::string_view colour, const std::string& said) {
    constexpr double radius = 7;
    const Point point = at(place);
    sheet_.diamond(point, radius, colour);
    sheet_.hot(around(point, radius), said);
}

void MapPanel::disc(const Vec3& place, double radius, std::string_view colour,
                    const std::string& said, const std::string& name) {
    const Point point = at(place);
    sheet_.disc(point, radius, colour);
    const Extent box = around(point, radius);
    sheet_.hot(box, said);
    labels_.block(box);
    if (!name.empty()) names_.push_back({name, box, false, palette::ink});
}

// --- names and the axis ------------------------------------------------------

void MapPanel::names() {
    // Levels first, then what stands in few pixels before what has much room around it.
    std::stable_sort(names_.begin(), names_.end(), [](const Name& one, const Name& other) {
        return one.inside && !other.inside;
    });
    for (const Name& name : names_) {
        const auto places = name.inside
                                ? places_inside(name.thing, name.text, name.size, name.colour)
                                : places_around(name.thing, name.text, name.size, name.colour);
        if (!labels_.place(sheet_, places)) ++left_out_;
    }
}

void MapPanel::axis() {
    const double line = frame_.room.to.y + above / 2;
    Labels numbers({{0, line}, {sheet_.width(), line + axis_room}});
    double free_from = 0;
    double metres_per_share = frame_.across.drawn_length();
    for (const MapAxis::Piece& piece : frame_.across.pieces()) {
        const double from =
            frame_.room.from.x + frame_.room.width() * frame_.across.share(piece.from);
        const double to = frame_.room.from.x + frame_.room.width() * frame_.across.share(piece.to);
        if (piece.shortened) {
            sheet_.line({{from, line}, {to, line}}, palette::muted, 1, Dash::dotted);
            numbers.place(sheet_, {{{(from + to) / 2, line + 26},
                                    fmt::format("{:.0f} m, shortened", piece.to - piece.from),
                                    Align::centre,
                                    small_text,
                                    palette::muted}});
            free_from = 0;
            continue;
        }
        sheet_.line({{from, line}, {to, line}}, palette::ink);
        const double step = tick_step(metres_per_share, static_cast<int>(frame_.room.width() / 70));
        for (double at = std::ceil(piece.from / step) * step; at <= piece.to; at += step) {
            const double x = frame_.room.from.x + frame_.room.width() * frame_.across.share(at);
            if (x < free_from) continue;
            sheet_.line({{x, line}, {x, line + 4}}, palette::ink);
            if (numbers.place(sheet_, {{{x, line + 12},
                                        tick_text(at, step),
                                        Align::centre,
                                        small_text,
                                        palette::ink}}))
                free_from = x + 10;
        }
    }
    sheet_.text({{margin, line + 12}, "x (m)", Align::left, small_text, palette::ink});
}

} // namespace hestrel::figure
