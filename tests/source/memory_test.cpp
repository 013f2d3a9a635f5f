// No memory: whichever allocation fails, the reader and the explorer end with std::bad_alloc and
// nothing else, and a later call works.

#include "explore/explored.hpp"
#include "support/checked.hpp"
#include "support/failing_memory.hpp"

#include <new>

using namespace hestrel;
using tests::FailingMemory;

namespace {

/// Calls `work` with the first allocation failing, then another, then another, until none does; how
/// many times it failed.
template <class Work>
int fail_each(std::uint64_t step, Work work) {
    int failures = 0;
    for (std::uint64_t count = 1;; count += step) {
        try {
            const FailingMemory failing(count);
            work();
            return failures;
        } catch (const std::bad_alloc&) {
            ++failures;
        }
    }
}

} // namespace

TEST_CASE("no memory: reading a plan ends with std::bad_alloc at whichever allocation fails") {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = tests::clean;
    const std::string path = "plan.yaml";
    const int failures = fail_each(3, [&] { static_cast<void>(source::read_plan(disk, path)); });
    CHECK(failures > 50);
    CHECK(source::read_plan(disk, path).findings.empty());
}

TEST_CASE("no memory: exploring ends with std::bad_alloc at whichever allocation fails") {
    const plan::Plan plan = tests::plan_from(tests::clean);
    const auto explored = [&] {
        const explore::Explored all = explore::explored(plan, explore::Options{});
        return all.explorer != nullptr;
    };
    const int failures = fail_each(13, [&] { static_cast<void>(explored()); });
    CHECK(failures > 20);
    CHECK(explored());
}
