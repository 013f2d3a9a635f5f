#include "serve/workspace.hpp"

#include "check/check.hpp"
#include "plan/names.hpp"
#include "source/plan_reader.hpp"
#include "study/study.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <filesystem>

namespace hestrel::serve {

namespace {

std::string from_root(const std::string& path) {
    return source::whole(path).string();
}

/// Whether a line of a text begins with a key of a main file.
bool has_version(std::string_view text) {
    constexpr std::string_view key = "hestrel:";
    for (std::size_t at = 0; at < text.size();) {
        if (text.substr(at).starts_with(key)) return true;
        at = text.find('\n', at);
        if (at != std::string_view::npos) ++at;
    }
    return false;
}

} // namespace

// --- the disk ----------------------------------------------------------------

std::string EditedDisk::read(const std::string& path) {
    const auto found = open.find(from_root(path));
    return found == open.end() ? below().read(path) : found->second.document.text();
}

std::vector<std::string> EditedDisk::matching(const std::string& pattern) {
    std::vector<std::string> found = below().matching(pattern);
    for (const auto& [path, file] : open) {
        if (source::matches(pattern, path)) found.push_back(path);
    }
    std::sort(found.begin(), found.end());
    found.erase(std::unique(found.begin(), found.end()), found.end());
    return found;
}

bool EditedDisk::exists(const std::string& path) const {
    return open.contains(from_root(path)) || below().exists(path);
}

bool EditedDisk::is_file(const std::string& path) const {
    return open.contains(from_root(path)) || below().is_file(path);
}

// --- plans -------------------------------------------------------------------

PlanFile::PlanFile(std::string at, std::string text)
    : path(std::move(at)), document(std::move(text)), lines(document.text()) {}

PlanRead::PlanRead() = default;
PlanRead::~PlanRead() = default;

bool PlanRead::is_whole() const {
    return trouble.empty() &&
           std::none_of(errors.begin(), errors.end(),
                        [](const plan::Finding& each) { return each.name == "broken-yaml"; });
}

std::optional<std::uint32_t> PlanRead::file_called(const std::string& path) const {
    const auto found = std::find_if(files.begin(), files.end(),
                                    [&](const auto& each) { return each->path == path; });
    if (found == files.end()) return std::nullopt;
    return static_cast<std::uint32_t>(found - files.begin());
}

const PlanFile* PlanRead::file_as_in(const std::string& path, const Document& document) const {
    const auto number = file_called(path);
    if (!number || files[*number]->document.text() != document.text()) return nullptr;
    return files[*number].get();
}

const study::Study& PlanRead::study() const {
    if (!study_) study_ = std::make_unique<study::Study>(plan, errors);
    return *study_;
}

const std::vector<walk::Record>& PlanRead::walks() const {
    if (!walks_) {
        const auto casts =
            walk::casts(plan, plan::named_in(plan.routes, {}), plan::named_in(plan.devices, {}));
        walks_ = walk::walk_all(plan, casts, {}, 1);
    }
    return *walks_;
}

const std::vector<plan::Finding>& PlanRead::findings() const {
    if (!findings_) {
        findings_ = trouble.empty()
                        ? check::check(plan, errors)
                        : std::vector<plan::Finding>{
                              {plan::Severity::error, "unreadable-file", {0, 1, 1}, trouble}};
    }
    return *findings_;
}

// --- the workspace -----------------------------------------------------------

void Workspace::open(const std::string& path, std::string text, std::int64_t version) {
    disk_.open[path] = {Document(std::move(text)), version};
    changed(path);
}

OpenFile* Workspace::file(const std::string& path) {
    const auto found = disk_.open.find(path);
    return found == disk_.open.end() ? nullptr : &found->second;
}

void Workspace::changed(const std::string& path) {
    for (auto& [main, state] : plans_) {
        const PlanRead* known = state.latest ? state.latest.get() : state.whole.get();
        // A plan that could not be read, or that reads files by a pattern, may have got one more.
        if (known == nullptr || !known->trouble.empty() || known->file_called(path) ||
            !belonging_.contains(path))
            state.latest.reset();
    }
    // What belongs to no plan may do so once a plan's file has changed.
    const auto known = belonging_.find(path);
    if ((known != belonging_.end() && !known->second.empty()) || is_main_file(path))
        std::erase_if(belonging_, [](const auto& each) { return each.second.empty(); });
}

void Workspace::close(const std::string& path) {
    disk_.open.erase(path);
    changed(path);
}

std::string Workspace::text_at(const std::string& path) {
    try {
        return disk_.read(path);
    } catch (const source::FileError&) {
        return {};
    }
}

bool Workspace::is_main_file(const std::string& path) {
    return has_version(text_at(path));
}

bool Workspace::may_include(const std::string& path) {
    const std::string text = text_at(path);
    return text.find("include") != std::string::npos && has_version(text);
}

PlanState* Workspace::main_file_for(const std::string& path) {
    const auto belongs = [&](const std::string& main) -> PlanState* {
        auto [found, fresh] = plans_.try_emplace(main);
        found->second.path = main;
        if (read(found->second).file_called(path) ||
            (found->second.whole && found->second.whole->file_called(path)))
            return &found->second;
        if (fresh) plans_.erase(found);
        return nullptr;
    };
    // One that is known, then those in its folder and above it.
    for (auto& [main, state] : plans_) {
        if (main != path && belongs(main) != nullptr) return &state;
    }
    std::vector<std::filesystem::path> folders;
    constexpr std::size_t most_above = 4;
    for (std::filesystem::path folder = std::filesystem::path(path).parent_path();
         folders.size() < most_above; folder = folder.parent_path()) {
        folders.push_back(folder);
        const bool is_outermost =
            std::find(folders_.begin(), folders_.end(), folder.string()) != folders_.end();
        if (is_outermost || folder == folder.parent_path()) break;
    }
    folders.insert(folders.end(), folders_.begin(), folders_.end());
    for (const std::filesystem::path& folder : folders) {
        for (const char* pattern : {"*.yaml", "*.yml"}) {
            for (const std::string& other : disk_.matching((folder / pattern).string())) {
                const std::string main = from_root(other);
                if (main == path || !may_include(main)) continue;
                if (PlanState* state = belongs(main)) return state;
            }
        }
    }
    return is_main_file(path) ? belongs(path) : nullptr;
}

PlanState* Workspace::plan_of(const std::string& path) {
    if (const auto known = belonging_.find(path); known != belonging_.end()) {
        const auto found = plans_.find(known->second);
        return found == plans_.end() ? nullptr : &found->second;
    }
    PlanState* state = main_file_for(path);
    belonging_[path] = state != nullptr ? state->path : "";
    return state;
}

const PlanRead& Workspace::read(PlanState& state) {
    if (state.latest) return *state.latest;
    auto latest = std::make_shared<PlanRead>();
    try {
        std::vector<std::unique_ptr<source::YamlTree>> trees;
        source::PlanReading reading =
            source::read_plan(disk_, state.path, {{}, &latest->uses, &trees});
        latest->plan = std::move(reading.plan);
        latest->errors = std::move(reading.findings);
        for (const std::string& file : latest->plan.files)
            latest->files.push_back(std::make_unique<PlanFile>(from_root(file), disk_.read(file)));
        for (auto& tree : trees) latest->files[tree->root().place().file]->tree = std::move(tree);
    } catch (const source::FileError& error) {
        latest->trouble = error.what();
        latest->files.clear();
        latest->files.push_back(std::make_unique<PlanFile>(state.path, ""));
    }
    state.latest = latest;
    if (latest->is_whole()) state.whole = latest;
    return *latest;
}

const PlanRead* Workspace::names(PlanState& state) {
    read(state);
    return state.whole.get();
}

} // namespace hestrel::serve
