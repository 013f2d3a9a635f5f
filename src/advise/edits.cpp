#include "advise/edits.hpp"

#include <algorithm>

namespace hestrel::advise {

using plan::Plan;

namespace {

/// Puts a step into a list; the branches of a `choose` behind it keep their parent.
void insert(Plan& plan, plan::ListId list, std::size_t at, plan::Step step) {
    auto& steps = plan.lists[list].steps;
    step.place = steps.empty() ? plan::Place{} : steps.front().place;
    steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(at), std::move(step));
    for (plan::StepList& branch : plan.lists) {
        if (branch.parent == list && branch.parent_step >= at) ++branch.parent_step;
    }
}

plan::Figures& figures_on(plan::Content& content, plan::DeviceId device) {
    const auto found = std::find_if(content.on.begin(), content.on.end(),
                                    [&](const auto& each) { return each.first == device; });
    if (found != content.on.end()) return found->second;
    return content.on.emplace_back(device, plan::Figures{}).second;
}

void change(Plan& plan, const SetShape& to) {
    plan.triggers[to.trigger].shape = to.shape;
}
void change(Plan& plan, const SetNear& to) {
    const plan::GridId grid = plan.levels[to.level].grid;
    if (!grid) {
        plan.levels[to.level].near = to.near;
        return;
    }
    for (const plan::LevelId cell : plan.grids[grid].cells) {
        if (cell) plan.levels[cell].near = to.near;
    }
}
void change(Plan& plan, const SetVeilMin& to) {
    plan.veils[to.veil].min = to.min;
}
void change(Plan& plan, const SetWait& to) {
    std::get<plan::WaitStep>(plan.lists[to.list].steps[to.step].what).time = to.time;
}
void change(Plan& plan, const SetNames& to) {
    auto& what = plan.lists[to.list].steps[to.step].what;
    if (auto* load = std::get_if<plan::LoadStep>(&what)) load->levels = to.levels;
    if (auto* show = std::get_if<plan::ShowStep>(&what)) show->levels = to.levels;
}
void change(Plan& plan, const SetPriority& to) {
    auto& what = plan.lists[to.list].steps[to.step].what;
    if (auto* load = std::get_if<plan::LoadStep>(&what)) load->priority = to.priority;
    if (auto* show = std::get_if<plan::ShowStep>(&what)) show->priority = to.priority;
}
void change(Plan& plan, const SetSwitchOrder& to) {
    std::get<plan::SwitchStep>(plan.lists[to.list].steps[to.step].what).order = to.order;
}
void change(Plan& plan, const SetPersist& to) {
    plan.levels[to.level].persist = to.persist;
}
void change(Plan& plan, const SetFigures& to) {
    plan::Content& content = plan.levels[to.level].content;
    if (to.make) figures_on(content, to.device).make = plan::TimeRange{*to.make, *to.make};
    if (to.memory.empty() && !to.packed) return;
    if (!content.measured.empty()) {
        // What was measured wins over the plan's own figures.
        content.measured.push_back({content.measured.back().place, to.device, {}});
    }
    plan::Figures& figures =
        content.measured.empty() ? figures_on(content, to.device) : content.measured.back().figures;
    for (const auto& each : to.memory) {
        const plan::PoolId pool = each.first;
        const plan::Bytes size = each.second;
        const auto found = std::find_if(figures.memory.begin(), figures.memory.end(),
                                        [&](const auto& known) { return known.first == pool; });
        if (found != figures.memory.end()) {
            found->second = {size, size};
        } else {
            figures.memory.emplace_back(pool, plan::SizeRange{size, size});
        }
    }
    if (to.packed) figures.packed = plan::SizeRange{*to.packed, *to.packed};
}
void change(Plan& plan, const SetMakers& to) {
    plan.devices[to.device].makers.workers = to.workers;
}
void change(Plan& plan, const AddVeil& to) {
    plan::Veil veil;
    veil.name = to.name;
    veil.min = to.min;
    const plan::VeilId id = plan.veils.push(std::move(veil));
    insert(plan, to.list, 0, {{}, 0, plan::VeilStep{id}});
    insert(plan, to.list, plan.lists[to.list].steps.size(), {{}, 0, plan::UnveilStep{id}});
}
void change(Plan& plan, const AddUnload& to) {
    insert(plan, to.list, plan.lists[to.list].steps.size(), {{}, 0, plan::UnloadStep{{to.level}}});
}
void change(Plan& plan, const AddHide& to) {
    insert(plan, to.list, plan.lists[to.list].steps.size(), {{}, 0, plan::HideStep{{to.level}}});
}
void change(Plan& plan, const AddGate& to) {
    plan::Gate gate;
    gate.name = to.gate;
    gate.home = plan.paths[to.path].home;
    gate.needs = {to.needs};
    const plan::GateId gate_id = plan.gates.push(std::move(gate));
    plan::Waypoint waypoint;
    waypoint.name = to.waypoint;
    waypoint.home = plan.paths[to.path].home;
    waypoint.at = to.at;
    waypoint.world = plan.waypoints[plan.paths[to.path].from].world;
    const plan::WaypointId middle = plan.waypoints.push(std::move(waypoint));
    plan::Path rest = plan.paths[to.path];
    plan::Path& first = plan.paths[to.path];
    const auto corner = static_cast<std::ptrdiff_t>(to.corner);
    first.to = middle;
    first.via.erase(first.via.begin() + corner, first.via.end());
    rest.from = middle;
    rest.via.erase(rest.via.begin(), rest.via.begin() + corner);
    // A gate that is there already stays where players wait for it: before the first part.
    rest.gate = {};
    (to.forward ? rest : first).gate = gate_id;
    plan.paths.push(std::move(rest));
}

} // namespace

Plan with(const Plan& plan, const std::vector<Edit>& edits) {
    Plan changed = plan;
    for (const Edit& edit : edits)
        std::visit([&](const auto& each) { change(changed, each); }, edit);
    return changed;
}

} // namespace hestrel::advise
