#pragma once
// What the core keeps outside of memory. It does no input or output itself: source/ does that.

#include <cstddef>
#include <cstdint>
#include <functional>
#include <new>
#include <optional>
#include <vector>

namespace hestrel::plan {

/// There is no room left on the disk.
class NoRoom : public std::bad_alloc {
public:
    [[nodiscard]] const char* what() const noexcept override { return "no room is left"; }
};

/// Memory on a disk, by large pieces.
class Overflow {
public:
    Overflow() = default;
    Overflow(const Overflow&) = delete;
    Overflow& operator=(const Overflow&) = delete;
    virtual ~Overflow() = default;

    /// So many zeros, to be read and written; null where there is no room for them.
    virtual void* take(std::size_t bytes) = 0;
    /// What was taken, with its size.
    virtual void give_back(void* memory, std::size_t bytes) = 0;
    /// What was read or written of it stays in memory as long as the process has no more than
    /// `most` bytes there.
    virtual void keep_below(std::size_t most) = 0;
};

/// Columns of records that only grow, and a note of how far they mean something. However a run is
/// ended, the note that was kept last is there, and all that was appended before it. Everything
/// throws where the disk fails.
class Ledger {
public:
    using Note = std::vector<std::uint64_t>;

    Ledger() = default;
    Ledger(const Ledger&) = delete;
    Ledger& operator=(const Ledger&) = delete;
    virtual ~Ledger() = default;

    /// The last that was kept; nothing: none was.
    [[nodiscard]] virtual const std::optional<Note>& note() const = 0;
    /// Hands out all of a column up to that note, record by record of `width` bytes, aligned as
    /// numbers of 64 bits are where that is a multiple of their size.
    virtual void read(std::size_t column, std::size_t width,
                      const std::function<void(const void* record)>& what) = 0;
    /// What was read can't be what was kept: throws.
    [[noreturn]] virtual void refuse() const = 0;
    /// From the end of that note on.
    virtual void append(std::size_t column, const void* records, std::size_t bytes) = 0;
    /// Whether it is time for the next note: each takes a moment.
    [[nodiscard]] virtual bool is_due() const = 0;
    virtual void keep(const Note& note) = 0;
};

} // namespace hestrel::plan
