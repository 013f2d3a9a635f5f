// Arbitrary bytes as a plan: read, resolved and checked, without a crash, a hang or a leak. What
// stands behind a record separator (byte 0x1E) is a second file, included or a table of sizes.

#include "check/check.hpp"
#include "source/disk.hpp"
#include "source/plan_reader.hpp"

#include <cstddef>
#include <cstdint>
#include <string_view>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view bytes(reinterpret_cast<const char*>(data), size);
    const std::size_t cut = std::min(bytes.find('\x1E'), bytes.size());
    hestrel::source::MemoryDisk disk;
    disk.files["plan.yaml"] = bytes.substr(0, cut);
    disk.files["more.yaml"] = bytes.substr(std::min(cut + 1, bytes.size()));
    disk.files["sizes.csv"] = disk.files["more.yaml"];
    try {
        const auto reading = hestrel::source::read_plan(disk, "plan.yaml");
        hestrel::check::check(reading.plan, reading.findings);
    } catch (const hestrel::source::FileError&) {
        return -1; // a file that is not there: nothing to learn
    }
    return 0;
}
