#include "format/plan_reader.hpp"

#include "format/findings.hpp"
#include "format/plan_builder.hpp"

#include <algorithm>
#include <filesystem>
#include <memory>

namespace hestrel::format {

bool PlanReading::has_errors() const {
    return std::any_of(findings.begin(), findings.end(), [](const plan::Finding& finding) {
        return finding.severity == plan::Severity::error;
    });
}

namespace {

constexpr std::size_t most_files = 10'000;

/// Reads the files of one plan: the main one, then what each includes, in plan order.
class Files {
public:
    Files(Disk& disk, plan::Plan& plan, Reading& reading)
        : disk_(disk), plan_(plan), reading_(reading) {}

    /// Reads a file and what it includes. `named_at`: where it is named; nowhere for the main file.
    void read(const std::string& path, plan::Place named_at) {
        const std::string text = read_text(path, named_at);
        if (plan_.files.size() == most_files) {
            throw FileError(fmt::format("{}: a plan of more than {} files", path, most_files));
        }
        const auto file = static_cast<std::uint32_t>(plan_.files.size());
        plan_.files.push_back(path);
        std::unique_ptr<YamlTree> tree;
        try {
            tree = std::make_unique<YamlTree>(text, file);
        } catch (const YamlError& error) {
            reading_.error("broken-yaml", error.place, error.what());
            return;
        }
        const Value root = tree->root();
        trees_.push_back(std::move(tree));
        for (const auto& [key, value] : root.entries()) {
            if (key.text() == "include") {
                for (const auto& [included, place] : paths_in(value, path))
                    include(included, place);
            } else if (key.text() == "sizes") {
                for (const auto& [table, place] : paths_in(value, path))
                    tables_.emplace_back(table, place);
            }
        }
    }

    /// Tries a value: in the file that knows most of the path, the first of several.
    void set(const Override& wanted) {
        const auto file = static_cast<std::uint32_t>(plan_.files.size());
        plan_.files.push_back(fmt::format("--set {}", fmt::join(wanted.path, ".")));
        const plan::Place place{file, 1, 1};
        YamlTree* best = nullptr;
        std::size_t most = 0;
        for (const auto& tree : trees_) {
            const std::size_t known = known_parts(tree->root(), wanted.path);
            if (best != nullptr && known <= most) continue;
            best = tree.get();
            most = known;
        }
        if (best == nullptr) return;
        try {
            if (best->set(wanted.path, wanted.value, place) + 1 >= wanted.path.size()) return;
        } catch (const YamlError& error) {
            reading_.error("broken-yaml", place, error.what());
            return;
        }
        std::vector<std::string_view> keys;
        Value at = best->root();
        for (std::size_t i = 0; i < most; ++i) at = child_of(at, wanted.path[i]);
        const auto entries = at.entries();
        for (const auto& [key, value] : entries) keys.push_back(key.text());
        reading_.error(
            "unknown-name", place,
            fmt::format("there is no \"{}\" at {}{}", wanted.path[most],
                        most == 0
                            ? "the top of the plan"
                            : fmt::format("{}", fmt::join(wanted.path.begin(),
                                                          wanted.path.begin() +
                                                              static_cast<std::ptrdiff_t>(most),
                                                          ".")),
                        hint(wanted.path[most], keys)));
    }

    [[nodiscard]] const std::vector<std::unique_ptr<YamlTree>>& trees() const { return trees_; }

    /// Adds the tables of measured sizes, once all names are known.
    void measure(PlanBuilder& builder) {
        for (const auto& [path, place] : tables_) {
            const std::string_view text = reading_.keep(read_text(path, place));
            plan_.files.push_back(path);
            builder.measure(text, static_cast<std::uint32_t>(plan_.files.size() - 1));
        }
    }

private:
    static Value child_of(const Value& value, const std::string& part) {
        if (value.is_sequence()) {
            const auto elements = value.elements();
            for (std::size_t i = 0; i < elements.size(); ++i) {
                if (std::to_string(i) == part) return elements[i];
            }
            return {};
        }
        for (const auto& [key, entry] : value.entries()) {
            if (key.text() == part) return entry;
        }
        return {};
    }
    /// How many parts of a path there are below a value.
    static std::size_t known_parts(Value value, const std::vector<std::string>& path) {
        std::size_t known = 0;
        for (const std::string& part : path) {
            value = child_of(value, part);
            if (!value) break;
            ++known;
        }
        return known;
    }

    std::string read_text(const std::string& path, plan::Place named_at) {
        try {
            return disk_.read(path);
        } catch (const FileError& error) {
            if (named_at.line == 0) throw;
            throw FileError(fmt::format("{}: {}", place_text(plan_, named_at), error.what()));
        }
    }

    void include(const std::string& path, plan::Place place) {
        if (std::find(plan_.files.begin(), plan_.files.end(), path) != plan_.files.end()) {
            reading_.error("cycle", place, fmt::format("{} is part of this plan already", path));
            return;
        }
        read(path, place);
    }

    /// The files that a list of names and patterns stands for, relative to the file it stands in.
    std::vector<std::pair<std::string, plan::Place>> paths_in(const Value& value,
                                                              const std::string& path) {
        std::vector<std::pair<std::string, plan::Place>> paths;
        const std::filesystem::path folder = std::filesystem::path(path).parent_path();
        const std::vector<Value> names =
            value.is_scalar() ? std::vector{value} : reading_.list(value, "a list of file names");
        for (const Value& name : names) {
            std::string text;
            reading_.text(name, text);
            if (text.empty()) continue;
            const std::string full = (folder / text).lexically_normal().string();
            if (text.find_first_of("*?") == std::string::npos) {
                paths.emplace_back(full, name.place());
                continue;
            }
            const std::vector<std::string> matching = disk_.matching(full);
            if (matching.empty())
                reading_.wrong_value(name, fmt::format("no file matches {}", name.description()));
            for (const std::string& each : matching) paths.emplace_back(each, name.place());
        }
        return paths;
    }

    Disk& disk_;
    plan::Plan& plan_;
    Reading& reading_;
    std::vector<std::unique_ptr<YamlTree>> trees_;
    std::vector<std::pair<std::string, plan::Place>> tables_;
};

} // namespace

PlanReading read_plan(Disk& disk, const std::string& path, const ReadOptions& options) {
    PlanReading result;
    Reading reading(result.plan.files, options.uses);
    Files files(disk, result.plan, reading);
    try {
        files.read(path, {});
        for (const Override& each : options.overrides) files.set(each);
        PlanBuilder builder(result.plan, reading);
        for (const auto& tree : files.trees()) builder.declare(tree->root());
        builder.read();
        files.measure(builder);
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

std::string place_text(const plan::Plan& plan, plan::Place place) {
    const std::string& file = plan.files[place.file];
    if (place.line == 0) return file;
    return fmt::format("{}:{}:{}", file, place.line, place.column);
}

std::string finding_text(const plan::Plan& plan, const plan::Finding& finding) {
    return fmt::format("{}: {}: {}  [{}]", place_text(plan, finding.place),
                       severity_name(finding.severity), finding.message, finding.name);
}

} // namespace hestrel::format
