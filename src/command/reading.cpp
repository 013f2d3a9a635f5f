#include "command/reading.hpp"

#include "command/commands.hpp"
#include "command/output.hpp"
#include "plan/names.hpp"
#include "tables/saved_store.hpp"

#include <fmt/format.h>
#include <stdexcept>

namespace hestrel::command {

source::ReadOptions read_options(const std::vector<std::string>& sets) {
    source::ReadOptions options;
    for (const std::string& set : sets) {
        try {
            options.overrides.push_back(source::parse_override(set));
        } catch (const std::invalid_argument& error) {
            throw UsageError(error.what());
        }
    }
    return options;
}

PlanOnDisk::PlanOnDisk(const std::string& plan) : disk_(real_, plan) {
    if (!disk_.said().empty()) say("hestrel: " + disk_.said());
}

std::optional<flow::KeptStore> read_saved_store(const plan::Plan& plan, const std::string& path,
                                                source::Disk& disk) {
    if (path.empty()) return std::nullopt;
    try {
        return tables::parse_saved_store(plan, disk.read(path));
    } catch (const tables::SavedStoreError& error) {
        throw source::FileError(fmt::format("{}: {}", path, error.what()));
    }
}

std::optional<plan::Plan> load_plan(const std::string& path, const std::vector<std::string>& sets,
                                    source::Inputs& inputs) {
    PlanOnDisk on_disk(path);
    source::NotingDisk noting(on_disk.disk(), inputs);
    source::PlanReading reading = source::read_plan(noting, path, read_options(sets));
    for (const plan::Finding& finding : reading.findings) { // the others are told by `check`
        if (finding.severity == plan::Severity::error)
            say(plan::finding_text(reading.plan, finding));
    }
    if (reading.has_errors()) return std::nullopt;
    return std::move(reading.plan);
}

} // namespace hestrel::command
