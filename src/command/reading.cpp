#include "command/reading.hpp"

#include "command/commands.hpp"
#include "command/output.hpp"
#include "plan/names.hpp"
#include "source/open_plan.hpp"
#include "source/utf8.hpp"
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
    auto loaded = load_plan_asking(path, sets, inputs, {}, std::nullopt);
    return loaded ? std::optional(std::move(loaded->plan)) : std::nullopt;
}

std::optional<PlanAndCondition> load_plan_asking(const std::string& path,
                                                 const std::vector<std::string>& sets,
                                                 source::Inputs& inputs, const std::string& option,
                                                 const std::optional<std::string>& condition) {
    if (condition && (!source::is_utf8(*condition) || condition->find('\n') != std::string::npos))
        throw UsageError(fmt::format("--{}: that is no line of text", option));
    PlanOnDisk on_disk(path);
    source::NotingDisk noting(on_disk.disk(), inputs);
    source::OpenPlan open(noting, path, read_options(sets));
    for (const plan::Finding& finding : open.findings()) { // the others are told by `check`
        if (plan::is_error(finding)) say(plan::finding_text(open.plan(), finding));
    }
    if (open.has_errors()) return std::nullopt;
    if (!condition) return PlanAndCondition{open.take(), {}};
    const auto read = open.read_step("{until: " + in_quotes(*condition) + "}", {});
    for (const plan::Finding& problem : read.problems)
        throw UsageError(fmt::format("--{}: {}", option, problem.message));
    return PlanAndCondition{open.take(), std::get<plan::UntilStep>(read.step->what).condition};
}

std::string in_quotes(std::string_view text) {
    std::string yaml = "'";
    for (const char c : text) yaml += c == '\'' ? "''" : std::string(1, c);
    return yaml + "'";
}

} // namespace hestrel::command
