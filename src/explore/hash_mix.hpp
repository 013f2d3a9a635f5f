#pragma once
// How numbers are made into hashes.

#include <cstddef>
#include <cstdint>

namespace hestrel::explore {

/// A hash with one more number in it; numbers that differ in few bits are far apart.
[[nodiscard]] inline std::uint64_t hash_mix(std::uint64_t hash, std::uint64_t more) {
    hash = (hash ^ more) * 0xD6E8FEB86659FD93;
    return hash ^ hash >> 32;
}

struct MixedHash {
    std::size_t operator()(std::uint64_t key) const { return hash_mix(0, key); }
};

} // namespace hestrel::explore
