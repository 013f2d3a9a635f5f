#pragma once
// How long the loads of one list take with nothing else going on.

#include "loading/catalogue.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <map>
#include <utility>
#include <vector>

namespace hestrel::study {

/// One level's way through the loader; times are from the firing.
struct IsolatedTimes {
    plan::Micros asked;
    plan::Micros read;   ///< all it needs has been read
    plan::Micros ready;  ///< and unpacked, and made
    plan::Micros shown;  ///< and attached, as if somebody showed it
    bool made = false;   ///< some of it is, at run time
    plan::Bytes to_read; ///< of itself, its kits, and what comes before it
};

/// A veil that is up while a list loads (docs/model.md section 12).
struct VeilUse {
    plan::VeilId veil;
    plan::Micros raised; ///< from the firing
    bool up = true;      ///< still
    /// Asked for while it is up, and whether to be shown.
    std::vector<std::pair<plan::LevelId, bool>> asked;
};

/// Runs a list's loads through a loader of their own, stage by stage: what is asked for between
/// two waits is loaded together.
class IsolatedList {
public:
    /// `catalogue` outlives it. `there`: levels that are loaded already, sorted.
    IsolatedList(const loading::Catalogue& catalogue, std::vector<plan::LevelId> there)
        : catalogue_(catalogue), there_(std::move(there)) {}

    /// Its own steps, those before `end`; where a switch stands, the caller goes there.
    void run(const plan::Plan& plan, const plan::StepList& list, std::size_t end = SIZE_MAX);
    /// As a switch there, under its own veil or (unset) none: all at once.
    void go_to(const std::vector<plan::LevelId>& levels, plan::VeilId veil);
    [[nodiscard]] const std::vector<VeilUse>& veils() const { return veils_; }
    /// Of each level asked for so far.
    [[nodiscard]] const std::map<plan::LevelId, IsolatedTimes>& times() const { return times_; }
    [[nodiscard]] IsolatedTimes time_of(plan::LevelId level) const;

private:
    void take_down(plan::VeilId veil);
    void ask(plan::LevelId level, bool shows);
    void show(plan::LevelId level);
    void load_asked();
    void raise(plan::VeilId veil);
    [[nodiscard]] bool veiled() const;

    const loading::Catalogue& catalogue_;
    std::vector<plan::LevelId> there_;
    std::vector<plan::LevelId> asked_;
    std::vector<VeilUse> veils_;
    plan::Micros now_;
    std::map<plan::LevelId, IsolatedTimes> times_;
};

} // namespace hestrel::study
