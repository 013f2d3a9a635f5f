#include "exchange/scene_import.hpp"

#include "edit/name_places.hpp"
#include "edit/shape_yaml.hpp"
#include "geometry/space.hpp"
#include "plan/names.hpp"
#include "source/quantities.hpp"
#include "source/yaml_writer.hpp"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace hestrel::exchange {

namespace {

using plan::Vec3;
using source::FlowMap;
using Path = PlanChanges::Path;

double to_the_millimetre(double metres) {
    constexpr double millimetres = 1000;
    return std::round(metres * millimetres) / millimetres;
}
std::string metres_text(double metres) {
    return source::exact_number(to_the_millimetre(metres));
}
double to_what_counts(double degrees) {
    constexpr double parts = 100'000;
    return std::round(degrees * parts) / parts;
}
std::string degrees_text(double degrees) {
    return source::exact_number(to_what_counts(degrees));
}
Vec3 to_the_millimetre(const Vec3& point) {
    return {to_the_millimetre(point[0]), to_the_millimetre(point[1]), to_the_millimetre(point[2])};
}
std::string point_text(const Vec3& point) {
    return edit::point_yaml(to_the_millimetre(point));
}
std::string box_text(const plan::Box& box) {
    return edit::box_yaml(
        {to_the_millimetre(box.min), to_the_millimetre(box.max), to_what_counts(box.turn)});
}

Vec3 middle_of(const plan::Box& box) {
    return {(box.min[0] + box.max[0]) / 2, (box.min[1] + box.max[1]) / 2,
            (box.min[2] + box.max[2]) / 2};
}
double distance(const Vec3& one, const Vec3& other) {
    return std::hypot(one[0] - other[0], one[1] - other[1], one[2] - other[2]);
}

/// The same box, turned by right angles so that its turn is nearest to that.
plan::Box turned_like(plan::Box box, double turn) {
    constexpr double right_angle = 90;
    const double quarters = std::round((turn - box.turn) / right_angle);
    box.turn += quarters * right_angle;
    if (std::fmod(std::abs(quarters), 2) == 1) {
        const Vec3 middle = middle_of(box);
        const double across = (box.max[2] - box.min[2]) / 2;
        const double down = (box.max[0] - box.min[0]) / 2;
        box.min = {middle[0] - across, box.min[1], middle[2] - down};
        box.max = {middle[0] + across, box.max[1], middle[2] + down};
    }
    return box;
}

/// "moved by 2.50 m, now 12 × 4 × 20 m, turned to 30°".
std::string difference(const plan::Box& before, const plan::Box& after) {
    std::vector<std::string> parts;
    const Vec3 from = middle_of(before);
    const Vec3 to = middle_of(after);
    if (!same_point(from, to))
        parts.push_back(fmt::format("moved by {:.2f} m", distance(from, to)));
    Vec3 sizes{};
    Vec3 old_sizes{};
    for (std::size_t axis = 0; axis < 3; ++axis) {
        sizes.at(axis) = after.max.at(axis) - after.min.at(axis);
        old_sizes.at(axis) = before.max.at(axis) - before.min.at(axis);
    }
    if (!same_point(sizes, old_sizes))
        parts.push_back(fmt::format("now {} × {} × {} m", metres_text(sizes[0]),
                                    metres_text(sizes[1]), metres_text(sizes[2])));
    if (degrees_text(before.turn) != degrees_text(after.turn))
        parts.push_back("turned to " + degrees_text(after.turn) + "°");
    return plan::joined(parts);
}

class SceneImporter {
public:
    SceneImporter(source::Disk& disk, const plan::Plan& plan, const std::string& path)
        : plan_(plan), changes_(disk, plan, path), existing_(scene_of(plan)) {
        for (std::size_t i = 0; i < existing_.size(); ++i)
            by_name_[{existing_[i].kind, existing_[i].name}].push_back(i);
        for (const plan::PathId id : plan.paths.ids()) {
            const plan::Path& each = plan.paths[id];
            paths_[plan.waypoints[each.from].name + " to " + plan.waypoints[each.to].name]
                .push_back(id);
        }
    }

    Imported all(const std::vector<SceneThing>& things) {
        met_.assign(existing_.size(), false);
        // Of new things paths come last: their ends may be new.
        for (const SceneThing& thing : things) {
            const std::size_t known = existing_as(thing);
            if (known == none) continue;
            met_[known] = true;
            update(thing, existing_[known]);
        }
        for (const bool paths : {false, true}) {
            for (const SceneThing& thing : things) {
                const bool is_new = !taken_.contains(&thing);
                if (is_new && (thing.kind == SceneKind::path) == paths) add(thing);
            }
        }
        for (std::size_t i = 0; i < existing_.size(); ++i) {
            if (!met_[i])
                imported_.kept.push_back(
                    {std::string(name_of(existing_[i].kind)), existing_[i].name});
        }
        for (const std::string& level : changes_.new_levels())
            imported_.added.push_back({"level", level});
        imported_.settings = changes_.take();
        return std::move(imported_);
    }

private:
    static constexpr std::size_t none = SIZE_MAX;

    /// The plan's thing that this one is.
    std::size_t existing_as(const SceneThing& thing) {
        std::vector<std::string> names{thing.name};
        if (thing.kind != SceneKind::path && !thing.level.empty())
            names.insert(names.begin(),
                         thing.level + "." + std::string(plan::plain_name(thing.name)));
        for (const std::string& name : names) {
            const auto found = by_name_.find({thing.kind, name});
            if (found == by_name_.end()) continue;
            for (const std::size_t each : found->second) {
                if (met_[each]) continue;
                taken_.insert(&thing);
                return each;
            }
        }
        return none;
    }

    [[nodiscard]] plan::Space space_of(const std::string& level) const {
        const plan::LevelId id = changes_.level(level);
        return id ? plan_.levels[id].space : plan::Space{};
    }
    void say_changed(const SceneThing& thing, const std::string& how) {
        imported_.changed.push_back(fmt::format("{}: {}: {}", plan::place_text(plan_, thing.place),
                                                thing_text(thing), how));
    }
    void say_note(const SceneThing& thing, const std::string& why) {
        imported_.notes.push_back(fmt::format(
            "{}: note: {}: {}", plan::place_text(plan_, thing.place), thing_text(thing), why));
    }
    void refuse(const SceneThing& thing, const std::string& why) {
        imported_.errors.push_back(fmt::format("{}: {}", thing_text(thing), why));
    }
    /// Where a thing of a kind stands, or will.
    Path section(const std::string& level, std::string_view kind) {
        return (level.empty() ? Path{} : changes_.path_of_level(level, {})) / kind;
    }

    // --- what the plan has -------------------------------------------------------

    void update(const SceneThing& thing, const SceneThing& known) {
        const std::size_t before = imported_.changed.size() + imported_.notes.size();
        const std::string plain(plan::plain_name(known.name));
        switch (known.kind) {
        case SceneKind::area: update_boxes(thing, known, "area"); break;
        case SceneKind::seen_from: update_boxes(thing, known, "seen-from"); break;
        case SceneKind::trigger:
            update_shape(thing, known, section(known.level, "triggers") / plain);
            break;
        case SceneKind::waypoint: update_waypoint(thing, known, plain); break;
        case SceneKind::gate: break; // it has no shape of its own
        case SceneKind::path: update_path(thing, known); break;
        }
        if (imported_.changed.size() + imported_.notes.size() == before) ++imported_.same;
    }

    /// Only what differs is set.
    void set_box(const Path& path, const plan::Space& space, const plan::Box& known,
                 const plan::Box& wanted) {
        const plan::Box before = seen(space, known);
        const plan::Box after = turned_like(seen(space, wanted), before.turn);
        if (!same_point(before.min, after.min)) changes_.set(path / "min", point_text(after.min));
        if (!same_point(before.max, after.max)) changes_.set(path / "max", point_text(after.max));
        if (!same_turn(before, after)) changes_.set(path / "turn", degrees_text(after.turn));
    }
    /// To what can be seen at the box's corners.
    static bool same_turn(const plan::Box& before, const plan::Box& after) {
        plan::Box turned = after;
        turned.turn = before.turn;
        return same_box(turned, after);
    }

    void update_boxes(const SceneThing& thing, const SceneThing& known, const char* key) {
        std::vector<bool> used(known.boxes.size(), false);
        std::vector<plan::Box> others;
        for (const plan::Box& box : thing.boxes) {
            std::size_t same = 0;
            while (same < used.size() && (used[same] || !same_box(known.boxes[same], box))) ++same;
            if (same < used.size()) {
                used[same] = true;
            } else {
                others.push_back(box);
            }
        }
        const Path path = changes_.path_of_level(known.name, {}) / key;
        const bool alone = changes_.at(path).is_mapping();
        const plan::Space space = space_of(known.name);
        std::size_t next = 0;
        for (const plan::Box& box : others) {
            while (next < used.size() && used[next]) ++next;
            if (next < used.size()) {
                used[next] = true;
                set_box(alone ? path : path / std::to_string(next), space, known.boxes[next], box);
                say_changed(
                    known, difference(known.boxes[next], turned_like(box, known.boxes[next].turn)));
            } else if (alone) {
                const plan::Box first = seen(space, known.boxes.front());
                changes_.set(path,
                             source::flow_list({box_text(first), box_text(seen(space, box))}));
                say_changed(known, "another box");
                return;
            } else {
                changes_.append(path, box_text(seen(space, box)));
                say_changed(known, "another box");
            }
        }
        const auto left = std::count(used.begin(), used.end(), false);
        if (left > 0)
            say_note(known, fmt::format("the plan has {} more of its boxes, and keeps {}", left,
                                        left == 1 ? "it" : "them"));
    }
    static plan::Box seen(const plan::Space& space, const plan::Box& box) {
        return std::get<plan::Box>(geometry::seen_from(space, box));
    }

    void update_shape(const SceneThing& thing, const SceneThing& known, const Path& path) {
        if (same_shape(thing.shape, known.shape)) return;
        if (thing.shape.index() != known.shape.index())
            return say_note(known, "it has a shape of another kind there: change it by hand");
        const plan::Space space = space_of(known.level);
        if (const auto* box = std::get_if<plan::Box>(&thing.shape)) {
            const auto& before = std::get<plan::Box>(known.shape);
            set_box(path / "box", space, before, *box);
            return say_changed(known, difference(before, turned_like(*box, before.turn)));
        }
        if (const auto* sphere = std::get_if<plan::Sphere>(&thing.shape)) {
            const auto& before = std::get<plan::Sphere>(known.shape);
            if (!same_point(before.at, sphere->at))
                changes_.set(path / "sphere" / "at",
                             point_text(geometry::seen_from(space, sphere->at)));
            if (metres_text(before.radius) != metres_text(sphere->radius))
                changes_.set(path / "sphere" / "radius", metres_text(sphere->radius));
            return say_changed(known, fmt::format("moved by {:.2f} m, radius {} m",
                                                  distance(before.at, sphere->at),
                                                  metres_text(sphere->radius)));
        }
        const auto& before = std::get<plan::Beyond>(known.shape);
        const auto& beyond = std::get<plan::Beyond>(thing.shape);
        if (beyond.axis != before.axis || beyond.over != before.over)
            return say_note(known, "it lies along another axis there: change it by hand");
        const auto there = std::get<plan::Beyond>(geometry::seen_from(space, thing.shape));
        changes_.set(path / "beyond" / (there.over ? "over" : "under"), metres_text(there.limit));
        say_changed(known, fmt::format("now {} {} m", beyond.over ? "over" : "under",
                                       metres_text(beyond.limit)));
    }

    void update_waypoint(const SceneThing& thing, const SceneThing& known,
                         const std::string& plain) {
        if (same_point(thing.at, known.at)) return;
        Path path = section(known.level, "waypoints") / plain;
        if (changes_.at(path).is_mapping()) path = path / "at";
        changes_.set(path, point_text(geometry::seen_from(space_of(known.level), thing.at)));
        say_changed(known, fmt::format("moved by {:.2f} m", distance(thing.at, known.at)));
    }

    [[nodiscard]] std::string corners_text(const std::string& level,
                                           const std::vector<Vec3>& via) const {
        std::vector<std::string> corners;
        for (const Vec3& corner : via)
            corners.push_back(point_text(geometry::seen_from(space_of(level), corner)));
        return source::flow_list(corners);
    }
    void update_path(const SceneThing& thing, const SceneThing& known) {
        const auto& before = known.line.via;
        const auto& after = thing.line.via;
        if (std::equal(before.begin(), before.end(), after.begin(), after.end(), same_point))
            return;
        const auto& alike = by_name_.at({SceneKind::path, known.name});
        const auto number =
            std::find_if(alike.begin(), alike.end(),
                         [&](std::size_t each) { return &existing_[each] == &known; }) -
            alike.begin();
        const auto element = edit::path_element(
            plan_, changes_.files(), paths_.at(known.name)[static_cast<std::size_t>(number)]);
        const bool listed = element && element->value.is_sequence();
        if (!element || (listed && element->value.elements().size() > 2))
            return say_note(known, "it is written with others: change its corners by hand");
        const Path path = section(known.level, "paths") / std::to_string(element->number);
        if (listed) {
            const auto ends = element->value.elements();
            changes_.set(path, FlowMap()
                                   .add("from", std::string(ends[0].text()))
                                   .add("to", std::string(ends[1].text()))
                                   .add("via", corners_text(known.level, after))
                                   .text());
        } else {
            changes_.set(path / "via", corners_text(known.level, after));
        }
        say_changed(known,
                    fmt::format("now {} corner{}", after.size(), after.size() == 1 ? "" : "s"));
    }

    // --- what is new -------------------------------------------------------------

    void say_new(const SceneThing& thing) {
        imported_.added.push_back({std::string(name_of(thing.kind)), thing.name});
    }

    /// Whether a level can be written to, if it is new as well.
    bool can_stand_in(const SceneThing& thing, const std::string& level) {
        if (level.empty()) return true;
        if (const auto objection = changes_.objection_to_level(level)) {
            refuse(thing, *objection);
            return false;
        }
        const plan::LevelId id = changes_.level(level);
        if (id && plan_.levels[id].grid) {
            imported_.notes.push_back(
                fmt::format("note: {}: {} is a cell, which is written nowhere "
                            "by itself: left out",
                            thing_text(thing), level));
            return false;
        }
        return true;
    }
    [[nodiscard]] std::vector<std::string_view> names_of(SceneKind kind) const {
        std::vector<std::string_view> names;
        for (const SceneThing& each : existing_) {
            if (each.kind == kind) names.push_back(each.name);
        }
        return names;
    }

    void add(const SceneThing& thing) {
        switch (thing.kind) {
        case SceneKind::area: add_boxes(thing, "area"); break;
        case SceneKind::seen_from: add_boxes(thing, "seen-from"); break;
        case SceneKind::path: add_path(thing); break;
        default: add_named(thing);
        }
    }

    void add_boxes(const SceneThing& thing, const char* key) {
        if (!can_stand_in(thing, thing.level) || !can_stand_in(thing, thing.name)) return;
        const bool is_new = !changes_.knows_level(thing.name);
        const Path path = changes_.path_of_level(thing.name, thing.level);
        std::vector<std::string> boxes;
        for (const plan::Box& box : thing.boxes)
            boxes.push_back(box_text(seen(space_of(thing.name), box)));
        if (is_new && thing.level.empty()) set_world(path, thing.world);
        changes_.set(path / key, source::flow_list(boxes));
        say_new(thing);
    }
    void set_world(const Path& path, const std::string& world) {
        if (!world.empty() && world != "main")
            changes_.set(path / "world", source::scalar_yaml(world));
    }

    /// Waypoints, triggers and gates, by name inside their level or outside of levels.
    void add_named(const SceneThing& thing) {
        std::string level = thing.level;
        const std::size_t dot = thing.name.rfind('.');
        if (level.empty() && dot != std::string::npos) level = thing.name.substr(0, dot);
        const std::string plain(plan::plain_name(thing.name));
        const std::string full = level.empty() ? plain : level + "." + plain;
        const std::string_view kind = name_of(thing.kind);
        std::vector<std::string_view> known = names_of(thing.kind);
        for (std::string_view& each : known) {
            const bool beside = level.empty() ? each.find('.') == std::string_view::npos
                                              : each.starts_with(level + ".");
            each = beside ? plan::plain_name(each) : std::string_view();
        }
        if (const auto objection = PlanChanges::objection_to(plain, kind, known))
            return refuse(thing, *objection);
        if (!can_stand_in(thing, level)) return;
        for (const auto* mentioned : {&thing.in, &thing.needs}) {
            for (const std::string& each : *mentioned) {
                if (!can_be_named(thing, each)) return;
            }
        }
        const plan::Space space = space_of(level);
        std::string value;
        switch (thing.kind) {
        case SceneKind::waypoint: {
            const std::string at = point_text(geometry::seen_from(space, thing.at));
            const bool elsewhere = level.empty() && !thing.world.empty() && thing.world != "main";
            value =
                elsewhere
                    ? FlowMap().add("at", at).add("world", source::scalar_yaml(thing.world)).text()
                    : at;
            break;
        }
        case SceneKind::gate:
            if (thing.needs.empty())
                return refuse(thing, "a new gate has to say which levels it `needs`");
            value = FlowMap().add("needs", source::flow_list(thing.needs)).text();
            break;
        default: value = trigger_text(thing, level, space);
        }
        changes_.set(section(level, std::string(kind) + "s") / plain, value);
        if (thing.kind == SceneKind::waypoint) new_waypoints_.insert(full);
        say_new(thing);
    }
    /// A level, new or not, or a group of the plan.
    bool can_be_named(const SceneThing& thing, const std::string& name) {
        const bool group = std::any_of(plan_.groups.begin(), plan_.groups.end(),
                                       [&](const plan::Group& each) { return each.name == name; });
        if (group || changes_.knows_level(name)) return true;
        if (const auto objection = changes_.objection_to_level(name)) {
            refuse(thing, *objection);
            return false;
        }
        changes_.set(changes_.path_of_level(name, {}), "{}");
        return true;
    }
    static std::string trigger_text(const SceneThing& thing, const std::string& level,
                                    const plan::Space& space) {
        FlowMap map;
        if (level.empty() && !thing.in.empty())
            map.add("in", thing.in.size() == 1 ? thing.in.front() : source::flow_list(thing.in));
        const plan::Shape shape = geometry::seen_from(space, thing.shape);
        if (const auto* box = std::get_if<plan::Box>(&shape)) {
            map.add("box", box_text(*box));
        } else if (const auto* sphere = std::get_if<plan::Sphere>(&shape)) {
            map.add("sphere", FlowMap()
                                  .add("at", point_text(sphere->at))
                                  .add("radius", metres_text(sphere->radius))
                                  .text());
        } else if (const auto* beyond = std::get_if<plan::Beyond>(&shape)) {
            map.add("beyond", FlowMap()
                                  .add("axis", std::string(1, "xyz"[beyond->axis]))
                                  .add(beyond->over ? "over" : "under", metres_text(beyond->limit))
                                  .text());
        }
        map.add("steps", "[]");
        return map.text();
    }

    void add_path(const SceneThing& thing) {
        if (!can_stand_in(thing, thing.level)) return;
        for (const std::string* end : {&thing.line.from, &thing.line.to}) {
            const bool there = by_name_.contains({SceneKind::waypoint, *end}) ||
                               new_waypoints_.contains(*end) || is_cells(*end);
            if (!there)
                return refuse(thing,
                              fmt::format("neither plan nor file has a waypoint \"{}\"", *end));
        }
        FlowMap map;
        map.add("from", thing.line.from).add("to", thing.line.to);
        if (!thing.line.via.empty()) map.add("via", corners_text(thing.level, thing.line.via));
        if (!thing.line.gate.empty()) map.add("gate", thing.line.gate);
        if (thing.line.one_way) map.add("one-way", "true");
        if (thing.line.speed) map.add("speed", source::exact_number(*thing.line.speed));
        const Path path = section(thing.level, "paths");
        changes_.append(path, map.text());
        say_new(thing);
    }
    /// The middle of a cell, which stands in no file.
    [[nodiscard]] bool is_cells(const std::string& waypoint) const {
        return std::any_of(plan_.waypoints.begin(), plan_.waypoints.end(),
                           [&](const plan::Waypoint& each) { return each.name == waypoint; });
    }

    const plan::Plan& plan_;
    PlanChanges changes_;
    std::vector<SceneThing> existing_;
    std::map<std::pair<SceneKind, std::string>, std::vector<std::size_t>> by_name_;
    std::map<std::string, std::vector<plan::PathId>> paths_; ///< by their ends
    std::vector<bool> met_;
    std::set<const SceneThing*> taken_; ///< those that the plan has
    std::set<std::string> new_waypoints_;
    Imported imported_;
};

} // namespace

Imported import_scene(source::Disk& disk, const plan::Plan& plan, const std::string& path,
                      const std::vector<SceneThing>& things) {
    return SceneImporter(disk, plan, path).all(things);
}

} // namespace hestrel::exchange
