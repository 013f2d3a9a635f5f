// `new` where the program is linked with mimalloc, whose own `new` ends the process when there is
// no memory. This one throws std::bad_alloc, which `run` turns into a message and an exit code.

#include <cstdlib>
#include <new>

namespace {

void* allocated(std::size_t size) {
    if (void* memory = std::malloc(size == 0 ? 1 : size)) return memory;
    throw std::bad_alloc();
}

void* allocated(std::size_t size, std::align_val_t alignment) {
    const auto step = static_cast<std::size_t>(alignment); // a power of 2
    const std::size_t whole = (size + step - 1) / step * step;
    if (void* memory = std::aligned_alloc(step, whole == 0 ? step : whole)) return memory;
    throw std::bad_alloc();
}

} // namespace

void* operator new(std::size_t size) {
    return allocated(size);
}
void* operator new[](std::size_t size) {
    return allocated(size);
}
void* operator new(std::size_t size, std::align_val_t alignment) {
    return allocated(size, alignment);
}
void* operator new[](std::size_t size, std::align_val_t alignment) {
    return allocated(size, alignment);
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
void operator delete(void* memory, std::align_val_t) noexcept {
    std::free(memory);
}
void operator delete[](void* memory, std::align_val_t) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t, std::align_val_t) noexcept {
    std::free(memory);
}
void operator delete[](void* memory, std::size_t, std::align_val_t) noexcept {
    std::free(memory);
}
