#include "figure/map_figure.hpp"

#include "figure/frame.hpp"
#include "figure/heaps.hpp"
#include "figure/labels.hpp"
#include "figure/map_axis.hpp"
#include "figure/map_cells.hpp"
#include "figure/plain_names.hpp"
#include "geometry/crossing.hpp"
#include "geometry/ways.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <numbers>
#include <set>

namespace hestrel::figure {

using plan::Vec3;
using plan::WorldId;

namespace {

constexpr double map_width = 1120;
constexpr double side = 60; ///< room left and right of what stands, for names
constexpr double above = 30;
constexpr double axis_room = 40;
constexpr double least_height = 150;
constexpr double most_height = 640;
constexpr double steepest = 4; ///< how much larger the short axis may be drawn
constexpr double dot = 3.5;

std::vector<Vec3> ring_of(const plan::Sphere& sphere) {
    constexpr int corners = 24;
    std::vector<Vec3> ring;
    for (int i = 0; i < corners; ++i) {
        const double angle = 2 * std::numbers::pi * i / corners;
        ring.push_back({sphere.at[0] + sphere.radius * std::cos(angle), 0,
                        sphere.at[2] + sphere.radius * std::sin(angle)});
    }
    return ring;
}

/// A shape's outline seen from above; empty for one without bounds.
std::vector<Vec3> outline_of(const plan::Shape& shape) {
    if (const auto* box = std::get_if<plan::Box>(&shape)) return corners_of(*box);
    if (const auto* sphere = std::get_if<plan::Sphere>(&shape)) return ring_of(*sphere);
    return {};
}

/// Everything of one world that has a place.
std::vector<Vec3> places_in(const plan::Plan& plan, WorldId world) {
    std::vector<Vec3> places;
    const auto add = [&](const std::vector<Vec3>& more) {
        places.insert(places.end(), more.begin(), more.end());
    };
    for (const plan::Level& level : plan.levels) {
        if (level.world != world) continue;
        for (const plan::Box& box : level.area) add(corners_of(box));
        for (const plan::Box& box : level.seen_from) add(corners_of(box));
    }
    for (const plan::Waypoint& waypoint : plan.waypoints) {
        if (waypoint.world == world) places.push_back(waypoint.at);
    }
    for (const plan::Path& path : plan.paths) {
        if (plan.waypoints[path.from].world == world) add(path.via);
    }
    for (const plan::Trigger& trigger : plan.triggers) {
        if (trigger.world == world) add(outline_of(trigger.shape));
    }
    return places;
}

std::vector<double> along(const std::vector<Vec3>& places, std::size_t axis) {
    std::vector<double> values;
    for (const Vec3& place : places) values.push_back(place[axis]);
    return values;
}

/// The longest of several times, at most as many as a map can show.
template <class Time>
std::vector<Time> longest(std::vector<Time> times) {
    constexpr std::size_t most = 60;
    std::stable_sort(times.begin(), times.end(), [](const Time& one, const Time& other) {
        return other.to - other.from < one.to - one.from;
    });
    if (times.size() > most) times.erase(times.begin() + most, times.end());
    return times;
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

/// One world's part of the sheet.
class Panel {
public:
    Panel(const plan::Plan& plan, const walk::Record& record, WorldId world, Sheet& sheet,
          const Extent& room, const MapAxis& across, const MapAxis& down)
        : plan_(plan), record_(record), world_(world), sheet_(sheet), room_(room), across_(across),
          down_(down), labels_({{0, room.from.y - above}, {sheet.width(), room.to.y + above / 2}}),
          crowded_(is_crowded(plan, world)) {}

    /// How many names found no room.
    std::size_t draw() {
        areas();
        paths();
        triggers();
        tracks();
        gates();
        waypoints();
        names();
        axes();
        return left_out_;
    }

private:
    struct Name {
        std::string text;
        Extent thing;
        bool inside = false;
        std::string_view colour;
        double size = small_text;
    };

    [[nodiscard]] Point at(const Vec3& place) const {
        return {room_.from.x + room_.width() * across_.share(place[0]),
                room_.from.y + room_.height() * down_.share(place[2])};
    }
    [[nodiscard]] std::vector<Point> at(const std::vector<Vec3>& places) const {
        std::vector<Point> points;
        for (const Vec3& place : places) points.push_back(at(place));
        return points;
    }
    static Extent around(const std::vector<Point>& points) {
        Extent extent{points.front(), points.front()};
        for (const Point& point : points) {
            extent.from = {std::min(extent.from.x, point.x), std::min(extent.from.y, point.y)};
            extent.to = {std::max(extent.to.x, point.x), std::max(extent.to.y, point.y)};
        }
        return extent;
    }
    static Extent around(Point point, double radius) {
        return {{point.x - radius, point.y - radius}, {point.x + radius, point.y + radius}};
    }
    void outline(std::vector<Point> points, std::string_view colour, double width, Dash dash) {
        points.push_back(points.front());
        sheet_.line(std::move(points), colour, width, dash);
    }

    /// Draws each heap and says what it holds; where it is but one thing, that has its name by it,
    /// as `alone` has it.
    template <class Draw>
    void draw_heaps(const Heaps& heaps, const std::string& kind, Name alone, Draw draw) {
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
    /// The outline of a heap; where it is but one thing, its own.
    void outline(const Heaps::Heap& heap, std::string_view colour, double width, Dash dash) {
        if (heap.names.size() > 1)
            sheet_.frame(heap.extent, colour, width, dash);
        else
            outline(heap.points, colour, width, dash);
    }

    /// Open worlds, each with one name.
    void grids() {
        const std::set<plan::LevelId> shown = ever_shown(record_);
        for (const plan::GridId id : plan_.grids.ids()) {
            if (plan_.levels[plan_.grids[id].level].world != world_) continue;
            const std::vector<Point> all =
                draw_open_world(plan_, plan_.grids[id], shown, sheet_,
                                [&](const Vec3& place) { return at(place); });
            if (all.empty()) continue;
            const std::string text = plan::cells_text(plan_, id, shown_of(plan_.grids[id], shown));
            sheet_.hot(around(all), text + " shown");
            names_.push_back({text, around(all), true, palette::ink, normal_text});
        }
    }

    void areas() {
        grids();
        if (crowded_) {
            many_areas();
            return;
        }
        for (const plan::LevelId id : plan_.levels.ids()) {
            const plan::Level& level = plan_.levels[id];
            if (level.world != world_ || level.grid) continue;
            for (const plan::Box& box : level.seen_from)
                outline(at(corners_of(box)), palette::area_edge, 1, Dash::dotted);
            bool named = is_later_variant(id); // the place has one name
            for (const plan::Box& box : level.area) {
                const std::vector<Point> points = at(corners_of(box));
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
                    names_.push_back({plan::place_name(plan_, id), around(points), true,
                                      palette::ink, normal_text});
                named = true;
            }
        }
    }

    /// Whether it is a variant of a place of which another stands on the map before it.
    [[nodiscard]] bool is_later_variant(plan::LevelId id) const {
        const plan::GroupId variants = plan_.levels[id].variants;
        return variants && plan::any_of_group(plan_, variants, [&](plan::LevelId other) {
                   return other < id && !plan_.levels[other].area.empty();
               });
    }

    /// All areas, then their edges: gnuplot takes its time for each change of what is drawn.
    void many_areas() {
        Heaps areas;
        Heaps seen_from;
        for (const plan::Level& level : plan_.levels) {
            if (level.world != world_ || level.grid) continue;
            for (const plan::Box& box : level.area) {
                const std::vector<Point> points = at(corners_of(box));
                sheet_.polygon(points, palette::area);
                areas.add(points, around(points), level.name);
            }
            for (const plan::Box& box : level.seen_from) {
                const std::vector<Point> points = at(corners_of(box));
                seen_from.add(points, around(points), level.name);
            }
        }
        for (const Heaps::Heap& heap : seen_from.all())
            sheet_.frame(heap.extent, palette::area_edge, 1, Dash::dotted);
        draw_heaps(
            areas, "level", {"", {}, true, palette::ink, normal_text},
            [&](const Heaps::Heap& heap) { outline(heap, palette::area_edge, 1, Dash::solid); });
    }

    /// Whether a line is one that can't be told from those drawn before, where there are many.
    [[nodiscard]] bool is_drawn(std::set<std::array<long, 4>>& drawn, Point from, Point to) const {
        if (!crowded_) return false;
        const std::array<long, 4> pixels{std::lround(from.x), std::lround(from.y),
                                         std::lround(to.x), std::lround(to.y)};
        return !drawn.insert(pixels).second;
    }

    void paths() {
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

    /// Keeps names off a line.
    void block(Point from, Point to) {
        constexpr double step = 6;
        const double length = std::hypot(to.x - from.x, to.y - from.y);
        const int steps = static_cast<int>(length / step) + 1;
        for (int i = 0; i <= steps; ++i) {
            const double share = static_cast<double>(i) / steps;
            labels_.block(around(
                {from.x + (to.x - from.x) * share, from.y + (to.y - from.y) * share}, step / 3));
        }
    }

    void triggers() {
        Heaps many;
        for (const plan::Trigger& trigger : plan_.triggers) {
            if (trigger.world != world_) continue;
            std::vector<Point> points;
            if (const auto* beyond = std::get_if<plan::Beyond>(&trigger.shape)) {
                if (beyond->axis == 1) continue; // it lies above or below everything
                const Point on = at(Vec3{beyond->limit, 0, beyond->limit});
                points = beyond->axis == 0
                             ? std::vector<Point>{{on.x, room_.from.y}, {on.x, room_.to.y}}
                             : std::vector<Point>{{room_.from.x, on.y}, {room_.to.x, on.y}};
            } else {
                points = at(outline_of(trigger.shape));
            }
            if (points.empty()) continue;
            if (crowded_) {
                many.add(points, around(points), trigger.name);
                continue;
            }
            outline(points, palette::trigger, 1.2, Dash::dashed);
            sheet_.hot(around(points), "trigger " + trigger.name);
            names_.push_back(
                {trigger_names_(trigger.name), around(points), false, palette::trigger});
        }
        draw_heaps(
            many, "trigger", {"", {}, false, palette::trigger},
            [&](const Heaps::Heap& heap) { outline(heap, palette::trigger, 1.2, Dash::dashed); });
    }

    void tracks() {
        std::vector<std::set<std::array<long, 4>>> drawn(palette::walked.size());
        for (const walk::Track& track : record_.tracks) {
            if (world_of(plan_, track.path) != world_) continue;
            const std::size_t colour = track.player % palette::walked.size();
            const Point from = at(track.start);
            const Point to = at(track.end);
            if (is_drawn(drawn[colour], from, to)) continue;
            sheet_.line({from, to}, palette::walked.at(colour), 3);
            if (!plan_.grids.empty()) block(from, to); // where cells lie no path keeps names off
        }
        for (const walk::Gap& gap : longest(record_.gaps)) {
            const std::string said = fmt::format(
                "a gap in {} for {} from {:.2f} s on", plan::place_name(plan_, gap.level),
                tables::short_time(gap.to - gap.from), plan::in_seconds(gap.from));
            for (const TrackPart& part :
                 walked_within(plan_, record_, gap.player, gap.from, gap.to)) {
                if (part.world != world_) continue;
                sheet_.line({at(part.from), at(part.to)}, palette::gap, 6);
            }
            if (const auto spot = spot_of(plan_, record_, gap.player, gap.from);
                spot && spot->world == world_)
                mark(spot->at, palette::gap, said);
        }
        std::vector<walk::Spell> stalls = record_.spells;
        std::erase_if(stalls,
                      [](const walk::Spell& spell) { return spell.doing != walk::Doing::stalled; });
        for (const walk::Spell& spell : longest(std::move(stalls))) {
            const auto spot = spot_of(plan_, record_, spell.player, spell.from);
            if (spot && spot->world == world_)
                mark(spot->at, palette::stall,
                     fmt::format("stalled for {} from {:.2f} s on",
                                 tables::short_time(spell.to - spell.from),
                                 plan::in_seconds(spell.from)));
        }
    }

    void mark(const Vec3& place, std::string_view colour, const std::string& said) {
        constexpr double radius = 7;
        const Point point = at(place);
        sheet_.diamond(point, radius, colour);
        sheet_.hot(around(point, radius), said);
    }

    void gates() {
        constexpr double off = 9; // from the waypoint before which it stands
        for (const plan::PathId id : plan_.paths.ids()) {
            const plan::Path& path = plan_.paths[id];
            if (!path.gate || world_of(plan_, id) != world_) continue;
            const Point start = at(plan_.waypoints[path.from].at);
            const Point next =
                at(path.via.empty() ? plan_.waypoints[path.to].at : path.via.front());
            const double length = std::hypot(next.x - start.x, next.y - start.y);
            const double share = length > 0 ? std::min(off / length, 0.5) : 0;
            const Point door{start.x + (next.x - start.x) * share,
                             start.y + (next.y - start.y) * share};
            const Extent box = around(door, 4);
            sheet_.rect(box, palette::ink);
            sheet_.hot(box, "gate " + plan_.gates[path.gate].name);
            labels_.block(box);
            names_.push_back({gate_names_(plan_.gates[path.gate].name), box, false, palette::ink});
        }
    }

    void waypoints() {
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
            names_.push_back({waypoint_names_(waypoint.name), box, false, palette::muted});
        }
        draw_heaps(many, "waypoint", {"", {}, false, palette::muted}, [&](const Heaps::Heap& heap) {
            sheet_.disc(heap.points.front(), dot, palette::ink);
        });
    }

    void names() {
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

    void axes() {
        const double line = room_.to.y + above / 2;
        Labels numbers({{0, line}, {sheet_.width(), line + axis_room}});
        double free_from = 0;
        double metres_per_share = across_.drawn_length();
        for (const MapAxis::Piece& piece : across_.pieces()) {
            const double from = room_.from.x + room_.width() * across_.share(piece.from);
            const double to = room_.from.x + room_.width() * across_.share(piece.to);
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
            const double step = tick_step(metres_per_share, static_cast<int>(room_.width() / 70));
            for (double at = std::ceil(piece.from / step) * step; at <= piece.to; at += step) {
                const double x = room_.from.x + room_.width() * across_.share(at);
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

    static WorldId world_of(const plan::Plan& plan, plan::PathId path) {
        return plan.waypoints[plan.paths[path].from].world;
    }

    const plan::Plan& plan_;
    const PlainNames trigger_names_{plan_.triggers};
    const PlainNames gate_names_{plan_.gates};
    const PlainNames waypoint_names_{plan_.waypoints};
    const walk::Record& record_;
    WorldId world_;
    Sheet& sheet_;
    Extent room_;
    const MapAxis& across_;
    const MapAxis& down_;
    Labels labels_;
    std::vector<Name> names_;
    std::size_t left_out_ = 0;
    bool crowded_ = false; ///< what can hardly be told apart is drawn together
};

Vec3 between(const walk::Track& track, plan::Micros moment) {
    const double length = plan::in_seconds(track.to - track.from);
    const double share =
        length > 0 ? std::clamp(plan::in_seconds(moment - track.from) / length, 0.0, 1.0) : 1;
    Vec3 place{};
    for (std::size_t axis = 0; axis < place.size(); ++axis)
        place[axis] = track.start[axis] + (track.end[axis] - track.start[axis]) * share;
    return place;
}

std::vector<Swatch> legend_of(const plan::Plan& plan, const walk::Record& record) {
    std::vector<Swatch> legend;
    const auto add_if_any = [&](const auto& table, const auto& holds, const Swatch& swatch) {
        if (std::any_of(table.begin(), table.end(), holds)) legend.push_back(swatch);
    };
    add_if_any(plan.levels,
               [](const plan::Level& level) { return !level.area.empty() && !level.grid; },
               {"level's area", palette::area_edge, Swatch::Kind::line});
    add_if_any(plan.grids, [](const plan::Grid&) { return true; }, {"cell", palette::area});
    add_if_any(
        plan.grids,
        [shown = ever_shown(record)](const plan::Grid& grid) { return shown_of(grid, shown) > 0; },
        {"cell that was shown", palette::cell_shown});
    add_if_any(plan.levels, [](const plan::Level& level) { return !level.seen_from.empty(); },
               {"place to see one from", palette::area_edge, Swatch::Kind::dotted});
    add_if_any(plan.triggers,
               [](const plan::Trigger& trigger) {
                   return !std::holds_alternative<std::monostate>(trigger.shape);
               },
               {"trigger", palette::trigger, Swatch::Kind::dashed});
    add_if_any(plan.paths,
               [&](const plan::Path& path) { return !path.one_way && !is_in_cells(plan, path); },
               {"path", palette::path, Swatch::Kind::line});
    add_if_any(plan.paths, [](const plan::Path& path) { return path.one_way; },
               {"path, one way", palette::path, Swatch::Kind::dashed});
    add_if_any(plan.paths, [](const plan::Path& path) { return bool(path.gate); },
               {"gate", palette::ink});
    const auto& players = plan.routes[record.route].players;
    for (std::size_t i = 0; i < players.size() && i < palette::walked.size(); ++i) {
        const bool moved = std::any_of(record.tracks.begin(), record.tracks.end(),
                                       [&](const walk::Track& track) { return track.player == i; });
        if (!moved) continue;
        legend.push_back({players.size() == 1 ? "walked" : "walked by " + players[i].name,
                          palette::walked.at(i), Swatch::Kind::line});
    }
    if (!record.gaps.empty()) legend.push_back({"gap", palette::gap, Swatch::Kind::diamond});
    if (record.shares.stalled.count > 0)
        legend.push_back({"stalled", palette::stall, Swatch::Kind::diamond});
    return legend;
}

} // namespace

std::optional<Spot> spot_of(const plan::Plan& plan, const walk::Record& record,
                            std::uint32_t player, plan::Micros moment) {
    std::optional<Spot> spot;
    if (const plan::WaypointId start = plan.routes[record.route].start.at) {
        const plan::Waypoint& waypoint = plan.waypoints[start];
        spot = Spot{waypoint.world, waypoint.at};
    }
    plan::Micros since{-1};
    for (const walk::Event& event : record.events) {
        if (event.at > moment) break;
        if (event.kind != walk::EventKind::placed || event.subject != player) continue;
        since = event.at;
        spot.reset();
        if (event.detail == plan::WaypointId::no_value) continue;
        const plan::Waypoint& waypoint = plan.waypoints[plan::WaypointId{event.detail}];
        spot = Spot{waypoint.world, waypoint.at};
    }
    for (const walk::Track& track : record.tracks) {
        if (track.player != player || track.from > moment || track.from < since) continue;
        spot = Spot{plan.waypoints[plan.paths[track.path].from].world,
                    between(track, std::min(moment, track.to))};
    }
    return spot;
}

std::vector<TrackPart> walked_within(const plan::Plan& plan, const walk::Record& record,
                                     std::uint32_t player, plan::Micros from, plan::Micros to) {
    std::vector<TrackPart> parts;
    for (const walk::Track& track : record.tracks) {
        if (track.player != player || track.to <= from || to <= track.from) continue;
        parts.push_back({plan.waypoints[plan.paths[track.path].from].world,
                         between(track, std::max(from, track.from)),
                         between(track, std::min(to, track.to))});
    }
    return parts;
}

std::optional<Figure> map_figure(const plan::Plan& plan, const walk::Record& record) {
    struct World {
        WorldId id;
        MapAxis across;
        MapAxis down;
        double height = 0;
    };
    std::vector<World> worlds;
    for (const WorldId world : plan.worlds.ids()) {
        const std::vector<Vec3> places = places_in(plan, world);
        if (places.empty()) continue;
        World each{world, MapAxis(along(places, 0)), MapAxis(along(places, 2))};
        const double true_height =
            (map_width - 2 * side) * each.down.drawn_length() / each.across.drawn_length();
        each.height = std::clamp(true_height, least_height, most_height);
        each.height = std::max(each.height, std::min(true_height * steepest, most_height / 2));
        worlds.push_back(std::move(each));
    }
    if (worlds.empty()) return std::nullopt;
    const std::string title = "Map – " + where_walked(plan, record);
    const std::vector<Swatch> legend = legend_of(plan, record);
    const double legend_top = title_height(title, map_width);
    const double head = legend_top + legend_line(nullptr, {}, map_width - 2 * margin, legend);
    double height = head;
    for (const World& world : worlds) height += legend_row + 2 * above + world.height + axis_room;
    Figure figure{Sheet(map_width, height + legend_row), title, {}};
    Sheet& sheet = figure.sheet;
    draw_title(sheet, title);
    legend_line(&sheet, {margin, legend_top}, map_width - 2 * margin, legend);
    double y = head;
    std::size_t left_out = 0;
    for (const World& world : worlds) {
        if (worlds.size() > 1)
            sheet.text({{margin, y + legend_row / 2},
                        "world " + plan.worlds[world.id],
                        Align::left,
                        normal_text,
                        palette::ink});
        y += legend_row + above;
        const Extent room{{side, y}, {map_width - side, y + world.height}};
        left_out += Panel(plan, record, world.id, sheet, room, world.across, world.down).draw();
        y = room.to.y + above + axis_room;
    }
    std::string note = "From above; each axis to its own scale.";
    if (left_out > 0)
        note += fmt::format(" {} {} left out for lack of room; pointing at a thing names it.",
                            left_out, left_out == 1 ? "name is" : "names are");
    sheet.text({{margin, y + legend_row / 2 - 6}, note, Align::left, small_text, palette::muted});
    figure.description =
        fmt::format("{} from above; {} walked, {}.", tables::counted(worlds.size(), "world"),
                    tables::counted(record.tracks.size(), "straight way"),
                    tables::counted(record.gaps.size(), "gap"));
    return figure;
}

} // namespace hestrel::figure
