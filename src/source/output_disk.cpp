#include "source/output_disk.hpp"

#include "source/fingerprint.hpp"
#include "source/own_mark.hpp"

#include <fmt/format.h>
#include <sstream>

namespace hestrel::source {

namespace {

constexpr std::string_view list_name = ".hestrel-written";
constexpr std::string_view list_head =
    "# What Hestrel wrote here, by SHA-256. No other file is replaced without --force.\n";
constexpr std::size_t hash_digits = 64;
constexpr std::string_view between = "  ";

std::string line_of(const std::string& hash, const std::string& name) {
    return fmt::format("{}{}{}\n", hash, between, name);
}

} // namespace

WrittenFiles::WrittenFiles(Disk& disk, std::string folder)
    : disk_(disk), folder_(std::move(folder)), list_(folder_ + "/" + std::string(list_name)) {
    read();
}

void WrittenFiles::read() {
    known_.clear();
    if (!disk_.is_file(list_)) return;
    std::istringstream text(disk_.read(list_));
    for (std::string line; std::getline(text, line);) {
        // A line that was cut off at a kill says nothing.
        if (line.size() <= hash_digits + between.size() ||
            line.compare(hash_digits, between.size(), between) != 0)
            continue;
        known_[line.substr(hash_digits + between.size())].insert(line.substr(0, hash_digits));
    }
}

void WrittenFiles::settle() {
    if (added_.empty()) return;
    const auto held = disk_.hold(list_);
    if (!held) return; // another process adds to it
    read();
    std::string text(list_head);
    for (auto& [name, hashes] : known_) {
        if (const auto last = added_.find(name); last != added_.end()) hashes = {last->second};
        for (const std::string& hash : hashes) text += line_of(hash, name);
    }
    disk_.write(list_, text);
}

bool WrittenFiles::has(const std::string& name, std::string_view text) {
    const std::string hash = sha256_hex(text);
    const auto listed = [&] {
        const auto found = known_.find(name);
        return found != known_.end() && found->second.contains(hash);
    };
    if (listed()) return true;
    read(); // another process may have written it since
    return listed();
}

void WrittenFiles::add(const std::string& name, std::string_view text) {
    const std::string hash = sha256_hex(text);
    const bool is_new = known_[name].insert(hash).second;
    // Each run adds a line at least: a list that is a link, which somebody may have put there, is
    // refused then.
    if (is_new || added_.empty()) {
        const std::string line = line_of(hash, name);
        disk_.append(list_, disk_.is_file(list_) ? line : std::string(list_head) + line);
    }
    added_[name] = hash;
}

OutputDisk::~OutputDisk() {
    try {
        for (auto& [folder, written] : written_) written.settle();
    } catch (const std::exception&) {
        return; // each list says what it has to
    }
}

/// What is no file has no place that could be taken.
void OutputDisk::require_free(const std::string& path) const {
    if (!disk_.exists(path) || disk_.is_file(path)) inputs_.require_free(path);
}

void OutputDisk::write_in(const std::string& folder, const std::string& name,
                          const std::string& text) {
    const std::string path = folder + "/" + name;
    require_free(path);
    {
        const std::scoped_lock lock(mutex_);
        WrittenFiles& written = written_.try_emplace(folder, disk_, folder).first->second;
        if (!force_ && disk_.is_file(path)) {
            const std::string there = disk_.read(path);
            if (!there.empty() && there != text && !written.has(name, there))
                throw FileError(fmt::format(
                    "{}: Hestrel did not write this file, or it was changed since; it stays: name "
                    "another folder, or add --force",
                    path));
        }
        written.add(name, text);
    }
    disk_.write(path, text);
}

void OutputDisk::require_alone(const std::string& path, bool is_known) {
    require_free(path);
    if (!force_ && !is_known && disk_.is_file(path)) {
        const std::string there = disk_.read(path);
        const bool is_ours = there.substr(0, there.find('\n')).find(own_mark) != std::string::npos;
        if (!there.empty() && !is_ours)
            throw FileError(
                fmt::format("{}: Hestrel did not write this file; it stays: name another, or add "
                            "--force",
                            path));
    }
}

void OutputDisk::write_alone(const std::string& path, const std::string& text, bool is_known) {
    require_alone(path, is_known);
    disk_.write(path, text);
}

} // namespace hestrel::source
