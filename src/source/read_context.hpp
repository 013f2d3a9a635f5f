#pragma once
// What every part of the plan reader needs: keys checked against the table of keys, values
// converted, names looked up; each problem becomes one finding, and reading goes on.

#include "plan/finding.hpp"
#include "plan/plan.hpp"
#include "source/did_you_mean.hpp"
#include "source/name_use.hpp"
#include "source/names.hpp"
#include "source/plan_keys.hpp"
#include "source/quantities.hpp"
#include "source/yaml_tree.hpp"

#include <boost/container/small_vector.hpp>
#include <cstdint>
#include <deque>
#include <fmt/format.h>
#include <functional>
#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::source {

/// Whether a text can be a name: letters, digits, - and _, starting with a letter or digit.
bool is_name(std::string_view text);
/// Or a name with that of its level before it.
bool is_reference(std::string_view text);

/// The values of one mapping, by key of its table.
class Fields {
public:
    /// The value of a key, which must be in the table; empty where the mapping has none.
    Value operator[](std::string_view key) const;
    [[nodiscard]] bool has(std::string_view key) const { return static_cast<bool>((*this)[key]); }
    [[nodiscard]] plan::Place place() const { return place_; }

private:
    friend class ReadContext;
    struct There {
        std::string_view key;
        Value value;
    };
    const ObjectKeys* keys_ = nullptr;
    plan::Place place_;
    boost::container::small_vector<There, 6> values_; ///< of those keys that the mapping has
};

/// A name in a value's text: the value's place, its whole text, and where in it the name begins.
struct Spot {
    plan::Place place;
    std::string_view text;
    std::size_t at = 0;
};

/// What is given to a named list at a use, and where.
struct GivenName {
    std::string_view kind;
    std::string text;
    Spot spot;
};

/// Why `$x` can't stand where it stands: a finding's name and message.
struct NotGiven {
    std::string_view finding;
    std::string message;
};

/// Reads values and collects findings.
class ReadContext {
public:
    /// `uses`: where to note every mention of a name; null where nobody asks.
    explicit ReadContext(const std::vector<std::string>& files,
                         std::vector<NameUse>* uses = nullptr)
        : files_(&files), uses_(uses) {}

    [[nodiscard]] bool notes_mentions() const { return uses_ != nullptr; }
    /// Notes that a name is mentioned.
    void mention(std::string_view kind, std::string_view scope, std::string_view name, Spot spot,
                 bool defines = false) {
        if (uses_ == nullptr) return;
        if (for_use_ != nullptr) {
            const GivenName* given = given_name(kind, name);
            if (given == nullptr) return; // it is noted where the list is defined
            spot = given->spot;
        }
        uses_->push_back({std::string(kind), std::string(scope), std::string(name), spot.place,
                          count_word(spot.text.substr(0, spot.at), name), defines});
    }

    void error(std::string_view name, plan::Place place, std::string message) {
        findings_.push_back({plan::Severity::error, std::string(name), place, std::move(message)});
    }
    void note(std::string_view name, plan::Place place, std::string message) {
        findings_.push_back({plan::Severity::note, std::string(name), place, std::move(message)});
    }
    /// `file:line:column`.
    [[nodiscard]] std::string text_of(plan::Place place) const;
    void wrong_value(const Value& value, const std::string& problem) {
        error("wrong-value", value.place(), problem);
    }
    [[nodiscard]] std::vector<plan::Finding>& findings() { return findings_; }

    /// A copy of a text that lives as long as this.
    std::string_view keep(std::string_view text) { return kept_.emplace_back(text); }

    /// The fields of a mapping; unknown, repeated and missing keys become findings. A value that is
    /// no mapping too, and has no fields then.
    Fields fields(const Value& value, const ObjectKeys& keys);

    /// Calls `each(name, name's place, value)` for every entry of a mapping, in order.
    using EachNamed = std::function<void(std::string_view, plan::Place, const Value&)>;
    void named(const Value& value, std::string_view what, const EachNamed& each);
    /// The same where the names are those of things defined elsewhere, perhaps `level.name`.
    void by_reference(const Value& value, std::string_view what, const EachNamed& each);

    /// Elements of a list; a single scalar where `one_will_do` counts as a list of one.
    std::vector<Value> list(const Value& value, std::string_view what);

    /// While a named list's own steps are read, what it takes; null outside of one. `$x` counts as
    /// something of its kind then.
    void define_list(const plan::NamedList* list) { defines_ = list; }
    [[nodiscard]] bool defines_list() const { return defines_ != nullptr; }
    /// Whether a text is `$x`, which the list whose steps are read takes; a finding where that is
    /// of another kind than those wanted, or where it takes no such thing.
    bool parameter(std::string_view text, Spot spot,
                   std::initializer_list<plan::ParameterKind> wanted);
    /// Whether a text is `$x` while a named list's own steps are read.
    [[nodiscard]] bool is_parameter(std::string_view text) const {
        return defines_ != nullptr && text.starts_with('$');
    }
    /// What is wrong with `$x` where things of some kinds are wanted.
    [[nodiscard]] std::optional<NotGiven>
    parameter_problem(std::string_view text, std::initializer_list<plan::ParameterKind> wanted);
    void mention_parameter(std::string_view text, Spot spot);
    /// While a named list's steps are read for a use of it: what is given there is noted as
    /// mentioned there, and nothing else, as that has been.
    class ForUse {
    public:
        ForUse(ReadContext& reading, std::vector<GivenName> given);
        ForUse(const ForUse&) = delete;
        ForUse& operator=(const ForUse&) = delete;
        ~ForUse() { reading_.for_use_ = before_; }

    private:
        ReadContext& reading_;
        std::vector<GivenName> given_;
        const std::vector<GivenName>* before_;
    };
    /// The kind of such a parameter; nothing where there is none.
    [[nodiscard]] std::optional<plan::ParameterKind> parameter_kind(std::string_view text) const;

    // Single values. An absent or broken one leaves `into` as it was.
    void text(const Value& value, std::string& into);
    void flag(const Value& value, bool& into);
    void count(const Value& value, std::int64_t least, std::int64_t most, std::int64_t& into);
    void count(const Value& value, std::uint32_t most, std::uint32_t& into);
    void number(const Value& value, double& into);
    void time(const Value& value, plan::Micros& into);
    void point(const Value& value, plan::Vec3& into);

    /// Converts a scalar with one of the functions of quantities.hpp.
    template <class T>
    bool quantity(const Value& value, Parsed<T> (*parse)(std::string_view), std::string_view what,
                  T& into) {
        if (!value) return false;
        if (!value.is_scalar() || value.is_null()) {
            wrong_value(value, fmt::format("expected {}, found {}", what, value.description()));
            return false;
        }
        Parsed<T> parsed = parse(value.text());
        if (const auto* problem = std::get_if<std::string>(&parsed)) {
            wrong_value(value,
                        fmt::format("{} {} (expected {})", value.description(), *problem, what));
            return false;
        }
        into = std::get<T>(parsed);
        return true;
    }

    /// One of a few words; the index of the one found.
    std::optional<std::size_t> word(const Value& value, std::span<const std::string_view> words);

    /// What to append to a message about a wrong name: what may have been meant.
    template <class... Ids>
    std::string hint(std::string_view wrong, const Names<Ids>&... names) {
        std::string_view right;
        const auto look_in = [&](const auto& each) {
            if (right.empty()) right = each.in_other_capitals(wrong);
        };
        (look_in(names), ...);
        if (!right.empty()) return capitals_hint(right);
        const auto look_inside = [&](const auto& each) {
            if (right.empty()) right = each.inside_another(wrong);
        };
        (look_inside(names), ...);
        if (!right.empty()) return meant_hint(right);
        if (!hints_.spend((names.all().size() + ...))) return {};
        std::vector<std::string_view> known;
        (known.insert(known.end(), names.all().begin(), names.all().end()), ...);
        return source::hint_by_parts(wrong, known);
    }
    std::string hint(std::string_view wrong, std::span<const std::string_view> known) {
        return hints_.spend(known.size()) ? source::hint(wrong, known) : std::string();
    }

    /// A name defined elsewhere; invalid (and a finding) where there is none.
    template <class Id>
    Id reference(const Value& value, const Names<Id>& names) {
        if (!value) return {};
        if (!value.is_scalar() || value.is_null()) {
            wrong_value(value, fmt::format("expected the name of a {}, found {}", names.kind(),
                                           value.description()));
            return {};
        }
        return lookup(value.text(), {value.place(), value.text()}, names);
    }
    template <class Id>
    Id lookup(std::string_view name, Spot spot, const Names<Id>& names) {
        if (is_parameter(name)) {
            parameter_of(names.kind(), name, spot);
            return {};
        }
        const auto found = names.look_up(name);
        mention_found(names, name, found, spot);
        if (!found) {
            error("unknown-name", spot.place,
                  fmt::format("no {} is called \"{}\"{}", names.kind(), name, hint(name, names)));
        }
        return found.id;
    }
    /// Notes what a name was found to mean: of `level.name` both parts.
    template <class Id>
    void mention_found(const Names<Id>& names, std::string_view name,
                       const typename Names<Id>::Found& found, Spot spot) {
        if (uses_ == nullptr) return;
        std::string_view owner = names.owner();
        if (found.level) owner = names.level_name(found.level);
        if (found.at > 0) mention("level", {}, owner, spot);
        spot.at += found.at;
        mention(names.kind(), owner, name.substr(found.at), spot);
    }
    /// A list of such names, or a single one.
    template <class Id>
    std::vector<Id> references(const Value& value, const Names<Id>& names) {
        std::vector<Id> ids;
        if (!value) return ids;
        if (value.is_scalar() && !value.is_null()) {
            if (const Id id = reference(value, names)) ids.push_back(id);
            return ids;
        }
        for (const Value& each : list(value, fmt::format("a list of {}s", names.kind()))) {
            if (const Id id = reference(each, names)) ids.push_back(id);
        }
        return ids;
    }
    /// Whether a name is written where it is defined, or made up of another one.
    enum class Written : std::uint8_t { yes, no };
    /// Defines a name; a second definition shows both places.
    template <class Id>
    void define(Names<Id>& names, std::string_view name, Id id, plan::Place place,
                Written written = Written::yes) {
        if (written == Written::yes)
            mention(names.kind(), names.owner(), name, {place, name}, true);
        if (const auto earlier = names.define(name, id, place))
            defined_twice(name, place, *earlier);
    }
    /// Defines a name inside a level, where it hides one that is defined further out. Returns
    /// `level.name`.
    template <class Id>
    std::string_view define_inside(Names<Id>& names, plan::LevelId level, std::string_view name,
                                   Id id, plan::Place place, Written written = Written::yes) {
        const std::string_view owner = names.level_name(level);
        if (written == Written::yes) mention(names.kind(), owner, name, {place, name}, true);
        if (const auto hidden = names.look_up(name); hidden && hidden.level != level)
            hides(names.kind(), name, place, hidden.place);
        const std::string_view full = keep(fmt::format("{}.{}", owner, name));
        if (const auto earlier = names.define(name, id, place, level, full))
            defined_twice(name, place, *earlier);
        return full;
    }

private:
    [[nodiscard]] const GivenName* given_name(std::string_view kind, std::string_view name) const;
    void parameter_of(std::string_view kind, std::string_view name, Spot spot);
    bool plain_number(const Value& value, std::string_view what, double& into);
    void entries_of(const Value& value, std::string_view what, bool (*fits)(std::string_view),
                    const EachNamed& each);
    void defined_twice(std::string_view name, plan::Place place, plan::Place earlier);
    void hides(std::string_view kind, std::string_view name, plan::Place place, plan::Place hidden);

    const std::vector<std::string>* files_;
    std::vector<NameUse>* uses_;
    std::vector<plan::Finding> findings_;
    std::deque<std::string> kept_;
    HintBudget hints_;
    const plan::NamedList* defines_ = nullptr;
    const std::vector<GivenName>* for_use_ = nullptr;
};

} // namespace hestrel::source
