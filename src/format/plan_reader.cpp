#include "format/plan_reader.hpp"

#include "format/plan_builder.hpp"

#include <algorithm>
#include <filesystem>

namespace hestrel::format {

bool PlanReading::has_errors() const {
    return std::any_of(findings.begin(), findings.end(), [](const plan::Finding& finding) {
        return finding.severity == plan::Severity::error;
    });
}

PlanReading read_plan(Disk& disk, const std::string& path) {
    PlanReading result;
    result.plan.files.push_back(path);
    const std::string text = disk.read(path);
    Reading reading(result.plan.files);
    try {
        const YamlTree tree(text, 0);
        PlanBuilder builder(result.plan, reading);
        builder.declare(tree.root());
        builder.read();
    } catch (const YamlError& error) {
        reading.error("broken-yaml", error.place, error.what());
    }
    if (result.plan.name.empty()) result.plan.name = std::filesystem::path(path).stem().string();
    result.findings = std::move(reading.findings());
    std::stable_sort(result.findings.begin(), result.findings.end(),
                     [](const auto& one, const auto& other) { return one.place < other.place; });
    return result;
}

std::string place_text(const plan::Plan& plan, plan::Place place) {
    const std::string& file = plan.files[place.file];
    if (place.line == 0) return file;
    return fmt::format("{}:{}:{}", file, place.line, place.column);
}

std::string finding_text(const plan::Plan& plan, const plan::Finding& finding) {
    static constexpr std::array<std::string_view, 3> severities{"error", "warning", "note"};
    return fmt::format("{}: {}: {}  [{}]", place_text(plan, finding.place),
                       severities[static_cast<std::size_t>(finding.severity)], finding.message,
                       finding.name);
}

} // namespace hestrel::format
