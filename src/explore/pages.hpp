#pragma once
// Memory by large pieces: from RAM, and once that is told to be full from a disk. A disk is slower
// by far, but exploring goes on.

#include "plan/storage.hpp"

#include <cstddef>
#include <cstdint>
#include <utility>
#include <vector>

namespace hestrel::explore {

class Pages {
public:
    /// `overflow` may be null, and outlives it: then there is no disk.
    explicit Pages(plan::Overflow* overflow = nullptr) : overflow_(overflow) {}
    Pages(const Pages&) = delete;
    Pages& operator=(const Pages&) = delete;
    ~Pages() = default;

    /// A piece of memory; it is given back when this goes.
    class Piece {
    public:
        Piece() = default;
        Piece(Piece&& other) noexcept { *this = std::move(other); }
        Piece& operator=(Piece&& other) noexcept {
            std::swap(memory_, other.memory_);
            std::swap(bytes_, other.bytes_);
            std::swap(from_, other.from_);
            std::swap(on_disk_, other.on_disk_);
            return *this;
        }
        Piece(const Piece&) = delete;
        Piece& operator=(const Piece&) = delete;
        ~Piece();
        [[nodiscard]] void* memory() const { return memory_; }
        [[nodiscard]] bool on_disk() const { return on_disk_; }

    private:
        friend class Pages;
        void* memory_ = nullptr;
        std::size_t bytes_ = 0;
        Pages* from_ = nullptr;
        bool on_disk_ = false;
    };

    /// So many zeros. Throws std::bad_alloc where RAM has no room for them, plan::NoRoom where the
    /// disk has none.
    Piece take(std::size_t bytes);
    /// From now on pieces are taken from the disk; false where there is none.
    bool overflow() { return overflows_ = overflow_ != nullptr; }
    [[nodiscard]] bool overflows() const { return overflows_; }
    /// Of what is on the disk no more than so many bytes stay in RAM.
    void keep_below(std::size_t most) {
        if (overflows_) overflow_->keep_below(most);
    }
    /// Taken from RAM.
    [[nodiscard]] std::size_t bytes() const { return bytes_; }

private:
    plan::Overflow* overflow_;
    bool overflows_ = false;
    std::size_t bytes_ = 0;
};

/// So many T of zeros, to be looked into here and there.
template <class T>
class Zeroed {
public:
    Zeroed(Pages& pages, std::size_t size) : size_(size), piece_(pages.take(size * sizeof(T))) {}
    [[nodiscard]] std::size_t size() const { return size_; }
    T& operator[](std::size_t at) { return begin_of()[at]; }
    const T& operator[](std::size_t at) const { return begin_of()[at]; }
    [[nodiscard]] const T* begin() const { return begin_of(); }
    [[nodiscard]] const T* end() const { return begin_of() + size_; }
    /// To where pieces are taken from now.
    void move_out(Pages& pages) {
        Zeroed there(pages, size_);
        std::copy(begin(), end(), there.begin_of());
        *this = std::move(there);
    }

private:
    [[nodiscard]] T* begin_of() const { return static_cast<T*>(piece_.memory()); }

    std::size_t size_;
    Pages::Piece piece_;
};

/// Records of some T each, one behind the other in the order in which they come: none is moved
/// while the next are added.
template <class T>
class Records {
public:
    Records(Pages& pages, std::size_t width) : pages_(&pages), width_(width) {}

    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] std::size_t width() const { return width_; }
    T* operator[](std::size_t number) const { return at(number, width_); }
    /// The same, where the width is known at compile time.
    template <class Width>
    [[nodiscard]] T* at(std::size_t number, Width width) const {
        return starts_[number >> block_bits] + (number & (block_size - 1)) * width;
    }
    /// Throws plan::NoRoom where there is none.
    void add(const T* record) {
        make_room(1);
        std::copy(record, record + width_, (*this)[size_]);
        ++size_;
    }
    /// For so many more: adding them throws nothing.
    void make_room(std::size_t more) {
        while (size_ + more > starts_.size() << block_bits) add_block();
    }
    /// To where pieces are taken from now.
    void move_out() {
        for (std::size_t block = 0; block < pieces_.size(); ++block) {
            if (pieces_[block].on_disk()) continue;
            Pages::Piece there = pages_->take(block_size * width_ * sizeof(T));
            std::copy(starts_[block], starts_[block] + block_size * width_,
                      static_cast<T*>(there.memory()));
            pieces_[block] = std::move(there);
            starts_[block] = static_cast<T*>(pieces_[block].memory());
        }
    }
    /// Calls `what(records, count)` for those from `first` on, some at a time.
    template <class What>
    void for_runs(std::size_t first, std::size_t end, What&& what) const {
        while (first < end) {
            const std::size_t block_end = ((first >> block_bits) + 1) << block_bits;
            const std::size_t count = std::min(end, block_end) - first;
            what((*this)[first], count);
            first += count;
        }
    }

private:
    static constexpr std::size_t block_bits = 14;
    static constexpr std::size_t block_size = std::size_t{1} << block_bits;

    void add_block() {
        pieces_.push_back(pages_->take(block_size * width_ * sizeof(T)));
        starts_.push_back(static_cast<T*>(pieces_.back().memory()));
    }

    Pages* pages_;
    std::size_t width_;
    std::size_t size_ = 0;
    std::vector<Pages::Piece> pieces_; ///< by block
    std::vector<T*> starts_;           ///< by block
};

} // namespace hestrel::explore
