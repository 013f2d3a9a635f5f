#pragma once
// Whole plans in one input: behind the plan stands, for each further file, a record separator (byte
// 0x1E), its name, a line end, and its text. scripts/fuzz joins the example in that way.

#include "source/disk.hpp"

#include <cstdint>
#include <string_view>

namespace hestrel::fuzz {

inline std::string_view text_of(const std::uint8_t* data, std::size_t size) {
    return {reinterpret_cast<const char*>(data), size};
}

/// Takes the text until a mark, and the mark with it.
inline std::string_view take(std::string_view& rest, char mark) {
    const std::size_t end = std::min(rest.find(mark), rest.size());
    const std::string_view taken = rest.substr(0, end);
    rest.remove_prefix(std::min(end + 1, rest.size()));
    return taken;
}

/// `plan.yaml` and what stands behind it.
inline void put_files(std::string_view bytes, source::MemoryDisk& disk) {
    constexpr char separator = '\x1E';
    disk.files["plan.yaml"] = take(bytes, separator);
    while (!bytes.empty()) {
        std::string_view file = take(bytes, separator);
        const std::string name(take(file, '\n'));
        disk.files[name] = file;
    }
}

} // namespace hestrel::fuzz
