#include "source/ledger_folder.hpp"

#include <algorithm>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <sys/stat.h>

namespace hestrel::source {

namespace {

constexpr std::size_t buffer_bytes = std::size_t{1} << 20;

} // namespace

LedgerFolder::LedgerFolder(Disk& disk, Settings settings)
    : disk_(disk), settings_(std::move(settings)), last_(Clock::now()) {
    std::error_code error;
    std::filesystem::create_directories(settings_.folder, error);
    if (error) fail(settings_.folder, "cannot be made", error.value());
    held_ = disk_.hold(settings_.folder);
    if (!held_)
        throw FileError(fmt::format("{}: another hestrel explores there now", settings_.folder));
    for (const std::string& name : settings_.columns)
        columns_.emplace_back().path = fmt::format("{}/{}.bin", settings_.folder, name);
    if (disk_.exists(note_path())) {
        read_note();
    } else {
        // So that everybody can tell from now on whose files these are.
        for (const Column& column : columns_)
            if (disk_.exists(column.path))
                throw FileError(fmt::format("{}: Hestrel did not write this, so it is left alone",
                                            column.path));
        write_note();
    }
    for (Column& column : columns_) {
        column.file = Descriptor{
            ::open(column.path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW, 0666)};
        if (column.file.number() < 0) fail(column.path, "cannot be opened", errno);
        struct stat status {};
        if (::fstat(column.file.number(), &status) != 0) fail(column.path, "cannot be read", errno);
        if (!S_ISREG(status.st_mode)) fail(column.path, "cannot be opened", EINVAL);
        if (static_cast<std::uint64_t>(status.st_size) < column.bytes) refuse();
        ::lseek(column.file.number(), static_cast<off_t>(column.bytes), SEEK_SET);
    }
}

void LedgerFolder::read_note() {
    const std::string text = disk_.read(note_path());
    const auto json = nlohmann::json::parse(text, nullptr, false);
    try {
        const std::string of = json.at("of");
        if (of != settings_.of) {
            throw FileError(
                fmt::format("{}: what is kept there is of another plan, other options or "
                            "another version: choose another folder, or remove it",
                            settings_.folder));
        }
        const auto& columns = json.at("columns");
        for (std::size_t i = 0; i < columns_.size(); ++i) {
            columns_[i].bytes = columns.at(i).at("bytes");
            columns_[i].kept_sum = columns.at(i).at("crc32");
        }
        if (!json.at("note").is_null()) note_ = json.at("note").get<Note>();
    } catch (const nlohmann::json::exception&) {
        refuse();
    }
}

void LedgerFolder::refuse() const {
    throw FileError(fmt::format(
        "{}: what is kept there is damaged: remove the folder to begin anew", settings_.folder));
}

void LedgerFolder::read(std::size_t column, std::size_t width,
                        const std::function<void(const void* record)>& what) {
    Column& from = columns_[column];
    if (width == 0 || from.bytes % width != 0) refuse();
    const std::size_t most = std::max<std::size_t>(1, buffer_bytes / width) * width;
    std::vector<std::uint64_t> buffer(most / sizeof(std::uint64_t) + 1); // aligned as numbers are
    auto* bytes = reinterpret_cast<char*>(buffer.data());
    from.sum.reset();
    for (std::uint64_t at = 0; at < from.bytes;) {
        const auto count = static_cast<std::size_t>(std::min<std::uint64_t>(most, from.bytes - at));
        for (std::size_t read = 0; read < count;) {
            const ssize_t some = ::pread(from.file.number(), bytes + read, count - read,
                                         static_cast<off_t>(at + read));
            if (some < 0 && errno == EINTR) continue;
            if (some < 0) fail(from.path, "cannot be read", errno);
            if (some == 0) refuse();
            read += static_cast<std::size_t>(some);
        }
        from.sum.process_bytes(bytes, count);
        for (std::size_t record = 0; record < count; record += width) what(bytes + record);
        at += count;
    }
    if (from.sum.checksum() != from.kept_sum) refuse();
}

void LedgerFolder::append(std::size_t column, const void* records, std::size_t bytes) {
    Column& to = columns_[column];
    to.sum.process_bytes(records, bytes);
    to.waiting.append(static_cast<const char*>(records), bytes);
    if (to.waiting.size() >= buffer_bytes) write(to);
}

/// Behind what counts; what a run that was ended has left there is written over.
void LedgerFolder::write(Column& column) {
    const int failed = put(column.file, column.waiting);
    if (failed != 0) fail(column.path, "cannot be written", failed);
    column.bytes += column.waiting.size();
    column.waiting.clear();
}

bool LedgerFolder::is_due() const {
    return Clock::now() - last_ >= settings_.every;
}

void LedgerFolder::write_note() {
    nlohmann::ordered_json json{{"written_by", settings_.written_by}, {"of", settings_.of}};
    for (const Column& column : columns_)
        json["columns"].push_back({{"file", std::filesystem::path(column.path).filename().string()},
                                   {"bytes", column.bytes},
                                   {"crc32", column.sum.checksum()}});
    json["note"] = note_ ? nlohmann::ordered_json(*note_) : nlohmann::ordered_json();
    disk_.write(note_path(), json.dump() + "\n");
}

void LedgerFolder::keep(const Note& note) {
    for (Column& column : columns_) {
        write(column);
        const int failed = flush(column.file);
        if (failed != 0) fail(column.path, "cannot be written", failed);
    }
    note_ = note;
    write_note();
    last_ = Clock::now();
}

} // namespace hestrel::source
