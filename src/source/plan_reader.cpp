#include "source/plan_reader.hpp"

#include "source/plan_builder.hpp"
#include "source/plan_files.hpp"

#include <algorithm>
#include <filesystem>

namespace hestrel::source {

bool PlanReading::has_errors() const {
    return std::any_of(findings.begin(), findings.end(), [](const plan::Finding& finding) {
        return finding.severity == plan::Severity::error;
    });
}

PlanReading read_plan(Disk& disk, const std::string& path, const ReadOptions& options) {
    PlanReading result;
    ReadContext reading(result.plan.files, options.uses);
    PlanFiles files(disk, result.plan, reading);
    try {
        files.read(path, {});
        for (const Override& each : options.overrides) files.set(each);
        PlanBuilder builder(result.plan, reading);
        for (const auto& tree : files.trees()) builder.declare(tree->root());
        builder.read();
        files.measure(
            [&](std::string_view text, std::uint32_t file) { builder.measure(text, file); });
    } catch (const YamlError& error) {
        // Such as a merge of what is no mapping, seen only when its fields are asked for. A plan
        // that is read to a part says nothing; only its files are kept, for the finding.
        reading.error("broken-yaml", error.place, error.what());
        plan::Plan nothing;
        nothing.files = result.plan.files;
        result.plan = std::move(nothing);
    }
    if (result.plan.name.empty()) result.plan.name = std::filesystem::path(path).stem().string();
    result.findings = std::move(reading.findings());
    std::stable_sort(result.findings.begin(), result.findings.end(),
                     [](const auto& one, const auto& other) { return one.place < other.place; });
    return result;
}

} // namespace hestrel::source
