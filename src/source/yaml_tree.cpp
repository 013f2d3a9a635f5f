#include "source/yaml_tree.hpp"

#include "source/utf8.hpp"

#include <algorithm>
#include <boost/algorithm/string/replace.hpp>
#include <cstring>
#include <fmt/format.h>
#include <unordered_map>
#include <yaml.h>

namespace hestrel::source {

namespace {

constexpr std::size_t deepest_nesting = 100;
constexpr std::uint64_t expansion_always_allowed = 1'000'000;
constexpr std::uint64_t expansion_factor = 100;
constexpr std::size_t text_block = std::size_t{1} << 16;
constexpr std::string_view merge_key = "<<";

std::uint64_t saturating_add(std::uint64_t one, std::uint64_t other) {
    return one > UINT64_MAX - other ? UINT64_MAX : one + other;
}

/// Three characters that YAML 1.1, and so libyaml, takes for line ends; in YAML 1.2 and in editors
/// they are none (U+2028 comes with what is copied from a page). Others stand for them while
/// libyaml reads: of private use, and none that the text has.
class OddLineEnds {
public:
    explicit OddLineEnds(std::string_view text) {
        for (const std::string_view odd : {"\xC2\x85", "\xE2\x80\xA8", "\xE2\x80\xA9"}) {
            if (text.find(odd) == std::string_view::npos) continue;
            std::string stand_in;
            do {
                constexpr char32_t low_bits = 0x3F;
                stand_in = {'\xEE', static_cast<char>(0x80U | (next_ >> 6U & low_bits)),
                            static_cast<char>(0x80U | (next_ & low_bits))};
                ++next_;
            } while (text.find(stand_in) != std::string_view::npos && next_ < last);
            pairs_.emplace_back(odd, stand_in);
        }
    }
    [[nodiscard]] bool any() const { return !pairs_.empty(); }
    [[nodiscard]] std::string hidden(std::string_view text) const {
        std::string changed(text);
        for (const auto& [odd, stand_in] : pairs_)
            boost::algorithm::replace_all(changed, odd, stand_in);
        return changed;
    }
    [[nodiscard]] std::string shown(std::string_view text) const {
        std::string changed(text);
        for (const auto& [odd, stand_in] : pairs_)
            boost::algorithm::replace_all(changed, stand_in, odd);
        return changed;
    }

private:
    static constexpr char32_t last = 0xFFF; ///< of U+E000 to U+EFFF
    char32_t next_ = 0;
    std::vector<std::pair<std::string_view, std::string>> pairs_;
};

/// libyaml's parser, released when it goes out of scope.
class TreeParser {
public:
    TreeParser(std::string_view text, std::uint32_t file) : file_(file), odd_(text) {
        if (odd_.any()) text = hidden_ = odd_.hidden(text);
        text = without_byte_order_mark(text);
        if (yaml_parser_initialize(&parser_) == 0) throw std::bad_alloc();
        yaml_parser_set_input_string(&parser_, reinterpret_cast<const unsigned char*>(text.data()),
                                     text.size());
        yaml_parser_set_encoding(&parser_, YAML_UTF8_ENCODING);
    }
    TreeParser(const TreeParser&) = delete;
    TreeParser& operator=(const TreeParser&) = delete;
    ~TreeParser() { yaml_parser_delete(&parser_); }

    [[nodiscard]] plan::Place place(const yaml_mark_t& mark) const {
        return {file_, static_cast<std::uint32_t>(mark.line + 1),
                static_cast<std::uint32_t>(mark.column + 1)};
    }

    void next(yaml_event_t& event) {
        if (yaml_parser_parse(&parser_, &event) != 0) return;
        if (parser_.error == YAML_MEMORY_ERROR) throw std::bad_alloc();
        const char* problem = parser_.problem != nullptr ? parser_.problem : "not YAML";
        plan::Place where = place(parser_.problem_mark);
        if (parser_.error == YAML_READER_ERROR) where = place(parser_.mark);
        const std::string context =
            parser_.context != nullptr ? fmt::format(" {}", parser_.context) : std::string();
        throw YamlError(where, fmt::format("broken YAML: {}{}", problem, context));
    }

    /// The text of a scalar as it was written.
    [[nodiscard]] std::string written(std::string_view text) const { return odd_.shown(text); }
    [[nodiscard]] bool hides_any() const { return odd_.any(); }

private:
    yaml_parser_t parser_{};
    std::uint32_t file_;
    OddLineEnds odd_;
    std::string hidden_; ///< what libyaml reads instead, where there are any
};

/// A libyaml event, released when it goes out of scope.
struct Event {
    yaml_event_t data{};
    Event() = default;
    Event(const Event&) = delete;
    Event& operator=(const Event&) = delete;
    ~Event() { yaml_event_delete(&data); }
};

} // namespace

/// Builds a tree from libyaml's events.
class TreeBuilder {
public:
    TreeBuilder(YamlTree& tree, std::string_view text, std::uint32_t file)
        : tree_(tree), parser_(text, file) {
        // About as many values as most plans have: they are not moved as they become more.
        constexpr std::size_t bytes_a_value = 4;
        constexpr std::size_t most = 4'000'000;
        tree_.nodes_.reserve(std::min(text.size() / bytes_a_value, most) + 16);
        tree_.root_ = add(YamlTree::Node{});
        tree_.nodes_[0].place = {file, 1, 1};
    }

    void build() {
        bool document_seen = false;
        while (true) {
            Event event;
            parser_.next(event.data);
            const plan::Place place = parser_.place(event.data.start_mark);
            switch (event.data.type) {
            case YAML_STREAM_END_EVENT:
                check_expansion();
                tree_.may_merge_ = merges_;
                return;
            case YAML_DOCUMENT_START_EVENT:
                if (document_seen) throw YamlError(place, "a second document in one file");
                document_seen = true;
                break;
            case YAML_SCALAR_EVENT: scalar(event.data, place); break;
            case YAML_SEQUENCE_START_EVENT:
                open(Value::Kind::sequence, place, event.data.data.sequence_start.anchor,
                     event.data.data.sequence_start.style == YAML_FLOW_SEQUENCE_STYLE);
                break;
            case YAML_MAPPING_START_EVENT:
                open(Value::Kind::mapping, place, event.data.data.mapping_start.anchor,
                     event.data.data.mapping_start.style == YAML_FLOW_MAPPING_STYLE);
                break;
            case YAML_SEQUENCE_END_EVENT:
            case YAML_MAPPING_END_EVENT: close(parser_.place(event.data.end_mark)); break;
            case YAML_ALIAS_EVENT: alias(event.data, place); break;
            default: break;
            }
        }
    }

private:
    struct Open {
        std::uint32_t index;
        std::uint32_t last_child;
        std::uint64_t size; ///< values it expands to so far
        std::size_t depth;  ///< of the deepest in it so far, aliases expanded
    };
    struct Anchor {
        std::uint32_t index;
        std::uint64_t size; ///< values it expands to; 0 while it is still open
        std::size_t depth;  ///< of the deepest in it
    };

    std::uint32_t add(const YamlTree::Node& node) { return tree_.add(node); }

    /// Hangs a node into what is open, or makes it the root.
    void attach(std::uint32_t index, std::uint64_t size, std::size_t depth) {
        if (open_.empty()) {
            tree_.root_ = index;
            total_ = saturating_add(total_, size);
            return;
        }
        Open& parent = open_.back();
        const std::uint32_t last = parent.last_child;
        (last == YamlTree::nothing ? tree_.nodes_[parent.index].first : tree_.nodes_[last].next) =
            index;
        parent.last_child = index;
        parent.size = saturating_add(parent.size, size);
        parent.depth = std::max(parent.depth, depth + 1);
    }

    std::string_view keep(std::string_view text) {
        const std::size_t length = text.size();
        if (tree_.texts_.empty() ||
            tree_.texts_.back().capacity() - tree_.texts_.back().size() < length) {
            tree_.texts_.emplace_back();
            tree_.texts_.back().reserve(std::max(text_block, length));
        }
        std::string& block = tree_.texts_.back();
        const std::size_t start = block.size();
        block.append(text);
        return std::string_view(block).substr(start, length);
    }

    void remember(const unsigned char* anchor, std::uint32_t index, std::uint64_t size) {
        if (anchor != nullptr) anchors_[reinterpret_cast<const char*>(anchor)] = {index, size, 0};
    }

    void scalar(const yaml_event_t& event, plan::Place place) {
        const auto& scalar = event.data.scalar;
        YamlTree::Node node;
        node.place = place;
        node.end = parser_.place(event.end_mark);
        node.plain = scalar.style == YAML_PLAIN_SCALAR_STYLE && scalar.tag == nullptr;
        const std::string_view text(reinterpret_cast<const char*>(scalar.value), scalar.length);
        merges_ = merges_ || (node.plain && text == merge_key);
        node.text = parser_.hides_any() ? keep(parser_.written(text)) : keep(text);
        const std::uint32_t index = add(node);
        remember(scalar.anchor, index, 1);
        attach(index, 1, 0);
    }

    void open(Value::Kind kind, plan::Place place, const unsigned char* anchor, bool in_brackets) {
        if (open_.size() == deepest_nesting)
            throw YamlError(place, "nested deeper than a plan can be");
        YamlTree::Node node;
        node.kind = kind;
        node.in_brackets = in_brackets;
        node.place = place;
        const std::uint32_t index = add(node);
        remember(anchor, index, 0);
        anchored_.emplace_back(anchor != nullptr ? reinterpret_cast<const char*>(anchor) : "");
        open_.push_back({index, YamlTree::nothing, 1, 0});
    }

    void close(plan::Place end) {
        const Open closed = open_.back();
        tree_.nodes_[closed.index].end = end;
        open_.pop_back();
        if (!anchored_.back().empty())
            anchors_[anchored_.back()] = {closed.index, closed.size, closed.depth};
        anchored_.pop_back();
        attach(closed.index, closed.size, closed.depth);
    }

    void alias(const yaml_event_t& event, plan::Place place) {
        const std::string name = reinterpret_cast<const char*>(event.data.alias.anchor);
        const auto found = anchors_.find(name);
        if (found == anchors_.end()) {
            throw YamlError(place, fmt::format("no anchor &{} before this alias", name));
        }
        if (found->second.size == 0) {
            throw YamlError(place, fmt::format("&{} would contain itself", name));
        }
        if (open_.size() + found->second.depth > deepest_nesting)
            throw YamlError(place,
                            fmt::format("with what &{} stands for this is nested deeper than "
                                        "a plan can be",
                                        name));
        YamlTree::Node node;
        node.place = place;
        node.end = parser_.place(event.end_mark);
        node.alias_of = found->second.index;
        attach(add(node), found->second.size, found->second.depth);
    }

    void check_expansion() const {
        const std::uint64_t allowed =
            std::max(expansion_always_allowed, expansion_factor * tree_.nodes_.size());
        if (total_ <= allowed) return;
        throw YamlError(tree_.nodes_[tree_.root_].place,
                        "aliases expand to more values than a plan can need");
    }

    YamlTree& tree_;
    TreeParser parser_;
    std::vector<Open> open_;
    std::vector<std::string> anchored_; ///< by open node: its anchor, or empty
    std::unordered_map<std::string, Anchor> anchors_;
    std::uint64_t total_ = 0;
    bool merges_ = false; ///< a key may be `<<`
};

YamlTree::YamlTree(std::string_view text, std::uint32_t file) {
    TreeBuilder(*this, text, file).build();
}

// --- copies with other values ------------------------------------------------

YamlTree::YamlTree(const Value& part, std::uint32_t use, const Rewrite& rewrite) {
    root_ = rewritten(part, use, rewrite);
}

/// The copy's number; `nothing` where it is left out.
std::uint32_t YamlTree::rewritten(const Value& value, std::uint32_t use, const Rewrite& rewrite) {
    Node copied = value.tree_->node(value.index_);
    const std::uint32_t first = copied.first;
    copied.first = copied.next = copied.alias_of = nothing;
    if (use != 0) copied.place.use = use;
    if (auto other = rewrite(value)) {
        if (other->text.empty()) return nothing;
        copied.kind = Value::Kind::scalar;
        copied.plain = true;
        copied.text = texts_.emplace_back(std::move(other->text));
        return add(copied);
    }
    const std::uint32_t made = add(copied);
    std::uint32_t last = nothing;
    const auto append = [&](std::uint32_t child) {
        (last == nothing ? nodes_[made].first : nodes_[last].next) = child;
        last = child;
    };
    const auto child = [&](std::uint32_t at) {
        return rewritten(Value(value.tree_, at), use, rewrite);
    };
    for (std::uint32_t at = first; at != nothing; at = value.tree_->nodes_[at].next) {
        const std::uint32_t one = child(at);
        if (copied.kind == Value::Kind::sequence) {
            if (one != nothing) append(one);
            continue;
        }
        at = value.tree_->nodes_[at].next; // a key, then its value
        const std::uint32_t other = child(at);
        if (other == nothing) continue;
        append(one);
        append(other);
    }
    return made;
}

// --- setting values ----------------------------------------------------------

/// A node that stands for another becomes a mapping or list of its own, whose children are the
/// other's.
void YamlTree::leave_to_aliases(std::uint32_t index) {
    const bool shared =
        may_share_ && std::any_of(nodes_.begin(), nodes_.end(),
                                  [&](const Node& each) { return each.alias_of == index; });
    if (!shared) return;
    const std::uint32_t kept = add(Node(nodes_[index]));
    for (Node& each : nodes_) {
        if (each.alias_of == index) each.alias_of = kept;
    }
    nodes_[index].alias_of = kept;
}

void YamlTree::unshare(std::uint32_t index) {
    leave_to_aliases(index);
    const std::uint32_t shared = nodes_[index].alias_of;
    if (shared == nothing) return;
    const Node original = nodes_[shared];
    nodes_[index].alias_of = nothing;
    nodes_[index].kind = original.kind;
    nodes_[index].plain = original.plain;
    nodes_[index].text = original.text;
    nodes_[index].first = nothing;
    for (std::uint32_t at = original.first; at != nothing; at = nodes_[at].next) {
        Node child;
        child.place = nodes_[at].place;
        child.alias_of = nodes_[at].alias_of == nothing ? at : nodes_[at].alias_of;
        append_child(index, add(child));
    }
}

std::uint32_t YamlTree::append_child(std::uint32_t parent, std::uint32_t child) {
    std::uint32_t* last = &nodes_[parent].first;
    while (*last != nothing) last = &nodes_[*last].next;
    *last = child;
    return child;
}

std::uint32_t YamlTree::own_child(std::uint32_t parent, const std::string& part) {
    unshare(parent);
    if (nodes_[parent].kind == Value::Kind::sequence) {
        std::size_t number = 0;
        for (std::uint32_t at = nodes_[parent].first; at != nothing; at = nodes_[at].next) {
            if (std::to_string(number++) == part) return at;
        }
        return nothing;
    }
    if (nodes_[parent].kind != Value::Kind::mapping) return nothing;
    for (std::uint32_t key = nodes_[parent].first; key != nothing;
         key = nodes_[nodes_[key].next].next) {
        if (node(key).text == part && node(key).kind == Value::Kind::scalar)
            return nodes_[key].next;
    }
    // It may come from a merge: then it becomes the mapping's own.
    for (const auto& [key, value] : Value(this, parent).entries()) {
        if (key.text() != part) continue;
        Node own_key;
        own_key.place = key.place();
        own_key.alias_of = key.index_;
        Node own_value;
        own_value.place = value.place();
        own_value.alias_of =
            nodes_[value.index_].alias_of == nothing ? value.index_ : nodes_[value.index_].alias_of;
        append_child(parent, add(own_key));
        return append_child(parent, add(own_value));
    }
    return nothing;
}

std::uint32_t YamlTree::copy_of(const YamlTree& other, std::uint32_t index, plan::Place place) {
    Node copied = other.node(index);
    const std::uint32_t first = copied.first;
    copied.place = place;
    copied.first = copied.next = copied.alias_of = nothing;
    copied.text = texts_.emplace_back(copied.text);
    const std::uint32_t made = add(copied);
    for (std::uint32_t at = first; at != nothing; at = other.nodes_[at].next)
        append_child(made, copy_of(other, at, place));
    return made;
}

bool YamlTree::set(const std::vector<std::string>& path, std::string_view text, plan::Place place) {
    const YamlTree parsed(text, place.file);
    may_merge_ = true;
    std::uint32_t at = root_;
    for (std::size_t i = 0; i < path.size(); ++i) {
        const std::uint32_t child = own_child(at, path[i]);
        if (child != nothing) {
            at = child;
            continue;
        }
        const bool sequence = nodes_[at].kind == Value::Kind::sequence;
        const bool is_next = sequence ? path[i] == std::to_string(Value(this, at).elements().size())
                                      : nodes_[at].kind == Value::Kind::mapping;
        if (i + 1 < path.size() || !is_next) return false;
        if (!sequence) {
            Node key;
            key.place = place;
            key.text = texts_.emplace_back(path[i]);
            append_child(at, add(key));
        }
        append_child(at, copy_of(parsed, parsed.root_, place));
        return true;
    }
    leave_to_aliases(at);
    const std::uint32_t next = nodes_[at].next;
    const std::uint32_t made = copy_of(parsed, parsed.root_, place);
    nodes_[at] = nodes_[made];
    nodes_[at].next = next;
    return true;
}

// --- Value -------------------------------------------------------------------

Value::Kind Value::kind() const {
    return tree_ == nullptr ? Kind::none : tree_->node(index_).kind;
}

bool Value::is_plain() const {
    return tree_->node(index_).plain;
}

std::string_view Value::text() const {
    return is_scalar() ? tree_->node(index_).text : std::string_view();
}

plan::Place Value::place() const {
    return tree_ == nullptr ? plan::Place{} : tree_->node(index_).place;
}

bool Value::in_brackets() const {
    return tree_->node(index_).in_brackets;
}

bool Value::is_alias() const {
    return tree_->nodes_[index_].alias_of != YamlTree::nothing;
}

plan::Place Value::start() const {
    return tree_->nodes_[index_].place;
}

plan::Place Value::end() const {
    const YamlTree::Node& node = tree_->nodes_[index_];
    if (is_alias()) return node.end;
    if (node.in_brackets || node.first == YamlTree::nothing) return node.end;
    std::uint32_t last = node.first;
    while (tree_->nodes_[last].next != YamlTree::nothing) last = tree_->nodes_[last].next;
    return Value(tree_, last).end();
}

bool Value::is_null() const {
    if (!is_scalar() || !is_plain()) return false;
    const std::string_view word = text();
    return word.empty() || word == "~" || word == "null" || word == "Null" || word == "NULL";
}

std::vector<Value> Value::elements() const {
    std::vector<Value> all;
    if (!is_sequence()) return all;
    for (std::uint32_t at = tree_->node(index_).first; at != YamlTree::nothing;
         at = tree_->nodes_[at].next) {
        all.push_back(Value(tree_, at));
    }
    return all;
}

std::vector<std::pair<Value, Value>> Value::written_entries() const {
    std::vector<std::pair<Value, Value>> all;
    if (!is_mapping()) return all;
    constexpr std::size_t most_have = 8;
    all.reserve(most_have);
    for (std::uint32_t at = tree_->node(index_).first; at != YamlTree::nothing;) {
        const std::uint32_t value = tree_->nodes_[at].next;
        all.emplace_back(Value(tree_, at), Value(tree_, value));
        at = tree_->nodes_[value].next;
    }
    return all;
}

namespace {

bool is_merge_key(const Value& key) {
    return key.text() == merge_key && key.is_plain();
}

} // namespace

bool Value::has_merge_key() const {
    if (!tree_->may_merge_) return false;
    for (std::uint32_t at = tree_->node(index_).first; at != YamlTree::nothing;) {
        if (is_merge_key(Value(tree_, at))) return true;
        at = tree_->nodes_[tree_->nodes_[at].next].next;
    }
    return false;
}

Value Value::at(std::string_view key) const {
    Value found;
    for_entries([&](const Value& name, const Value& value) {
        if (!found && name.text() == key) found = value;
    });
    return found;
}

std::vector<std::pair<Value, Value>> Value::entries() const {
    std::vector<std::pair<Value, Value>> written = written_entries();
    if (!is_mapping() || !has_merge_key()) return written;
    std::vector<std::pair<Value, Value>> own;
    std::vector<Value> merged;
    for (const auto& [key, value] : written) {
        if (!is_merge_key(key)) {
            own.emplace_back(key, value);
            continue;
        }
        if (value.is_mapping()) merged.push_back(value);
        for (const Value& each : value.elements()) {
            if (!each.is_mapping()) throw YamlError(each.place(), "a merge key takes mappings");
            merged.push_back(each);
        }
        if (!value.is_mapping() && !value.is_sequence()) {
            throw YamlError(value.place(), "a merge key takes a mapping, or a list of mappings");
        }
    }
    for (const Value& source : merged) {
        for (const auto& entry : source.entries()) {
            const bool known = std::any_of(own.begin(), own.end(), [&](const auto& other) {
                return other.first.text() == entry.first.text();
            });
            if (!known) own.push_back(entry);
        }
    }
    return own;
}

std::string Value::description() const {
    switch (kind()) {
    case Kind::none: return "nothing";
    case Kind::sequence: return "a list";
    case Kind::mapping: return "a mapping";
    case Kind::scalar: break;
    }
    if (is_null()) return "nothing";
    constexpr std::size_t longest = 40;
    const std::string_view word = shortened(text(), longest);
    return fmt::format("\"{}\"{}", word, word.size() < text().size() ? "…" : "");
}

} // namespace hestrel::source
