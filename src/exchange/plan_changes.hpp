#pragma once
// What importing changes in the files of a plan, value by value: what is there gets its new value,
// what is new is put beside what stands with it, and nothing is taken away.

#include "plan/plan.hpp"
#include "source/disk.hpp"
#include "source/overrides.hpp"
#include "source/plan_files.hpp"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::exchange {

/// A thing by its kind and name: "area", "quay".
struct ThingName {
    std::string kind;
    std::string name;
};

/// What importing one file comes to.
struct Imported {
    std::vector<source::Override> settings; ///< in order
    std::vector<std::string> changed;       ///< lines for people, each with a place
    std::vector<ThingName> added;
    std::vector<ThingName> kept;     ///< of the plan, and not in the file
    std::vector<std::string> notes;  ///< what could not be taken over
    std::vector<std::string> errors; ///< nothing is to be changed then
    std::size_t same = 0;            ///< things that are as they were
};

/// The values of a plan that are to be set, by their paths.
class PlanChanges {
public:
    using Path = std::vector<std::string>;

    /// Both outlive it. Throws FileError where a file can't be read again.
    PlanChanges(source::Disk& disk, const plan::Plan& plan, const std::string& path)
        : plan_(plan), again_(disk, path, {}) {
        for (const plan::LevelId level : plan.levels.ids())
            levels_.emplace(plan.levels[level].name, level);
    }

    [[nodiscard]] const plan::Plan& plan() const { return plan_; }
    [[nodiscard]] const source::PlanFiles& files() const { return again_.files; }
    /// Unset where the plan has no such level.
    [[nodiscard]] plan::LevelId level(const std::string& name) const {
        const auto found = levels_.find(name);
        return found == levels_.end() ? plan::LevelId{} : found->second;
    }
    /// What stands at a path today; nothing where it is not there.
    [[nodiscard]] source::Value at(const Path& path) const;
    /// Puts a value at a path of which perhaps only a part is there: what is missing comes with it.
    /// `value` is YAML on one line.
    void set(const Path& path, const std::string& value);
    /// Behind the last element of a list, or as the first of a new one.
    void append(const Path& list, const std::string& value);
    /// Where a level stands, or will: a new one is put there, into `parent` where that is not
    /// empty. `title` where it is told that it is new.
    Path path_of_level(const std::string& name, const std::string& parent);
    /// Those that were put there, by name.
    [[nodiscard]] std::vector<std::string> new_levels() const {
        std::vector<std::string> names;
        for (const auto& [name, path] : new_levels_) names.push_back(name);
        return names;
    }
    /// Whether it is in the plan, or new.
    [[nodiscard]] bool knows_level(const std::string& name) const {
        return levels_.contains(name) || new_levels_.contains(name);
    }
    /// Why a name can't be that of something new; nothing where it can. `known` are the names of
    /// its kind: one that differs in capitals alone is meant to be that.
    [[nodiscard]] static std::optional<std::string>
    objection_to(std::string_view name, std::string_view kind,
                 const std::vector<std::string_view>& known);
    [[nodiscard]] std::optional<std::string> objection_to_level(const std::string& name) const;
    /// All that was set, what is new behind what stands there.
    [[nodiscard]] std::vector<source::Override> take();

private:
    /// What is put where nothing was.
    struct New {
        std::string value;                          ///< of a scalar, or what stands in brackets
        std::vector<std::string> keys;              ///< of a mapping, in order
        std::vector<New> inside;                    ///< what stands under each
        std::map<std::string, std::size_t> numbers; ///< of keys
        std::vector<std::string> elements;          ///< of a list

        New& entry(const std::string& key);
        /// By indentation, each line further in than the key; a value alone on one line.
        [[nodiscard]] std::string text() const;
    };
    New& new_at(const Path& path, std::size_t known);

    const plan::Plan& plan_;
    source::FilesAgain again_;
    std::map<std::string, plan::LevelId> levels_;
    std::map<std::string, Path> new_levels_;
    std::vector<source::Override> settings_;
    std::vector<std::pair<Path, New>> new_; ///< in order
    std::map<Path, std::size_t> new_numbers_;
    std::map<Path, std::size_t> appended_; ///< to lists that are there
};

/// What stands in it under a key.
inline PlanChanges::Path operator/(PlanChanges::Path path, std::string_view key) {
    path.emplace_back(key);
    return path;
}

} // namespace hestrel::exchange
