#pragma once
// Random numbers that are the same on every machine, which no std distribution is.

#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <random>

namespace hestrel::tests {

/// A seeded source of small numbers.
class Dice {
public:
    explicit Dice(std::uint32_t seed) : engine_(seed) {}
    int below(int limit) { return static_cast<int>(engine_() % static_cast<std::uint32_t>(limit)); }
    bool one_in(int count) { return below(count) == 0; }

private:
    std::mt19937 engine_;
};

/// How many random cases a test tries: as usual, or as many as HESTREL_SEEDS says.
inline std::uint32_t seeds(std::uint32_t usual) {
    const char* wanted = std::getenv("HESTREL_SEEDS");
    return wanted == nullptr ? usual
                             : static_cast<std::uint32_t>(std::strtoul(wanted, nullptr, 10));
}

} // namespace hestrel::tests
