#pragma once
// How long the loads of one list take with nothing else going on.

#include "loading/catalogue.hpp"
#include "plan/plan.hpp"

#include <map>
#include <vector>

namespace hestrel::study {

/// One level's way through the loader; times are from the firing.
struct IsolatedTimes {
    plan::Micros read;   ///< all it needs has been read
    plan::Micros ready;  ///< and unpacked
    plan::Micros shown;  ///< and attached, as if somebody showed it
    plan::Bytes to_read; ///< of itself, its kits, and what comes before it
};

/// Runs a list's loads through a loader of their own, stage by stage: what is asked for between
/// two waits is loaded together.
class IsolatedList {
public:
    /// `catalogue` outlives it. `there`: levels that are loaded already, sorted.
    IsolatedList(const loading::Catalogue& catalogue, std::vector<plan::LevelId> there)
        : catalogue_(catalogue), there_(std::move(there)) {}

    void run(const plan::StepList& list);
    /// As a switch there: all at once.
    void go_to(const std::vector<plan::LevelId>& levels, bool veiled);
    /// Of each level asked for so far.
    [[nodiscard]] const std::map<plan::LevelId, IsolatedTimes>& times() const { return times_; }
    [[nodiscard]] IsolatedTimes time_of(plan::LevelId level) const;

private:
    void show(plan::LevelId level);
    void load_asked();

    const loading::Catalogue& catalogue_;
    std::vector<plan::LevelId> there_;
    std::vector<plan::LevelId> asked_;
    bool veiled_ = false;
    plan::Micros now_;
    std::map<plan::LevelId, IsolatedTimes> times_;
};

} // namespace hestrel::study
