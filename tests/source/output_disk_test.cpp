#include "source/output_disk.hpp"

#include "source/fingerprint.hpp"
#include "source/own_mark.hpp"
#include "support/program.hpp"

#include <thread>

using namespace hestrel;
using Catch::Matchers::Contains;
using source::FileError;
using source::MemoryDisk;
using source::OutputDisk;
using source::RealDisk;

TEST_CASE("fingerprint: SHA-256 of the standard's own examples") {
    CHECK(source::sha256_hex("abc") ==
          "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    CHECK(source::sha256_base64("") == "47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU=");
}

TEST_CASE("outputs: a folder's own files are replaced, others and edited ones are not") {
    MemoryDisk disk;
    OutputDisk(disk, false).write_in("out", "a.csv", "1");
    OutputDisk(disk, false).write_in("out", "a.csv", "2");
    CHECK(disk.files["out/a.csv"] == "2");
    disk.files["out/a.csv"] = "mine";
    CHECK_THROWS_WITH(OutputDisk(disk, false).write_in("out", "a.csv", "3"),
                      Contains("out/a.csv: Hestrel did not write this file"));
    disk.files["out/b.csv"] = "mine";
    CHECK_THROWS_AS(OutputDisk(disk, false).write_in("out", "b.csv", "3"), FileError);
    CHECK(disk.files["out/a.csv"] == "mine");
    CHECK(disk.files["out/b.csv"] == "mine");
    OutputDisk(disk, true).write_in("out", "b.csv", "3");
    CHECK(disk.files["out/b.csv"] == "3");
    // What is as it would be, or has nothing in it, is nobody's loss.
    disk.files["out/a.csv"] = "3";
    CHECK_NOTHROW(OutputDisk(disk, false).write_in("out", "a.csv", "3"));
    disk.files["out/c.csv"] = "";
    CHECK_NOTHROW(OutputDisk(disk, false).write_in("out", "c.csv", "3"));
}

TEST_CASE("outputs: a run that was killed before or after it wrote a file leaves it known") {
    for (const char* there : {"1", "2"}) {
        MemoryDisk disk;
        OutputDisk(disk, false).write_in("out", "a.csv", "1");
        // The next run said that it is going to write 2, and was killed within another line.
        disk.files["out/.hestrel-written"] += source::sha256_hex("2") + "  a.csv\n0123";
        disk.files["out/a.csv"] = there;
        CHECK_NOTHROW(OutputDisk(disk, false).write_in("out", "a.csv", "3"));
        CHECK_NOTHROW(OutputDisk(disk, false).write_in("out", "a.csv", "4"));
    }
}

TEST_CASE("outputs: a list of many runs stays short, and is in order of names") {
    MemoryDisk disk;
    for (int run = 0; run < 20; ++run) {
        OutputDisk output(disk, false);
        for (const char* name : {"b.csv", "a.csv", "b.csv"})
            output.write_in("out", name, std::to_string(run));
    }
    const std::string last = source::sha256_hex("19");
    CHECK(disk.files["out/.hestrel-written"] ==
          "# What Hestrel wrote here, by SHA-256. No other file is replaced without --force.\n" +
              last + "  a.csv\n" + last + "  b.csv\n");
}

TEST_CASE("outputs: single files are known by their first line") {
    MemoryDisk disk;
    const std::string ours = "{\"comment\":\"" + std::string(source::own_mark) + "\",\n}\n";
    OutputDisk(disk, false).write_alone("a.json", ours);
    CHECK_NOTHROW(OutputDisk(disk, false).write_alone("a.json", "other"));
    CHECK_THROWS_WITH(OutputDisk(disk, false).write_alone("a.json", ours),
                      Contains("a.json: Hestrel did not write this file"));
    CHECK_NOTHROW(OutputDisk(disk, true).write_alone("a.json", ours));
    disk.files["b.json"] = "mine\n" + ours; // not its first line
    CHECK_THROWS_AS(OutputDisk(disk, false).write_alone("b.json", ours), FileError);
}

TEST_CASE("outputs: what was read is never replaced, by whichever name") {
    const tests::Folder folder;
    folder.write("plan.yaml", "plan");
    std::filesystem::create_symlink("plan.yaml", folder / "link.yaml");
    RealDisk disk;
    OutputDisk output(disk, true);
    source::NotingDisk noting(disk, output.inputs());
    CHECK(noting.read(folder / "link.yaml") == "plan");
    for (const char* name : {"plan.yaml", "link.yaml",
                             "../"
                             "plan.yaml"}) {
        const std::string path =
            std::string(name).starts_with("..") ? folder / "x/../plan.yaml" : folder / name;
        CHECK_THROWS_WITH(output.write_alone(path, "result"), Contains("was read by this command"));
    }
    CHECK_THROWS_AS(output.write_in(folder.path(), "plan.yaml", "result"), FileError);
    CHECK(tests::contents(folder / "plan.yaml") == "plan");
}

TEST_CASE("outputs: what a plan would include is refused, there or not") {
    const tests::Folder folder;
    folder.write("levels/hall.yaml", "hall");
    RealDisk disk;
    OutputDisk output(disk, true);
    source::NotingDisk noting(disk, output.inputs());
    CHECK(noting.matching(folder / "levels/*.yaml").size() == 1);
    CHECK_THROWS_WITH(output.write_in(folder / "levels", "way.yaml", "x"),
                      Contains("would be read as a part of the plan"));
    CHECK_NOTHROW(output.write_in(folder / "levels", "way.csv", "x"));
    CHECK_NOTHROW(output.write_in(folder / "levels/deeper", "way.yaml", "x"));
}

TEST_CASE("outputs: several at once add to one list, and each line is whole") {
    const tests::Folder folder;
    RealDisk disk;
    std::vector<std::thread> threads;
    for (int i = 0; i < 8; ++i) {
        threads.emplace_back([&disk, &folder, i] {
            OutputDisk output(disk, false);
            for (int j = 0; j < 20; ++j)
                output.write_in(folder.path(), fmt::format("{}-{}.csv", i, j), "text");
        });
    }
    for (std::thread& thread : threads) thread.join();
    source::WrittenFiles written(disk, folder.path());
    for (int i = 0; i < 8; ++i) {
        for (int j = 0; j < 20; ++j) CHECK(written.has(fmt::format("{}-{}.csv", i, j), "text"));
    }
}

TEST_CASE("outputs: a planted list that is a link is not followed") {
    const tests::Folder folder;
    folder.write("victim", "keep");
    std::filesystem::create_directories(folder / "out");
    std::filesystem::create_symlink("../victim", folder / "out/.hestrel-written");
    RealDisk disk;
    CHECK_THROWS_AS(OutputDisk(disk, false).write_in(folder / "out", "a.csv", "1"), FileError);
    CHECK(tests::contents(folder / "victim") == "keep");
}
