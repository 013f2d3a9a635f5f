#pragma once
// What the server knows: the files that the editor has open, and the plans to which they belong.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "serve/document.hpp"
#include "source/disk.hpp"
#include "source/name_use.hpp"
#include "source/source_text.hpp"
#include "source/yaml_tree.hpp"
#include "walk/record.hpp"

#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace hestrel::study {
struct Study;
}

namespace hestrel::serve {

/// A file as the editor has it.
struct OpenFile {
    Document document;
    std::int64_t version = 0;
};

/// The disk, with what the editor has not saved yet. Writes nothing.
class EditedDisk final : public source::DiskOver {
public:
    explicit EditedDisk(source::Disk& real) : DiskOver(real) {}

    /// By their paths from the root on.
    std::map<std::string, OpenFile> open;

    std::string read(const std::string& path) override;
    std::vector<std::string> matching(const std::string& pattern) override;
    [[nodiscard]] bool exists(const std::string& path) const override;
    [[nodiscard]] bool is_file(const std::string& path) const override;
    void write(const std::string&, const std::string&) override {}
    void write_all(const std::vector<std::pair<std::string, std::string>>&) override {}
    void append(const std::string&, const std::string&) override {}
    void remove(const std::string&) override {}
};

/// One file of a plan that was read, as it was then.
struct PlanFile {
    PlanFile(std::string at, std::string text);

    std::string path; ///< from the root on
    Document document;
    source::SourceText lines;               ///< of the document's text
    std::unique_ptr<source::YamlTree> tree; ///< of the same; null where it is no YAML
    PlanFile(const PlanFile&) = delete;
    PlanFile& operator=(const PlanFile&) = delete;

    /// Where a place of the plan is in the text; nothing where the text has no such line.
    [[nodiscard]] std::optional<std::size_t> offset_of(plan::Place place) const {
        return lines.offset_of(place);
    }
};

/// A plan, read whole.
struct PlanRead {
    plan::Plan plan;
    std::vector<plan::Finding> errors; ///< what the reader found
    std::vector<source::NameUse> uses; ///< every mention of a name
    std::vector<std::unique_ptr<PlanFile>> files;
    std::string trouble; ///< why a file can't be read; then all else is empty

    /// Whether all files were YAML, so that every name in them is known.
    [[nodiscard]] bool is_whole() const;
    /// The number of a file by its path; nothing where it is none of this plan's.
    [[nodiscard]] std::optional<std::uint32_t> file_called(const std::string& path) const;
    /// The file there, where its text is that of a document; else null.
    [[nodiscard]] const PlanFile* file_as_in(const std::string& path,
                                             const Document& document) const;
    /// What follows from the plan, worked out when it is first asked for.
    [[nodiscard]] const study::Study& study() const;
    /// Every route walked on every device. Worked out once.
    [[nodiscard]] const std::vector<walk::Record>& walks() const;
    /// All that `check` says, in file order; or that a file can't be read. Worked out once, too.
    [[nodiscard]] const std::vector<plan::Finding>& findings() const;

    PlanRead();
    ~PlanRead();
    PlanRead(const PlanRead&) = delete;
    PlanRead& operator=(const PlanRead&) = delete;

private:
    mutable std::unique_ptr<study::Study> study_;
    mutable std::optional<std::vector<walk::Record>> walks_;
    mutable std::optional<std::vector<plan::Finding>> findings_;
};

/// One plan: as it stands, and as it was when all of it could be read.
struct PlanState {
    std::string path;                 ///< of its main file, from the root on
    std::shared_ptr<PlanRead> latest; ///< null until it is read, and when a file has changed
    std::shared_ptr<PlanRead> whole;  ///< the latest whose files were YAML; may be the same
    std::set<std::string> said;       ///< files about which something was said last
};

class Workspace {
public:
    explicit Workspace(source::Disk& real) : disk_(real) {}

    void open(const std::string& path, std::string text, std::int64_t version);
    /// The file that is open there; null where none is.
    OpenFile* file(const std::string& path);
    /// To be called after a file was changed in the editor or on the disk.
    void changed(const std::string& path);
    void close(const std::string& path);
    /// Folders in which plans are looked for, besides those above a file.
    void set_folders(std::vector<std::string> folders) { folders_ = std::move(folders); }

    /// The plan to which a file belongs: itself, or the nearest main file that includes it. Null
    /// where it belongs to none.
    PlanState* plan_of(const std::string& path);
    /// The plan as it stands, read where that is needed.
    const PlanRead& read(PlanState& state);
    /// The same; where a file is no YAML at the moment, as it was before. Null where it never was.
    const PlanRead* names(PlanState& state);

    [[nodiscard]] std::map<std::string, PlanState>& plans() { return plans_; }
    [[nodiscard]] EditedDisk& disk() { return disk_; }

private:
    PlanState* main_file_for(const std::string& path);
    bool is_main_file(const std::string& path);
    /// A main file that is worth reading to learn whether it includes another.
    bool may_include(const std::string& path);
    /// Empty where it can't be read.
    std::string text_at(const std::string& path);

    EditedDisk disk_;
    std::vector<std::string> folders_;
    std::map<std::string, PlanState> plans_;       ///< by main file
    std::map<std::string, std::string> belonging_; ///< file to main file, "" for none
};

} // namespace hestrel::serve
