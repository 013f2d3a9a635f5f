// Devices, kits and levels.

#include "geometry/space.hpp"
#include "plan/names.hpp"
#include "source/circles.hpp"
#include "source/plan_builder.hpp"

#include <algorithm>
#include <cmath>

namespace hestrel::source {

using plan::LevelId;

namespace {

constexpr std::uint32_t most_parallel = 1024;
constexpr double least_fps = 0.001;
constexpr double most_fps = 1000;
constexpr double least_maker_speed = 0.001;
constexpr double most_maker_speed = 1000;

} // namespace

void PlanBuilder::read_device(const Value& value, plan::DeviceId id) {
    plan::Device& device = plan_.devices[id];
    const Fields fields = reading_.fields(value, keys::device);
    allow(fields, ThingKind::device, id.value);
    const Fields memory = reading_.fields(fields["memory"], keys::device_memory);
    reading_.quantity(memory["total"], &parse_memory, "memory in MiB", device.memory.total);
    reading_.quantity(memory["base"], &parse_memory, "memory in MiB", device.memory.base);
    device.memory.pools = by_pool(memory["pools"], &parse_memory);

    const Fields read = reading_.fields(fields["read"], keys::read);
    reading_.quantity(read["rate"], &parse_data_rate, "a data rate in MiB/s", device.read.rate);
    reading_.time(read["latency"], device.read.latency);
    reading_.count(read["parallel"], most_parallel, device.read.parallel);

    if (fields.has("unpack")) {
        const Fields unpack = reading_.fields(fields["unpack"], keys::unpack);
        device.unpack.emplace();
        reading_.quantity(unpack["rate"], &parse_data_rate, "a data rate in MiB/s",
                          device.unpack->rate);
        reading_.count(unpack["workers"], most_parallel, device.unpack->workers);
    }
    if (fields.has("makers")) read_makers(fields["makers"], device.makers);
    read_frame(fields["frame"], device.frame);
    const Fields attach = reading_.fields(fields["attach"], keys::attach);
    reading_.time(attach["fixed"], device.attach.fixed);
    reading_.quantity(attach["per-object"], &parse_time_per_object, "a time",
                      device.attach.per_object);
    const Fields release = reading_.fields(fields["release"], keys::release);
    reading_.time(release["sweep"], device.release.sweep);
    reading_.quantity(release["per-object"], &parse_time_per_object, "a time",
                      device.release.per_object);
    if (fields.has("download")) {
        const Fields download = reading_.fields(fields["download"], keys::download);
        device.download.emplace();
        reading_.quantity(download["rate"], &parse_data_rate, "a data rate in MiB/s",
                          *device.download);
    }
    read_spread(fields["spread"], device.spread);
}

void PlanBuilder::read_makers(const Value& value, plan::Makers& makers) {
    const Fields fields = reading_.fields(value, keys::makers);
    reading_.count(fields["workers"], most_parallel, makers.workers);
    double speed = 1;
    reading_.number(fields["speed"], speed);
    if (speed < least_maker_speed || speed > most_maker_speed) {
        reading_.wrong_value(fields["speed"],
                             fmt::format("{} must be from {} to {}", fields["speed"].description(),
                                         least_maker_speed, most_maker_speed));
        speed = 1;
    }
    makers.speed = {std::llround(speed * 1e6)};
}

void PlanBuilder::read_frame(const Value& value, plan::FrameTime& frame) {
    const Fields fields = reading_.fields(value, keys::frame);
    double fps = 1;
    reading_.number(fields["fps"], fps);
    if (fps < least_fps || fps > most_fps) {
        reading_.wrong_value(fields["fps"], fmt::format("{} must be above 0 and at most {}",
                                                        fields["fps"].description(), most_fps));
        fps = 1;
    }
    constexpr double noise = 1e-6;
    frame.period = {static_cast<std::int64_t>(std::ceil(1e6 / fps - noise))};
    reading_.time(fields["base"], frame.base);
    if (frame.base > frame.period) {
        reading_.wrong_value(fields["base"],
                             fmt::format("base {} exceeds the frame's period of {} ms",
                                         fields["base"].description(),
                                         static_cast<double>(frame.period.count) / 1000));
    }
    const auto most_attach = [&](std::string_view key, std::optional<plan::Micros>& into) {
        if (!fields.has(key)) return;
        plan::Micros time{1};
        reading_.time(fields[key], time);
        if (time.count == 0)
            reading_.wrong_value(fields[key], fmt::format("{} of 0 never attaches anything", key));
        else
            into = time;
    };
    most_attach("attach", frame.attach);
    frame.veiled_attach = frame.attach;
    most_attach("veiled-attach", frame.veiled_attach);
}

void PlanBuilder::read_spread(const Value& value, plan::Spread& spread) {
    const Fields fields = reading_.fields(value, keys::spread);
    reading_.quantity(fields["read"], &parse_share, "a share", spread.read);
    reading_.quantity(fields["latency"], &parse_share, "a share", spread.latency);
    reading_.quantity(fields["unpack"], &parse_share, "a share", spread.unpack);
    reading_.quantity(fields["speed"], &parse_share, "a share", spread.speed);
}

// --- content -----------------------------------------------------------------

plan::Figures PlanBuilder::read_figures(const Fields& fields, ContentOf of) {
    plan::Figures figures;
    figures.memory = by_pool(fields["memory"], &parse_memory_range);
    plan::SizeRange packed;
    if (reading_.quantity(fields["packed"], &parse_memory_range,
                          "memory in MiB, or a range low..high", packed))
        figures.packed = packed;
    if (fields.has("objects")) {
        std::int64_t objects = 0;
        reading_.count(fields["objects"], 0, most_objects, objects);
        figures.objects = objects;
    }
    plan::TimeRange make;
    if (reading_.quantity(fields["make"], &parse_time_range, "a time in s, or a range low..high",
                          make))
        figures.make = make;
    if (of == ContentOf::level && fields.has("frame-cost"))
        reading_.time(fields["frame-cost"], figures.frame_cost.emplace());
    return figures;
}

plan::Content PlanBuilder::read_content(const Fields& fields, ContentOf of) {
    const ObjectKeys& on_device = of == ContentOf::level ? keys::level_figures : keys::figures;
    plan::Content content;
    content.figures = read_figures(fields, of);
    reading_.named(fields["on"], "devices",
                   [&](std::string_view name, plan::Place place, const Value& body) {
                       const plan::DeviceId device = reading_.lookup(name, {place, name}, devices_);
                       plan::Figures figures = read_figures(reading_.fields(body, on_device), of);
                       if (device) content.on.emplace_back(device, std::move(figures));
                   });
    return content;
}

void PlanBuilder::read_kit(const Value& value, plan::KitId id) {
    plan::Kit& kit = plan_.kits[id];
    const Fields fields = reading_.fields(value.is_null() ? Value{} : value, keys::kit);
    allow(fields, ThingKind::kit, id.value);
    kit.content = read_content(fields, ContentOf::kit);
    kit.needs = reading_.references(fields["needs"], kits_);
}

/// Kits that need each other in a circle: one finding per circle, and the need that closes it is
/// dropped.
void PlanBuilder::check_kit_cycles() {
    std::vector<std::pair<plan::KitId, std::size_t>> closing; // and which need of the kit does
    for_circles<plan::KitId>(
        plan_.kits.size(),
        [&](plan::KitId kit, std::size_t n) {
            const auto& needs = plan_.kits[kit].needs;
            return n < needs.size() ? needs[n] : plan::KitId{};
        },
        [&](std::span<const plan::KitId> circle, std::size_t by) {
            std::vector<plan::KitId> way(circle.begin(), circle.end());
            way.push_back(circle.front());
            reading_.error("cycle", plan_.kits[circle.back()].place,
                           fmt::format("kits need each other in a circle: {}",
                                       plan::joined(plan::names_in(plan_.kits, way), " → ")));
            closing.emplace_back(circle.back(), by);
        });
    for (auto each = closing.rbegin(); each != closing.rend(); ++each) {
        auto& needs = plan_.kits[each->first].needs;
        needs.erase(needs.begin() + static_cast<std::ptrdiff_t>(each->second));
    }
}

void PlanBuilder::read_entries(const Value& value, plan::Level& level) {
    Names<plan::WaypointId> entries("entry", level.name);
    reading_.named(value, "entries",
                   [&](std::string_view name, plan::Place place, const Value& at) {
                       const plan::WaypointId waypoint = reading_.reference(at, waypoints_);
                       reading_.define(entries, name, waypoint, place);
                       if (!waypoint) return;
                       plan::Entry entry;
                       entry.name = name;
                       entry.place = place;
                       entry.word = word(name, place);
                       entry.waypoint = waypoint;
                       level.entries.push_back(std::move(entry));
                   });
}

void PlanBuilder::read_space(const Fields& fields, LevelId id) {
    plan::Level& level = plan_.levels[id];
    if (level.parent) {
        level.world = plan_.levels[level.parent].world;
        level.space = plan_.levels[level.parent].space;
        if (fields.has("world"))
            reading_.wrong_value(fields["world"], "a sublevel is in its parent's world");
    } else if (fields["world"].text() == "own") {
        level.world = world_called(reading_.keep(level.name), fields["world"].place());
    } else {
        level.world = world(fields["world"]);
    }
    plan::Space own;
    reading_.point(fields["origin"], own.origin);
    read_turn(fields["turn"], own.turn);
    if (own != plan::Space{}) level.space = geometry::within(level.space, own);
}

void PlanBuilder::read_level(const Fields& fields, LevelId id) {
    plan::Level& level = plan_.levels[id];
    allow(fields, ThingKind::level, id.value);
    reading_.text(fields["title"], level.title);
    reading_.text(fields["owner"], level.owner);
    level.content = read_content(fields, ContentOf::level);
    level.kits = reading_.references(fields["kits"], kits_);
    level.provides = words(fields["provides"], "provides");
    if (fields.has("purpose")) level.purpose = reading_.reference(fields["purpose"], purposes_);
    reading_.flag(fields["persist"], level.persist);
    reading_.flag(fields["with-parent"], level.with_parent);
    if (fields.has("with-parent") && !level.parent) {
        level.with_parent = false;
        reading_.wrong_value(fields["with-parent"],
                             "with-parent is for sublevels, and this has no parent");
    }
    level.area = read_boxes(fields["area"]);
    level.seen_from = read_boxes(fields["seen-from"]);
    if (fields.has("near")) read_near(fields["near"], level);
    const auto list = [&](std::string_view key, plan::OwnerKind owner) {
        return fields.has(key) ? read_steps(fields[key], {owner, id.value, id, {}, 0, {}})
                               : plan::ListId{};
    };
    const plan::ListId arrive = list("arrive", plan::OwnerKind::arrive);
    const plan::ListId leave = list("leave", plan::OwnerKind::leave);
    plan_.levels[id].arrive = arrive;
    plan_.levels[id].leave = leave;
}

void PlanBuilder::read_near(const Value& value, plan::Level& level) {
    const Fields fields = reading_.fields(value, keys::near);
    plan::Near near;
    reading_.quantity(fields["load"], &parse_length, "a distance in m", near.load);
    reading_.quantity(fields["unload"], &parse_length, "a distance in m", near.unload);
    if (fields.has("unload") && near.unload < near.load) {
        reading_.wrong_value(
            fields["unload"],
            fmt::format("unload {} is nearer than load {}; it would load and unload at once",
                        near.unload, near.load));
    }
    near.when = condition(fields["when"]);
    if (level.area.empty())
        reading_.wrong_value(value, fmt::format("{} has no area to come near to", level.name));
    level.near = near;
}

std::vector<plan::Box> PlanBuilder::read_boxes(const Value& value) {
    std::vector<plan::Box> boxes;
    if (!value) return boxes;
    if (value.is_mapping()) return {read_box(value)};
    for (const Value& each : reading_.list(value, "a box or a list of boxes"))
        boxes.push_back(read_box(each));
    return boxes;
}

} // namespace hestrel::source
