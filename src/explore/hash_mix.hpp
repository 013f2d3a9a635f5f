#pragma once
// How numbers are made into hashes.

#include <cstdint>

namespace hestrel::explore {

/// A hash with one more number in it; numbers that differ in few bits are far apart.
[[nodiscard]] inline std::uint64_t hash_mix(std::uint64_t hash, std::uint64_t more) {
    hash = (hash ^ more) * 0xD6E8FEB86659FD93;
    return hash ^ hash >> 32;
}

} // namespace hestrel::explore
