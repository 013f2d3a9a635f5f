#include "serve/completion.hpp"

#include "plan/finding_kinds.hpp"
#include "source/condition_parser.hpp"
#include "source/expected.hpp"
#include "tables/finding_texts.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace hestrel::serve {

namespace {

using source::Json;

/// CompletionItemKind of the protocol.
enum class ItemKind : std::uint8_t {
    function = 3,
    property = 10,
    value = 12,
    keyword = 14,
    reference = 18
};

/// One thing to choose.
struct Item {
    std::string text; ///< what is put there
    ItemKind kind = ItemKind::value;
    std::string detail;
    std::string documentation;
};

class Completion {
public:
    Completion(Cursor cursor, const PlanRead* names) : cursor_(std::move(cursor)), names_(names) {}

    std::vector<Item> items() {
        const auto expected = source::expected_at(cursor_.path);
        if (!expected) return {};
        const bool scalar = !expected->names().empty() || !expected->words().empty() ||
                            expected->is_condition() || expected->is_flag();
        if (cursor_.is_key ||
            (!scalar && (expected->object() != nullptr || !expected->named_keys().empty()))) {
            if (expected->object() != nullptr) add_keys(*expected->object());
            add_names(expected->named_keys(), expected->key(), true);
            return std::move(items_);
        }
        add_names(expected->names(), expected->key(), false);
        for (const std::string_view word : expected->words())
            items_.push_back({std::string(word), ItemKind::keyword, "", ""});
        if (expected->is_flag()) {
            items_.push_back({"true", ItemKind::keyword, "", ""});
            items_.push_back({"false", ItemKind::keyword, "", ""});
        }
        if (expected->is_condition()) add_of_condition();
        return std::move(items_);
    }

private:
    [[nodiscard]] bool stands_already(std::string_view key) const {
        return std::any_of(cursor_.beside.begin(), cursor_.beside.end(),
                           [&](const auto& each) { return each.first == key; });
    }
    [[nodiscard]] std::string value_beside(std::string_view key) const {
        for (const auto& [name, value] : cursor_.beside) {
            if (name == key) return value;
        }
        return {};
    }

    void add_keys(const source::ObjectKeys& keys) {
        for (const source::Key& key : keys.keys) {
            if (stands_already(key.name)) continue;
            std::string text =
                fmt::format("{} Example: `{}: {}`.", key.sentence, key.name, key.example);
            if (!key.fallback.empty()) text += fmt::format(" Without it: {}.", key.fallback);
            items_.push_back({fmt::format("{}: ", key.name), ItemKind::property,
                              std::string(source::kind_text(key.takes)), std::move(text)});
        }
    }

    /// The level in whose mapping the cursor is; empty where it is in none.
    [[nodiscard]] std::string home() const {
        std::string level;
        for (std::size_t i = 0; i + 1 < cursor_.path.size(); i += 2) {
            if (cursor_.path[i] != "levels" && cursor_.path[i] != "sublevels") break;
            level = cursor_.path[i + 1];
        }
        return level;
    }

    void add_names(std::span<const std::string_view> kinds, const source::Key* key, bool as_keys) {
        const std::string end = as_keys ? ": " : "";
        for (const std::string_view kind : kinds) {
            if (kind == "finding") {
                for (const plan::FindingKind& each : plan::finding_kinds())
                    items_.push_back({std::string(each.name) + end, ItemKind::value, "finding",
                                      tables::text_of(each).sentence});
                continue;
            }
            if (kind == "route-player") add_route_players();
            add_things(kind, key != nullptr && key->takes == source::Takes::dotted_name, end);
        }
    }

    /// Machines have players of their own route.
    void add_route_players() {
        if (cursor_.path.size() < 2) return;
        const source::Value route = cursor_.tree->root().at("routes").at(cursor_.path[1]);
        for (const auto& [name, body] : route.at("players").entries())
            items_.push_back({std::string(name.text()), ItemKind::reference, "player", ""});
    }

    void add_things(std::string_view kind, bool dotted, const std::string& end) {
        if (names_ == nullptr) return;
        const std::string here = home();
        const std::string target =
            value_beside("to").empty() ? value_beside("level") : value_beside("to");
        std::set<std::string> known;
        for (const source::NameUse& use : names_->uses) {
            if (use.kind != kind) continue;
            // Words, pools and worlds are defined by being mentioned.
            const bool coined = kind == "provides" || kind == "needs" || kind == "tag" ||
                                kind == "pool" || kind == "world";
            if (!use.defines && !coined) continue;
            std::string text = use.scope.empty() ? use.name : use.scope + "." + use.name;
            if (kind == "entry" && !dotted) {
                if (!target.empty() && use.scope != target) continue;
                text = use.name;
            } else if (kind == "speed" || (!here.empty() && use.scope == here && !dotted)) {
                text = use.name;
            }
            if (!known.insert(text).second) continue;
            items_.push_back({text + end, ItemKind::reference, std::string(kind),
                              use.scope.empty() ? "" : "of " + use.scope});
        }
        if (kind != "level") return;
        // One cell stands for all: which one is meant is told by its numbers.
        for (const plan::Grid& grid : names_->plan.grids) {
            const auto cell = std::find_if(grid.cells.begin(), grid.cells.end(),
                                           [](plan::LevelId id) { return static_cast<bool>(id); });
            if (cell != grid.cells.end())
                items_.push_back(
                    {names_->plan.levels[*cell].name + end, ItemKind::reference, "cell", ""});
        }
    }

    void add_of_condition() {
        // In `shown(qu` names of levels; else facts, words, and what can be asked.
        const std::string& before = cursor_.before;
        const std::size_t bracket = before.find_last_of("()");
        if (bracket != std::string::npos && before[bracket] == '(') {
            for (const source::ConditionCall& call : source::condition_calls) {
                if (!std::string_view(before).substr(0, bracket).ends_with(call.name)) continue;
                for (const std::string_view kind : call.names) {
                    if (!kind.empty()) add_things(kind, false, "");
                }
                return;
            }
        }
        add_things("fact", false, "");
        add_values();
        for (const source::ConditionCall& call : source::condition_calls)
            items_.push_back({fmt::format("{}(", call.name), ItemKind::function, "condition", ""});
        for (const std::string_view word : source::condition_words)
            items_.push_back({std::string(word), ItemKind::keyword, "condition", ""});
    }

    /// After `bells ==` the values of that fact.
    void add_values() {
        if (names_ == nullptr) return;
        std::string_view before = cursor_.before;
        while (before.ends_with(' ')) before.remove_suffix(1);
        if (!before.ends_with('=')) return;
        while (before.ends_with('=') || before.ends_with('!') || before.ends_with(' '))
            before.remove_suffix(1);
        const std::size_t from = before.find_last_of(" (") + 1; // npos + 1 is 0
        const std::string_view name = before.substr(from);
        for (const plan::Fact& fact : names_->plan.facts) {
            const std::string_view plain =
                std::string_view(fact.name).substr(fact.name.rfind('.') + 1);
            if (fact.name != name && plain != name) continue;
            for (const plan::WordId word : fact.values)
                items_.push_back(
                    {names_->plan.words[word], ItemKind::value, "value of " + fact.name, ""});
        }
    }

    Cursor cursor_;
    const PlanRead* names_;
    std::vector<Item> items_;
};

} // namespace

Json completion_json(const Document& document, std::size_t offset, const PlanRead* names) {
    Json list = Json::array();
    auto cursor = cursor_at(document.text(), offset);
    if (cursor) {
        const Json range = range_json(document, cursor->word);
        for (const Item& item : Completion(std::move(*cursor), names).items()) {
            std::string label = item.text;
            while (label.ends_with(' ') || label.ends_with(':')) label.pop_back();
            Json json{{"label", label},
                      {"kind", static_cast<int>(item.kind)},
                      {"textEdit", {{"range", range}, {"newText", item.text}}}};
            if (!item.detail.empty()) json["detail"] = item.detail;
            if (!item.documentation.empty())
                json["documentation"] = {{"kind", "markdown"}, {"value", item.documentation}};
            list.push_back(std::move(json));
        }
    }
    return {{"isIncomplete", false}, {"items", std::move(list)}};
}

} // namespace hestrel::serve
