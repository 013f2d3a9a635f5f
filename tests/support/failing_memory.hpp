#pragma once
// Failures of allocation, made on purpose.

#include <cstdint>

namespace hestrel::tests {

/// While it lives, this thread's allocation number `count` by `new` fails, counted from 1, and
/// every one behind it.
class FailingMemory {
public:
    explicit FailingMemory(std::uint64_t count);
    FailingMemory(const FailingMemory&) = delete;
    FailingMemory& operator=(const FailingMemory&) = delete;
    ~FailingMemory();
};

} // namespace hestrel::tests
