#include "check/fixed_waits.hpp"

#include "check/context.hpp"

#include <algorithm>

namespace hestrel::check {

using plan::LevelId;

namespace {

/// Whether a step behind a fixed wait relies on `levels` having been loaded by then.
bool relies_on_load(const plan::Step& step, const std::vector<LevelId>& levels) {
    // Taking away the very levels that were waited for needs nothing of them.
    const auto takes_others = [&](const std::vector<LevelId>& taken) {
        return std::any_of(taken.begin(), taken.end(),
                           [&](LevelId level) { return !contains(levels, level); });
    };
    if (const auto* hide = std::get_if<plan::HideStep>(&step.what))
        return takes_others(hide->levels);
    if (const auto* unload = std::get_if<plan::UnloadStep>(&step.what))
        return takes_others(unload->levels);
    return std::holds_alternative<plan::ShowStep>(step.what) ||
           std::holds_alternative<plan::UnveilStep>(step.what) ||
           std::holds_alternative<plan::ThawStep>(step.what) ||
           std::holds_alternative<plan::PlaceStep>(step.what);
}

} // namespace

std::vector<FixedWait> fixed_waits(const plan::StepList& list) {
    std::vector<FixedWait> found;
    std::vector<LevelId> loading;
    bool shown = false;
    const FixedWait none;
    FixedWait open;
    for (std::size_t i = 0; i < list.steps.size(); ++i) {
        const plan::Step& step = list.steps[i];
        if (const auto* load = std::get_if<plan::LoadStep>(&step.what)) {
            loading.insert(loading.end(), load->levels.begin(), load->levels.end());
        } else if (const auto* show = std::get_if<plan::ShowStep>(&step.what); show && !open.step) {
            loading.insert(loading.end(), show->levels.begin(), show->levels.end());
            shown = true;
        } else if (const auto* wait = std::get_if<plan::WaitStep>(&step.what)) {
            if (wait->time && !loading.empty()) {
                open = {&step, i, open.time + *wait->time, shown, loading};
            } else {
                loading.clear();
                open = none;
            }
        }
        if (open.step == nullptr || !relies_on_load(step, open.levels)) continue;
        found.push_back(open);
        open = none;
        loading.clear();
    }
    return found;
}

} // namespace hestrel::check
