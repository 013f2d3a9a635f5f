#include "support/failing_memory.hpp"

#include <cstdlib>
#include <new>

namespace {

constexpr std::uint64_t no_failure = 0;
thread_local std::uint64_t allocations_left = no_failure; ///< 1: the next fails, and all behind it

void* allocate(std::size_t size) {
    if (allocations_left == 1) return nullptr;
    if (allocations_left != no_failure) --allocations_left;
    return std::malloc(size == 0 ? 1 : size);
}

} // namespace

// The program's `new` and `delete` in the tests. What asks for more than the usual alignment is not
// counted.

void* operator new(std::size_t size) {
    if (void* memory = allocate(size)) return memory;
    throw std::bad_alloc();
}
void* operator new[](std::size_t size) {
    return operator new(size);
}
void* operator new(std::size_t size, const std::nothrow_t&) noexcept {
    return allocate(size);
}
void* operator new[](std::size_t size, const std::nothrow_t&) noexcept {
    return allocate(size);
}
void operator delete(void* memory) noexcept {
    std::free(memory);
}
void operator delete[](void* memory) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept {
    std::free(memory);
}
void operator delete[](void* memory, std::size_t) noexcept {
    std::free(memory);
}
void operator delete(void* memory, const std::nothrow_t&) noexcept {
    std::free(memory);
}
void operator delete[](void* memory, const std::nothrow_t&) noexcept {
    std::free(memory);
}

namespace hestrel::tests {

FailingMemory::FailingMemory(std::uint64_t count) {
    allocations_left = count;
}
FailingMemory::~FailingMemory() {
    allocations_left = no_failure;
}

} // namespace hestrel::tests
