#include "edit/settings.hpp"

#include "edit/name_places.hpp"
#include "edit/shape_yaml.hpp"
#include "geometry/space.hpp"
#include "plan/names.hpp"
#include "source/quantities.hpp"
#include "source/yaml_writer.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace hestrel::edit {

using advise::Edit;
using plan::LevelId;
using plan::ListId;
using plan::Plan;
using source::FlowMap;

namespace {

using Path = std::vector<std::string>;

Path operator/(Path path, std::string_view part) {
    path.emplace_back(part);
    return path;
}

std::string time_text(plan::Micros time) {
    return source::exact_number(plan::in_seconds(time)) + " s";
}

/// Makes the settings of one piece of advice.
class Writer {
public:
    Writer(const Plan& plan, const source::PlanFiles& files) : plan_(plan), files_(files) {}

    std::optional<std::vector<source::Override>> all(const std::vector<Edit>& edits) {
        std::map<LevelId, std::vector<advise::SetFigures>> sizes;
        for (const Edit& edit : edits) {
            if (const auto* size = std::get_if<advise::SetFigures>(&edit)) {
                sizes[size->level].push_back(*size);
            } else {
                std::visit([&](const auto& each) { write(each); }, edit);
            }
        }
        for (const auto& [level, of_level] : sizes) write_figures(level, of_level);
        if (failed_) return std::nullopt;
        return std::move(made_);
    }

private:
    void add(Path path, std::string value) { made_.push_back({std::move(path), std::move(value)}); }
    /// At a path of which perhaps only a part is there: what is missing comes with the value.
    void add_nested(const Path& path, const std::string& value) {
        const std::size_t known = files_.find(path).parts;
        if (known == path.size()) return add(path, value);
        std::string nested = value;
        for (std::size_t i = path.size() - 1; i > known; --i)
            nested = FlowMap().add(path[i], nested).text();
        add({path.begin(), path.begin() + static_cast<std::ptrdiff_t>(known) + 1}, nested);
    }

    /// A single cell of a grid is written nowhere.
    [[nodiscard]] Path path_of(LevelId level) {
        if (plan_.levels[level].grid) failed_ = true;
        return edit::path_of(plan_, level);
    }
    /// Where things of a kind stand inside a level (unset: outside of levels).
    [[nodiscard]] Path section(LevelId home, std::string_view kind) {
        if (home && plan_.levels[home].grid) failed_ = true;
        return section_of(plan_, home, kind);
    }
    [[nodiscard]] Path path_of(const plan::Belonging& thing, std::string_view kind) {
        return section(thing.home, kind) / plan::plain_name(thing.name);
    }
    [[nodiscard]] plan::Space space_of(LevelId home) const {
        return home ? plan_.levels[home].space : plan::Space{};
    }
    [[nodiscard]] Path path_of(ListId list) {
        const plan::StepList& steps = plan_.lists[list];
        if (steps.parent) {
            const plan::Step& step = plan_.lists[steps.parent].steps[steps.parent_step];
            const auto* choose = std::get_if<plan::ChooseStep>(&step.what);
            if (choose == nullptr) { // one step with a `when`: it is no list as it is written
                failed_ = true;
                return {};
            }
            const auto branch =
                std::find_if(choose->branches.begin(), choose->branches.end(),
                             [&](const plan::Branch& each) { return each.steps == list; });
            return path_of(steps.parent, steps.parent_step) / "choose" / plan_.words[branch->name];
        }
        switch (steps.owner) {
        case plan::OwnerKind::trigger:
            return path_of(plan_.triggers[plan::TriggerId{steps.index}], "triggers") / "steps";
        case plan::OwnerKind::item: {
            const plan::Item& item = plan_.items[plan::ItemId{steps.index}];
            return path_of(plan_.menus[item.menu], "menus") / "items" / item.name / "steps";
        }
        case plan::OwnerKind::after:
            return path_of(plan_.menus[plan::MenuId{steps.index}], "menus") / "after" / "steps";
        case plan::OwnerKind::arrive: return path_of(LevelId{steps.index}) / "arrive";
        case plan::OwnerKind::leave: return path_of(LevelId{steps.index}) / "leave";
        }
        return {};
    }
    /// Where a step is written. What is shared with others can't be set there for one alone.
    [[nodiscard]] Path path_of(ListId list, std::size_t step) {
        const plan::StepList& steps = plan_.lists[list];
        const auto* cases = steps.parent
                                ? std::get_if<plan::CaseStep>(
                                      &plan_.lists[steps.parent].steps[steps.parent_step].what)
                                : nullptr;
        if (steps.steps[step].place.use != 0 || (cases != nullptr && cases->by)) failed_ = true;
        if (cases != nullptr) return path_of(steps.parent, steps.parent_step);
        return path_of(list) / std::to_string(steps.steps[step].written);
    }
    /// As which element the next step of a list is written.
    [[nodiscard]] Path next_of(ListId list) {
        const Path path = path_of(list);
        return path / std::to_string(files_.find(path).value.elements().size());
    }
    [[nodiscard]] std::string names_text(const std::vector<LevelId>& levels) const {
        return "[" + plan::level_names(plan_, levels) + "]";
    }

    void write(const advise::SetShape& to) {
        const plan::Trigger& trigger = plan_.triggers[to.trigger];
        const Path path = path_of(trigger, "triggers");
        const plan::Shape shape = geometry::seen_from(space_of(trigger.home), to.shape);
        if (const auto* box = std::get_if<plan::Box>(&shape)) {
            add(path / "box", box_yaml(*box));
        } else if (const auto* sphere = std::get_if<plan::Sphere>(&shape)) {
            add(path / "sphere" / "radius", source::exact_number(sphere->radius));
        } else if (const auto* beyond = std::get_if<plan::Beyond>(&shape)) {
            add(path / "beyond" / (beyond->over ? "over" : "under"),
                source::exact_number(beyond->limit));
        }
    }
    void write(const advise::SetNear& to) {
        const plan::GridId grid = plan_.levels[to.level].grid; // of which all cells are alike
        FlowMap near;
        near.add("load", source::exact_number(to.near.load))
            .add("unload", source::exact_number(to.near.unload));
        if (to.near.when)
            near.add("when", source::scalar_yaml(plan_.conditions[to.near.when].text));
        add((grid ? path_of(plan_.grids[grid].level) / "cells" / "each" : path_of(to.level)) /
                "near",
            near.text());
    }
    void write(const advise::SetVeilMin& to) {
        add({"veils", plan_.veils[to.veil].name, "min"}, time_text(to.min));
    }
    void write(const advise::SetWait& to) {
        add(path_of(to.list, to.step) / "wait", time_text(to.time));
    }
    void write(const advise::SetNames& to) {
        const auto& what = plan_.lists[to.list].steps[to.step].what;
        add(path_of(to.list, to.step) /
                (std::holds_alternative<plan::LoadStep>(what) ? "load" : "show"),
            names_text(to.levels));
    }
    void write(const advise::SetPriority& to) {
        add(path_of(to.list, to.step) / "priority", std::string(plan::priority_name(to.priority)));
    }
    void write(const advise::SetSwitchOrder& to) {
        using Target = plan::SwitchStep::Target;
        const auto& step = std::get<plan::SwitchStep>(plan_.lists[to.list].steps[to.step].what);
        const char* key = step.target == Target::named  ? "switch"
                          : step.target == Target::next ? "next"
                                                        : "back";
        add(path_of(to.list, to.step) / key / "order",
            to.order == plan::SwitchOrder::free_first ? "free-first" : "load-first");
    }
    void write(const advise::SetPersist& to) {
        add(path_of(to.level) / "persist", to.persist ? "true" : "false");
    }
    void write(const advise::SetMakers& to) {
        const Path path{"devices", plan_.devices[to.device].name, "makers"};
        const std::string workers = std::to_string(to.workers);
        if (files_.find(path).parts == path.size()) {
            add(path / "workers", workers);
        } else {
            add(path, FlowMap().add("workers", workers).text());
        }
    }
    void write(const advise::AddVeil& to) {
        add_nested({"veils", to.name}, FlowMap().add("min", time_text(to.min)).text());
        const Path path = path_of(to.list);
        std::vector<std::string> steps{FlowMap().add("veil", to.name).text()};
        for (const source::Value& step : files_.find(path).value.elements())
            steps.push_back(source::flow_yaml(step));
        steps.push_back(FlowMap().add("unveil", to.name).text());
        add(path, source::flow_list(steps));
    }
    void write(const advise::AddUnload& to) {
        add(next_of(to.list), FlowMap().add("unload", names_text({to.level})).text());
    }
    void write(const advise::AddHide& to) {
        add(next_of(to.list), FlowMap().add("hide", names_text({to.level})).text());
    }
    void write(const advise::SetFigures&) {} // several of one level are written together

    void write_figures(LevelId level, const std::vector<advise::SetFigures>& sizes) {
        const bool sized = std::any_of(sizes.begin(), sizes.end(), [](const auto& each) {
            return !each.memory.empty() || each.packed;
        });
        if (sized && !plan_.levels[level].content.measured.empty()) {
            failed_ = true;
            return;
        }
        const Path path = path_of(level) / "on";
        const bool differs = files_.find(path).parts == path.size(); // on some device, today
        FlowMap devices;
        for (const advise::SetFigures& size : sizes) {
            const std::string& device = plan_.devices[size.device].name;
            FlowMap pools;
            for (const auto& [pool, bytes] : size.memory)
                pools.add(plan_.pools[pool], source::exact_mebibytes(bytes));
            std::vector<std::pair<const char*, std::string>> set;
            if (!size.memory.empty()) set.emplace_back("memory", pools.text());
            if (size.packed) set.emplace_back("packed", source::exact_mebibytes(*size.packed));
            if (size.make) set.emplace_back("make", time_text(*size.make));
            if (files_.find(path / device).parts == path.size() + 1) {
                for (const auto& [key, value] : set) add(path / device / key, value);
                continue;
            }
            FlowMap figures;
            for (const auto& [key, value] : set) figures.add(key, value);
            if (differs) {
                add(path / device, figures.text());
            } else {
                devices.add(device, figures.text());
            }
        }
        if (!devices.empty()) add(path, devices.text());
    }

    // A path split by a gate.

    void write(const advise::AddGate& to) {
        const auto element = path_element(plan_, files_, to.path);
        if (!element) {
            failed_ = true;
            return;
        }
        const plan::Path& path = plan_.paths[to.path];
        const plan::WorldId world = plan_.waypoints[path.from].world;
        const std::string at = point_yaml(geometry::seen_from(space_of(path.home), to.at));
        const bool implied = path.home || plan_.worlds[world] == "main";
        const std::string waypoint(plan::plain_name(to.waypoint));
        const std::string gate(plan::plain_name(to.gate));
        add_nested(section(path.home, "waypoints") / waypoint,
                   implied ? at : FlowMap().add("at", at).add("world", plan_.worlds[world]).text());
        add_nested(section(path.home, "gates") / gate,
                   FlowMap().add("needs", names_text({to.needs})).text());
        std::vector<std::string> parts;
        const auto corner = static_cast<std::ptrdiff_t>(to.corner);
        const std::string from(plan::name_inside(plan_.waypoints[path.from], path.home));
        const std::string until(plan::name_inside(plan_.waypoints[path.to], path.home));
        if (element->value.is_sequence())
            add_part(parts, element->value.elements(), 0, element->stretch + 1);
        parts.push_back(part_text(path, from, waypoint,
                                  {path.via.begin(), path.via.begin() + corner},
                                  to.forward ? "" : gate));
        parts.push_back(part_text(path, waypoint, until,
                                  {path.via.begin() + corner, path.via.end()},
                                  to.forward ? gate : ""));
        if (element->value.is_sequence()) {
            const std::vector<source::Value> points = element->value.elements();
            add_part(parts, points, element->stretch + 1, points.size());
        }
        const Path paths = section(path.home, "paths");
        add(paths / std::to_string(element->number), parts.front());
        for (std::size_t i = 1; i < parts.size(); ++i)
            add(paths / std::to_string(element->of + i - 1), parts[i]);
    }
    /// The waypoints `from` to `to` (not included) of a list, where they make a path.
    static void add_part(std::vector<std::string>& parts, const std::vector<source::Value>& points,
                         std::size_t from, std::size_t to) {
        if (to - from < 2) return;
        std::vector<std::string> names;
        for (std::size_t i = from; i < to; ++i) names.emplace_back(points[i].text());
        parts.push_back(source::flow_list(names));
    }
    [[nodiscard]] std::string part_text(const plan::Path& path, const std::string& from,
                                        const std::string& to, const std::vector<plan::Vec3>& via,
                                        const std::string& gate) const {
        FlowMap map;
        map.add("from", from).add("to", to);
        std::vector<std::string> corners;
        for (const plan::Vec3& corner : via)
            corners.push_back(point_yaml(geometry::seen_from(space_of(path.home), corner)));
        if (!via.empty()) map.add("via", source::flow_list(corners));
        if (!gate.empty()) map.add("gate", gate);
        if (path.one_way) map.add("one-way", "true");
        if (path.speed) map.add("speed", source::exact_number(*path.speed));
        return map.text();
    }

    const Plan& plan_;
    const source::PlanFiles& files_;
    std::vector<source::Override> made_;
    bool failed_ = false;
};

} // namespace

Settings::Settings(source::Disk& disk, const Plan& plan, const std::string& path,
                   const std::vector<source::Override>& tried)
    : plan_(plan), again_(disk, path, tried) {}

std::optional<std::vector<source::Override>> Settings::of(const std::vector<Edit>& edits) const {
    return Writer(plan_, again_.files).all(edits);
}

std::string assignment(const source::Override& setting) {
    return fmt::format("{}={}", fmt::join(setting.path, "."), setting.value);
}

std::string set_line(const std::vector<source::Override>& settings) {
    std::string text;
    for (const source::Override& each : settings)
        text += (text.empty() ? "--set " : " --set ") + set_text(each);
    return text;
}

std::string set_text(const source::Override& setting) {
    std::string text = assignment(setting);
    const bool plain = text.find_first_of(" {}[]*?&|;<>()$`\"'\\!#") == std::string::npos;
    if (plain) return text;
    std::string quoted = "'";
    for (const char c : text) quoted += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return quoted + "'";
}

} // namespace hestrel::edit
