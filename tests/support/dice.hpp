#pragma once
// Random numbers that are the same on every machine, which no std distribution is.

#include <cstddef>
#include <cstdint>
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

} // namespace hestrel::tests
