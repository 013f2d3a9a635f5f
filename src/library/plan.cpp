#include "library/inside.hpp"

#include "check/check.hpp"
#include "source/disk.hpp"
#include "source/plan_disk.hpp"
#include "source/plan_reader.hpp"

#include <hestrel/version.hpp>

#include <algorithm>
#include <iterator>
#include <utility>

namespace hestrel {

namespace {

/// Errors alone, for a message about a plan that can't be used.
std::vector<Finding> errors_among(const source::PlanReading& reading) {
    std::vector<plan::Finding> errors;
    std::copy_if(reading.findings.begin(), reading.findings.end(), std::back_inserter(errors),
                 plan::is_error);
    return library::public_findings(reading.plan, errors);
}

source::PlanReading reading_of(const std::string& path, const ReadOptions& options) {
    source::ReadOptions reading;
    for (const std::string& set : options.set)
        reading.overrides.push_back(source::parse_override(set));
    try {
        source::RealDisk real;
        source::PlanDisk disk(real, path);
        return source::read_plan(disk, path, reading);
    } catch (const source::FileError& error) {
        throw FileError(error.what());
    }
}

/// Both enumerations say the same in the same order, so one becomes the other by a cast.
constexpr bool is_same(Severity shown, plan::Severity inside) {
    return static_cast<int>(shown) == static_cast<int>(inside);
}
static_assert(is_same(Severity::error, plan::Severity::error) &&
              is_same(Severity::warning, plan::Severity::warning) &&
              is_same(Severity::note, plan::Severity::note));

template <class Id, class T>
std::vector<std::string> all_names(const plan::Table<Id, T>& table) {
    std::vector<std::string> names;
    for (const T& each : table) names.push_back(each.name);
    return names;
}

} // namespace

const char* library_version() {
    return HESTREL_VERSION;
}

PlanError::PlanError(std::vector<Finding> errors)
    : std::runtime_error(text_of(errors.front())), errors_(std::move(errors)) {}

std::string text_of(const Finding& finding) {
    std::string text = finding.file;
    if (finding.line > 0)
        text += ":" + std::to_string(finding.line) + ":" + std::to_string(finding.column);
    text += ": ";
    text += plan::severity_name(static_cast<plan::Severity>(finding.severity));
    return text + ": " + finding.message + "  [" + finding.name + "]";
}

std::vector<std::string> Plan::levels() const {
    return all_names(inside_->plan.levels);
}
std::vector<std::string> Plan::devices() const {
    return all_names(inside_->plan.devices);
}
std::vector<std::string> Plan::routes() const {
    return all_names(inside_->plan.routes);
}
std::vector<std::string> Plan::editions() const {
    return all_names(inside_->plan.editions);
}

Plan read_plan(const std::string& path, const ReadOptions& options) {
    source::PlanReading reading = reading_of(path, options);
    if (reading.has_errors()) throw PlanError(errors_among(reading));
    return Plan(std::make_shared<const Plan::Inside>(Plan::Inside{std::move(reading.plan)}));
}

std::vector<Finding> check_plan(const std::string& path, const ReadOptions& options) {
    const source::PlanReading reading = reading_of(path, options);
    return library::public_findings(reading.plan, check::check(reading.plan, reading.findings));
}

std::vector<Finding> check_plan(const Plan& plan) {
    return library::public_findings(plan.inside().plan, check::check(plan.inside().plan));
}

namespace library {

Finding public_finding(const plan::Plan& plan, const plan::Finding& finding) {
    Finding told;
    told.name = finding.name;
    told.severity = static_cast<Severity>(finding.severity);
    told.message = plan::message_text(plan, finding);
    told.file = plan.files[finding.place.file];
    told.line = static_cast<int>(finding.place.line);
    told.column = static_cast<int>(finding.place.column);
    told.level = name_or_none(plan.levels, finding.level);
    told.device = name_or_none(plan.devices, finding.device);
    told.route = name_or_none(plan.routes, finding.route);
    told.edition = name_or_none(plan.editions, finding.edition);
    told.from_s = seconds(finding.from);
    told.to_s = seconds(finding.to);
    return told;
}

std::vector<Finding> public_findings(const plan::Plan& plan,
                                     const std::vector<plan::Finding>& findings) {
    std::vector<Finding> told;
    for (const plan::Finding& finding : findings) told.push_back(public_finding(plan, finding));
    return told;
}

} // namespace library
} // namespace hestrel
