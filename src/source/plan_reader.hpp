#pragma once
// A plan from its file: read with positions, every name resolved once.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "source/disk.hpp"
#include "source/name_use.hpp"
#include "source/overrides.hpp"
#include "source/yaml_tree.hpp"

#include <memory>
#include <string>
#include <vector>

namespace hestrel::source {

/// What came out of reading a plan. With errors among the findings the plan is incomplete: show the
/// findings and use it for nothing else.
struct PlanReading {
    plan::Plan plan;
    std::vector<plan::Finding> findings; ///< in file order
    [[nodiscard]] bool has_errors() const;
};

/// What a reading is to do besides.
struct ReadOptions {
    std::vector<Override> overrides;      ///< values to try; one that leads nowhere is a finding
    std::vector<NameUse>* uses = nullptr; ///< gets every mention of a name, in the order of reading
    /// Gets the trees of the files that are YAML, each place in them with its file's number. They
    /// outlive an OpenPlan.
    std::vector<std::unique_ptr<YamlTree>>* trees = nullptr;
};

/// Reads a plan. A broken value is one finding and does not hide the rest of the file. Throws
/// FileError where a file can't be read.
PlanReading read_plan(Disk& disk, const std::string& path, const ReadOptions& options = {});

} // namespace hestrel::source
