// What exploring keeps on a disk: pages of a file as memory, and a ledger in a folder.

#include "source/ledger_folder.hpp"
#include "source/overflow_file.hpp"
#include "support/program.hpp"

#include <cstring>

using namespace hestrel;
using source::FileError;
using source::LedgerFolder;
using tests::Folder;

namespace {

LedgerFolder::Settings settings_in(const Folder& folder, const std::string& of = "a plan") {
    return {folder / "kept", {"numbers", "letters"}, of, "hestrel", std::chrono::milliseconds(0)};
}

std::vector<std::uint32_t> numbers_in(LedgerFolder& ledger) {
    std::vector<std::uint32_t> numbers;
    ledger.read(0, sizeof(std::uint32_t), [&](const void* record) {
        std::uint32_t number = 0;
        std::memcpy(&number, record, sizeof(number));
        numbers.push_back(number);
    });
    return numbers;
}

void append(LedgerFolder& ledger, const std::vector<std::uint32_t>& numbers) {
    ledger.append(0, numbers.data(), numbers.size() * sizeof(numbers[0]));
}

} // namespace

TEST_CASE("pages of a file are memory that can be let go of") {
    const Folder folder;
    source::OverflowFile overflow(folder.path());
    const std::size_t bytes = std::size_t{3} << 20;
    std::vector<unsigned char*> pieces;
    for (unsigned char i = 0; i < 12; ++i) {
        auto* piece = static_cast<unsigned char*>(overflow.take(bytes));
        REQUIRE(piece != nullptr);
        CHECK(piece[0] == 0);
        CHECK(piece[bytes - 1] == 0);
        std::memset(piece, i + 1, bytes);
        pieces.push_back(piece);
    }
    overflow.keep_below(0);
    for (unsigned char i = 0; i < 12; ++i) {
        CHECK(pieces[i][0] == i + 1);
        CHECK(pieces[i][bytes / 2] == i + 1);
        CHECK(pieces[i][bytes - 1] == i + 1);
    }
    void* large = overflow.take(std::size_t{20} << 20);
    REQUIRE(large != nullptr);
    overflow.give_back(large, std::size_t{20} << 20);
    CHECK(folder.files().empty()); // it has no name
    source::OverflowFile nowhere(folder / "nowhere");
    CHECK(nowhere.take(1) == nullptr);
    CHECK(overflow.take(std::size_t{1} << 60) == nullptr);
}

TEST_CASE("a ledger gives back what was kept, and nothing that came after the last note") {
    const Folder folder;
    source::RealDisk disk;
    {
        LedgerFolder ledger(disk, settings_in(folder));
        CHECK_FALSE(ledger.note());
        CHECK(ledger.is_due());
        append(ledger, {1, 2, 3});
        ledger.append(1, "abc", 3);
        ledger.keep({7, 8});
        append(ledger, {4});
        ledger.keep({9});
        append(ledger, std::vector<std::uint32_t>(1'000'000, 5)); // more than it holds back
    }
    {
        LedgerFolder ledger(disk, settings_in(folder));
        REQUIRE(ledger.note());
        CHECK(*ledger.note() == plan::Ledger::Note{9});
        CHECK(numbers_in(ledger) == std::vector<std::uint32_t>{1, 2, 3, 4});
        ledger.read(1, 1, [](const void*) {});
        append(ledger, {6});
        ledger.keep({10});
    }
    LedgerFolder ledger(disk, settings_in(folder));
    CHECK(numbers_in(ledger) == std::vector<std::uint32_t>{1, 2, 3, 4, 6});
}

TEST_CASE("a ledger refuses what is not its own, or spoilt") {
    const Folder folder;
    source::RealDisk disk;
    const auto message = [&](const LedgerFolder::Settings& settings) -> std::string {
        try {
            LedgerFolder ledger(disk, settings);
            numbers_in(ledger);
            ledger.read(1, 1, [](const void*) {});
        } catch (const FileError& error) {
            return error.what();
        }
        return "";
    };
    const std::string path = folder / "kept";
    {
        LedgerFolder ledger(disk, settings_in(folder));
        append(ledger, {1, 2, 3});
        ledger.keep({7});
        CHECK(message(settings_in(folder)) == path + ": another hestrel explores there now");
    }
    CHECK(message(settings_in(folder)).empty());
    CHECK(message(settings_in(folder, "another plan")) ==
          path +
              ": what is kept there is of another plan, other options or another version: choose "
              "another folder, or remove it");
    const std::string spoilt =
        path + ": what is kept there is damaged: remove the folder to begin anew";
    const std::string note = tests::contents(path + "/layers.json");
    folder.write("kept/numbers.bin", std::string("\1\0\0\0\2\0\0\0\4\0\0\0", 12));
    CHECK(message(settings_in(folder)) == spoilt);
    folder.write("kept/numbers.bin", std::string("\1\0\0\0\2\0\0\0", 8));
    CHECK(message(settings_in(folder)) == spoilt);
    folder.write("kept/numbers.bin", std::string("\1\0\0\0\2\0\0\0\3\0\0\0", 12));
    CHECK(message(settings_in(folder)).empty());
    for (const std::string& text :
         {std::string(), std::string("{}"), note.substr(0, note.size() / 2),
          std::string("{\"of\": \"a plan\", \"columns\": 3}")}) {
        folder.write("kept/layers.json", text);
        CHECK(message(settings_in(folder)) == spoilt);
    }
    std::filesystem::remove(path + "/layers.json");
    CHECK(message(settings_in(folder)) ==
          path + "/numbers.bin: Hestrel did not write this, so it is left alone");
    folder.write("file", "");
    LedgerFolder::Settings in_file = settings_in(folder);
    in_file.folder = folder / "file/kept";
    CHECK(message(in_file).find(folder / "file/kept: cannot be made: ") == 0);
}
