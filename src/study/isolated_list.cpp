#include "study/isolated_list.hpp"

#include "loading/isolated.hpp"
#include "plan/lists.hpp"
#include "study/list_reading.hpp"

#include <algorithm>
#include <numeric>

namespace hestrel::study {

using plan::LevelId;
using plan::Micros;

void IsolatedList::raise(plan::VeilId veil) {
    const bool up = std::any_of(veils_.begin(), veils_.end(),
                                [&](const VeilUse& each) { return each.up && each.veil == veil; });
    if (!up) veils_.push_back({veil, now_, true, {}});
}

bool IsolatedList::veiled() const {
    return std::any_of(veils_.begin(), veils_.end(), [](const VeilUse& each) { return each.up; });
}

void IsolatedList::take_down(plan::VeilId veil) {
    for (VeilUse& each : veils_) each.up = each.up && each.veil != veil;
}

void IsolatedList::ask(LevelId level, bool shows) {
    for (VeilUse& each : veils_) {
        if (each.up) each.asked.emplace_back(level, shows);
    }
    if (shows) {
        show(level);
    } else {
        plan::append_new(asked_, level);
    }
}

void IsolatedList::run(const plan::Plan& plan, const plan::StepList& list, std::size_t end) {
    const std::vector<StepReading> steps = read_list(plan, list);
    for (std::size_t i = 0; i < std::min(end, steps.size()); ++i) {
        const StepReading& step = steps[i];
        if (step.switches != nullptr) continue; // the caller goes there
        if (step.behind) raise(step.behind);
        for (const LevelId level : step.asks) ask(level, step.shows);
        for (const LevelId level : step.comes_near) ask(level, true);
        if (step.raises) raise(step.raises);
        if (step.behind) { // it waits for the veil's `min`
            load_asked();
            now_ += plan.veils[step.behind].min;
            take_down(step.behind);
        }
        if (step.takes_down) {
            load_asked();
            take_down(step.takes_down);
        }
        if (step.waits == nullptr) continue;
        load_asked();
        if (step.waits->time) now_ += *step.waits->time;
        for (const LevelId level : step.waits->levels) {
            const auto found = times_.find(level);
            if (found == times_.end()) continue;
            const bool shown = step.waits->awaited == plan::Awaited::shown;
            now_ = std::max(now_, shown ? found->second.shown : found->second.ready);
        }
    }
    load_asked();
}

void IsolatedList::go_to(const std::vector<LevelId>& levels, plan::VeilId veil) {
    if (veil) raise(veil);
    std::erase_if(there_, [&](LevelId level) { return plan::contains(levels, level); });
    for (const LevelId level : levels) ask(level, true);
    plan::append_new(asked_, levels);
    load_asked();
}

IsolatedTimes IsolatedList::time_of(LevelId level) const {
    const auto found = times_.find(level);
    return found == times_.end() ? IsolatedTimes{} : found->second;
}

void IsolatedList::show(LevelId level) {
    const auto loaded = times_.find(level);
    if (loaded == times_.end()) {
        plan::append_new(asked_, level);
        return;
    }
    // Loaded by an earlier step: what is left is attaching.
    IsolatedTimes& isolated = loaded->second;
    const Micros attaching = isolated.shown - isolated.ready;
    isolated.shown = std::max(now_, isolated.ready) + attaching;
}

void IsolatedList::load_asked() {
    if (asked_.empty()) return;
    const loading::AloneLoader loader(catalogue_, {there_, asked_, plan::Priority::soon, veiled()});
    std::vector<std::size_t> order(loader.count());
    std::iota(order.begin(), order.end(), std::size_t{0});
    IsolatedTimes all;
    for (const loading::AlonePiece& piece : loader.detail_of(order)) {
        all.to_read += catalogue_.pieces[piece.piece].packed;
        all.made = all.made || piece.make_start;
        all.read = std::max(all.read, piece.read_end.value_or(Micros{}));
        all.ready = std::max(all.ready, piece.resident().value_or(Micros{}));
        if (!catalogue_.is_level(piece.piece)) continue;
        // Pieces stand in the order of asking: what a level needs stands before it.
        IsolatedTimes own = all;
        own.shown = piece.shown.value_or(all.ready);
        own.asked = now_;
        own.read += now_;
        own.ready += now_;
        own.shown += now_;
        times_[catalogue_.level_of(piece.piece)] = own;
    }
    for (const LevelId level : asked_)
        times_.try_emplace(level, IsolatedTimes{now_, now_, now_, now_, false, {}});
    there_.insert(there_.end(), asked_.begin(), asked_.end());
    std::sort(there_.begin(), there_.end());
    asked_.clear();
}

} // namespace hestrel::study
