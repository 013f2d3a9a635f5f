#include "source/inputs.hpp"

#include "source/fingerprint.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <fnmatch.h>

namespace hestrel::source {

namespace {

/// Where a file is, whichever links lead there. It may not be there yet.
std::filesystem::path located(const std::filesystem::path& path) {
    std::error_code error;
    const auto full = std::filesystem::weakly_canonical(whole(path), error);
    return error ? whole(path) : full;
}

/// The same for a pattern: its folders up to the first that is a pattern itself.
std::string located_pattern(const std::string& pattern) {
    const std::filesystem::path full = whole(pattern);
    std::filesystem::path folder;
    std::filesystem::path rest;
    for (const std::filesystem::path& part : full.parent_path()) {
        const bool is_plain = part.string().find_first_of("*?[\\") == std::string::npos;
        (rest.empty() && is_plain ? folder : rest) /= part;
    }
    return (located(folder) / rest / full.filename()).string();
}

} // namespace

void Inputs::add_file(const std::string& path, std::string_view text) {
    files_[located(path)] = notes_contents_ ? sha256_hex(text) : std::string();
}

std::string Inputs::fingerprint() const {
    std::string all;
    for (const auto& [path, sum] : files_) all += sum + "\n";
    return sha256_hex(all);
}

void Inputs::add_pattern(const std::string& pattern) {
    patterns_.insert(located_pattern(pattern));
}

void Inputs::require_free(const std::string& path) const {
    const std::filesystem::path place = located(path);
    if (files_.contains(place))
        throw FileError(fmt::format("{}: was read by this command; no result takes its place: "
                                    "name another file or folder",
                                    path));
    // A folder that a pattern matches is no part of a plan either.
    const auto matches = [&](const std::string& pattern) {
        std::filesystem::path each = place;
        for (; each.has_relative_path(); each = each.parent_path()) {
            if (::fnmatch(pattern.c_str(), each.c_str(), FNM_PATHNAME | FNM_PERIOD) == 0)
                return true;
        }
        return false;
    };
    const auto pattern = std::find_if(patterns_.begin(), patterns_.end(), matches);
    if (pattern != patterns_.end())
        throw FileError(fmt::format("{}: would be read as a part of the plan, which includes {}: "
                                    "name another file or folder",
                                    path, *pattern));
}

} // namespace hestrel::source
