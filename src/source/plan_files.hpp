#pragma once
// The files of one plan as trees: the main one, then what each includes, in plan order.

#include "plan/plan.hpp"
#include "source/disk.hpp"
#include "source/overrides.hpp"
#include "source/read_context.hpp"
#include "source/yaml_tree.hpp"

#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::source {

/// Reads a plan's files; knows nothing of what is in them but `include` and `sizes`. What is wrong
/// becomes a finding of `reading`; throws FileError where a file can't be read.
class PlanFiles {
public:
    /// `plan.files` gets the names of the files.
    PlanFiles(Disk& disk, plan::Plan& plan, ReadContext& reading)
        : disk_(disk), plan_(plan), reading_(reading) {}

    /// Reads a file and what it includes. `named_at`: where it is named; nowhere for the main file.
    void read(const std::string& path, plan::Place named_at);
    /// Tries a value: in the file that knows most of the path, the first of several.
    void set(const Override& wanted);

    [[nodiscard]] const std::vector<std::unique_ptr<YamlTree>>& trees() const { return trees_; }
    /// The same for good; values of them stay valid.
    std::vector<std::unique_ptr<YamlTree>> take_trees() { return std::move(trees_); }
    /// The number of the tree that knows most of a path, the first of several, and how many parts
    /// of it are there.
    struct Known {
        std::size_t tree = 0;
        std::size_t parts = 0;
        Value value; ///< of the last part that is there
    };
    [[nodiscard]] Known find(const std::vector<std::string>& path) const;

    /// What stands in files that are no YAML: names that they define can't be known.
    [[nodiscard]] const std::string& broken() const { return broken_; }
    /// Who reads a table: its text, the number of its file, and where the plan names it.
    using TableReader = std::function<void(std::string_view, std::uint32_t, plan::Place)>;
    /// Gives the tables of measured sizes to who reads them.
    void measure(const TableReader& read_table);

private:
    std::string read_text(const std::string& path, plan::Place named_at);
    /// An included file that is none of a plan's; nothing of what it says is told.
    void refuse(const std::string& path, plan::Place named_at);
    void include(const std::string& path, plan::Place place);
    std::vector<std::pair<std::string, plan::Place>> paths_in(const Value& value,
                                                              const std::string& path);

    Disk& disk_;
    plan::Plan& plan_;
    ReadContext& reading_;
    std::vector<std::unique_ptr<YamlTree>> trees_;
    std::vector<std::pair<std::string, plan::Place>> tables_;
    std::string broken_;
};

/// The files of a plan that has been read before, read once more for what they say.
struct FilesAgain {
    /// `tried`: values to set, in order. Throws FileError where a file can't be read.
    FilesAgain(Disk& disk, const std::string& path, const std::vector<Override>& tried)
        : reading(names.files, nullptr), files(disk, names, reading) {
        files.read(path, {});
        for (const Override& each : tried) files.set(each);
    }
    FilesAgain(const FilesAgain&) = delete;
    FilesAgain& operator=(const FilesAgain&) = delete;

    plan::Plan names; ///< only the names of the files
    ReadContext reading;
    PlanFiles files;
};

/// What a mapping has under a key, or a list as element number so many; nothing where it has not.
Value child_of(const Value& value, const std::string& part);

} // namespace hestrel::source
