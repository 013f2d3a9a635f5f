#include "source/expected.hpp"

#include <algorithm>
#include <array>

namespace hestrel::source {

namespace {

bool is_number(std::string_view part) {
    return !part.empty() &&
           std::all_of(part.begin(), part.end(), [](char c) { return c >= '0' && c <= '9'; });
}

constexpr std::array fact_names{std::string_view("fact")};
constexpr std::array device_names{std::string_view("device")};
constexpr std::array pool_names{std::string_view("pool")};
constexpr std::array finding_names{std::string_view("finding")};

bool is_list_of_levels(Takes takes) {
    return takes == Takes::levels || takes == Takes::level_or_position;
}

} // namespace

Expected Expected::object_of(const ObjectKeys* object) const {
    Expected there(key_, Part::value);
    there.object_ = object;
    return there;
}

Expected Expected::value_of(const Key& key) {
    Expected there(&key, Part::value);
    switch (key.takes) {
    case Takes::object:
    case Takes::objects:
    case Takes::time_or_object:
    case Takes::level_or_position:
    case Takes::condition_or_object:
    case Takes::word_or_object: there.object_ = key.inner; break;
    default: break;
    }
    return there;
}

std::optional<Expected> Expected::inside(std::string_view part) const {
    const bool number = is_number(part);
    if (object_ != nullptr && !number) {
        const auto found = std::find_if(object_->keys.begin(), object_->keys.end(),
                                        [&](const Key& each) { return each.name == part; });
        if (found != object_->keys.end()) return value_of(*found);
        if (key_ == nullptr || !is_list_of_levels(key_->takes)) return std::nullopt;
    }
    if (key_ == nullptr) return std::nullopt;
    const Expected inner(key_, Part::inner);
    switch (key_->takes) {
    case Takes::objects:
        if (number && part_ == Part::value) return object_of(key_->inner);
        return std::nullopt;
    case Takes::named:
    case Takes::named_or_nothing:
    case Takes::by_device:
        if (part_ == Part::value) return object_of(key_->inner);
        return std::nullopt;
    case Takes::points_by_name:
        if (part_ == Part::value) return object_of(key_->inner);
        return Expected(key_, Part::other);
    case Takes::groups:
        if (part_ == Part::value && object_ == nullptr) {
            Expected there = object_of(key_->inner);
            there.part_ = Part::by_name;
            return there;
        }
        if (part_ == Part::by_name && number) return inner;
        return std::nullopt;
    case Takes::paths:
        if (part_ == Part::value && number) {
            Expected there = object_of(key_->inner);
            there.part_ = Part::element;
            return there;
        }
        if (part_ == Part::element && number) return inner;
        return std::nullopt;
    case Takes::parcels:
        if (part_ == Part::value && number) return Expected(key_, Part::element);
        if (part_ == Part::element && !number) return Expected(key_, Part::by_name);
        if (part_ == Part::by_name && number) return inner;
        return std::nullopt;
    case Takes::step_list:
        if (part_ == Part::value && number) return object_of(&keys::object(keys::step.id));
        return std::nullopt;
    case Takes::route_steps:
        if (part_ == Part::value && number) return object_of(&keys::object(keys::route_step.id));
        return std::nullopt;
    case Takes::steps_by_name:
        if (part_ == Part::value && !number) return Expected(key_, Part::by_name);
        if (part_ == Part::by_name && number) return object_of(&keys::object(keys::step.id));
        return std::nullopt;
    case Takes::levels:
    case Takes::level_or_position:
        if (number) return part_ == Part::value ? std::optional(inner) : std::nullopt;
        return Expected(key_, part == "by" ? Part::by_fact : Part::inner);
    case Takes::values_by_name:
        if (part_ == Part::value) return object_of(&keys::object(keys::assignment.id));
        return std::nullopt;
    case Takes::name_list:
    case Takes::word_list:
    case Takes::word_or_names:
    case Takes::text_list:
    case Takes::names_by_name:
    case Takes::kinds_by_name: return inner;
    default: return Expected(key_, Part::other);
    }
}

std::span<const std::string_view> Expected::names() const {
    if (key_ == nullptr || part_ == Part::other) return {};
    if (part_ == Part::by_fact) return fact_names;
    switch (key_->takes) {
    case Takes::name:
    case Takes::name_list:
    case Takes::dotted_name:
    case Takes::word_list:
    case Takes::word_or_names:
    case Takes::levels:
    case Takes::level_or_position:
    case Takes::list_use:
    case Takes::text: return key_->names;
    case Takes::names_by_name:
    case Takes::groups:
    case Takes::paths:
    case Takes::parcels:
        return part_ == Part::inner ? key_->names : std::span<const std::string_view>();
    default: return {};
    }
}

std::span<const std::string_view> Expected::named_keys() const {
    if (key_ == nullptr || part_ != Part::value) return {};
    switch (key_->takes) {
    case Takes::by_device:
        return object_ == nullptr ? std::span<const std::string_view>(device_names)
                                  : std::span<const std::string_view>();
    case Takes::memory_by_name:
    case Takes::ranges_by_name: return pool_names;
    case Takes::values_by_name:
        return object_ == nullptr ? std::span<const std::string_view>(fact_names)
                                  : std::span<const std::string_view>();
    case Takes::texts_by_name: return finding_names;
    case Takes::list_use: return key_->names;
    default: return {};
    }
}

std::span<const std::string_view> Expected::words() const {
    if (key_ == nullptr || part_ == Part::other) return {};
    switch (key_->takes) {
    case Takes::word:
    case Takes::word_or_object:
    case Takes::word_or_names: return key_->words;
    case Takes::kinds_by_name:
        return part_ == Part::inner ? key_->words : std::span<const std::string_view>();
    default: return {};
    }
}

bool Expected::is_condition() const {
    return key_ != nullptr && part_ == Part::value &&
           (key_->takes == Takes::condition || key_->takes == Takes::condition_or_object);
}

bool Expected::is_flag() const {
    return key_ != nullptr && part_ == Part::value && key_->takes == Takes::flag;
}

std::optional<Expected> expected_at(const std::vector<std::string>& path) {
    std::optional<Expected> there{Expected()};
    for (const std::string& part : path) {
        there = there->inside(part);
        if (!there) return std::nullopt;
    }
    return there;
}

} // namespace hestrel::source
