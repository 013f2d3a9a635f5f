#pragma once
// Whether a change of the plan brings a level in time: by walking.

#include "advise/edits.hpp"
#include "advise/load_times.hpp"
#include "study/study.hpp"
#include "walk/record.hpp"

#include <optional>
#include <vector>

namespace hestrel::advise {

/// What came of walks with a change.
struct Judgement {
    std::optional<plan::Micros> slack; ///< the least; unset: nobody came to need it
    bool gap = false;                  ///< somebody met it while it was not shown
    plan::Micros held = {};            ///< the longest that a player stood at a gate for it
    bool met_straight = false;         ///< walking straight to the need, the load was met

    [[nodiscard]] bool in_time(plan::Micros wanted) const {
        return !gap && (!slack || *slack >= wanted);
    }
    /// Of both, whatever is worse.
    void take(const Judgement& other);
};

/// Something that a change makes worse on a route.
struct Harm {
    plan::RouteId route;   ///< unset: `check` finds it
    plan::DeviceId device; ///< unset with `route`
    std::string finding;
};

/// A route on which one player sets a cause off and then goes where a level is needed soonest, as
/// fast as it can.
plan::Route straight_route(const plan::Plan& plan, const Load& load, const study::SoonestNeed& way);

/// Judges changes of one plan.
class Judge {
public:
    /// `records`: walks of the plan, on whose routes changes are walked too.
    Judge(const study::Study& study, const std::vector<walk::Record>& records);

    /// How a load goes on a device with these changes: straight to the need at top speed, alone and
    /// in the worst company of the routes, and on every route that has this load.
    [[nodiscard]] Judgement judge(const Load& load, plan::DeviceId device,
                                  const std::vector<Edit>& edits) const;

    /// What gets worse on any of the routes and devices, and what `check` would say that it does
    /// not say today.
    [[nodiscard]] std::vector<Harm> harms(const std::vector<Edit>& edits) const;

    /// All routes and devices walked again, in the order of the records.
    [[nodiscard]] std::vector<walk::Record> walked(const std::vector<Edit>& edits) const;
    /// The two parts of `harms`: what gets worse in `again`, which are walks with the changes, and
    /// what `check` would say.
    [[nodiscard]] std::vector<Harm> harms_in(const std::vector<walk::Record>& again) const;
    [[nodiscard]] std::vector<Harm> harms_to_plan(const std::vector<Edit>& edits) const;

    [[nodiscard]] const study::Study& study() const { return study_; }
    [[nodiscard]] const std::vector<walk::Record>& records() const { return records_; }

private:
    const study::Study& study_;
    const std::vector<walk::Record>& records_;
    std::vector<plan::Finding> found_; ///< by `check`, today
};

} // namespace hestrel::advise
