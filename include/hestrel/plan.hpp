#pragma once
// A plan, read and checked (docs/plan-format.md, docs/model.md).
//
// Functions of this library print nothing and keep no state. They may be called from several
// threads at once. They write no file, but for a plan in which a change was cut off (a rename, for
// example): that change is finished before the plan is read, as any command does
// (docs/promises.md). They throw:
//   FileError              a file can't be read; `what()` names it and says why
//   PlanError              the plan has errors, so nothing can be said of it
//   std::invalid_argument  no route, device or edition is called so, or a value is none
//   std::bad_alloc         there is not enough memory

#include <hestrel/finding.hpp>

#include <memory>
#include <stdexcept>
#include <string>
#include <utility>
#include <vector>

namespace hestrel {

class FileError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// `what()` is the first error, as `text_of` gives it.
class PlanError : public std::runtime_error {
public:
    explicit PlanError(std::vector<Finding> errors);
    /// All errors, in the order of the files.
    [[nodiscard]] const std::vector<Finding>& errors() const { return errors_; }

private:
    std::vector<Finding> errors_;
};

/// A plan without errors. It does not change; copies share it.
class Plan {
public:
    // Names, in the order of the plan.
    [[nodiscard]] std::vector<std::string> levels() const;
    [[nodiscard]] std::vector<std::string> devices() const;
    [[nodiscard]] std::vector<std::string> routes() const;
    [[nodiscard]] std::vector<std::string> editions() const;

    /// For the library itself.
    struct Inside;
    explicit Plan(std::shared_ptr<const Inside> inside) : inside_(std::move(inside)) {}
    [[nodiscard]] const Inside& inside() const { return *inside_; }

private:
    std::shared_ptr<const Inside> inside_;
};

struct ReadOptions {
    /// Values to try, as `--set` takes them: "devices.handheld.read.rate=60".
    std::vector<std::string> set;
};

/// Reads a plan from its main file, and from all files that it includes.
Plan read_plan(const std::string& path, const ReadOptions& options = {});

/// All that `hestrel check` says of a plan, in the order of the files: errors too, so that a plan
/// that has some throws no PlanError here.
std::vector<Finding> check_plan(const std::string& path, const ReadOptions& options = {});
/// The same of a plan that was read.
std::vector<Finding> check_plan(const Plan& plan);

} // namespace hestrel
