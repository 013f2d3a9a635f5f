#include "study/isolated_list.hpp"

#include "loading/isolated.hpp"
#include "plan/lists.hpp"
#include "study/list_reading.hpp"

#include <algorithm>
#include <numeric>

namespace hestrel::study {

using plan::LevelId;
using plan::Micros;

void IsolatedList::run(const plan::StepList& list) {
    for (const StepReading& step : read_list(list)) {
        if (step.switches != nullptr) continue; // the caller goes there
        for (const LevelId level : step.asks) {
            if (step.shows) {
                show(level);
            } else {
                plan::append_new(asked_, level);
            }
        }
        if (step.raises) veiled_ = true;
        if (step.takes_down) {
            load_asked();
            veiled_ = false;
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

void IsolatedList::go_to(const std::vector<LevelId>& levels, bool veiled) {
    veiled_ = veiled;
    std::erase_if(there_, [&](LevelId level) { return plan::contains(levels, level); });
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
    const loading::AloneLoader loader(catalogue_, {there_, asked_, plan::Priority::soon, veiled_});
    std::vector<std::size_t> order(loader.count());
    std::iota(order.begin(), order.end(), std::size_t{0});
    IsolatedTimes all;
    for (const loading::AlonePiece& piece : loader.detail_of(order)) {
        all.to_read += catalogue_.pieces[piece.piece].packed;
        all.read = std::max(all.read, piece.read_end.value_or(Micros{}));
        const Micros ready =
            piece.unpack_end ? *piece.unpack_end : piece.read_end.value_or(Micros{});
        all.ready = std::max(all.ready, ready);
        if (!catalogue_.is_level(piece.piece)) continue;
        // Pieces stand in the order of asking: what a level needs stands before it.
        IsolatedTimes own = all;
        own.shown = piece.shown.value_or(all.ready);
        own.read += now_;
        own.ready += now_;
        own.shown += now_;
        times_[catalogue_.level_of(piece.piece)] = own;
    }
    for (const LevelId level : asked_)
        times_.try_emplace(level, IsolatedTimes{now_, now_, now_, {}});
    there_.insert(there_.end(), asked_.begin(), asked_.end());
    std::sort(there_.begin(), there_.end());
    asked_.clear();
}

} // namespace hestrel::study
