#pragma once
// Plans, as commands read them.

#include "flow/facts.hpp"
#include "plan/plan.hpp"
#include "source/disk.hpp"
#include "source/inputs.hpp"
#include "source/plan_disk.hpp"
#include "source/plan_reader.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::command {

/// Reading with `--set` values; throws UsageError for one that is none.
source::ReadOptions read_options(const std::vector<std::string>& sets);

/// The disk that a plan is read from and changed on; says what was found to be cut off there.
class PlanOnDisk {
public:
    explicit PlanOnDisk(const std::string& plan);
    [[nodiscard]] source::PlanDisk& disk() { return disk_; }

private:
    source::RealDisk real_;
    source::PlanDisk disk_;
};

/// The saved store in a file; nothing where no path is given. Throws FileError where it is none of
/// this plan's.
std::optional<flow::KeptStore> read_saved_store(const plan::Plan& plan, const std::string& path,
                                                source::Disk& disk);

/// Reads a plan, tries values (`--set`) and prints its findings to standard error. Notes what was
/// read. Nothing where it has errors. Throws UsageError for a `--set` that is none.
std::optional<plan::Plan> load_plan(const std::string& path, const std::vector<std::string>& sets,
                                    source::Inputs& inputs);

/// A plan, and a condition in its names, asked as a route asks.
struct PlanAndCondition {
    plan::Plan plan;
    plan::ConditionId condition;
};
/// The same as `load_plan`, with a condition where one is given. Throws UsageError, which names the
/// option, where it is none.
std::optional<PlanAndCondition> load_plan_asking(const std::string& path,
                                                 const std::vector<std::string>& sets,
                                                 source::Inputs& inputs, const std::string& option,
                                                 const std::optional<std::string>& condition);

/// As a YAML scalar in single quotes, which nothing in a text of one line can end.
std::string in_quotes(std::string_view text);

} // namespace hestrel::command
