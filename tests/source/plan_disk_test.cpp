// Changes to several files of a plan: all or none, at whatever call the process is killed, and by
// one process at a time.

#include "source/plan_disk.hpp"

#include "edit/rename.hpp"
#include "edit/reorder.hpp"
#include "support/plan_text.hpp"
#include "support/program.hpp"

#include <fcntl.h>
#include <functional>
#include <sys/file.h>

using namespace hestrel;
using source::FileError;
using source::MemoryDisk;
using source::PlanDisk;
using tests::Folder;
using Files = std::map<std::string, std::string>;

namespace {

/// What ends a process; nothing is cleaned up by it.
struct Killed {};

/// Lets something happen before call number `count` of those that change a file.
class MeetingDisk : public source::DiskOver {
public:
    MeetingDisk(Disk& files, int count, std::function<void()> meeting)
        : DiskOver(files), left_(count), meeting_(std::move(meeting)) {}

    void write(const std::string& path, const std::string& text) override {
        step();
        below().write(path, text);
    }
    void write_all(const std::vector<std::pair<std::string, std::string>>& texts) override {
        for (const auto& [path, text] : texts) write(path, text);
    }
    void remove(const std::string& path) override {
        step();
        below().remove(path);
    }

private:
    void step() {
        if (--left_ == 0) meeting_();
    }

    int left_;
    std::function<void()> meeting_;
};

/// Kills the process at such a call, before it changes anything.
class KillingDisk final : public MeetingDisk {
public:
    KillingDisk(Disk& files, int count) : MeetingDisk(files, count, [] { throw Killed(); }) {}
};

const Files four{{"game/plan.yaml",
                  "hestrel: 1\ninclude: [levels.yaml, editions.yaml]\nsizes: [sizes.csv]\n"
                  "routes: {r: {start: {level: quay}, steps: []}}\n"},
                 {"game/levels.yaml", "levels: {quay: {memory: {texture: 1}}, hall: {}}\n"},
                 {"game/editions.yaml", "editions: {full: {levels: [quay, hall]}}\n"},
                 {"game/sizes.csv", "piece,packed\nquay,2\nhall,\"\xFF\"\n"}};
const std::string main_file = "game/plan.yaml";

Files renamed() {
    Files all = four;
    for (auto& [path, text] : all) {
        for (std::size_t at = text.find("quay"); at != std::string::npos;
             at = text.find("quay", at))
            text.replace(at, 4, "pier");
    }
    return all;
}

std::vector<std::pair<std::string, std::string>> texts_of(const Files& files) {
    return {files.begin(), files.end()};
}

/// Reads all files through a disk, as working out a change does.
void read_all(PlanDisk& disk) {
    for (const auto& [path, text] : four) static_cast<void>(disk.read(path));
}

/// Kills a change at every call that changes a file, then reads the plan by a later command, which
/// is killed itself at every such call, until one gets through. How many kills there were.
int kill_everywhere(const Files& after) {
    int kills = 0;
    for (int first = 1;; ++first) {
        for (int second = 1;; ++second) {
            MemoryDisk memory;
            memory.files = four;
            bool through = false;
            try {
                KillingDisk killing(memory, first);
                PlanDisk disk(killing, main_file);
                read_all(disk);
                disk.change(texts_of(after));
                through = true;
            } catch (const Killed&) {
                ++kills;
            }
            bool mended = false;
            try {
                KillingDisk killing(memory, second);
                const PlanDisk later(killing, main_file);
                mended = true;
            } catch (const Killed&) {
                ++kills;
            }
            const PlanDisk last(memory, main_file);
            CAPTURE(first, second);
            CHECK((memory.files == four || memory.files == after));
            if (through) CHECK(memory.files == after);
            if (through) return kills;
            if (mended) break;
        }
    }
}

/// Files that two processes change: one holds the folder at a time, as `flock` has it.
class SharedDisk final : public source::DiskOver {
public:
    SharedDisk(Disk& files, bool& held) : DiskOver(files), held_(held) {}

    std::unique_ptr<source::Held> hold(const std::string&) override {
        struct HeldFlag final : source::Held {
            explicit HeldFlag(bool& flag) : held(flag) { held = true; }
            ~HeldFlag() override { held = false; }
            bool& held;
        };
        return held_ ? nullptr : std::make_unique<HeldFlag>(held_);
    }

private:
    bool& held_;
};

} // namespace

TEST_CASE("two processes that change a plan at once, killed at any calls, leave the old plan or "
          "one of the new") {
    Files other = four;
    other["game/levels.yaml"] += "# other\n";
    other["game/editions.yaml"] += "# other\n";
    const std::vector<Files> whole{four, renamed(), other};
    int refusals = 0;
    // A change of four files is six calls: the journal, each file, and the journal's end.
    for (int meet = 1; meet <= 7; ++meet) {
        for (int first = 1; first <= 7; ++first) {
            for (int second = 1; second <= 7; ++second) {
                MemoryDisk memory;
                memory.files = four;
                bool held = false;
                SharedDisk shared(memory, held);
                KillingDisk killing_second(shared, second);
                PlanDisk of_second(killing_second, main_file);
                read_all(of_second);
                const auto second_changes = [&] {
                    try {
                        of_second.change(texts_of(other));
                    } catch (const FileError&) {
                        ++refusals;
                    } catch (const Killed&) {
                        // Its hold is gone with it.
                    }
                };
                KillingDisk killing_first(shared, first);
                MeetingDisk meeting(killing_first, meet, second_changes);
                PlanDisk of_first(meeting, main_file);
                read_all(of_first);
                try {
                    of_first.change(texts_of(renamed()));
                } catch (const Killed&) {
                    second_changes(); // and comes again after that
                }
                CHECK_FALSE(held);
                const PlanDisk last(shared, main_file);
                CAPTURE(meet, first, second);
                CHECK(std::count(whole.begin(), whole.end(), memory.files) == 1);
            }
        }
    }
    CHECK(refusals > 100);
}

TEST_CASE("a change of four files is all or none, killed at every call that changes a file, and so "
          "is its mending") {
    CHECK(kill_everywhere(renamed()) > 10);
}

TEST_CASE("rename and reorder of a plan of several files go through that way") {
    Files plain = four;
    plain["game/sizes.csv"] = "piece,packed\nquay,2\n";
    for (int count = 1; count < 9; ++count) {
        MemoryDisk memory;
        memory.files = plain;
        Files wanted;
        try {
            KillingDisk killing(memory, count);
            PlanDisk disk(killing, main_file);
            const auto renaming = edit::rename(disk, main_file, "quay", "pier", "");
            REQUIRE(renaming.files.size() == 4);
            wanted = plain;
            for (const auto& [path, text] : renaming.files) wanted[path] = text;
            disk.change(renaming.files);
        } catch (const Killed&) {
        }
        PlanDisk later(memory, main_file);
        CAPTURE(count);
        CHECK((memory.files == plain || memory.files == wanted));
        CHECK(source::read_plan(later, main_file).findings.empty());
    }
}

TEST_CASE("a change that was cut off is told in one line; without the right to write the plan is "
          "read as it was") {
    MemoryDisk memory;
    memory.files = four;
    try {
        KillingDisk killing(memory, 4); // the journal and two files are written
        PlanDisk disk(killing, main_file);
        read_all(disk);
        disk.change(texts_of(renamed()));
    } catch (const Killed&) {
    }
    const Files cut_off = memory.files;
    class Unwritable final : public source::DiskOver {
    public:
        using DiskOver::DiskOver;
        void write(const std::string& path, const std::string&) override {
            throw FileError(path + ": no");
        }
        void write_all(const std::vector<std::pair<std::string, std::string>>& all) override {
            write(all.front().first, "");
        }
        void remove(const std::string& path) override { write(path, ""); }
    } unwritable(memory);
    PlanDisk reader(unwritable, main_file);
    CHECK(reader.said().find("can't be finished") != std::string::npos);
    for (const auto& [path, text] : four) CHECK(reader.read(path) == text);
    CHECK(memory.files == cut_off);
    const PlanDisk writer(memory, main_file);
    CHECK(writer.said() == "game: a change of 4 files had been cut off; it is finished now");
    CHECK(memory.files == renamed());
}

TEST_CASE("a file that has changed since it was read is not overwritten; a change that fails is "
          "undone") {
    MemoryDisk memory;
    memory.files = four;
    PlanDisk one(memory, main_file);
    PlanDisk other(memory, main_file);
    read_all(one);
    read_all(other);
    one.change(texts_of(renamed()));
    CHECK_THROWS_AS(other.change(texts_of(four)), FileError);
    CHECK(memory.files == renamed());
    PlanDisk blind(memory, main_file); // has read nothing
    CHECK_THROWS_AS(blind.change(texts_of(four)), FileError);
    CHECK(memory.files == renamed());
}

TEST_CASE("a change that makes a new file is carried through or leaves nothing, at every kill") {
    Files after = renamed();
    after["game/pier.yaml"] = "levels: {lawn: {}}\n";
    after["game/plan.yaml"].replace(after["game/plan.yaml"].find("levels.yaml"), 0, "pier.yaml, ");
    CHECK(kill_everywhere(after) > 0);
}

TEST_CASE("a journal makes no file that does not become a part of the plan") {
    MemoryDisk memory;
    memory.files = four;
    Files after = four;
    after["game/levels.yaml"] = "levels: {quay: {}, hall: {}}\n";
    after["game/hook.sh"] = "levels: {lawn: {}}\n"; // which no file includes
    try {
        KillingDisk killing(memory, 2);
        PlanDisk disk(killing, main_file);
        read_all(disk);
        disk.change(texts_of(after));
    } catch (const Killed&) {
    }
    CHECK_THROWS_WITH(PlanDisk(memory, main_file), Catch::Contains("no part of this plan"));
    CHECK_FALSE(memory.files.contains("game/hook.sh"));
}

TEST_CASE("a journal changes no file that is none of the plan's, nor one that was edited since") {
    MemoryDisk memory;
    memory.files = four;
    try {
        KillingDisk killing(memory, 4);
        PlanDisk disk(killing, main_file);
        read_all(disk);
        disk.change(texts_of(renamed()));
    } catch (const Killed&) {
    }
    const std::string journal = memory.files.at("game/.hestrel-journal");
    std::string hostile = journal;
    hostile.replace(hostile.find("plan.yaml"), 9, "../z.yaml");
    MemoryDisk other;
    other.files = four;
    other.files["game/.hestrel-journal"] = hostile;
    other.files["z.yaml"] = four.at(main_file);
    CHECK_THROWS_AS(PlanDisk(other, main_file), FileError);
    CHECK(other.files.at("z.yaml") == four.at(main_file));
    // A link in the folder could lead anywhere: what is no part of the plan is not changed there.
    MemoryDisk linked;
    linked.files = four;
    linked.files["game/.hestrel-journal"] = journal;
    linked.files["game/.hestrel-journal"].replace(journal.find("levels.yaml"), 11, "nested.yaml");
    linked.files["game/nested.yaml"] = four.at("game/levels.yaml");
    CHECK_THROWS_AS(PlanDisk(linked, main_file), FileError);
    CHECK(linked.files.at("game/nested.yaml") == four.at("game/levels.yaml"));
    memory.files["game/levels.yaml"] += "# mine\n";
    CHECK_THROWS_AS(PlanDisk(memory, main_file), FileError);
    CHECK(memory.files.at("game/levels.yaml").ends_with("# mine\n"));
    memory.files["game/.hestrel-journal"] = "rubbish";
    CHECK_THROWS_AS(PlanDisk(memory, main_file), FileError);
    // Arrays of arrays, a million deep.
    memory.files["game/.hestrel-journal"] = std::string(1'000'000, '\x81');
    CHECK_THROWS_WITH(PlanDisk(memory, main_file), Catch::Contains("is no journal of Hestrel's"));
}

TEST_CASE("a second process that would change the plan is refused, and one that reads is not",
          "[program]") {
    const Folder folder;
    for (const auto& [path, text] : four)
        folder.write(path, path.ends_with(".csv") ? "piece,packed\nquay,2\n" : text);
    const int held = ::open((folder / "game").c_str(), O_RDONLY | O_DIRECTORY);
    REQUIRE(::flock(held, LOCK_EX) == 0);
    const auto refused = tests::run(folder, "HESTREL rename game/plan.yaml quay pier");
    CHECK(refused.code == 3);
    CHECK(refused.err ==
          "hestrel: game: another process is changing this plan; nothing was changed\n");
    CHECK(tests::run(folder, "HESTREL check game/plan.yaml").code != 3);
    ::close(held);
    CHECK(tests::run(folder, "HESTREL rename game/plan.yaml quay pier").code == 0);
    CHECK(tests::contents(folder / "game/levels.yaml").starts_with("levels: {pier:"));
    CHECK(folder.files().size() == 4);
}
