// Files as they are replaced: links, rights, devices and pipes, folders, and what signals leave.

#include "source/disk.hpp"

#include "source/leftovers.hpp"
#include "support/program.hpp"

#include <csignal>
#include <fcntl.h>
#include <sys/stat.h>

using namespace hestrel;
using source::FileError;
using source::RealDisk;
using tests::contents;
using tests::Folder;

namespace {

mode_t mode_of(const std::string& path) {
    struct stat status {};
    REQUIRE(::stat(path.c_str(), &status) == 0);
    return status.st_mode & 07777U;
}

} // namespace

TEST_CASE("disk: a symbolic link stays, and what it leads to gets the new content") {
    const Folder folder;
    folder.write("far/plan.yaml", "old");
    std::filesystem::create_symlink("far/plan.yaml", folder / "one");
    std::filesystem::create_symlink("one", folder / "two");
    std::filesystem::create_symlink("far/fresh.yaml", folder / "dangling");
    RealDisk disk;
    disk.write(folder / "two", "new");
    disk.write(folder / "dangling", "fresh");
    CHECK(std::filesystem::is_symlink(folder / "one"));
    CHECK(std::filesystem::is_symlink(folder / "two"));
    CHECK(std::filesystem::is_symlink(folder / "dangling"));
    CHECK(contents(folder / "far/plan.yaml") == "new");
    CHECK(contents(folder / "far/fresh.yaml") == "fresh");
    const std::string fresh = "far/fresh.yaml"; // the links are listed as what they lead to
    const std::string plan = "far/plan.yaml";
    CHECK(folder.files() == std::vector<std::string>{fresh, fresh, plan, plan, plan});
    std::filesystem::create_symlink("round", folder / "round");
    CHECK_THROWS_AS(disk.write(folder / "round", "x"), FileError);
}

TEST_CASE("disk: a replaced file keeps its rights and owner, a new one has those of the machine") {
    const Folder folder;
    folder.write("plan.yaml", "old");
    ::chmod((folder / "plan.yaml").c_str(), 0640);
    const bool root = ::geteuid() == 0;
    if (root) REQUIRE(::chown((folder / "plan.yaml").c_str(), 12345, 23456) == 0);
    RealDisk disk;
    const mode_t mask = ::umask(0027);
    disk.write_all({{folder / "plan.yaml", "new"}, {folder / "a/b/fresh", "x"}});
    ::umask(mask);
    CHECK(mode_of(folder / "plan.yaml") == 0640);
    CHECK(mode_of(folder / "a/b/fresh") == 0640);
    struct stat status {};
    REQUIRE(::stat((folder / "plan.yaml").c_str(), &status) == 0);
    if (root) CHECK(status.st_uid == 12345);
    if (root) CHECK(status.st_gid == 23456);
}

TEST_CASE("disk: a pipe and a device are written to, never replaced") {
    const Folder folder;
    const std::string pipe = folder / "pipe";
    REQUIRE(::mkfifo(pipe.c_str(), 0600) == 0);
    RealDisk disk;
    CHECK_THROWS_AS(disk.write(pipe, "x"), FileError); // nobody reads, and nobody is waited for
    const int reader = ::open(pipe.c_str(), O_RDONLY | O_NONBLOCK);
    REQUIRE(reader >= 0);
    disk.write(pipe, "through");
    std::string got(16, ' ');
    got.resize(static_cast<std::size_t>(::read(reader, got.data(), got.size())));
    ::close(reader);
    CHECK(got == "through");
    CHECK(std::filesystem::is_fifo(pipe));
    disk.write("/dev/null", "x");
    CHECK(std::filesystem::is_character_file("/dev/null"));
    CHECK_THROWS_WITH(disk.write("/dev/full", "x"),
                      "/dev/full: cannot be written: No space left on device");
}

TEST_CASE("disk: /dev/stdout is what the shell says, and comes behind what was there",
          "[program]") {
    const Folder folder;
    const auto result = tests::run(folder, "echo first; HESTREL schema --out /dev/stdout");
    CHECK(result.code == 0);
    CHECK(result.out.starts_with("first\n{"));
    CHECK(tests::run(folder, "HESTREL schema --out /dev/stdout | grep -c draft").out != "0\n");
    std::filesystem::create_symlink("/dev/stdout", folder / "link");
    CHECK(tests::run(folder, "echo first; HESTREL schema --out link").out == result.out);
    CHECK(std::filesystem::is_symlink(folder / "link"));
}

TEST_CASE("disk: files in a folder that memory is mounted on are files") {
    if (::access("/dev/shm", W_OK) != 0) return;
    std::string name = "/dev/shm/hestrel-test-XXXXXX";
    REQUIRE(::mkdtemp(name.data()) != nullptr);
    RealDisk disk;
    disk.write(name + "/a", "long before");
    disk.write(name + "/a", "after");
    CHECK(contents(name + "/a") == "after");
    std::filesystem::remove_all(name);
}

TEST_CASE("disk: names as long as the machine takes, and no name of its own is read as a plan's") {
    const Folder folder;
    RealDisk disk;
    const std::string longest(255, 'n');
    disk.write(folder / longest, "x");
    CHECK(contents(folder / longest) == "x");
    folder.write(".hestrel-0123", "x");
    CHECK(disk.matching(folder / ".h*").empty());
    CHECK(disk.matching(folder / "*") == std::vector<std::string>{folder / longest});
    source::MemoryDisk memory;
    memory.files = {{"a.yaml", ""}, {".b.yaml", ""}, {".hestrel-c", ""}};
    CHECK(memory.matching("*") == std::vector<std::string>{"a.yaml"});
    CHECK(memory.matching(".*") == std::vector<std::string>{".b.yaml"});
}

TEST_CASE("disk: nothing is left where a file can't be written") {
    const Folder folder;
    folder.write("plan.yaml", "old");
    std::filesystem::create_directory(folder / "taken");
    RealDisk disk;
    CHECK_THROWS_AS(disk.write(folder / "taken", "x"), FileError);
    CHECK_THROWS_AS(disk.write(folder / "plan.yaml/below", "x"), FileError);
    CHECK(folder.files() == std::vector<std::string>{"plan.yaml"});
    CHECK(contents(folder / "plan.yaml") == "old");
}

TEST_CASE("disk: files are read with a limit") {
    const Folder folder;
    folder.write("huge", "");
    std::filesystem::resize_file(folder / "huge", (std::uintmax_t{1} << 30) + 1);
    CHECK_THROWS_WITH(RealDisk().read(folder / "huge"),
                      folder / "huge" + ": cannot be read: it has more than 1073741824 bytes");
}

TEST_CASE("signals: files and folders on their way are gone, and the signal ends the process") {
    const Folder folder;
    for (const int signal : {SIGINT, SIGTERM, SIGHUP}) {
        CAPTURE(signal);
        const std::string ready = folder / "ready";
        const pid_t child = ::fork();
        if (child == 0) {
            source::remove_leftovers_at_signals();
            const source::Leftover file(folder / "file");
            const source::Leftover tree(folder / "tree");
            { const source::Leftover given_up(folder / "kept"); }
            folder.write("file", "x");
            folder.write("tree/a/b", "x");
            folder.write("kept", "x");
            folder.write("ready", "x");
            while (true) ::pause();
        }
        while (!std::filesystem::exists(ready)) ::usleep(1000);
        std::filesystem::remove(ready);
        ::kill(child, signal);
        int status = 0;
        REQUIRE(::waitpid(child, &status, 0) == child);
        CHECK(WIFSIGNALED(status));
        CHECK(WTERMSIG(status) == signal);
        CHECK(folder.files() == std::vector<std::string>{"kept"});
    }
}
