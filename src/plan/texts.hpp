#pragma once
// The few figures that messages of the core contain, for people.

#include "plan/units.hpp"

#include <string>

namespace hestrel::plan {

/// "12.50 s", with the sign in front.
inline std::string seconds_text(Micros time) {
    const std::int64_t hundredths = (time.count + (time.count < 0 ? -5'000 : 5'000)) / 10'000;
    const std::int64_t size = hundredths < 0 ? -hundredths : hundredths;
    std::string cents = std::to_string(size % 100);
    if (cents.size() < 2) cents.insert(0, "0");
    return (hundredths < 0 ? "-" : "") + std::to_string(size / 100) + "." + cents + " s";
}

/// "33 ms".
inline std::string milliseconds_text(Micros time) {
    return std::to_string((time.count + 500) / 1000) + " ms";
}

/// "140 MiB".
inline std::string memory_text(Bytes size) {
    return std::to_string((size.count + (1 << 19)) >> 20) + " MiB";
}

} // namespace hestrel::plan
