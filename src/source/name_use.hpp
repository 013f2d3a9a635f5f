#pragma once
// Where names stand in the files of a plan: what renaming changes.

#include "plan/place.hpp"

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

namespace hestrel::source {

/// One mention of a name: its definition or a use.
struct NameUse {
    std::string kind;  ///< "level", "item", …
    std::string scope; ///< of an item, entry, speed or parcel, and inside a level: what it belongs
                       ///< to; else empty
    std::string name;  ///< as it stands there
    plan::Place place; ///< where the value in which it stands begins
    std::uint32_t nth = 0; ///< so many times the same word stands before it in that value
    bool defines = false;  ///< what is called so is defined there
    auto operator<=>(const NameUse&) const = default;
};

/// How often `word` stands as a whole word in `text`.
std::uint32_t count_word(std::string_view text, std::string_view word);

/// Where `word` stands as a whole word in `text` for the n-th time (from 0), at or behind `from`;
/// npos where it does not.
std::size_t find_word(std::string_view text, std::string_view word, std::uint32_t nth,
                      std::size_t from);

} // namespace hestrel::source
