#include "serve/cursor.hpp"

#include <algorithm>
#include <functional>

namespace hestrel::serve {

namespace {

using source::Value;

constexpr std::string_view made_up = "x7typed7x";

bool of_a_word(char c) {
    return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_' ||
           c == '-' || c == '.' || c == '$';
}

/// What is open at the end of a text.
struct Open {
    std::string closing; ///< brackets and a quote that close it
    bool in_comment = false;
};

Open open_at_end(std::string_view text) {
    Open open;
    std::string brackets; // what closes them, the innermost last
    char quote = 0;
    char before = '\n'; // the last character that is no blank, a line's end counts as one
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (open.in_comment) {
            if (c == '\n') open.in_comment = false;
        } else if (quote != 0) {
            if (c == '\\' && quote == '"')
                ++i;
            else if (c == quote)
                quote = 0;
        } else if (c == '#' &&
                   (i == 0 || text[i - 1] == ' ' || text[i - 1] == '\n' || text[i - 1] == '\t')) {
            open.in_comment = true;
        } else if (std::string_view(":,[{-\n").find(before) != std::string_view::npos &&
                   (c == '"' || c == '\'')) {
            quote = c;
        } else if (std::string_view(":,[{-\n").find(before) != std::string_view::npos &&
                   (c == '[' || c == '{')) {
            brackets += c == '[' ? ']' : '}';
        } else if (!brackets.empty() && c == brackets.back()) {
            brackets.pop_back();
        }
        if (c == '\n' || (c != ' ' && c != '\t' && c != '\r')) before = c;
    }
    std::reverse(brackets.begin(), brackets.end());
    if (quote != 0) open.closing += quote;
    open.closing += brackets;
    return open;
}

/// Goes through a tree, a part of its path for each level, until `found` says so of a scalar.
class Walker {
public:
    using Found = std::function<bool(const Value& scalar, bool is_key, const Value& mapping)>;
    explicit Walker(Found found) : found_(std::move(found)) {}

    bool look(const Value& value) {
        if (only_line != 0 && (value.start().line > only_line || value.end().line < only_line))
            return false;
        if (value.is_scalar()) return found_(value, false, mapping_);
        if (value.is_sequence()) {
            const std::vector<Value> elements = value.elements();
            for (std::size_t i = 0; i < elements.size(); ++i) {
                if (elements[i].is_alias()) continue;
                path.push_back(std::to_string(i));
                if (look(elements[i])) return true;
                path.pop_back();
            }
        }
        if (!value.is_mapping()) return false;
        for (const auto& [key, inner] : value.written_entries()) {
            if (found_(key, true, value)) return true;
            if (inner.is_alias()) continue;
            path.emplace_back(key.text());
            const Value outer = std::exchange(mapping_, value);
            if (look(inner)) return true;
            mapping_ = outer;
            path.pop_back();
        }
        return false;
    }

    std::vector<std::string> path;
    std::uint32_t only_line = 0; ///< looks only at what stands in this line; 0: at all

private:
    Found found_;
    Value mapping_; ///< the innermost in which a value stands
};

std::vector<std::pair<std::string, std::string>> scalars_of(const Value& mapping) {
    std::vector<std::pair<std::string, std::string>> all;
    for (const auto& [key, value] : mapping.written_entries()) {
        if (key.text().find(made_up) == std::string_view::npos)
            all.emplace_back(key.text(), value.is_scalar() ? value.text() : "");
    }
    return all;
}

std::optional<Cursor> read_as(const std::string& text, Stretch word) {
    try {
        auto tree = std::make_shared<source::YamlTree>(text, 0);
        Cursor cursor;
        Walker walker([&](const Value& scalar, bool is_key, const Value& mapping) {
            const std::size_t at = scalar.text().find(made_up);
            if (at == std::string_view::npos) return false;
            cursor.is_key = is_key;
            cursor.before = scalar.text().substr(0, at);
            cursor.beside = scalars_of(mapping);
            return true;
        });
        if (!walker.look(tree->root())) return std::nullopt;
        cursor.path = std::move(walker.path);
        cursor.word = word;
        cursor.tree = std::move(tree);
        return cursor;
    } catch (const source::YamlError&) {
        return std::nullopt;
    }
}

} // namespace

Stretch word_at(std::string_view text, std::size_t offset) {
    Stretch word{offset, offset};
    while (word.from > 0 && of_a_word(text[word.from - 1])) --word.from;
    while (word.to < text.size() && of_a_word(text[word.to])) ++word.to;
    return word;
}

std::optional<Cursor> cursor_at(std::string_view text, std::size_t offset) {
    const Stretch word = word_at(text, std::min(offset, text.size()));
    const std::string before(text.substr(0, word.from));
    const Open open = open_at_end(before);
    if (open.in_comment) return std::nullopt;
    const std::string typed = before + std::string(made_up);
    if (auto cursor = read_as(typed + open.closing, word)) return cursor;
    return read_as(typed + ": " + open.closing, word);
}

std::optional<Covered> covered_at(const source::YamlTree& tree, const source::SourceText& lines,
                                  std::size_t offset) {
    Covered covered;
    Walker walker([&](const Value& scalar, bool is_key, const Value&) {
        const auto from = lines.offset_of(scalar.start());
        const auto to = lines.offset_of(scalar.end());
        if (!from || !to || offset < *from || offset > *to || *from == *to) return false;
        covered.is_key = is_key;
        covered.word = {*from, *to};
        if (is_key) covered.path.emplace_back(scalar.text());
        return true;
    });
    walker.only_line = lines.line_at(offset);
    if (!walker.look(tree.root())) return std::nullopt;
    covered.path.insert(covered.path.begin(), walker.path.begin(), walker.path.end());
    return covered;
}

} // namespace hestrel::serve
