#pragma once
// Things that are many-sided but few: each kept once, and known by its number.

#include "explore/hash_mix.hpp"

#include <cstdint>
#include <optional>
#include <unordered_map>
#include <vector>

namespace hestrel::explore {

/// A thing written as numbers, so that two are the same exactly where their numbers are.
using Key = std::vector<std::uint32_t>;

struct KeyHash {
    std::size_t operator()(const Key& key) const {
        std::uint64_t hash = key.size();
        for (const std::uint32_t number : key) hash = hash_mix(hash, number);
        return hash;
    }
};

/// Keeps things of type T.
template <class T>
class Interned {
public:
    std::uint32_t number(Key key, const T& thing) {
        const auto [found, fresh] =
            numbers_.try_emplace(std::move(key), static_cast<std::uint32_t>(things_.size()));
        if (fresh) things_.push_back(thing);
        return found->second;
    }
    [[nodiscard]] std::optional<std::uint32_t> find(const Key& key) const {
        const auto found = numbers_.find(key);
        return found == numbers_.end() ? std::nullopt : std::optional(found->second);
    }
    [[nodiscard]] const T& operator[](std::uint32_t number) const { return things_[number]; }
    [[nodiscard]] std::size_t size() const { return things_.size(); }

private:
    std::unordered_map<Key, std::uint32_t, KeyHash> numbers_;
    std::vector<T> things_;
};

} // namespace hestrel::explore
