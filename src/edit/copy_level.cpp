#include "edit/copy_level.hpp"

#include "edit/name_places.hpp"
#include "plan/level_tree.hpp"
#include "plan/names.hpp"
#include "source/did_you_mean.hpp"
#include "source/lines.hpp"
#include "source/plan_content.hpp"
#include "source/plan_files.hpp"
#include "source/plan_reader.hpp"
#include "source/read_context.hpp"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <map>
#include <optional>

namespace hestrel::edit {

namespace {

using plan::LevelId;
using source::Value;

/// One file's text, and where its values stand.
class File {
public:
    File(std::string path, std::string text)
        : path_(std::move(path)), text_(std::move(text)), lines_(text_) {}
    File(const File&) = delete;
    File& operator=(const File&) = delete;

    [[nodiscard]] const std::string& path() const { return path_; }
    [[nodiscard]] const std::string& text() const { return text_; }
    [[nodiscard]] const source::SourceText& lines() const { return lines_; }
    [[nodiscard]] std::size_t at(plan::Place place) const {
        return lines_.offset_of(place).value_or(text_.size());
    }
    [[nodiscard]] std::size_t line_start(std::size_t at) const {
        return at == 0 ? 0 : text_.rfind('\n', at - 1) + 1; // npos + 1 is 0
    }
    [[nodiscard]] std::size_t line_end(std::size_t at) const {
        return std::min(text_.find('\n', at), text_.size());
    }

private:
    std::string path_;
    std::string text_;
    source::SourceText lines_;
};

/// A level as it is written: its key, and what stands under it.
struct Written {
    Value parent; ///< the mapping in which it stands
    Value key;
    Value body;
};

Written find_written(const source::PlanFiles& files, const plan::Plan& plan, LevelId level) {
    std::vector<std::string> path = path_of(plan, level);
    path.pop_back();
    const plan::Place place = plan.levels[level].place;
    // Of several files with levels it is the one that the level stands in.
    for (const auto& tree : files.trees()) {
        Value parent = tree->root();
        for (const std::string& part : path) parent = source::child_of(parent, part);
        for (const auto& [key, body] : parent.written_entries()) {
            if (key.place() == place) return {parent, key, body};
        }
    }
    throw CopyError(fmt::format("{}: {} is not written out there, but shared by an anchor",
                                plan::place_text(plan, place), plan.levels[level].name));
}

/// What the copies are called, by the old names.
std::map<std::string, std::string> new_names(const plan::Plan& plan, LevelId level,
                                             const std::string& new_name) {
    std::map<std::string, std::string> names;
    const std::string& old_name = plan.levels[level].name;
    for (const LevelId each : plan::subtree_of(plan::level_tree(plan.levels), level)) {
        const std::string& name = plan.levels[each].name;
        const bool begins_so = name.starts_with(old_name + "-");
        names[name] = each == level ? new_name
                      : begins_so   ? new_name + name.substr(old_name.size())
                                    : new_name + "-" + name;
    }
    for (const plan::Level& taken : plan.levels) {
        for (const auto& [old_one, new_one] : names) {
            if (taken.name == new_one)
                throw CopyError(fmt::format("{}: there is a level \"{}\" already",
                                            plan::place_text(plan, taken.place), new_one));
        }
    }
    return names;
}

/// Anchors in a level's text go: they mean the old one.
void drop_anchors(const File& file, const Value& value, std::vector<Replacement>& replacements) {
    if (value.is_alias()) return;
    const std::size_t from = file.at(value.place());
    if (from < file.text().size() && file.text()[from] == '&') {
        std::size_t to =
            std::min(file.text().find_first_of(" \n\r\t,]}", from), file.text().size());
        if (to < file.text().size() && file.text()[to] == ' ') ++to;
        replacements.push_back({{from, to}, ""});
    }
    for (const auto& [key, child] : value.written_entries())
        drop_anchors(file, child, replacements);
    for (const Value& child : value.elements()) drop_anchors(file, child, replacements);
}

/// Lines moved to the right or left by so many columns.
std::string indented(const std::string& text, std::size_t from, std::size_t to) {
    std::string moved;
    std::size_t at = 0;
    while (at < text.size()) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        const std::size_t blank = std::min(text.find_first_not_of(' ', at), end) - at;
        const std::size_t less = std::min(blank, from);
        if (blank < end - at) moved += std::string(to, ' ');
        moved += text.substr(at + less, end - at - less);
        if (end < text.size()) moved += '\n';
        at = end + 1;
    }
    return moved;
}

class Copier {
public:
    Copier(source::Disk& disk, const std::string& plan_path, const std::string& level,
           const std::string& new_name, const CopyOptions& options)
        : disk_(disk), plan_path_(plan_path), options_(options),
          reading_(source::read_plan(disk, plan_path, {{}, &uses_})), again_(disk, plan_path, {}),
          level_(find_level(level)) {
        if (!source::is_name(new_name)) {
            throw CopyError(fmt::format(
                "\"{}\" is no name: letters, digits, - and _, starting with a letter or digit",
                new_name));
        }
        names_ = new_names(reading_.plan, level_, new_name);
    }

    Copied copied() {
        const Written written = find_written(again_.files, reading_.plan, level_);
        const File& file = file_of(written.key.place().file);
        range_ = range_of(file, written);
        const std::string text = text_of_copy(file, written);
        if (options_.into.empty()) {
            put_behind(file, written, text);
        } else {
            put_into(text, written.key.place().column - 1);
        }
        if (options_.editions) add_to_editions();
        find_mentions();
        for (const LevelId each : plan::subtree_of(plan::level_tree(plan().levels), level_))
            result_.names.emplace_back(plan().levels[each].name, names_[plan().levels[each].name]);
        for (auto& [path, replacements] : changes_) {
            sort_once(replacements);
            result_.files.emplace_back(path, replaced(texts_[path], replacements));
        }
        prove();
        return std::move(result_);
    }

private:
    [[nodiscard]] const plan::Plan& plan() const { return reading_.plan; }

    LevelId find_level(const std::string& name) {
        if (reading_.has_errors()) {
            throw CopyError(fmt::format("{} can't be read as it is written; mend that first:\n{}",
                                        plan_path_,
                                        plan::finding_text(plan(), reading_.findings.front())));
        }
        std::vector<std::string_view> known;
        for (const LevelId level : plan().levels.ids()) {
            if (plan().levels[level].name == name) return level;
            known.push_back(plan().levels[level].name);
        }
        throw CopyError(
            fmt::format("no level is called \"{}\"{}", name, source::hint(name, known)));
    }

    const File& file_of(std::uint32_t number) {
        auto& file = files_[number];
        if (!file) {
            const std::string& path = plan().files[number];
            file = std::make_unique<File>(path, disk_.read(path));
            texts_[path] = file->text();
        }
        return *file;
    }

    /// Written by indentation, whole lines, with remarks that are further in than the key.
    static Span range_of(const File& file, const Written& written) {
        const std::size_t from = file.at(written.key.place());
        const std::size_t to = std::max(file.at(written.body.end()), file.at(written.key.end()));
        if (written.parent.in_brackets()) return {from, to};
        Span range{file.line_start(from), file.line_end(to)};
        const std::size_t column = written.key.place().column - 1;
        const std::string& text = file.text();
        for (std::size_t at = range.to; at < text.size();) {
            const std::size_t line = at + 1;
            const std::size_t first = text.find_first_not_of(' ', line);
            if (first == std::string::npos || text[first] != '#' || first - line <= column) break;
            range.to = at = file.line_end(line);
        }
        return range;
    }

    /// The level's text with the new names.
    std::string text_of_copy(const File& file, const Written& written) {
        std::vector<Replacement> replacements;
        drop_anchors(file, written.body, replacements);
        for (const source::NameUse& use : uses_) {
            const auto name = names_.find(use.name);
            if (use.kind != "level" || name == names_.end()) continue;
            if (plan().files[use.place.file] != file.path()) continue;
            const auto at = offset_of(use, file.text(), file.lines());
            if (at && *at >= range_.from && *at < range_.to)
                replacements.push_back({{*at, *at + use.name.size()}, name->second});
        }
        sort_once(replacements);
        for (Replacement& each : replacements) {
            each.span.from -= range_.from;
            each.span.to -= range_.from;
        }
        return replaced(file.text().substr(range_.from, range_.to - range_.from), replacements);
    }

    void change(const std::string& path, std::size_t at, std::string text) {
        changes_[path].push_back({{at, at}, std::move(text)});
    }
    /// Writes the level there, with what comes before it.
    void put(const File& file, std::size_t at, const std::string& before, const std::string& text) {
        change(file.path(), at, before + text);
        note_lines(text);
        const auto lines_on =
            static_cast<std::size_t>(std::count(before.begin(), before.end(), '\n'));
        result_.place = place_text(file, at, lines_on);
    }

    void put_behind(const File& file, const Written& written, const std::string& text) {
        if (written.parent.in_brackets()) return put(file, range_.to, ", ", text);
        const std::string& all = file.text();
        const bool apart = all.compare(range_.to, 2, "\n\n") == 0 || // as it stands now
                           (range_.from >= 2 && all.compare(range_.from - 2, 2, "\n\n") == 0);
        put(file, range_.to, apart ? "\n\n" : "\n", text);
    }
    static std::string place_text(const File& file, std::size_t at, std::size_t lines_on) {
        const auto before = std::count(file.text().begin(),
                                       file.text().begin() + static_cast<std::ptrdiff_t>(at), '\n');
        return fmt::format("{}:{}", file.path(), static_cast<std::size_t>(before) + 1 + lines_on);
    }
    void note_lines(const std::string& text) {
        for (const std::string_view line : source::lines_of(text)) result_.lines.emplace_back(line);
    }

    /// Into another file of the plan, or into a new one that the plan includes by a pattern.
    void put_into(const std::string& text, std::size_t indent) {
        if (plan().levels[level_].parent)
            throw CopyError("a sublevel stands with its parent, in the same file");
        constexpr std::size_t usual = 2;
        const std::string wanted = std::filesystem::path(options_.into).lexically_normal().string();
        for (const auto& tree : again_.files.trees()) {
            const std::uint32_t number = tree->root().place().file;
            if (source::whole(plan().files[number]) != source::whole(wanted)) continue;
            const File& file = file_of(number);
            const Value levels = source::child_of(tree->root(), "levels");
            if (!levels || levels.is_null()) {
                if (levels) throw CopyError(fmt::format("{}: `levels` is empty", file.path()));
                const bool ends = file.text().empty() || file.text().ends_with('\n');
                put(file, file.text().size(), std::string(ends ? "" : "\n") + "\nlevels:\n",
                    indented(text, indent, usual) + "\n");
                return;
            }
            const auto entries = levels.written_entries();
            const Written last{levels, entries.back().first, entries.back().second};
            const Span range = range_of(file, last);
            if (levels.in_brackets()) return put(file, range.to, ", ", text);
            put(file, range.to, "\n", indented(text, indent, last.key.place().column - 1));
            return;
        }
        if (disk_.exists(wanted))
            throw CopyError(fmt::format("{} is no part of this plan", wanted));
        const std::string moved = indented(text, indent, usual);
        note_lines(moved);
        result_.place = wanted + ":2";
        new_file_ = wanted;
        changes_[wanted] = {{{}, "levels:\n" + moved + "\n"}};
    }

    void add_to_editions() {
        for (const plan::Edition& edition : plan().editions) {
            for (std::size_t i = 0; i < edition.levels.size(); ++i) {
                const auto name = names_.find(plan().levels[edition.levels[i]].name);
                if (name != names_.end()) add_to(edition, edition.level_places[i], *name);
            }
        }
    }
    void add_to(const plan::Edition& edition, plan::Place place,
                const std::pair<const std::string, std::string>& name) {
        const File& file = file_of(place.file);
        const auto span = name_at(file.lines(), file.text(), place, name.first);
        if (!span)
            throw CopyError(fmt::format("{}: an edition lists it in a way that can't be added to",
                                        plan::place_text(plan(), place)));
        if (const auto line = item_line(file.lines(), file.text(), place.line, *span)) {
            const std::size_t start = file.line_start(span->from);
            change(file.path(), line->to,
                   "\n" + file.text().substr(start, span->from - start) + name.second);
        } else {
            change(file.path(), span->to, ", " + name.second);
        }
        if (std::find(result_.editions.begin(), result_.editions.end(), edition.name) ==
            result_.editions.end())
            result_.editions.push_back(edition.name);
    }

    /// Of the old level and its sublevels, outside of it.
    void find_mentions() {
        std::vector<std::pair<plan::Place, Mention>> mentions;
        for (const source::NameUse& use : uses_) {
            if (use.kind != "level" || !names_.contains(use.name)) continue;
            const File& file = file_of(use.place.file);
            const std::size_t at = file.at(use.place);
            const bool inside = use.place.file == plan().levels[level_].place.file &&
                                at >= range_.from && at < range_.to;
            if (inside || (options_.editions && is_in_edition(use.place))) continue;
            std::string line(file.lines().line(use.place.line));
            line.erase(0, std::min(line.find_first_not_of(' '), line.size()));
            mentions.emplace_back(use.place,
                                  Mention{plan::place_text(plan(), use.place), std::move(line)});
        }
        std::sort(mentions.begin(), mentions.end());
        mentions.erase(std::unique(mentions.begin(), mentions.end()), mentions.end());
        for (auto& [place, mention] : mentions) result_.mentions.push_back(std::move(mention));
    }
    [[nodiscard]] bool is_in_edition(plan::Place place) const {
        return std::any_of(plan().editions.begin(), plan().editions.end(), [&](const auto& each) {
            return std::find(each.level_places.begin(), each.level_places.end(), place) !=
                   each.level_places.end();
        });
    }

    /// The proof: the changed files say what the old ones did, and the new level.
    void prove() {
        source::ChangedDisk changed(disk_, result_.files);
        const source::PlanReading after = source::read_plan(changed, plan_path_);
        const auto& files = after.plan.files;
        if (!new_file_.empty() && std::none_of(files.begin(), files.end(), [&](const auto& file) {
                return source::whole(file) == source::whole(new_file_);
            }))
            throw CopyError(
                fmt::format("the plan does not include {}: add it to `include:`", new_file_));
        if (after.has_errors()) {
            throw CopyError(fmt::format("with the copy the plan would be wrong:\n{}",
                                        plan::finding_text(after.plan, after.findings.front())));
        }
        std::vector<std::string> path = path_of(plan(), level_);
        path.back() = names_[path.back()];
        const std::string added = fmt::format("{}", fmt::join(path, "."));
        for (const source::PlanChange& change :
             source::plan_changes(source::plan_content(disk_, plan_path_, {}),
                                  source::plan_content(changed, plan_path_, {}))) {
            const bool listed = options_.editions && change.path.starts_with("editions.");
            if (change.path == added || listed) continue;
            throw CopyError(
                fmt::format("{} would change as well: it is shared by an anchor; copy it by hand",
                            change.path));
        }
    }

    source::Disk& disk_;
    const std::string& plan_path_;
    const CopyOptions& options_;
    std::vector<source::NameUse> uses_;
    source::PlanReading reading_;
    source::FilesAgain again_;
    LevelId level_;
    std::map<std::string, std::string> names_;
    Span range_; ///< of the old level
    std::map<std::uint32_t, std::unique_ptr<File>> files_;
    std::map<std::string, std::string> texts_; ///< as they are, by path
    std::map<std::string, std::vector<Replacement>> changes_;
    std::string new_file_;
    Copied result_;
};

} // namespace

Copied copy_level(source::Disk& disk, const std::string& plan, const std::string& level,
                  const std::string& new_name, const CopyOptions& options) {
    return Copier(disk, plan, level, new_name, options).copied();
}

} // namespace hestrel::edit
