#pragma once
// Keys: a struct as a row of numbers, equal exactly where the structs are. Made by the struct's own
// visitor of members, so that none can be left out, and each list with its length before it.

#include "explore/interned.hpp"

#include <bit>
#include <cstdint>
#include <ranges>
#include <type_traits>
#include <utility>

namespace hestrel::explore {

/// Writes members one after another; neighbouring flags share a number.
class KeyWriter {
public:
    template <class T>
    void operator()(const T& value) {
        if constexpr (std::is_same_v<T, bool>) {
            flag(value);
        } else if constexpr (std::is_enum_v<T>) {
            number(static_cast<std::uint32_t>(value));
        } else if constexpr (std::is_floating_point_v<T>) {
            wide(std::bit_cast<std::uint64_t>(static_cast<double>(value)));
        } else if constexpr (std::is_integral_v<T>) {
            if constexpr (sizeof(T) > sizeof(std::uint32_t)) {
                wide(static_cast<std::uint64_t>(value));
            } else {
                number(static_cast<std::uint32_t>(value));
            }
        } else if constexpr (requires { T::no_value; }) {
            number(value.value);
        } else if constexpr (requires { value.count; }) {
            wide(static_cast<std::uint64_t>(value.count));
        } else if constexpr (requires { value.has_value(); }) {
            flag(value.has_value());
            if (value) (*this)(*value);
        } else if constexpr (requires { value.first; }) {
            (*this)(value.first);
            (*this)(value.second);
        } else if constexpr (std::ranges::sized_range<T>) {
            number(static_cast<std::uint32_t>(value.size()));
            for (const auto& each : value) (*this)(each);
        } else {
            for_members(value, *this);
        }
    }
    [[nodiscard]] Key take() { return std::move(key_); }

private:
    void number(std::uint32_t value) {
        key_.push_back(value);
        flags_ = 0;
    }
    void wide(std::uint64_t value) {
        number(static_cast<std::uint32_t>(value));
        number(static_cast<std::uint32_t>(value >> 32));
    }
    void flag(bool value) {
        if (flags_ % 32 == 0) number(0);
        key_.back() |= (value ? 1U : 0U) << flags_++;
    }

    Key key_;
    std::uint32_t flags_ = 0; ///< in the last number
};

template <class T>
[[nodiscard]] Key key_of(const T& thing) {
    KeyWriter writer;
    writer(thing);
    return writer.take();
}

} // namespace hestrel::explore
