// Arbitrary bytes as a plan: read, resolved and checked, and a name in it changed, without a crash,
// a hang or a leak.

#include "check/check.hpp"
#include "edit/rename.hpp"
#include "fuzz/files.hpp"
#include "source/plan_reader.hpp"
#include "tables/findings.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace hestrel;
    source::MemoryDisk disk;
    fuzz::put_files(fuzz::text_of(data, size), disk);
    try {
        const auto reading = source::read_plan(disk, "plan.yaml");
        const auto findings = check::check(reading.plan, reading.findings);
        tables::findings_sarif(reading.plan, findings, plan::FoundBy::reader | plan::FoundBy::check,
                               "0");
        if (!reading.plan.levels.empty())
            edit::rename(disk, "plan.yaml", reading.plan.levels[plan::LevelId{0U}].name, "renamed",
                         "");
    } catch (const source::FileError&) {
        return -1; // a file that is not there: nothing to learn
    } catch (const edit::RenameError&) {
        return 0;
    }
    return 0;
}
