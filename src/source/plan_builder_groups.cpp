// Groups of levels, variants of a place, and levels wherever several may be listed.

#include "plan/lists.hpp"
#include "source/plan_builder.hpp"

#include <algorithm>

namespace hestrel::source {

using plan::LevelId;

void PlanBuilder::read_group(const Value& value, plan::GroupId id) {
    plan::Group& group = plan_.groups[id];
    if (const auto level = levels_.look_up(group.name)) {
        reading_.error("defined-twice", group.place,
                       fmt::format("\"{}\" is the name of a level, defined at {}", group.name,
                                   reading_.text_of(level.place)));
    }
    Value levels = value;
    if (value.is_mapping()) {
        const Fields fields = reading_.fields(value, keys::group);
        allow(fields, ThingKind::group, id.value);
        reading_.flag(fields["one-of"], group.one_of);
        levels = fields["levels"];
        if (!levels) return;
    }
    for (const Value& each : reading_.list(levels, "a list of levels")) {
        if (each.is_scalar() && groups_.find(each.text())) {
            reading_.wrong_value(
                each, fmt::format("{} is a group, and groups hold no groups", each.description()));
            continue;
        }
        const LevelId level = reading_.reference(each, levels_);
        if (!level) continue;
        if (plan::contains(group.levels, level)) {
            reading_.error("defined-twice", each.place(),
                           fmt::format("{} stands here twice", each.description()));
            continue;
        }
        group.levels.push_back(level);
    }
    if (group.levels.empty() && levels.is_sequence() && levels.elements().empty())
        reading_.wrong_value(levels, "a group needs levels");
    if (group.one_of) read_variants(levels, id);
    std::sort(group.levels.begin(), group.levels.end());
}

/// A level is a variant of one place only, and of no other that it is inside of.
void PlanBuilder::read_variants(const Value& written, plan::GroupId id) {
    const plan::Group& group = plan_.groups[id];
    for (const LevelId level : group.levels) {
        plan::GroupId& variants = plan_.levels[level].variants;
        if (variants) {
            reading_.wrong_value(written, fmt::format("{} is one of {} already, a place of its own",
                                                      plan_.levels[level].name,
                                                      plan_.groups[variants].name));
        }
        variants = id;
        for (LevelId around = plan_.levels[level].parent; around;
             around = plan_.levels[around].parent) {
            if (!plan::contains(group.levels, around)) continue;
            reading_.wrong_value(
                written, fmt::format("{} is inside {}: one can't be there instead of the other",
                                     plan_.levels[level].name, plan_.levels[around].name));
        }
    }
}

/// At most one variant of a place is there without being asked for by name.
void PlanBuilder::check_variants() {
    for (const plan::Group& group : plan_.groups) {
        if (!group.one_of) continue;
        std::vector<std::string> by_itself;
        for (const LevelId id : group.levels) {
            const plan::Level& level = plan_.levels[id];
            if (level.persist || level.with_parent) by_itself.push_back(level.name);
        }
        if (by_itself.size() < 2) continue;
        reading_.error("wrong-value", group.place,
                       fmt::format("of {} one is there at a time, and {} and {} both come by "
                                   "themselves (with-parent, or persist)",
                                   group.name, by_itself[0], by_itself[1]));
    }
}

void PlanBuilder::read_level_or_group(const Value& value, OneOf one_of, Levels& into) {
    const plan::GroupId id = value.is_scalar() ? groups_.find(value.text()) : plan::GroupId{};
    if (!id) {
        if (const LevelId level = reading_.reference(value, levels_)) into.levels.push_back(level);
        return;
    }
    reading_.reference(value, groups_);
    plan::Group& group = plan_.groups[id];
    group.listed = true;
    if (!group.one_of || one_of == OneOf::all) {
        into.levels.insert(into.levels.end(), group.levels.begin(), group.levels.end());
    } else if (one_of == OneOf::any) {
        into.any_of.push_back(id);
    } else {
        reading_.wrong_value(
            value, fmt::format("{} are variants of one place, of which one is there: name the one "
                               "that is meant",
                               value.description()));
    }
}

PlanBuilder::Levels PlanBuilder::read_levels(const Value& value, OneOf one_of) {
    Levels levels;
    if (!value) return levels;
    if (value.is_scalar() && !value.is_null()) {
        read_level_or_group(value, one_of, levels);
        return levels;
    }
    for (const Value& each : reading_.list(value, "a list of levels"))
        read_level_or_group(each, one_of, levels);
    return levels;
}

} // namespace hestrel::source
