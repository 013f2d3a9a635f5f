#pragma once
// A YAML file as a tree that knows the position of every value. Anchors, aliases and merge keys are
// resolved; nothing is known here about what a plan is.

#include "plan/place.hpp"

#include <cstdint>
#include <deque>
#include <functional>
#include <optional>
#include <stdexcept>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::source {

/// A file that is not the YAML a plan may be written in, and where.
class YamlError : public std::runtime_error {
public:
    YamlError(plan::Place where, const std::string& message)
        : std::runtime_error(message), place(where) {}
    plan::Place place;
};

class YamlTree;

/// One value of a tree; cheap to copy, valid while its tree is.
class Value {
public:
    enum class Kind : std::uint8_t { none, scalar, sequence, mapping };

    Value() = default;
    [[nodiscard]] Kind kind() const;
    explicit operator bool() const { return tree_ != nullptr; }
    [[nodiscard]] bool is_scalar() const { return kind() == Kind::scalar; }
    [[nodiscard]] bool is_sequence() const { return kind() == Kind::sequence; }
    [[nodiscard]] bool is_mapping() const { return kind() == Kind::mapping; }
    /// A scalar that is empty, `~` or `null`, unquoted.
    [[nodiscard]] bool is_null() const;
    /// Written without quotes, so that `true` and `1` are not strings.
    [[nodiscard]] bool is_plain() const;
    /// A scalar's text; empty for anything else.
    [[nodiscard]] std::string_view text() const;
    /// Where it begins.
    [[nodiscard]] plan::Place place() const;
    /// Written as an alias, `*name`, of what stands elsewhere: `place` is that one's.
    [[nodiscard]] bool is_alias() const;
    /// Where it begins as it is written here, as an alias too.
    [[nodiscard]] plan::Place start() const;
    /// Where it ends, as it is written here: behind its last character, or its closing bracket;
    /// written by indentation, behind its last part. Only of what was parsed, not set.
    [[nodiscard]] plan::Place end() const;
    /// A scalar, or a list or mapping in brackets; else written by indentation.
    [[nodiscard]] bool in_brackets() const;

    /// Elements of a sequence, in order.
    [[nodiscard]] std::vector<Value> elements() const;
    /// Keys and values of a mapping, in order, merge keys resolved (own keys win, then earlier
    /// merges). A key that stands there twice is listed twice.
    [[nodiscard]] std::vector<std::pair<Value, Value>> entries() const;
    /// Calls `each(key, value)` for every one of these.
    template <class Each>
    void for_entries(Each&& each) const;
    /// The value of a key; unset where a mapping has no such key, and for anything else.
    [[nodiscard]] Value at(std::string_view key) const;
    /// The same as they are written: a merge key is a key.
    [[nodiscard]] std::vector<std::pair<Value, Value>> written_entries() const;
    /// What kind of thing this is, for messages: "a list", "a mapping", "\"text\"".
    [[nodiscard]] std::string description() const;
    /// The same value of the same tree.
    bool operator==(const Value&) const = default;

private:
    friend class YamlTree;
    friend class TreeBuilder;
    [[nodiscard]] bool has_merge_key() const;
    Value(const YamlTree* tree, std::uint32_t index) : tree_(tree), index_(index) {}

    const YamlTree* tree_ = nullptr;
    std::uint32_t index_ = 0;
};

/// One parsed file. Not copied or moved: values point into it.
class YamlTree {
public:
    /// Parses UTF-8 text. `file` goes into every place. Throws YamlError on broken YAML, more than
    /// one document, an unknown or self-containing alias, nesting deeper than 100, or aliases that
    /// expand to more than a hundred times what is written (and more than a million values).
    YamlTree(std::string_view text, std::uint32_t file);
    YamlTree(const YamlTree&) = delete;
    YamlTree& operator=(const YamlTree&) = delete;

    /// What takes a scalar's or mapping's place in a copy.
    struct Rewritten {
        std::string text; ///< a plain scalar; empty: it is left out, with its key
    };
    using Rewrite = std::function<std::optional<Rewritten>(const Value& value)>;
    /// A copy of a part of a tree with some values changed (nothing: as it is); aliases are
    /// resolved. Each place gets that `use`, where one is given. Lives as long as the original.
    YamlTree(const Value& part, std::uint32_t use, const Rewrite& rewrite);

    /// Puts a value, parsed from YAML, at a path of keys and element numbers below the root; the
    /// last key may be new to its mapping, the last number the next of its list. What other places
    /// share by alias or merge key stays as it is there. Every place in the new value is `place`.
    /// Whether there was such a place; else nothing is changed. Throws YamlError as parsing does.
    bool set(const std::vector<std::string>& path, std::string_view text, plan::Place place);

    /// How many values it has, aliases as one.
    [[nodiscard]] std::size_t size() const { return nodes_.size(); }
    /// The document's value; a null scalar where the file is empty.
    [[nodiscard]] Value root() const { return {this, root_}; }

private:
    friend class Value;
    friend class TreeBuilder;

    static constexpr std::uint32_t nothing = UINT32_MAX;
    struct Node {
        Value::Kind kind = Value::Kind::scalar;
        bool plain = true;
        bool in_brackets = true;
        plan::Place place;
        plan::Place end; ///< of what stands in brackets
        std::string_view text;
        std::uint32_t alias_of = nothing; ///< the node that this stands for
        std::uint32_t first = nothing;    ///< first child; of a mapping: its first key
        std::uint32_t next = nothing;     ///< next sibling; keys and values alternate
    };
    [[nodiscard]] const Node& node(std::uint32_t index) const {
        const Node& found = nodes_[index];
        return found.alias_of == nothing ? found : nodes_[found.alias_of];
    }

    std::uint32_t add(const Node& node) {
        may_share_ = may_share_ || node.alias_of != nothing;
        nodes_.push_back(node);
        return static_cast<std::uint32_t>(nodes_.size() - 1);
    }
    /// Where a part of a path is below a node, made the node's own; `nothing` where it is not.
    std::uint32_t own_child(std::uint32_t parent, const std::string& part);
    void unshare(std::uint32_t index);
    /// What others stand for stays with them as it is, whatever becomes of this node.
    void leave_to_aliases(std::uint32_t index);
    std::uint32_t copy_of(const YamlTree& other, std::uint32_t index, plan::Place place);
    std::uint32_t rewritten(const Value& value, std::uint32_t use, const Rewrite& rewrite);
    std::uint32_t append_child(std::uint32_t parent, std::uint32_t child);

    std::vector<Node> nodes_;
    std::deque<std::string> texts_; ///< blocks that `Node::text` points into
    std::uint32_t root_ = 0;
    bool may_merge_ = true;  ///< some key may be `<<`
    bool may_share_ = false; ///< some node may stand for another
};

template <class Each>
void Value::for_entries(Each&& each) const {
    if (!is_mapping()) return;
    if (has_merge_key()) {
        for (const auto& [key, value] : entries()) each(key, value);
        return;
    }
    for (std::uint32_t at = tree_->node(index_).first; at != YamlTree::nothing;) {
        const std::uint32_t value = tree_->nodes_[at].next;
        each(Value(tree_, at), Value(tree_, value));
        at = tree_->nodes_[value].next;
    }
}

} // namespace hestrel::source
