#include "serve/hover.hpp"

#include "serve/cursor.hpp"
#include "serve/mentions.hpp"
#include "source/expected.hpp"
#include "tables/cards.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <sstream>
#include <unordered_map>

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

/// SymbolKind of the protocol; 0 for what is no thing by itself, such as a branch of a choice.
int symbol_kind(std::string_view kind) {
    static const std::map<std::string_view, int> kinds{
        {"level", 3},  {"kit", 4},      {"device", 20}, {"trigger", 24}, {"menu", 5},
        {"item", 6},   {"fact", 13},    {"list", 12},   {"route", 12},   {"edition", 2},
        {"gate", 8},   {"waypoint", 7}, {"veil", 19},   {"player", 10},  {"entry", 7},
        {"group", 18}, {"purpose", 11}, {"speed", 16},  {"parcel", 2}};
    const auto found = kinds.find(kind);
    return found == kinds.end() ? 0 : found->second;
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

namespace {

/// Where what stands behind each key ends, by where the key begins.
class Ends {
public:
    explicit Ends(const PlanFile& file) : file_(file) {
        if (file.tree) add(file.tree->root());
    }
    /// From the beginning of a key to behind its value; as it is where no key begins there.
    [[nodiscard]] Stretch with_value(plan::Place key, Stretch name) const {
        const auto found = ends_.find(number_of(key));
        const auto end =
            found != ends_.end() ? file_.offset_of(found->second) : std::optional<std::size_t>();
        return {name.from, std::max(end.value_or(name.to), name.to)};
    }

private:
    static std::uint64_t number_of(plan::Place place) {
        constexpr unsigned bits = 32;
        return std::uint64_t{place.line} << bits | place.column;
    }
    void add(const source::Value& value) {
        for (const source::Value& each : value.elements()) {
            if (!each.is_alias()) add(each);
        }
        for (const auto& [key, inner] : value.written_entries()) {
            if (inner.is_alias() || inner.is_scalar()) continue;
            ends_.emplace(number_of(key.start()), inner.end());
            add(inner);
        }
    }

    const PlanFile& file_;
    std::unordered_map<std::uint64_t, plan::Place> ends_;
};

} // namespace

Json symbols_json(const PlanRead& read, std::uint32_t file) {
    struct Symbol {
        Json json;
        Json inner;
    };
    std::vector<Symbol> all;
    std::unordered_map<std::string, std::size_t> by_name; ///< in `all`
    const PlanFile& of = *read.files[file];
    const Ends ends(of);
    for (const source::NameUse& use : read.uses) {
        if (use.place.file != file || !use.defines || symbol_kind(use.kind) == 0) continue;
        const auto found = placed(read, use);
        if (!found) continue;
        Symbol symbol{Json::object(), Json::array()};
        symbol.json["name"] = use.name;
        symbol.json["detail"] = use.kind;
        symbol.json["kind"] = symbol_kind(use.kind);
        symbol.json["range"] = range_json(of.document, ends.with_value(use.place, found->stretch));
        symbol.json["selectionRange"] = range_json(of.document, found->stretch);
        const auto outer = by_name.find(use.scope);
        if (outer != by_name.end()) {
            all[outer->second].inner.push_back(std::move(symbol.json));
        } else {
            by_name.try_emplace(full_name(use), all.size());
            all.push_back(std::move(symbol));
        }
    }
    Json list = Json::array();
    for (Symbol& symbol : all) {
        if (!symbol.inner.empty()) symbol.json["children"] = std::move(symbol.inner);
        list.push_back(std::move(symbol.json));
    }
    return list;
}

} // namespace hestrel::serve
