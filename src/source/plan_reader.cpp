#include "source/plan_reader.hpp"

#include "source/open_plan.hpp"
#include "source/plan_builder.hpp"
#include "source/plan_files.hpp"

#include <algorithm>
#include <filesystem>

namespace hestrel::source {

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

bool PlanReading::has_errors() const {
    return plan::any_error(findings);
}

/// What reading needs as long as names are to be looked up.
struct OpenPlan::Inside {
    Inside(Disk& disk, plan::Plan& plan, const ReadOptions& options)
        : reading(plan.files, options.uses), files(disk, plan, reading), builder(plan, reading) {}
    ReadContext reading;
    PlanFiles files;
    PlanBuilder builder;
    std::vector<std::unique_ptr<YamlTree>> steps; ///< what names of words point into
};

OpenPlan::OpenPlan(Disk& disk, const std::string& path, const ReadOptions& options)
    : inside_(std::make_unique<Inside>(disk, plan_, options)) {
    ReadContext& reading = inside_->reading;
    PlanFiles& files = inside_->files;
    bool whole = true;
    try {
        files.read(path, {});
        for (const Override& each : options.overrides) files.set(each);
        PlanBuilder& builder = inside_->builder;
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
        nothing.files = plan_.files;
        plan_ = std::move(nothing);
        whole = false;
    }
    if (plan_.name.empty()) plan_.name = std::filesystem::path(path).stem().string();
    findings_ = std::move(reading.findings());
    reading.findings().clear();
    std::erase_if(findings_, [&](const plan::Finding& finding) {
        return finding.name == "unknown-name" && stands_in(files.broken(), finding.message);
    });
    std::stable_sort(findings_.begin(), findings_.end(),
                     [](const auto& one, const auto& other) { return one.place < other.place; });
    if (options.trees != nullptr) *options.trees = files.take_trees();
    if (!whole) inside_.reset();
}

OpenPlan::~OpenPlan() = default;

bool OpenPlan::has_errors() const {
    return plan::any_error(findings_);
}

OpenPlan::Step OpenPlan::read_step(std::string_view yaml, const plan::RoutePlayer& player) {
    Step read;
    ReadContext& reading = inside_->reading;
    try {
        const auto& tree =
            inside_->steps.emplace_back(std::make_unique<YamlTree>(std::string(yaml), 0));
        read.step = inside_->builder.read_route_step(tree->root(), player);
    } catch (const YamlError& error) {
        reading.error("broken-yaml", error.place, error.what());
    }
    read.problems = std::move(reading.findings());
    reading.findings().clear();
    if (plan::any_error(read.problems)) read.step.reset();
    return read;
}

PlanReading read_plan(Disk& disk, const std::string& path, const ReadOptions& options) {
    OpenPlan open(disk, path, options);
    PlanReading result;
    result.findings = open.findings();
    result.plan = open.take();
    return result;
}

} // namespace hestrel::source
