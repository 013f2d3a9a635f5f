#include "edit/rename.hpp"

#include "edit/name_places.hpp"
#include "plan/names.hpp"
#include "source/did_you_mean.hpp"
#include "source/plan_reader.hpp"
#include "source/read_context.hpp"
#include "source/source_text.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <optional>
#include <set>

namespace hestrel::edit {

namespace {

/// The name that is meant, as kind and scope and name.
struct Meant {
    std::string kind, scope, name;
    std::set<std::string> cells; ///< of a level, whose names begin with its own

    /// Whether a text is the name of one of its cells.
    [[nodiscard]] bool has_cell(const std::string& text) const { return cells.contains(text); }
    /// What a cell is called where the level is called otherwise.
    [[nodiscard]] std::string cell_of(const std::string& text, const std::string& level) const {
        return level + text.substr(name.size());
    }
    [[nodiscard]] std::string in_full() const { return scope.empty() ? name : scope + "." + name; }
    [[nodiscard]] bool is(const source::NameUse& use) const {
        return use.kind == kind && use.scope == scope && use.name == name;
    }
};

Meant find_meant(const std::vector<source::NameUse>& uses, const std::string& old_name,
                 const std::string& kind) {
    const std::size_t dot = old_name.rfind('.');
    const std::string scope = dot == std::string::npos ? "" : old_name.substr(0, dot);
    const std::string name = dot == std::string::npos ? old_name : old_name.substr(dot + 1);
    std::set<std::string> kinds;
    std::set<std::string> scopes;
    std::vector<std::string_view> known;
    for (const source::NameUse& use : uses) {
        if (!kind.empty() && use.kind != kind) continue;
        if (use.name != name) {
            known.push_back(use.name);
            continue;
        }
        if (use.scope == scope) kinds.insert(use.kind);
        if (scope.empty() && !use.scope.empty()) scopes.insert(use.scope + "." + use.name);
    }
    if (kinds.empty() && !scopes.empty())
        throw RenameError(fmt::format("\"{}\" belongs to something; say which: {}", name,
                                      plan::joined({scopes.begin(), scopes.end()})));
    if (kinds.empty()) {
        throw RenameError(
            fmt::format("nothing is called \"{}\"{}{}", old_name,
                        kind.empty() ? "" : fmt::format(" among things of kind {}", kind),
                        source::hint(name, known)));
    }
    if (kinds.size() > 1) {
        throw RenameError(fmt::format("several things are called \"{}\"; say which with --kind: {}",
                                      old_name, plan::joined({kinds.begin(), kinds.end()})));
    }
    return {*kinds.begin(), scope, name, {}};
}

/// The names of a level's cells.
std::set<std::string> cells_of(const plan::Plan& plan, const std::string& level) {
    std::set<std::string> cells;
    for (const plan::Grid& grid : plan.grids) {
        if (plan.levels[grid.level].name != level) continue;
        for (const plan::LevelId cell : grid.cells) {
            if (cell) cells.insert(plan.levels[cell].name);
        }
    }
    return cells;
}

/// What changes in each file.
std::map<std::uint32_t, std::vector<Replacement>>
replacements_by_file(source::Disk& disk, const plan::Plan& plan,
                     const std::vector<source::NameUse>& uses, const Meant& meant,
                     const std::string& new_name) {
    std::map<std::uint32_t, std::vector<Replacement>> replacements;
    std::map<std::uint32_t, std::pair<std::string, std::optional<source::SourceText>>> texts;
    for (const source::NameUse& use : uses) {
        const bool cell = use.kind == "level" && meant.has_cell(use.name);
        if (!meant.is(use) && !cell) continue;
        auto& [text, lines] = texts[use.place.file];
        if (!lines) {
            text = disk.read(plan.files[use.place.file]);
            lines.emplace(text);
        }
        const auto at = offset_of(use, text, *lines);
        if (!at) {
            throw RenameError(fmt::format("{}: the name stands here in a way that can't be changed",
                                          plan::place_text(plan, use.place)));
        }
        replacements[use.place.file].push_back(
            {{*at, *at + use.name.size()}, cell ? meant.cell_of(use.name, new_name) : new_name});
    }
    for (auto& [file, of_file] : replacements) sort_once(of_file);
    return replacements;
}

std::vector<ChangedLine> changed_lines(const std::string& file, std::string_view before,
                                       std::string_view after,
                                       const std::vector<Replacement>& replacements) {
    const source::SourceText old_text(before);
    const source::SourceText new_text(after);
    std::vector<ChangedLine> lines;
    std::uint32_t line = 1;
    for (const Replacement& each : replacements) {
        while (true) {
            const auto next = old_text.offset_of({0, line + 1, 1});
            if (!next || *next > each.span.from) break;
            ++line;
        }
        if (!lines.empty() && lines.back().line == line) continue;
        lines.push_back(
            {file, line, std::string(old_text.line(line)), std::string(new_text.line(line))});
    }
    return lines;
}

/// The kind of thing that things of a kind with an owner belong to.
std::string_view owning_kind(std::string_view kind) {
    if (kind == "item") return "menu";
    if (kind == "speed") return "player";
    if (kind == "parcel") return "edition";
    if (kind == "parameter") return "list";
    return "level"; // entries, and what stands inside a level
}

/// What belongs to the thing belongs to it by its new name.
void rename_owner(source::NameUse& use, const Meant& meant, const Meant& renamed) {
    const std::string old_name = meant.in_full();
    const std::string new_name = renamed.in_full();
    if (meant.has_cell(use.scope)) {
        use.scope = meant.cell_of(use.scope, new_name);
    } else if (use.scope == old_name && owning_kind(use.kind) == meant.kind) {
        use.scope = new_name;
    } else if (meant.kind == "level" && (use.kind == "item" || use.kind == "parameter") &&
               use.scope.starts_with(old_name + ".")) { // of a menu or list inside it
        use.scope = new_name + use.scope.substr(old_name.size());
    }
}

/// What each mention means, without where it stands.
std::vector<source::NameUse> meanings(std::vector<source::NameUse> uses, const Meant& meant,
                                      const std::string& new_name) {
    const Meant renamed{meant.kind, meant.scope, new_name, {}};
    for (source::NameUse& use : uses) {
        if (meant.is(use)) use.name = new_name;
        if (use.kind == "level" && meant.has_cell(use.name))
            use.name = meant.cell_of(use.name, new_name);
        rename_owner(use, meant, renamed);
        use.place = {use.place.file, use.place.line, 0};
        use.nth = 0;
    }
    return uses;
}

} // namespace

Renaming rename(source::Disk& disk, const std::string& plan_path, const std::string& old_name,
                const std::string& new_name, const std::string& kind) {
    std::vector<source::NameUse> uses;
    const source::PlanReading reading = source::read_plan(disk, plan_path, {{}, &uses});
    if (reading.has_errors()) {
        throw RenameError(fmt::format("{} can't be read as it is written; mend that first:\n{}",
                                      plan_path,
                                      plan::finding_text(reading.plan, reading.findings.front())));
    }
    return rename(disk, plan_path, reading.plan, uses, old_name, new_name, kind);
}

Renaming rename(source::Disk& disk, const std::string& plan_path, const plan::Plan& plan,
                const std::vector<source::NameUse>& uses, const std::string& old_name,
                const std::string& new_name, const std::string& kind) {
    Meant meant = find_meant(uses, old_name, kind);
    if (meant.kind == "level") meant.cells = cells_of(plan, meant.name);
    if (!source::is_name(new_name)) {
        throw RenameError(fmt::format(
            "\"{}\" is no name: letters, digits, - and _, starting with a letter or digit",
            new_name));
    }
    for (const source::NameUse& use : uses) {
        if (use.kind != meant.kind || use.scope != meant.scope || use.name != new_name) continue;
        throw RenameError(fmt::format("{}: there is a {} \"{}\" already",
                                      plan::place_text(plan, use.place), meant.kind, new_name));
    }

    Renaming result;
    result.kind = meant.kind;
    for (const auto& [file, of_file] : replacements_by_file(disk, plan, uses, meant, new_name)) {
        const std::string& path = plan.files[file];
        const std::string before = disk.read(path);
        std::string after = replaced(before, of_file);
        for (ChangedLine& line : changed_lines(path, before, after, of_file))
            result.lines.push_back(std::move(line));
        result.places += of_file.size();
        if (after == before) continue;
        result.files.emplace_back(path, std::move(after));
        result.replacements.push_back(of_file);
    }

    // The proof: the changed files say what the old ones did, word for word but for the name.
    source::ChangedDisk changed(disk, result.files);
    std::vector<source::NameUse> uses_after;
    const source::PlanReading after = source::read_plan(changed, plan_path, {{}, &uses_after});
    if (after.has_errors()) {
        throw RenameError(fmt::format("with that name the plan would be wrong:\n{}",
                                      plan::finding_text(after.plan, after.findings.front())));
    }
    const std::vector<source::NameUse> expected = meanings(uses, meant, new_name);
    const std::vector<source::NameUse> found = meanings(uses_after, {}, "");
    const auto [wanted, differs] =
        std::mismatch(expected.begin(), expected.end(), found.begin(), found.end());
    if (wanted != expected.end() || differs != found.end()) {
        const source::NameUse& use = wanted != expected.end() ? *wanted : *differs;
        throw RenameError(fmt::format("{}:{}: \"{}\" would mean something else here",
                                      plan.files[use.place.file], use.place.line, use.name));
    }
    return result;
}

} // namespace hestrel::edit
