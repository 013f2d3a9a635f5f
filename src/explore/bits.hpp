#pragma once
// Rows of words, and a few bits of them: read, compared and written by masks.

#include <boost/container/small_vector.hpp>
#include <cstdint>

namespace hestrel::explore {

using Word = std::uint64_t;

/// A few bits of one word; none, where there is nothing to tell apart.
struct Field {
    std::uint32_t word = 0;
    std::uint32_t shift = 0;
    Word low = 0; ///< as many ones as the field has bits
    [[nodiscard]] Word mask() const { return low << shift; }
    [[nodiscard]] Word get(const Word* row) const { return row[word] >> shift & low; }
    void set(Word* row, Word value) const { row[word] = (row[word] & ~mask()) | (value << shift); }
};

/// Bits of a row that must be so, or become so.
struct Bits {
    std::uint32_t word = 0;
    Word mask = 0;
    Word value = 0;
};

/// Few, mostly one, and looked at all the time: the first lies within what it belongs to.
template <class T>
using Few = boost::container::small_vector<T, 1>;
using FewBits = Few<Bits>;

[[nodiscard]] inline bool are_so(const FewBits& bits, const Word* row) {
    for (const Bits& each : bits) {
        if ((row[each.word] & each.mask) != each.value) return false;
    }
    return true;
}

/// Whether that changed anything.
inline bool write(const FewBits& bits, Word* row) {
    Word changed = 0;
    for (const Bits& each : bits) {
        Word& word = row[each.word];
        const Word after = (word & ~each.mask) | each.value;
        changed |= word ^ after;
        word = after;
    }
    return changed != 0;
}

/// The bits of a word, empty where there are none yet; sorted by word.
Bits& bits_of(FewBits& bits, std::uint32_t word);
/// Adds a field, as it is in a row.
void ask_for(FewBits& bits, const Field& field, const Word* row);

/// What makes one row of so many words another.
FewBits difference(const Word* before, const Word* after, std::size_t words);

} // namespace hestrel::explore
