#include "serve/symbols.hpp"

#include "serve/mentions.hpp"
#include "serve/messages.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>
#include <map>
#include <unordered_map>

namespace hestrel::serve {

namespace {

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

std::string range_text(const Document& document, Stretch stretch) {
    const Position start = document.position_of(stretch.from);
    const Position end = document.position_of(stretch.to);
    return fmt::format(
        R"({{"start":{{"line":{},"character":{}}},"end":{{"line":{},"character":{}}}}})",
        start.line, start.character, end.line, end.character);
}

} // namespace

std::string symbols_text(const PlanRead& read, std::uint32_t file) {
    // Without the brackets that close them.
    struct Symbol {
        std::string text;
        std::string inner;
    };
    std::vector<Symbol> all;
    std::unordered_map<std::string, std::size_t> by_name; ///< in `all`
    const PlanFile& of = *read.files[file];
    const Ends ends(of);
    for (const source::NameUse& use : read.uses) {
        if (use.place.file != file || !use.defines || symbol_kind(use.kind) == 0) continue;
        const auto found = placed(read, use);
        if (!found) continue;
        std::string text =
            fmt::format(R"({{"name":{},"detail":{},"kind":{},"range":{},"selectionRange":{})",
                        text_of(use.name), text_of(use.kind), symbol_kind(use.kind),
                        range_text(of.document, ends.with_value(use.place, found->stretch)),
                        range_text(of.document, found->stretch));
        const auto outer = by_name.find(use.scope);
        if (outer != by_name.end()) {
            std::string& inner = all[outer->second].inner;
            if (!inner.empty()) inner += ',';
            inner += text + '}';
        } else {
            by_name.try_emplace(full_name(use), all.size());
            all.push_back({std::move(text), {}});
        }
    }
    std::string list;
    for (const Symbol& symbol : all) {
        list += list.empty() ? '[' : ',';
        list += symbol.text;
        if (!symbol.inner.empty()) list += fmt::format(R"(,"children":[{}])", symbol.inner);
        list += '}';
    }
    return list.empty() ? "[]" : list + ']';
}

} // namespace hestrel::serve
