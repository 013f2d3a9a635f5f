#pragma once
// Open files, by number.

#include <cerrno>
#include <string>
#include <string_view>
#include <unistd.h>
#include <utility>

namespace hestrel::source {

/// Closes a file when it goes out of scope.
class Descriptor {
public:
    explicit Descriptor(int number) : number_(number) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    Descriptor(Descriptor&& other) noexcept : number_(std::exchange(other.number_, -1)) {}
    Descriptor& operator=(Descriptor&& other) noexcept {
        std::swap(number_, other.number_);
        return *this;
    }
    ~Descriptor() {
        if (number_ >= 0) ::close(number_);
    }
    [[nodiscard]] int number() const { return number_; }
    /// Closes now; the error number, or 0.
    int close() {
        const int result = ::close(number_);
        number_ = -1;
        return result == 0 ? 0 : errno;
    }

private:
    int number_;
};

/// Writes all of `text`; the error number, or 0.
int put(const Descriptor& file, std::string_view text);
/// The same, and flushes it.
int put_and_flush(const Descriptor& file, std::string_view text);
/// Flushes a file to the disk, where it is on one; the error number, or 0.
int flush(const Descriptor& file);
/// Throws FileError: "PATH: cannot be read: No such file or directory".
[[noreturn]] void fail(const std::string& path, const char* doing, int error);

} // namespace hestrel::source
