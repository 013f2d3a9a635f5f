#pragma once
// What may stand at a path of keys of a plan, by the table of keys: for completion and hovering.

#include "source/plan_keys.hpp"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::source {

/// A place in a plan's tree, by the keys and numbers of elements that lead there.
class Expected {
public:
    /// The whole of a plan file.
    Expected() : object_(&static_cast<const ObjectKeys&>(keys::plan)) {}

    /// One step further in: the value of a key, or an element of a list (`part` is its number).
    /// Nothing where nothing can stand there.
    [[nodiscard]] std::optional<Expected> inside(std::string_view part) const;

    /// The keys of a mapping that may stand here; null where none has keys of the table.
    [[nodiscard]] const ObjectKeys* object() const { return object_; }
    /// The key whose value this is, or is a part of; null at the top.
    [[nodiscard]] const Key* key() const { return key_; }
    /// Kinds of things that a scalar here names.
    [[nodiscard]] std::span<const std::string_view> names() const;
    /// Kinds of things that the keys of a mapping here name: `device` of `on`.
    [[nodiscard]] std::span<const std::string_view> named_keys() const;
    /// Words of the table of which a scalar here is one.
    [[nodiscard]] std::span<const std::string_view> words() const;
    [[nodiscard]] bool is_condition() const;
    [[nodiscard]] bool is_flag() const;

private:
    /// How far inside a key's value this is.
    enum class Part : std::uint8_t {
        value,   ///< all of it
        element, ///< an element of its list
        by_name, ///< what stands under a name of the designer's choice in it
        inner,   ///< an element of that
        by_fact, ///< a mapping that picks a level by a fact
        other,   ///< anything else, of which the table says nothing
    };

    Expected(const Key* key, Part part) : key_(key), part_(part) {}
    static Expected value_of(const Key& key);
    [[nodiscard]] Expected object_of(const ObjectKeys* object) const;

    const ObjectKeys* object_ = nullptr;
    const Key* key_ = nullptr;
    Part part_ = Part::value;
};

/// Where a path of keys leads; nothing where nothing can stand there.
std::optional<Expected> expected_at(const std::vector<std::string>& path);

} // namespace hestrel::source
