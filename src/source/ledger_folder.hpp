#pragma once
// A ledger in a folder of its own: a file for each column, and `layers.json`, the note, which says
// how much of each column counts. That file appears whole, after all that it speaks of.

#include "plan/storage.hpp"
#include "source/descriptor.hpp"
#include "source/disk.hpp"

#include <boost/crc.hpp>
#include <chrono>
#include <memory>
#include <string>
#include <vector>

namespace hestrel::source {

class LedgerFolder final : public plan::Ledger {
public:
    struct Settings {
        std::string folder; ///< made where it is not there
        std::vector<std::string> columns;
        std::string of;         ///< what is kept there, and by whom: only that is gone on with
        std::string written_by; ///< for people
        std::chrono::milliseconds every{1000}; ///< so often a note is due
    };
    /// Throws FileError where something else is kept, where another process keeps something, or
    /// where the disk fails. `disk` outlives it.
    LedgerFolder(Disk& disk, Settings settings);

    [[nodiscard]] const std::optional<Note>& note() const override { return note_; }
    void read(std::size_t column, std::size_t width,
              const std::function<void(const void* record)>& what) override;
    [[noreturn]] void refuse() const override;
    void append(std::size_t column, const void* records, std::size_t bytes) override;
    [[nodiscard]] bool is_due() const override;
    void keep(const Note& note) override;

private:
    using Clock = std::chrono::steady_clock;
    struct Column {
        std::string path;
        Descriptor file{-1};
        std::string waiting;     ///< not written yet
        std::uint64_t bytes = 0; ///< appended, in all
        boost::crc_32_type sum;  ///< of those
        std::uint32_t kept_sum = 0;
    };
    void read_note();
    void write_note();
    void write(Column& column);
    [[nodiscard]] std::string note_path() const { return settings_.folder + "/layers.json"; }

    Disk& disk_;
    Settings settings_;
    std::unique_ptr<Held> held_;
    std::vector<Column> columns_;
    std::optional<Note> note_;
    Clock::time_point last_;
};

} // namespace hestrel::source
