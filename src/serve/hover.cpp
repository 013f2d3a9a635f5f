#include "serve/hover.hpp"

#include "serve/cursor.hpp"
#include "serve/mentions.hpp"
#include "source/expected.hpp"
#include "tables/cards.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <sstream>

namespace hestrel::serve {

namespace {

using source::Json;

/// The first lines of a card, with how many there are more. Files stand as the plan names them.
std::string in_short(const std::string& card, const std::string& folder) {
    constexpr std::size_t most = 16;
    std::string text;
    std::istringstream lines(card);
    std::size_t count = 0;
    for (std::string line; std::getline(lines, line); ++count) {
        for (std::size_t at = 0; (at = line.find(folder, at)) != std::string::npos;)
            line.erase(at, folder.size());
        if (count < most) text += line + "\n";
    }
    if (count > most)
        text += fmt::format("… {} more: hestrel show\n", tables::counted(count - most, "line"));
    return text;
}

std::string folder_of(const std::string& path) {
    return path.substr(0, path.rfind('/') + 1);
}

std::string card_of(const PlanRead& read, const source::NameUse& use) {
    for (const tables::Card& card : tables::cards_of(read.study(), full_name(use))) {
        if (card.kind == use.kind)
            return fmt::format("```text\n{}```", in_short(tables::card_text(read.plan, card),
                                                          folder_of(read.files.front()->path)));
    }
    return fmt::format("{} `{}`", use.kind, full_name(use));
}

std::string key_text(const source::Key& key) {
    std::string text =
        fmt::format("**{}**: {}\n\n{}", key.name, source::kind_text(key.takes), key.sentence);
    if (!key.fallback.empty()) text += fmt::format(" Without it: {}.", key.fallback);
    return text + fmt::format("\n\n```yaml\n{}: {}\n```", key.name, key.example);
}

Json shown(const std::string& text, const Document& document, Stretch stretch) {
    return {{"contents", {{"kind", "markdown"}, {"value", text}}},
            {"range", range_json(document, stretch)}};
}

/// By the tree that was made of the document, or one made now where it belongs to no plan.
std::optional<Covered> covered_in(const Document& document, const std::string& path,
                                  std::size_t offset, const PlanRead* names) {
    const PlanFile* file = names != nullptr ? names->file_as_in(path, document) : nullptr;
    if (file != nullptr && file->tree) return covered_at(*file->tree, file->lines, offset);
    try {
        const source::YamlTree tree(document.text(), 0);
        return covered_at(tree, source::SourceText(document.text()), offset);
    } catch (const source::YamlError&) {
        return std::nullopt;
    }
}

} // namespace

Json hover_json(const Document& document, const std::string& path, std::size_t offset,
                const PlanRead* names) {
    if (names != nullptr) {
        if (const auto mention = mention_at(*names, path, document, offset))
            return shown(card_of(*names, *mention->use), document, mention->stretch);
    }
    const auto covered = covered_in(document, path, offset, names);
    if (!covered || !covered->is_key) return nullptr;
    const auto expected = source::expected_at(covered->path);
    if (!expected || expected->key() == nullptr || expected->key()->name != covered->path.back())
        return nullptr;
    return shown(key_text(*expected->key()), document, covered->word);
}

} // namespace hestrel::serve
