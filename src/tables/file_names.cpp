#include "tables/file_names.hpp"

#include "plan/finding_kinds.hpp"
#include "source/fingerprint.hpp"
#include "walk/casts.hpp"

#include <algorithm>

namespace hestrel::tables {

namespace {

/// A name without `--`.
std::string parted(std::string_view name) {
    std::string text;
    for (const char each : name) {
        if (each == '-' && text.ends_with('-')) text += '~';
        text += each;
    }
    return text;
}

} // namespace

std::string walk_folder(const plan::Plan& plan, plan::RouteId route,
                        const std::vector<plan::DeviceId>& devices) {
    const std::string folder = parted(plan.routes[route].name) + "--";
    std::string names;
    for (std::size_t i = 0; i < devices.size(); ++i)
        names += (i == 0 ? "" : "+") + parted(plan.devices[devices[i]].name);
    // No file system takes longer names than this; what is cut is told apart by its fingerprint.
    constexpr std::size_t most = 200;
    constexpr std::size_t kept = 120;
    if (devices.size() > 1 && names.size() > most)
        names = names.substr(0, kept) + "~" + source::sha256_hex(names).substr(0, 16);
    return folder + names;
}

std::string record_folder(const plan::Plan& plan, const walk::Record& record) {
    std::string folder = walk_folder(plan, record.route, record.devices);
    if (const plan::Machine* machine = walk::machine_of(plan, record))
        folder += "/" + machine->name;
    return folder;
}

std::string edition_file(std::string_view edition, const std::vector<std::string_view>& others,
                         const std::vector<std::string_view>& parts) {
    const bool is_taken = std::find(others.begin(), others.end(), edition) != others.end();
    const bool ends_like_part = std::any_of(
        parts.begin(), parts.end(), [&](std::string_view part) { return edition.ends_with(part); });
    return std::string(edition) + (is_taken || ends_like_part ? "~" : "");
}

std::string witness_file(std::string_view edition) {
    std::vector<std::string> beginnings{"-hurried"};
    for (const plan::FindingKind& kind : plan::finding_kinds()) {
        const std::string name = "-" + std::string(kind.name);
        for (std::size_t at = name.find('-', 1); at != std::string::npos;
             at = name.find('-', at + 1))
            beginnings.push_back(name.substr(0, at));
    }
    return edition_file(edition, {}, {beginnings.begin(), beginnings.end()});
}

} // namespace hestrel::tables
