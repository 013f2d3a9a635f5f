#include "tables/plan_tables.hpp"

#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "source/quantities.hpp"
#include "tables/table.hpp"
#include "walk/casts.hpp"

#include <algorithm>

namespace hestrel::tables {

using plan::Level;
using plan::LevelId;
using plan::Trigger;

namespace {

Columns<Level> level_columns(const plan::Plan& plan) {
    Columns<Level> columns{
        {"level", [](const Level& level) { return level.name; }},
        {"parent",
         [&](const Level& level) {
             return level.parent ? plan.levels[level.parent].name : std::string();
         }},
        {"title", [](const Level& level) { return level.title; }},
        {"owner", [](const Level& level) { return level.owner; }},
        {"purpose", [&](const Level& level) {
             return level.purpose ? plan.purposes[level.purpose].name : std::string();
         }}};
    for (const plan::PoolId pool : plan.pools.ids()) {
        columns.push_back({plan.pools[pool], [pool](const Level& level) {
                               for (const auto& [of, size] : level.content.figures.memory) {
                                   if (of == pool) return source::exact_mebibytes(size);
                               }
                               return std::string();
                           }});
    }
    columns.push_back({"packed", [](const Level& level) {
                           const auto& packed = level.content.figures.packed;
                           return packed ? source::exact_mebibytes(*packed) : std::string();
                       }});
    columns.push_back(
        {"objects", [](const Level& level) { return Cell(level.content.figures.objects); }});
    return columns;
}

/// A side of the smallest box around a trigger's shape; nothing of what has no bounds.
template <plan::Vec3 plan::Box::*side>
Cell side_of(const Trigger& trigger, std::size_t axis) {
    constexpr int to_the_millimetre = 3;
    if (const auto* box = std::get_if<plan::Box>(&trigger.shape))
        return Cell::number((box->*side).at(axis), to_the_millimetre);
    if (const auto* sphere = std::get_if<plan::Sphere>(&trigger.shape)) {
        const double radius = side == &plan::Box::min ? -sphere->radius : sphere->radius;
        return Cell::number(sphere->at.at(axis) + radius, to_the_millimetre);
    }
    return {};
}

std::string_view shape_word(const plan::Shape& shape) {
    constexpr std::array<std::string_view, 4> words{"", "box", "sphere", "beyond"};
    return words.at(shape.index());
}

/// The levels that some kinds of step of a list, and of its branches, name; each once.
template <class... Steps>
std::vector<std::string> levels_in(const plan::Plan& plan, plan::ListId list) {
    std::vector<LevelId> levels;
    if (!list) return {};
    plan::any_step_of(plan, list, [&](const plan::Step& step) {
        const auto add = [&]<class What>(const What* what) {
            if (what == nullptr) return;
            if constexpr (requires { what->levels; }) plan::append_new(levels, what->levels);
            if constexpr (requires { what->to; }) {
                if (what->to) plan::append_new(levels, what->to);
                plan::append_new(levels, what->with);
            }
        };
        (add(std::get_if<Steps>(&step.what)), ...);
        return false; // all of them
    });
    return plan::names_in(plan.levels, levels);
}

Columns<Trigger> trigger_columns(const plan::Plan& plan) {
    Columns<Trigger> columns{
        {"trigger", [](const Trigger& trigger) { return trigger.name; }},
        {"in", [&](const Trigger& trigger) { return plan::names_in(plan.levels, trigger.in); }},
        {"world",
         [&](const Trigger& trigger) {
             return trigger.world ? plan.worlds[trigger.world] : std::string();
         }},
        {"fires", [](const Trigger& trigger) { return plan::name_of(trigger.fires); }},
        {"for",
         [&](const Trigger& trigger) {
             std::vector<std::string> tags;
             for (const plan::WordId tag : trigger.tags) tags.push_back(plan.words[tag]);
             return tags;
         }},
        {"when",
         [&](const Trigger& trigger) {
             return trigger.when ? plan.conditions[trigger.when].text : std::string();
         }},
        {"once", [](const Trigger& trigger) { return trigger.once; }},
        {"rearm_s", [](const Trigger& trigger) { return trigger.rearm; }},
        {"shape", [](const Trigger& trigger) { return shape_word(trigger.shape); }}};
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const std::string name(1, "xyz"[axis]);
        columns.push_back({"min_" + name + "_m", [axis](const Trigger& trigger) {
                               return side_of<&plan::Box::min>(trigger, axis);
                           }});
        columns.push_back({"max_" + name + "_m", [axis](const Trigger& trigger) {
                               return side_of<&plan::Box::max>(trigger, axis);
                           }});
    }
    columns.push_back({"turn", [](const Trigger& trigger) {
                           const auto* box = std::get_if<plan::Box>(&trigger.shape);
                           return box == nullptr ? Cell() : Cell::number(box->turn, 3);
                       }});
    columns.push_back({"brings", [&](const Trigger& trigger) {
                           return levels_in<plan::LoadStep, plan::ShowStep, plan::SwitchStep>(
                               plan, trigger.steps);
                       }});
    columns.push_back({"lets_go", [&](const Trigger& trigger) {
                           return levels_in<plan::HideStep, plan::UnloadStep>(plan, trigger.steps);
                       }});
    return columns;
}

} // namespace

std::string levels_csv(const plan::Plan& plan) {
    std::vector<Level> levels;
    std::copy_if(plan.levels.begin(), plan.levels.end(), std::back_inserter(levels),
                 [](const Level& level) { return !level.grid; });
    return csv_of(level_columns(plan), levels);
}

std::string triggers_csv(const plan::Plan& plan) {
    return csv_of(trigger_columns(plan), plan.triggers);
}

std::vector<LevelWayRow> level_way_rows(const plan::Plan& plan,
                                        std::span<const walk::Record> records) {
    const walk::LeastSlacks slacks = walk::least_slacks(plan, records);
    std::vector<LevelWayRow> rows;
    for (const study::LevelWay& way : study::level_ways(plan)) {
        const auto least = slacks.find({way.list, way.to});
        rows.push_back({way, least == slacks.end() ? std::nullopt : std::optional(least->second)});
    }
    return rows;
}

std::string level_ways_csv(const plan::Plan& plan, std::span<const walk::Record> records) {
    const auto name = [&](LevelId level) {
        return level ? plan.levels[level].name : std::string();
    };
    const Columns<LevelWayRow> columns{
        {"from", [&](const LevelWayRow& row) { return name(row.way.from); }},
        {"to", [&](const LevelWayRow& row) { return name(row.way.to); }},
        {"list", [&](const LevelWayRow& row) { return plan::list_name(plan, row.way.list); }},
        {"switches", [](const LevelWayRow& row) { return row.way.switches; }},
        {"least_slack_s",
         [](const LevelWayRow& row) { return row.least ? Cell(row.least->slack) : Cell(); }},
        {"route",
         [&](const LevelWayRow& row) {
             return row.least ? plan.routes[records[row.least->record].route].name : std::string();
         }},
        {"device", [&](const LevelWayRow& row) {
             return row.least ? walk::device_text(plan, records[row.least->record]) : std::string();
         }}};
    return csv_of(columns, level_way_rows(plan, records));
}

} // namespace hestrel::tables
