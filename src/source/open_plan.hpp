#pragma once
// A plan that stays open after it was read: more steps of routes can be read in its names, as play
// does line by line.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "source/disk.hpp"
#include "source/plan_reader.hpp"

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::source {

class OpenPlan {
public:
    /// Reads it as `read_plan` does. Throws FileError where a file can't be read.
    OpenPlan(Disk& disk, const std::string& path, const ReadOptions& options = {});
    OpenPlan(const OpenPlan&) = delete;
    OpenPlan& operator=(const OpenPlan&) = delete;
    ~OpenPlan();

    /// The plan as it was read; what else is read adds conditions and words to it.
    [[nodiscard]] plan::Plan& plan() { return plan_; }
    [[nodiscard]] const std::vector<plan::Finding>& findings() const { return findings_; }
    [[nodiscard]] bool has_errors() const;
    /// The plan for good; nothing more can be read.
    plan::Plan take() { return std::move(plan_); }

    /// A step from its YAML, and what is wrong with it: places are those in the text, line 1.
    struct Step {
        std::optional<plan::RouteStep> step; ///< unset: something is wrong
        std::vector<plan::Finding> problems;
    };
    /// Reads `yaml` (`{go: quay, speed: run}`) as a step of a player's route. Only where the plan
    /// has no errors.
    Step read_step(std::string_view yaml, const plan::RoutePlayer& player);

private:
    struct Inside;
    plan::Plan plan_;
    std::vector<plan::Finding> findings_;
    std::unique_ptr<Inside> inside_; ///< null where the files are no YAML
};

} // namespace hestrel::source
