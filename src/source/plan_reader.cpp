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

namespace {

/// Whether a file that could not be read has the name that a message quotes: it may define it.
bool stands_in(std::string_view broken, std::string_view message) {
    const std::size_t from = message.find('"') + 1;
    const std::string_view name = message.substr(from, message.find('"', from) - from);
    if (from == 0 || name.empty()) return false;
    const auto part_of_name = [&](std::size_t at) {
        return at < broken.size() && is_name("a" + std::string(1, broken[at]));
    };
    for (std::size_t at = broken.find(name); at != std::string_view::npos;
         at = broken.find(name, at + 1)) {
        if ((at == 0 || !part_of_name(at - 1)) && !part_of_name(at + name.size())) return true;
    }
    return false;
}

} // namespace

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
        files.measure([&](std::string_view text, std::uint32_t file, plan::Place named_at) {
            builder.measure(text, file, named_at);
        });
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
    std::erase_if(result.findings, [&](const plan::Finding& finding) {
        return finding.name == "unknown-name" && stands_in(files.broken(), finding.message);
    });
    std::stable_sort(result.findings.begin(), result.findings.end(),
                     [](const auto& one, const auto& other) { return one.place < other.place; });
    return result;
}

} // namespace hestrel::source
