#include "serve/mentions.hpp"

#include "edit/name_places.hpp"
#include "source/addresses.hpp"

#include <algorithm>
#include <tuple>

namespace hestrel::serve {

std::optional<Mention> placed(const PlanRead& read, const source::NameUse& use) {
    const PlanFile& file = *read.files[use.place.file];
    const auto at = edit::offset_of(use, file.document.text(), file.lines);
    if (!at) return std::nullopt;
    return Mention{&use, &file, {*at, *at + use.name.size()}};
}

namespace {

bool is_same(const source::NameUse& one, const source::NameUse& other) {
    return one.kind == other.kind && one.scope == other.scope && one.name == other.name;
}

} // namespace

std::optional<Mention> mention_at(const PlanRead& read, const std::string& path,
                                  const Document& document, std::size_t offset) {
    const PlanFile* file = read.file_as_in(path, document);
    if (file == nullptr) return std::nullopt;
    // A value can go over several lines, and a name in it stand in any of them.
    constexpr std::size_t most_lines = 100;
    const std::size_t line = document.position_of(offset).line + 1;
    std::optional<Mention> best;
    for (const source::NameUse& use : read.uses) {
        if (read.files[use.place.file].get() != file || use.place.line > line ||
            use.place.line + most_lines < line)
            continue;
        const auto found = placed(read, use);
        if (!found || offset < found->stretch.from || offset > found->stretch.to) continue;
        // Of `quay.stair`, at the dot, the part that begins there.
        if (!best || found->stretch.from > best->stretch.from) best = found;
    }
    return best;
}

std::vector<Mention> mentions_of(const PlanRead& read, const source::NameUse& use) {
    const auto key = [](const Mention& each) {
        return std::tuple(!each.use->defines, each.use->place.file, each.stretch.from);
    };
    std::vector<Mention> all;
    for (const source::NameUse& each : read.uses) {
        if (!is_same(each, use)) continue;
        if (const auto found = placed(read, each)) all.push_back(*found);
    }
    std::sort(all.begin(), all.end(),
              [&](const Mention& one, const Mention& other) { return key(one) < key(other); });
    all.erase(std::unique(
                  all.begin(), all.end(),
                  [&](const Mention& one, const Mention& other) { return key(one) == key(other); }),
              all.end());
    return all;
}

std::string full_name(const source::NameUse& use) {
    return use.scope.empty() ? use.name : use.scope + "." + use.name;
}

source::Json location_json(const Mention& mention) {
    return {{"uri", source::address_of_path(mention.file->path)},
            {"range", range_json(mention.file->document, mention.stretch)}};
}

} // namespace hestrel::serve
