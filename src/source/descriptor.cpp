#include "source/descriptor.hpp"

#include "source/disk.hpp"

#include <fmt/format.h>
#include <system_error>

namespace hestrel::source {

int put(const Descriptor& file, std::string_view text) {
    while (!text.empty()) {
        const ssize_t count = ::write(file.number(), text.data(), text.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) return errno;
        text.remove_prefix(static_cast<std::size_t>(count));
    }
    return 0;
}

int flush(const Descriptor& file) {
    return ::fsync(file.number()) == 0 || errno == EINVAL ? 0 : errno;
}

int put_and_flush(const Descriptor& file, std::string_view text) {
    const int failed = put(file, text);
    return failed == 0 ? flush(file) : failed;
}

void fail(const std::string& path, const char* doing, int error) {
    throw FileError(fmt::format("{}: {}: {}", path, doing, std::generic_category().message(error)));
}

} // namespace hestrel::source
