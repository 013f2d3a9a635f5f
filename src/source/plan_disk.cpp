#include "source/plan_disk.hpp"

#include "source/json.hpp"
#include "source/plan_files.hpp"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <set>

namespace hestrel::source {

namespace {

constexpr std::string_view journal_name = ".hestrel-journal";

/// Whether a text has the column that every table of sizes has.
bool has_pieces(std::string_view text) {
    return text.substr(0, text.find('\n')).find("piece") != std::string_view::npos;
}

} // namespace

PlanDisk::PlanDisk(Disk& real, const std::string& plan)
    : DiskOver(real), plan_(plan), folder_(std::filesystem::path(plan).parent_path().string()),
      journal_((std::filesystem::path(folder_) / journal_name).string()) {
    if (folder_.empty()) folder_ = ".";
    if (below().exists(journal_)) mend();
}

void PlanDisk::mend() {
    const auto held = below().hold(folder_);
    if (!below().exists(journal_)) return; // done in the meantime
    const std::vector<FileChange> changes = read_journal();
    if (!held) {
        read_as_before(changes);
        said_ = fmt::format(
            "{}: another process is changing this plan; it is read as it was before", folder_);
        return;
    }
    require_of_this_plan(changes);
    const auto left = left_to_do(changes);
    try {
        below().write_all(left);
        below().remove(journal_);
        said_ = fmt::format("{}: a change of {} files had been cut off; it is finished now",
                            folder_, changes.size());
    } catch (const FileError& error) {
        read_as_before(changes);
        said_ =
            fmt::format("{}: a change of {} files was cut off and can't be finished ({}); the plan "
                        "is read as it was before",
                        folder_, changes.size(), error.what());
    }
}

std::vector<std::pair<std::string, std::string>>
PlanDisk::left_to_do(const std::vector<FileChange>& changes) {
    std::vector<std::pair<std::string, std::string>> left;
    for (const FileChange& change : changes) {
        const std::optional<std::string> text = now(change.path);
        if (text == change.before)
            left.emplace_back(change.path, change.after);
        else if (text != change.after)
            throw FileError(
                fmt::format("{}: a change of {} files was cut off, and this one has been "
                            "changed since; remove {} once the files are as you want them",
                            change.path, changes.size(), journal_));
    }
    return left;
}

/// Whoever gives somebody a plan with a journal must not get any other file changed, not even by a
/// link in the plan's folder: what was there before must have been a part of this plan.
void PlanDisk::require_of_this_plan(const std::vector<FileChange>& changes) {
    read_as_before(changes);
    const FilesAgain as_before(*this, plan_, {});
    before_.clear();
    seen_.clear();
    std::set<std::filesystem::path> parts;
    for (const auto& tree : as_before.files.trees())
        parts.insert(whole(as_before.names.files[tree->root().place().file]));
    for (const FileChange& change : changes) {
        const bool is_below = lies_below(folder_, change.path);
        const bool is_table = is_below && change.before && has_pieces(*change.before);
        const bool is_new = is_below && !change.before && becomes_part(changes, change.path);
        if (!is_table && !is_new && !parts.contains(whole(change.path)))
            throw FileError(fmt::format(
                "{}: would change {}, which is no part of this plan; remove the journal", journal_,
                change.path));
    }
}

/// A new file, too, must be a part of the plan, once it is there.
bool PlanDisk::becomes_part(const std::vector<FileChange>& changes, const std::string& path) {
    std::vector<std::pair<std::string, std::string>> texts;
    for (const FileChange& change : changes) texts.emplace_back(change.path, change.after);
    ChangedDisk changed(below(), texts);
    const FilesAgain after(changed, plan_, {});
    return std::any_of(
        after.files.trees().begin(), after.files.trees().end(), [&](const auto& tree) {
            return whole(after.names.files[tree->root().place().file]) == whole(path);
        });
}

void PlanDisk::read_as_before(const std::vector<FileChange>& changes) {
    for (const FileChange& change : changes) before_[whole(change.path).string()] = change.before;
}

std::string PlanDisk::read(const std::string& path) {
    const std::string key = whole(path).string();
    const auto old = before_.find(key);
    if (old != before_.end() && !old->second)
        throw FileError(fmt::format("{}: is being made by a change", path));
    std::string text = old == before_.end() ? below().read(path) : *old->second;
    seen_.try_emplace(key, text);
    return text;
}

std::vector<std::string> PlanDisk::matching(const std::string& pattern) {
    std::vector<std::string> paths = below().matching(pattern);
    std::erase_if(paths, [&](const std::string& path) {
        const auto old = before_.find(whole(path).string());
        return old != before_.end() && !old->second;
    });
    return paths;
}

std::optional<std::string> PlanDisk::now(const std::string& path) {
    if (!below().exists(path)) return std::nullopt;
    return below().read(path);
}

void PlanDisk::change(const std::vector<std::pair<std::string, std::string>>& texts) {
    const auto held = below().hold(folder_);
    if (!held || below().exists(journal_))
        throw FileError(
            fmt::format("{}: another process is changing this plan; nothing was changed", folder_));
    std::vector<FileChange> changes;
    for (const auto& [path, text] : texts) {
        const auto seen = seen_.find(whole(path).string());
        std::optional<std::string> before;
        if (seen != seen_.end()) before = seen->second;
        if (now(path) != before)
            throw FileError(
                fmt::format("{}: has changed since it was read; nothing was changed", path));
        changes.push_back({path, std::move(before), text});
    }
    if (changes.size() <= 1) {
        below().write_all(texts);
        return;
    }
    below().write(journal_, journal_text(changes));
    try {
        below().write_all(texts);
    } catch (const FileError&) {
        // Where not even this can be done, the journal says what is to do.
        std::vector<std::pair<std::string, std::string>> back;
        for (const FileChange& each : changes) {
            if (now(each.path) != each.after) continue;
            if (each.before)
                back.emplace_back(each.path, *each.before);
            else
                below().remove(each.path);
        }
        below().write_all(back);
        below().remove(journal_);
        throw;
    }
    below().remove(journal_);
}

std::string PlanDisk::journal_text(const std::vector<FileChange>& changes) const {
    Json files = Json::array();
    for (const FileChange& change : changes) {
        const std::filesystem::path path = whole(change.path);
        files.push_back(
            {{"path", lies_below(folder_, path) ? path.lexically_relative(whole(folder_)).string()
                                                : path.string()},
             {"before", change.before ? Json(*change.before) : Json()},
             {"after", change.after}});
    }
    // CBOR (RFC 8949): texts are kept byte for byte, whether they are UTF-8 or not.
    const std::vector<std::uint8_t> bytes =
        Json::to_cbor(Json{{"hestrel-journal", 1}, {"files", std::move(files)}});
    return {bytes.begin(), bytes.end()};
}

std::vector<PlanDisk::FileChange> PlanDisk::read_journal() {
    std::vector<FileChange> changes;
    try {
        const Json journal = parsed(below().read(journal_), Json::input_format_t::cbor);
        for (const Json& each : journal.at("files")) {
            const std::filesystem::path path = each.at("path").get<std::string>();
            const std::filesystem::path full =
                path.is_absolute() || folder_ == "." ? path : folder_ / path;
            changes.push_back({full.lexically_normal().string(),
                               each.at("before").is_null() ? std::optional<std::string>()
                                                           : each.at("before").get<std::string>(),
                               each.at("after").get<std::string>()});
        }
    } catch (const Json::exception&) {
        throw FileError(fmt::format("{}: is no journal of Hestrel's; remove it", journal_));
    }
    return changes;
}

} // namespace hestrel::source
